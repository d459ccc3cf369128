using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Register;

/// <summary>A value that decides a finding.</summary>
/// <param name="Attribute">The name in expressions.</param>
/// <param name="Value">In words.</param>
public sealed record Evidence(string Attribute, string Label, string Value);

/// <summary>The values of a site that decide a rule.</summary>
internal static class RuleEvidence
{
    public static IReadOnlyList<Evidence> Of(RegisterRow line, IEnumerable<Attribute<JudgedSite>> reads, LedgerState state) =>
        [
            .. reads.Select(attribute => new Evidence(
                attribute.Name,
                AttributeLabels.Of(attribute.Name),
                CellText.Of(line, attribute, state)
            )),
        ];

    /// <summary>A finding in sentences. A rule that its users wrote is explained by the values that it reads.</summary>
    /// <param name="row">The site as one row: see <see cref="RowOf"/>.</param>
    public static Explanation Explained(Finding finding, JudgedSite judged, RegisterRow row, LedgerState state)
    {
        var explanation = Explanation.Of(finding, judged.Line, state.PeopleDirectory);
        if (finding.Rule.Demand is not Demand.General || !CanRead(finding.Rule, state, out var reads))
        {
            return explanation;
        }

        var shown = Of(
            row,
            finding.IsUntold
                ? reads.Where(attribute => row.Columns.Of(attribute).IsPresent()[row.Place] == Truth.Unknown)
                : reads,
            state
        );
        return shown.Count == 0 ? explanation
            : finding.IsUntold ? explanation with { Detail = $"Not known: {string.Join(", ", shown.Select(one => one.Label))}." }
            : explanation with
            {
                Detail =
                    $"{Capital(string.Join("; ", shown.Select(one => $"{one.Label}: {one.Value}")))}. The rule demands: {finding.Rule.Demand.Expression}.",
            };
    }

    /// <summary>A site that was judged alone, as the row of an index.</summary>
    public static RegisterRow RowOf(JudgedSite judged) =>
        RegisterIndex.Empty.With([judged]).Seen(new Scope.Everything()).Find(judged.Line.Site.Id)!.Value;

    private static bool CanRead(Rule rule, LedgerState state, out IReadOnlyList<Attribute<JudgedSite>> reads)
    {
        try
        {
            reads = rule.Expression.Reads(JudgedSite.Attributes, state.Rules.Today);
            return true;
        }
        catch (FilterError)
        {
            reads = [];
            return false;
        }
    }

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];
}
