using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Feed;

/// <summary>Records since when findings exist: differences only, by the first server. If others have written meanwhile, it is
/// tried again with the next change.
/// </summary>
internal sealed class KeptFindings(Database database)
{
    private readonly HashSet<SiteId> unwritten = [];
    private bool allUnwritten;

    public bool AreAllWritten => !allUnwritten && unwritten.Count == 0;

    /// <param name="changed">The sites whose findings may have changed; null for all.</param>
    public async Task Keep(LedgerState of, IReadOnlyCollection<SiteId>? changed)
    {
        allUnwritten |= changed is null;
        unwritten.UnionWith(changed ?? []);
        if ((allUnwritten || unwritten.Count > 0) && await Write(of, allUnwritten ? null : unwritten))
        {
            allUnwritten = false;
            unwritten.Clear();
        }
    }

    private Task<bool> Write(LedgerState of, IReadOnlyCollection<SiteId>? only) =>
        database.Change(async change =>
        {
            var kept = (await change.Connection.Findings(only)).ToDictionary(row => (row.Site, row.Rule));
            if ((await change.Connection.JournalHead()).Number > of.Place)
            {
                // Others have written since; the current findings are recorded at the next position.
                return false;
            }

            var found = Found(of, only).ToDictionary(finding => (finding.Site, finding.Rule), finding => finding.Verdict);
            List<FindingRow> put =
            [
                .. from finding in found
                let row = kept.GetValueOrDefault(finding.Key)
                where row is null || row.Verdict != finding.Value
                select new FindingRow(finding.Key.Site, finding.Key.Rule, finding.Value, row?.Since ?? change.Now),
            ];
            List<(SiteId, RuleId)> gone = [.. kept.Keys.Where(key => !found.ContainsKey(key))];
            if (put.Count > 0)
            {
                await change.PutFindings(put);
            }

            if (gone.Count > 0)
            {
                await change.DropFindings(gone);
            }

            return true;
        });

    private static IEnumerable<(SiteId Site, RuleId Rule, Verdict Verdict)> Found(
        LedgerState of,
        IReadOnlyCollection<SiteId>? only
    )
    {
        var all = of.Seen(new Scope.Everything());
        var lines = only is null ? all.Lines(all.All) : only.Select(site => all.Find(site)).OfType<RegisterRow>();
        return lines.SelectMany(line =>
            line.Breaks.Select(rule => (line.Id, rule.Id, Verdict.Breaks))
                .Concat(line.Excepted.Select(rule => (line.Id, rule.Id, Verdict.Excepted)))
                .Concat(line.Unsure.Select(rule => (line.Id, rule.Id, Verdict.CannotTell)))
        );
    }
}
