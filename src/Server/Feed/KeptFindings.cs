using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Feed;

/// <summary>Records since when findings exist, what began them, and what became of them by day: differences only, by the first
/// server. If others have written meanwhile, it is tried again with the next change.
/// </summary>
internal sealed class KeptFindings(Database database)
{
    private readonly HashSet<SiteId> unwritten = [];
    private readonly FindingEvents events = new();
    private bool allUnwritten;

    public bool AreAllWritten => !allUnwritten && unwritten.Count == 0;

    /// <param name="changed">The sites whose findings may have changed; null for all.</param>
    /// <param name="since">The entries of the feed since the last state.</param>
    public async Task Keep(LedgerState of, IReadOnlyCollection<SiteId>? changed, IReadOnlyList<FeedEntry> since)
    {
        allUnwritten |= changed is null;
        unwritten.UnionWith(changed ?? []);
        foreach (var entry in since)
        {
            events.Add(entry.Number, entry.Subject, entry.Action);
        }

        if (!AreAllWritten && !await Write(of, allUnwritten ? null : unwritten))
        {
            return;
        }

        allUnwritten = false;
        unwritten.Clear();
        events.Clear();
    }

    private Task<bool> Write(LedgerState of, IReadOnlyCollection<SiteId>? only) =>
        database.Change(async change =>
        {
            var kept = (await change.Connection.Findings(only)).ToDictionary(row => (row.Finding.Site, row.Finding.Rule));
            if ((await change.Connection.JournalHead()).Number > of.Place)
            {
                // Others have written since; the current findings are recorded at the next position.
                return false;
            }

            var found = Found(of, only).ToList();
            List<FindingRow> put =
            [
                .. from finding in found
                let row = kept.GetValueOrDefault((finding.Site, finding.Rule))
                where row?.Finding != finding
                select new FindingRow(
                    finding,
                    row?.Since ?? change.Now,
                    row is null ? events.BegunBy(finding.Site, finding.Rule) : row.Event
                ),
            ];
            var here = found.Select(finding => (finding.Site, finding.Rule)).ToHashSet();
            List<(SiteId, RuleId)> gone = [.. kept.Keys.Where(key => !here.Contains(key))];
            if (put.Count > 0)
            {
                await change.PutFindings(put);
            }

            if (gone.Count > 0)
            {
                await change.DropFindings(gone);
            }

            var counts = FindingHistory.Between(kept.Values.Select(row => row.Finding), found);
            if (counts.Count > 0)
            {
                await change.CountFindings(of.PeopleDirectory.Time.DayOf(change.Now), counts);
            }

            return true;
        });

    private static IEnumerable<RecordedFinding> Found(LedgerState of, IReadOnlyCollection<SiteId>? only)
    {
        var all = of.Seen(new Scope.Everything());
        var lines = only is null ? all.Lines(all.All) : only.Select(site => all.Find(site)).OfType<RegisterRow>();
        return lines.SelectMany(line =>
        {
            var unit = line.Unit.Has(out var code) ? code.Value : "";
            return line
                .Breaks.Select(rule => new RecordedFinding(line.Id, rule.Id, Verdict.Breaks, unit))
                .Concat(line.Excepted.Select(rule => new RecordedFinding(line.Id, rule.Id, Verdict.Excepted, unit)))
                .Concat(line.Unsure.Select(rule => new RecordedFinding(line.Id, rule.Id, Verdict.CannotTell, unit)));
        });
    }
}
