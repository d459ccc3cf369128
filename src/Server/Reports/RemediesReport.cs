using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>Every finding with what its remedy does: it clears the finding, or what it leaves and who can change that.</summary>
internal static class RemediesReport
{
    private static readonly Filter<JudgedSite> Breaking = Filter.Parse("causes pr", JudgedSite.Attributes);

    public static ReportKind Kind { get; } =
        new(
            "remedies",
            "Findings and their remedies",
            "Every finding, the action that helps, and whether it clears the finding; if not, why and who can.",
            ReportSpan.Now,
            ["site", "address", "rule", "level", "finding", "remedy", "clears it", "what it leaves, and who can change it"],
            Make
        );

    private static async Task<Report> Make(ReportFacts facts, ReportRequest request)
    {
        var seen = facts.State.Seen(new Scope.Everything());
        var ids = seen.Lines(seen.InUse.And(seen.Where(Breaking))).Select(line => line.Id).ToList();
        var sites = await facts.Connection.Sites(new Scope.Everything(), ids);
        var changes = await facts.Connection.ChangeQueues(ids);
        List<(ReportRow Row, bool Clears)> rows =
        [
            .. sites
                .OrderBy(site => site.Title, StringComparer.OrdinalIgnoreCase)
                .ThenBy(site => site.Id.Value)
                .SelectMany(site => Rows(site, [.. changes[site.Id]], facts)),
        ];
        var clear = rows.Count(row => row.Clears);
        return new Report(
            [
                $"{rows.Count.Counted("finding")} on sites in use: {clear} {(clear == 1 ? "is" : "are")} cleared by the remedy, for {rows.Count - clear} it says what stays and who can change it.",
                "Each remedy is tried on today's facts, by the code of the action.",
            ],
            [.. rows.Select(row => row.Row)]
        );
    }

    private static IEnumerable<(ReportRow, bool)> Rows(SiteFacts site, IReadOnlyList<HostChange> changes, ReportFacts facts)
    {
        var state = facts.State;
        var judged = state.Judge(site);
        var row = RuleEvidence.RowOf(judged);
        foreach (
            var finding in judged.Findings.Where(finding => finding.Verdict == Verdict.Breaks).OrderBy(one => one.Rule.Level)
        )
        {
            var outcome = Remedies.Try(
                new ActionFacts(site, changes, state.Organisation, state.Rules, state.PeopleDirectory),
                finding.Rule
            );
            yield return (
                new ReportRow(
                    site.Id.Value,
                    site.Title,
                    site.Address.Or(""),
                    finding.Rule.Id.Value,
                    Labels.Of(finding.Rule.Level),
                    RuleEvidence.Explained(finding, judged, row, state).Headline,
                    string.Join("; ", outcome.Remedies.Select(Labels.Of)),
                    outcome.Clears ? "yes" : "no",
                    string.Join(" ", RemarkSentence.Of(outcome.Left))
                ),
                outcome.Clears
            );
        }
    }
}
