using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A row with its findings: the content of the index.</summary>
public sealed record JudgedSite(ComputedSite Line, IReadOnlyList<Finding> Findings) : IFindingsOfRow
{
    /// <summary>All attributes of a site, and its findings.</summary>
    public static readonly AttributeList<JudgedSite> Attributes = new([
        .. SiteAttributes.List.All.Select(attribute => attribute.Of<JudgedSite>(judged => judged.Line)),
        .. FindingAttributes.Of<JudgedSite>(),
        new TextAttribute<JudgedSite>("fault", "why the site cannot be computed", judged =>
            judged.Line.Site.Fault is { } why ? Known.Of(why) : Known<string>.None
        ),
    ]);

    IReadOnlyList<Rule> IFindingsOfRow.Breaks => With(Verdict.Breaks);

    IReadOnlyList<Rule> IFindingsOfRow.Excepted => With(Verdict.Excepted);

    IReadOnlyList<Rule> IFindingsOfRow.Unsure => With(Verdict.CannotTell);

    // Nothing can be done at a site that its host no longer reports, so it waits for no decision.
    IReadOnlyList<Cause> IFindingsOfRow.Causes =>
        !Line.Site.NoLongerReported && With(Verdict.Breaks) is { Count: > 0 } broken
            ? [.. broken.SelectMany(rule => Cause.Of(Line, rule))]
            : [];

    int IFindingsOfRow.Gravity =>
        Gravity.Of(
            With(Verdict.Breaks),
            With(Verdict.CannotTell).Count,
            (int)Line.AccessPath(Power.Edit).Effective.AtLeast.Doors.Widest
                + (int)Line.AccessPath(Power.View).Effective.AtLeast.Doors.Widest
        );

    private IReadOnlyList<Rule> With(Verdict verdict)
    {
        // Every row is checked, and most break no rule.
        List<Rule>? with = null;
        foreach (var finding in Findings)
        {
            if (finding.Verdict == verdict)
            {
                (with ??= []).Add(finding.Rule);
            }
        }

        return with ?? (IReadOnlyList<Rule>)[];
    }
}
