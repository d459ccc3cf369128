using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Work;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Feed;

/// <summary>The register in memory at a position of the feed: the people, the policy, and every row judged.</summary>
public sealed record LedgerState(
    long Place,
    PeopleDirectory PeopleDirectory,
    Organisation Organisation,
    RuleBook Rules,
    RegisterIndex Index
)
{
    private static readonly Filter<JudgedSite> Here = Filter.Parse("existence eq \"in-use\"", JudgedSite.Attributes);

    /// <summary>The number of sites in use, in scope, that each person owns.</summary>
    public IReadOnlyDictionary<PersonId, int> Load(Scope viewerScope)
    {
        var all = Index.Seen(viewerScope);
        var load = new Dictionary<PersonId, int>();
        foreach (var (holder, count) in ((ListColumn<SiteOwner>)all.Columns.Of("owners")).Counts(all.Where(Here)))
        {
            load[holder.Person.Id] = load.GetValueOrDefault(holder.Person.Id) + count;
        }

        return load;
    }

    public VisibleRegister Seen(Scope viewerScope) => Index.Seen(viewerScope);

    /// <summary>Everything computed for sites with given facts.</summary>
    public IReadOnlyList<JudgedSite> Judge(IReadOnlyList<SiteFacts> sites) => Lines().Of(sites);

    public JudgedSite Judge(SiteFacts site) => Judge([site])[0];

    public SiteJudge Lines(Action<SiteFacts, Exception>? failed = null) => new(Organisation, PeopleDirectory, Rules, failed);
}

/// <summary>Keeps the register in memory current from the feed. It can be discarded at any time; PostgreSQL is the record. Only
/// rows that a change can affect are rebuilt: sites named in the feed, and sites affected by people, groups or days.
/// </summary>
public sealed class LiveRegister(Database database, IndexSnapshots snapshots, ILogger<LiveRegister> log) : IFollowsLedger
{
    private readonly KeptFindings findings = new(database);
    private readonly RecentFeed recent = new();
    private readonly SemaphoreSlim refreshing = new(1, 1);
    private volatile LedgerState? state;
    private TaskCompletionSource advanced = new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <summary>Completes when the index moves on; get it before reading the state.</summary>
    public Task Advanced => Volatile.Read(ref advanced).Task;

    /// <summary>The position of the index in the feed; null if not built yet.</summary>
    public long? Place => state?.Place;

    /// <summary>How often the index was built from all rows.</summary>
    public int Builds { get; private set; }

    /// <summary>What was added to the feed after a position, up to another; null if that is not known any more.</summary>
    public IReadOnlyList<FeedEntry>? Between(long after, long through) => recent.Between(after, through);

    public async Task<LedgerState> Current() => state ?? await Refresh();

    /// <summary>The state once it has reached a position; null on timeout.</summary>
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

    Task IFollowsLedger.Follow(CancellationToken stop) => Refresh();

    /// <summary>Reads the feed from the index's position and brings the index up to date.</summary>
    public async Task<LedgerState> Refresh()
    {
        await refreshing.WaitAsync();
        try
        {
            var now = database.Now;
            var before = state;
            var (after, changed, feed) = await database.Read(connection =>
                before is null ? First(connection, now) : Next(connection, before, now)
            );
            if (!ReferenceEquals(before, after))
            {
                state = after;
                Interlocked
                    .Exchange(ref advanced, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously))
                    .TrySetResult();
                await findings.Keep(after, changed, feed);
            }

            return after;
        }
        finally
        {
            refreshing.Release();
        }
    }

    /// <summary>Writes the state to its file, if there is one and its findings are recorded.</summary>
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

    // The first state, and the sites that have changed since findings were last recorded; null for all.
    private async Task<(LedgerState State, IReadOnlyCollection<SiteId>? Changed, IReadOnlyList<FeedEntry> Feed)> First(
        NpgsqlConnection connection,
        DateTimeOffset now
    ) =>
        await snapshots.Read(connection) is { } kept
            ? await Next(connection, kept, now)
            : (await Rebuilt(connection, now), null, []);

    // The next state, the sites that have changed in it, null for all, and the entries between.
    private async Task<(LedgerState State, IReadOnlyCollection<SiteId>? Changed, IReadOnlyList<FeedEntry> Feed)> Next(
        NpgsqlConnection connection,
        LedgerState before,
        DateTimeOffset now
    )
    {
        var feed = await connection.Feed(before.Place);
        var isNewDay = before.PeopleDirectory.Time.DayOf(before.PeopleDirectory.Now) != before.PeopleDirectory.Time.DayOf(now);
        if (feed.Count == 0 && !isNewDay)
        {
            return (before, [], feed);
        }

        recent.Add(before.Place, feed);
        var news = feed.Select(entry => FeedNews.Of(entry.Subject, entry.Action)).ToList();
        if (news.Exists(one => one is FeedNews.Organisation))
        {
            return (await Rebuilt(connection, now), null, feed);
        }

        var after = before with { Place = feed.Count == 0 ? before.Place : feed[^1].Number };
        var changed = news.OfType<FeedNews.Site>().Select(one => one.Id).ToHashSet();

        // The sites whose findings have changed without their facts.
        var moved = new HashSet<SiteId>();
        if (isNewDay || news.Exists(one => one is FeedNews.Rules))
        {
            var today = Today.At(now, before.PeopleDirectory.Time);
            var rules = await connection.Rules(today);
            var changes = ChangedRules.Between(before.Index, before.Rules, rules, await connection.Excepted(today.Day));
            after = after with { Rules = rules, Index = changes.Index };
            moved.UnionWith(changes.Touched);
            changed.UnionWith(changes.NeedFacts);
            if (changes.Judged > 0)
            {
                log.LogInformation(
                    "{Rules} rules were judged again on {Sites} sites: {Touched} findings changed, {Facts} sites were read",
                    changes.Judged,
                    before.Index.Count,
                    changes.Touched.Count,
                    changes.NeedFacts.Count
                );
            }
        }

        if (isNewDay || news.Exists(one => one is FeedNews.People))
        {
            after = after with
            {
                PeopleDirectory = await database.PeopleDirectories.Of(connection, now, before.PeopleDirectory.Time),
            };
            if (
                DirectoryChange.Between(before.PeopleDirectory, after.PeopleDirectory, before.Organisation.ActiveDays)
                is not { } moves
            )
            {
                return (await Rebuilt(connection, now), null, feed);
            }

            if (isNewDay)
            {
                // Exceptions whose last day is over become findings again.
                changed.UnionWith(
                    await connection.SitesExceptedThrough(
                        before.PeopleDirectory.Time.DayOf(before.PeopleDirectory.Now),
                        before.PeopleDirectory.Time.DayOf(now)
                    )
                );
            }

            if (!moves.IsNothing)
            {
                changed.UnionWith(await connection.SitesTouched(moves, before.PeopleDirectory, after.PeopleDirectory));
                changed.UnionWith(moves.Uncertain ? before.Index.Uncertain() : []);
            }
        }

        if (changed.Count == 0)
        {
            return (after, moved, feed);
        }

        var lines = after.Lines(Failed);
        return (
            after with
            {
                Index = lines.Put(after.Index, lines.Of(await connection.Sites(new Scope.Everything(), changed))),
            },
            moved.Union(changed).ToHashSet(),
            feed
        );
    }

    private async Task<LedgerState> Rebuilt(NpgsqlConnection connection, DateTimeOffset now)
    {
        var watch = System.Diagnostics.Stopwatch.StartNew();
        await using var rows = await IndexFromRows.Begin(database, connection);
        var time = await connection.OrganisationTime();
        var head = await connection.JournalHead();
        var empty = new LedgerState(
            head.Number,
            await database.PeopleDirectories.Of(connection, now, time),
            await connection.Organisation(),
            await connection.Rules(Today.At(now, time)),
            RegisterIndex.Empty
        );
        var index = await rows.Made(empty.Lines(Failed));
        Builds++;
        log.LogInformation(
            "The register index was built from all rows: {Sites} sites at place {Place} in {Milliseconds} ms",
            index.Count,
            head.Number,
            watch.ElapsedMilliseconds
        );
        return empty with { Index = index };
    }

    private void Failed(SiteFacts site, Exception fault) =>
        log.LogError(
            fault,
            "Site {Site} of {Host}, {Key}, cannot be computed; its row shows that, other sites are not affected",
            site.Id.Value,
            site.Host,
            site.HostKey
        );
}
