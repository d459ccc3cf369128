using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>The rules in force on a day, ready to judge.</summary>
public sealed class RuleBook
{
    // Without a filter: a rule that cannot be read cannot tell about any site, and the others are judged.
    private readonly IReadOnlyList<(Rule Rule, Filter<ComputedSite>? Breaks)> rules;
    private readonly Dictionary<RuleId, Rule> byId;

    /// <param name="versions">All versions of all rules, in any sequence.</param>
    public RuleBook(IEnumerable<Rule> versions, Today today)
    {
        Today = today;
        rules = [.. InForce(versions, today.Day).Select(rule => (rule, Readable(rule)))];
        byId = rules.ToDictionary(pair => pair.Rule.Id, pair => pair.Rule);
    }

    public Today Today { get; }

    public IEnumerable<Rule> Rules => rules.Select(pair => pair.Rule);

    /// <summary>Of each rule the version in force on a day, by id.</summary>
    public static IEnumerable<Rule> InForce(IEnumerable<Rule> versions, DateOnly day) =>
        versions
            .Where(rule => rule.From <= day)
            .GroupBy(rule => rule.Id)
            .Select(its => its.MaxBy(rule => rule.Version)!)
            .Where(rule => !rule.IsOff)
            .OrderBy(rule => rule.Id.Value, StringComparer.Ordinal);

    public Rule? Find(RuleId id) => byId.GetValueOrDefault(id);

    /// <summary>The book as it was stored, from all versions that there are now.</summary>
    /// <exception cref="SnapshotError">One of its versions is not among them.</exception>
    public static RuleBook Read(ISnapshotReader from, IEnumerable<Rule> versions, Today today)
    {
        var known = versions.ToDictionary(rule => (rule.Id.Value, rule.Version));
        return new(
            from.Texts()
                .Zip(from.Numbers())
                .Select(pair =>
                    known.GetValueOrDefault(pair) ?? throw new SnapshotError($"There is no rule {pair.First} any more.")
                ),
            today
        );
    }

    public void Write(ISnapshotWriter to)
    {
        to.Texts([.. Rules.Select(rule => rule.Id.Value)]);
        to.Numbers([.. Rules.Select(rule => rule.Version)]);
    }

    /// <summary>The verdict of every rule on every row: Yes breaks it, Unknown cannot tell, No keeps it. An unknown scope with a
    /// demand that certainly holds keeps it, by strong Kleene "and".
    /// </summary>
    public IReadOnlyList<(Rule Rule, Mask Breaks)> Judge(Columns<ComputedSite> columns) =>
        [
            .. rules.Select(pair =>
                (pair.Rule, pair.Breaks is { } breaks ? columns.Evaluate(breaks) : Untold(columns, SiteAttributes.List))
            ),
        ];

    /// <summary>The verdicts of some of the rules on the rows of an index.</summary>
    internal IReadOnlyList<(Rule Rule, Mask Breaks)> Judge(KeptColumns<JudgedSite> columns, IReadOnlySet<RuleId> only) =>
        [
            .. rules
                .Where(pair => only.Contains(pair.Rule.Id))
                .Select(pair =>
                    (
                        pair.Rule,
                        pair.Breaks is null
                            ? Untold(columns, columns.Attributes)
                            : columns.Evaluate(pair.Rule.Expression.Breaks(columns.Attributes, Today))
                    )
                ),
        ];

    /// <summary>The verdicts on one site, which is an index of one row.</summary>
    public IReadOnlyList<Finding> Judge(ComputedSite line) =>
        [
            .. Judge(new ColumnsOfLines<ComputedSite>([line]))
                .Where(judged => judged.Breaks[0] != Truth.No)
                .Select(judged => Found(line, judged.Rule, isUntold: judged.Breaks[0] == Truth.Unknown)),
        ];

    /// <summary>The verdicts on several sites at once, by position.</summary>
    public IReadOnlyList<JudgedSite> Judge(IReadOnlyList<ComputedSite> lines)
    {
        var findings = new List<Finding>?[lines.Count];
        foreach (var (rule, breaks) in Judge(new ColumnsOfLines<ComputedSite>(lines)))
        {
            foreach (var line in breaks.Lines())
            {
                (findings[line] ??= []).Add(Found(lines[line], rule, isUntold: false));
            }

            foreach (var line in breaks.Lines(Truth.Unknown))
            {
                (findings[line] ??= []).Add(Found(lines[line], rule, isUntold: true));
            }
        }

        return [.. lines.Zip(findings, (line, found) => new JudgedSite(line, (IReadOnlyList<Finding>?)found ?? []))];
    }

    private static Finding Found(ComputedSite line, Rule rule, bool isUntold) =>
        new(
            line.Site.Id,
            rule,
            line.Exceptions.Any(exception => rule.IsCovered(exception, line, isUntold)) ? Verdict.Excepted
                : isUntold ? Verdict.CannotTell
                : Verdict.Breaks
        )
        {
            IsUntold = isUntold,
        };

    private Filter<ComputedSite>? Readable(Rule rule)
    {
        try
        {
            return rule.Expression.Breaks(SiteAttributes.List, Today);
        }
        catch (FilterError)
        {
            return null;
        }
    }

    private static Mask Untold<TLine>(Columns<TLine> columns, AttributeList<TLine> attributes) =>
        columns.Evaluate(RuleExpression.InUse(attributes)).And(Mask.All(columns.Count, Truth.Unknown));
}
