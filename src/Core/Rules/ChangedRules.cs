using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>What another rule book changes in the index. Only the rules that differ are judged, over the columns; every other
/// verdict, and every row on which no verdict differs, stays.</summary>
/// <param name="Index">The index under the other book. The sites that need their facts are as before.</param>
/// <param name="Touched">The sites with another verdict, or with a verdict of a rule that reads differently now.</param>
/// <param name="NeedFacts">Those whose new findings do not follow from the columns alone, to be judged from their facts.</param>
/// <param name="Judged">The number of rules that were judged.</param>
public sealed record ChangedRules(RegisterIndex Index, IReadOnlyList<SiteId> Touched, IReadOnlyList<SiteId> NeedFacts, int Judged)
{
    /// <param name="excepted">The rules from which a site has an exception that has not ended.</param>
    public static ChangedRules Between(RegisterIndex index, RuleBook before, RuleBook after, ILookup<SiteId, RuleId> excepted)
    {
        var changed = before
            .Rules.Concat(after.Rules)
            .Select(rule => rule.Id)
            .Distinct()
            .Where(id => before.Find(id) != after.Find(id) || (before.Today != after.Today && after.Find(id)!.CountsDays))
            .ToHashSet();
        var now = after.Judge(index.Columns, changed);
        var touched = now.Aggregate(Having(index, changed), (all, one) => all.Or(one.Breaks.Certainly()).Or(one.Breaks.Untold()));
        var rows = new List<(int Place, FindingsOfRow Findings)>();
        var (sites, needFacts) = (new List<SiteId>(), new List<SiteId>());
        foreach (var place in touched.Lines())
        {
            var row = index[place];
            sites.Add(row.Id);
            if (Findings(row, changed, now, excepted) is { } findings)
            {
                rows.Add((place, findings));
            }
            else
            {
                needFacts.Add(row.Id);
            }
        }

        return new ChangedRules(index.With([.. rows]), sites, needFacts, changed.Count);
    }

    // The rows on which there is a verdict of one of these rules.
    private static Mask Having(RegisterIndex index, HashSet<RuleId> rules) =>
        new[] { "breaks", "excepted", "unsure" }
            .Select(name => ((ListColumn<Rule>)index.Columns.Of(name)).Any(rule => rules.Contains(rule.Id)).Certainly())
            .Aggregate((all, one) => all.Or(one));

    // Null if the facts of the site are needed.
    private static FindingsOfRow? Findings(
        RegisterRow row,
        HashSet<RuleId> changed,
        IReadOnlyList<(Rule Rule, Mask Breaks)> now,
        ILookup<SiteId, RuleId> excepted
    )
    {
        var (breaks, unsure, causes) = (Kept(row.Breaks, changed), Kept(row.Unsure, changed), new List<Cause>());
        foreach (var (rule, mask) in now)
        {
            switch (mask[row.Place])
            {
                case Truth.Yes when !excepted[row.Id].Contains(rule.Id) && Cause.Of(row, rule) is { } cause:
                    breaks.Add(rule);
                    causes.Add(cause);
                    break;
                case Truth.Yes or Truth.Unknown when excepted[row.Id].Contains(rule.Id):
                case Truth.Yes:
                    return null;
                case Truth.Unknown:
                    unsure.Add(rule);
                    break;
            }
        }

        var broken = InOrder(breaks);
        return new FindingsOfRow(
            broken,
            row.NoLongerReported
                ? []
                :
                [
                    .. row
                        .Causes.Where(cause => !changed.Contains(cause.Rule.Id))
                        .Concat(causes)
                        .OrderBy(cause => cause.Rule.Id.Value, StringComparer.Ordinal),
                ],
            Kept(row.Excepted, changed),
            InOrder(unsure),
            Gravity.Of(
                broken,
                unsure.Count,
                Gravity.OutsideOf((int)row.Columns.Of<Span>("gravity")[row.Place].Or(default).AtLeast)
            )
        );
    }

    private static List<Rule> Kept(IReadOnlyList<Rule> rules, HashSet<RuleId> changed) =>
        [.. rules.Where(rule => !changed.Contains(rule.Id))];

    private static List<Rule> InOrder(IEnumerable<Rule> rules) =>
        [.. rules.OrderBy(rule => rule.Id.Value, StringComparer.Ordinal)];
}
