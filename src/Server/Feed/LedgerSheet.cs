using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Feed;

/// <summary>The register in memory at a place of the feed: who there is, what is decided, and every line judged.</summary>
public sealed record LedgerState(long Place, Roll Roll, House House, RuleBook Rules, JudgedSheet Sheet)
{
    private static readonly Filter<JudgedLine> Here = Filter.Parse("existence eq \"here\"", JudgedLine.Attributes);

    /// <summary>How many sites in use each person holds a key of, of those that may be seen.</summary>
    public IReadOnlyDictionary<PersonId, int> Load(Sight sight)
    {
        var all = Sheet.Seen(sight);
        var load = new Dictionary<PersonId, int>();
        foreach (var (holder, count) in ((ListColumn<KeyHolder>)all.Columns.Of("owners")).Counts(all.Where(Here)))
        {
            load[holder.Person.Id] = load.GetValueOrDefault(holder.Person.Id) + count;
        }

        return load;
    }

    public SeenSheet Seen(Sight sight) => Sheet.Seen(sight);

    /// <summary>Everything that is computed of sites whose facts are at hand.</summary>
    public IReadOnlyList<JudgedLine> Judge(IReadOnlyList<SiteFacts> sites) => Lines().Of(sites);

    public JudgedLine Judge(SiteFacts site) => Judge([site])[0];

    public LineMaker Lines(Action<SiteFacts, Exception>? failed = null) => new(House, Roll, Rules, failed);
}

/// <summary>
/// Keeps the register current from the feed. It can be thrown away at any moment; PostgreSQL is the record. Only lines
/// that a change can touch are made anew: of the sites named in the feed, and of those that feel people, groups or days.
/// </summary>
public sealed class LedgerSheet(Database database, SheetSnapshots snapshots, ILogger<LedgerSheet> log)
{
    private readonly KeptFindings findings = new(database);
    private readonly SemaphoreSlim refreshing = new(1, 1);
    private volatile LedgerState? state;
    private TaskCompletionSource advanced = new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <summary>Completes when the sheet moves on; ask for it before looking at the state.</summary>
    public Task Advanced => Volatile.Read(ref advanced).Task;

    /// <summary>Up to where in the feed the sheet is made; null where it is not made yet.</summary>
    public long? Place => state?.Place;

    public async Task<LedgerState> Current() => state ?? await Refresh();

    /// <summary>The state once it has come to a place, or null where it does not within the patience.</summary>
    public async Task<LedgerState?> AtLeast(long place, TimeSpan patience)
    {
        var until = DateTime.UtcNow + patience;
        var current = await Current();
        while (current.Place < place)
        {
            if (DateTime.UtcNow > until)
            {
                return null;
            }

            current = await Refresh();
            if (current.Place < place)
            {
                await Task.WhenAny(Advanced, Task.Delay(20));
            }
        }

        return current;
    }

    /// <summary>Reads the feed from its own place on and brings the sheet up to the head.</summary>
    public async Task<LedgerState> Refresh()
    {
        await refreshing.WaitAsync();
        try
        {
            var now = database.Now;
            var before = state;
            var (after, changed) = await database.Read(connection =>
                before is null ? First(connection, now) : Next(connection, before, now)
            );
            if (!ReferenceEquals(before, after))
            {
                state = after;
                Interlocked
                    .Exchange(ref advanced, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously))
                    .TrySetResult();
                await findings.Keep(after, changed);
            }

            return after;
        }
        finally
        {
            refreshing.Release();
        }
    }

    /// <summary>Writes the state to its file, if there is one yet and nothing is left to write of its findings.</summary>
    public async Task KeepSnapshot()
    {
        await refreshing.WaitAsync();
        try
        {
            if (state is { } kept && findings.AreAllWritten)
            {
                await snapshots.Write(kept, database);
            }
        }
        finally
        {
            refreshing.Release();
        }
    }

    // The first state, and which sites are others in it than when findings were last written; null for all.
    private async Task<(LedgerState State, IReadOnlyCollection<SiteId>? Changed)> First(
        NpgsqlConnection connection,
        DateTimeOffset now
    ) =>
        await snapshots.Read(connection) is { } kept ? await Next(connection, kept, now) : (await Rebuilt(connection, now), null);

    // The next state, and which sites are others in it; null for all.
    private async Task<(LedgerState State, IReadOnlyCollection<SiteId>? Changed)> Next(
        NpgsqlConnection connection,
        LedgerState before,
        DateTimeOffset now
    )
    {
        var feed = await connection.Feed(before.Place);
        var isNewDay = before.Roll.Time.DayOf(before.Roll.Now) != before.Roll.Time.DayOf(now);
        if (feed.Count == 0 && !isNewDay)
        {
            return (before, []);
        }

        var news = feed.Select(entry => FeedNews.Of(entry.Subject, entry.Deed)).ToList();
        if (news.Exists(one => one is FeedNews.House))
        {
            return (await Rebuilt(connection, now), null);
        }

        var after = before with { Place = feed.Count == 0 ? before.Place : feed[^1].Number };
        var changed = news.OfType<FeedNews.Site>().Select(one => one.Id).ToHashSet();
        if (isNewDay || news.Exists(one => one is FeedNews.People))
        {
            var rules = await connection.Rules(before.Roll.Time.DayOf(now));
            after = after with { Roll = await database.Rolls.Of(connection, now, before.Roll.Time) };
            if (
                !rules.Rules.SequenceEqual(before.Rules.Rules)
                || RollChange.Between(before.Roll, after.Roll, before.House.FitDays) is not { } moved
            )
            {
                return (await Rebuilt(connection, now), null);
            }

            if (isNewDay)
            {
                // What was excused through a day that is over is a finding again.
                changed.UnionWith(
                    await connection.SitesExcusedThrough(before.Roll.Time.DayOf(before.Roll.Now), before.Roll.Time.DayOf(now))
                );
            }

            if (!moved.IsNothing)
            {
                changed.UnionWith(await connection.SitesTouched(moved, before.Roll, after.Roll));
                changed.UnionWith(moved.Uncertain ? before.Sheet.Uncertain() : []);
            }
        }

        if (changed.Count == 0)
        {
            return (after, changed);
        }

        var lines = after.Lines(Failed);
        return (
            after with
            {
                Sheet = lines.Put(after.Sheet, lines.Of(await connection.Sites(new Sight.Everything(), changed))),
            },
            changed
        );
    }

    private async Task<LedgerState> Rebuilt(NpgsqlConnection connection, DateTimeOffset now)
    {
        var watch = System.Diagnostics.Stopwatch.StartNew();
        await using var rows = await SheetFromRows.Begin(database, connection);
        var time = await connection.HouseTime();
        var head = await connection.JournalHead();
        var empty = new LedgerState(
            head.Number,
            await database.Rolls.Of(connection, now, time),
            await connection.House(),
            await connection.Rules(time.DayOf(now)),
            JudgedSheet.Empty
        );
        var sheet = await rows.Made(empty.Lines(Failed));
        log.LogInformation(
            "The sheet was made from all rows: {Sites} sites at place {Place} in {Milliseconds} ms",
            sheet.Count,
            head.Number,
            watch.ElapsedMilliseconds
        );
        return empty with { Sheet = sheet };
    }

    private void Failed(SiteFacts site, Exception fault) =>
        log.LogError(
            fault,
            "Site {Site} of {Host}, {Key}, cannot be computed; its line says so, and all others stand",
            site.Id.Value,
            site.Host,
            site.HostKey
        );
}
