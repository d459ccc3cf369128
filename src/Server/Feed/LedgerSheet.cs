using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Feed;

/// <summary>The register in memory at a place of the feed: who there is, what is decided, and every line judged.</summary>
public sealed record LedgerState(long Place, Roll Roll, House House, RuleBook Rules, JudgedSheet Sheet, IReadOnlyDictionary<(SiteId, RuleId), DateTimeOffset> Since)
{
    public DateTimeOffset? SinceOf(Finding finding) => Since.TryGetValue((finding.Site, finding.Rule.Id), out var since) ? since : null;

    /// <summary>The line of a site, if the viewer may see it. One that there is not and one that may not be seen look the same.</summary>
    public JudgedLine? Find(SiteId site, Sight sight) => Sheet.Find(site) is { } line && sight.Sees(line.Line.Site) ? line : null;
}

/// <summary>
/// Keeps the register current from the feed. It can be thrown away at any moment; PostgreSQL is the record. Lines whose
/// site did not change are taken over, unless people, groups, the house or the day did.
/// </summary>
public sealed class LedgerSheet(Database database, ILogger<LedgerSheet> log)
{
    private readonly SemaphoreSlim refreshing = new(1, 1);
    private volatile LedgerState? state;
    private TaskCompletionSource advanced = new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <summary>Completes when the sheet moves on; ask for it before looking at the state.</summary>
    public Task Advanced => Volatile.Read(ref advanced).Task;

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
            var after = await database.Read(connection => Next(connection, before, now));
            if (!ReferenceEquals(before, after))
            {
                after = after with { Since = await KeepFindings(after) };
                state = after;
                Interlocked.Exchange(ref advanced, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).TrySetResult();
            }

            return after;
        }
        finally
        {
            refreshing.Release();
        }
    }

    private async Task<LedgerState> Next(Npgsql.NpgsqlConnection connection, LedgerState? before, DateTimeOffset now)
    {
        var time = before?.Roll.Time ?? await connection.HouseTime();
        if (before is null || time.DayOf(before.Roll.Now) != time.DayOf(now))
        {
            return await Rebuilt(connection, now);
        }

        var feed = await connection.Feed(before.Place);
        if (feed.Count == 0)
        {
            return before;
        }

        if (feed.Exists(entry => entry.Subject == "house" || entry.Subject.StartsWith("source:", StringComparison.Ordinal)))
        {
            return await Rebuilt(connection, now);
        }

        var changed = feed.Select(entry => entry.Subject).Where(subject => subject.StartsWith("site:", StringComparison.Ordinal))
            .Select(subject => new SiteId(long.Parse(subject["site:".Length..], System.Globalization.CultureInfo.InvariantCulture))).ToHashSet();
        if (changed.Count == 0)
        {
            return before with { Place = feed[^1].Number };
        }

        var sites = (await connection.Sites(new Sight.Everything(), changed)).ToDictionary(site => site.Id);
        var lines = before.Sheet.Lines.Select(judged => judged.Line)
            .Where(line => !changed.Contains(line.Site.Id))
            .Concat(sites.Values.Select(site => new SiteLine(site, before.House, before.Roll)))
            .OrderBy(line => line.Site.Id.Value);
        return before with { Place = feed[^1].Number, Sheet = new JudgedSheet([.. lines], before.Rules) };
    }

    private async Task<LedgerState> Rebuilt(Npgsql.NpgsqlConnection connection, DateTimeOffset now)
    {
        var time = await connection.HouseTime();
        var head = await connection.JournalHead();
        var roll = await connection.Roll(now, time);
        var house = await connection.House();
        var rules = await connection.Rules(time.DayOf(now));
        var sites = await connection.Sites(new Sight.Everything());
        var sheet = new JudgedSheet([.. sites.Select(site => new SiteLine(site, house, roll))], rules);
        log.LogInformation("The sheet was rebuilt: {Sites} sites at place {Place}", sites.Count, head.Number);
        return new LedgerState(head.Number, roll, house, rules, sheet, new Dictionary<(SiteId, RuleId), DateTimeOffset>());
    }

    /// <summary>Writes which findings are new and which are gone: differences only, whichever server comes first.</summary>
    private Task<IReadOnlyDictionary<(SiteId, RuleId), DateTimeOffset>> KeepFindings(LedgerState of) =>
        database.Change<IReadOnlyDictionary<(SiteId, RuleId), DateTimeOffset>>(async change =>
        {
            var kept = (await change.Connection.Findings()).ToDictionary(row => (row.Site, row.Rule));
            if ((await change.Connection.JournalHead()).Number > of.Place)
            {
                // Others have written since; what is true now is theirs to keep.
                return kept.ToDictionary(pair => pair.Key, pair => pair.Value.Since);
            }

            var found = of.Sheet.Lines.SelectMany(line => line.Findings).ToDictionary(finding => (finding.Site, finding.Rule.Id));
            foreach (var (key, finding) in found)
            {
                var cannotTell = finding.Verdict == Verdict.CannotTell;
                if (!kept.TryGetValue(key, out var row) || row.CannotTell != cannotTell)
                {
                    var since = row?.Since ?? change.Now;
                    await change.PutFinding(new FindingRow(key.Site, key.Id, cannotTell, since));
                    kept[key] = new FindingRow(key.Site, key.Id, cannotTell, since);
                }
            }

            foreach (var key in kept.Keys.Except(found.Keys).ToList())
            {
                await change.DropFinding(key.Item1, key.Item2);
                kept.Remove(key);
            }

            return kept.ToDictionary(pair => pair.Key, pair => pair.Value.Since);
        });
}
