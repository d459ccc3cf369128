using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>The level of a rule, the highest first.</summary>
public enum Level : byte
{
    Critical,
    Warning,
    Note,
}

/// <summary>What a rule demands of a site. Built-in demands are short names for expressions over computed attributes.</summary>
public abstract record Demand
{
    private Demand() { }

    /// <summary>The demand as an expression in the grammar of filters.</summary>
    public abstract string Expression { get; }

    /// <summary>The certain distance of a site from the demand, in steps of which a higher one is worse: what an exception
    /// covers. Narrower limits are further away. Empty if it cannot be measured.
    /// </summary>
    public abstract IReadOnlyList<int> Distance(ComputedSite line);

    public sealed record General(string Text) : Demand
    {
        public override string Expression => Text;

        public override IReadOnlyList<int> Distance(ComputedSite line) => [];
    }

    /// <summary>No effective access exceeds policy.</summary>
    public sealed record WithinAllowed : Demand
    {
        public override string Expression => "exceeds eq false";

        public override IReadOnlyList<int> Distance(ComputedSite line) =>
            [.. Powers.Limited.SelectMany(power => Distance(line, power))];

        private static int[] Distance(ComputedSite line, Power power)
        {
            if (line.ExcessOf(power) != Truth.Yes)
            {
                return [0, 0, 0, 0];
            }

            var allowed = line.AccessPath(power).Permitted;
            var outside = (int)
                Math.Max(
                    0,
                    line.Outside(power).Or(default).AtLeast
                        - allowed.Select(limit => (int)limit.Widest).Or((int)OutsideLevel.Anonymous)
                );
            var inside = (int)
                Math.Max(
                    0,
                    line.Inside(power).Or(default).AtLeast
                        - allowed.Select(limit => (int)limit.Inside.Level()).Or((int)InsideLevel.Staff)
                );

            // A whole level counts once; people who are admitted one by one each count.
            var exceeds = line.AccessPath(power).Excess.Certain;
            return
            [
                outside,
                inside,
                exceeds.Doors.Doors().Count(),
                outside + inside > 0 ? int.MaxValue : exceeds.Inside.Count + exceeds.Guests.Count,
            ];
        }
    }

    /// <summary>Only named people edit, one by one or in groups.</summary>
    public sealed record EditingNamedOnly : Demand
    {
        public override string Expression => "edit.inside le \"named\" and edit.outside le \"named-guests\"";

        public override IReadOnlyList<int> Distance(ComputedSite line) =>
            [
                (int)Math.Max(0, line.Inside(Power.Edit).Or(default).AtLeast - (int)InsideLevel.Named),
                (int)Math.Max(0, line.Outside(Power.Edit).Or(default).AtLeast - (int)OutsideLevel.NamedGuests),
            ];
    }

    /// <summary>At least this number of distinct active owners.</summary>
    public sealed record ActiveOwners(int Least) : Demand
    {
        public override string Expression => $"owners.active.count ge {Least}";

        public override IReadOnlyList<int> Distance(ComputedSite line) =>
            [Math.Max(0, Least - (line.Owners.ActiveAtMost ?? line.Owners.ActiveAtLeast))];
    }
}

/// <summary>A rule. It judges the sites in its scope from its first day on.</summary>
/// <param name="Short">A few words for a finding in a list.</param>
public sealed record Rule(RuleId Id, string Title, string Short, Level Level, string Scope, Demand Demand, DateOnly From)
{
    /// <summary>True if an exception covers the current facts: the site is no worse than it was then. A demand that cannot be
    /// measured must be unchanged; for others a tighter demand is a greater distance.
    /// </summary>
    public bool IsCovered(RuleException exception, ComputedSite line) =>
        exception.Rule == Id
        && (Demand is not Demand.General || Demand.Expression == exception.Demand)
        && Demand.Distance(line) is var now
        && now.Count == exception.Distance.Count
        && now.Zip(exception.Distance).All(step => step.First <= step.Second);
}

/// <summary>The rules in force on a day, ready to judge.</summary>
public sealed class RuleBook
{
    private readonly IReadOnlyList<(Rule Rule, Filter<ComputedSite> Breaks)> rules;

    /// <exception cref="FilterError">A scope or demand cannot be read.</exception>
    public RuleBook(IEnumerable<Rule> rules, DateOnly today)
    {
        this.rules =
        [
            .. rules
                .Where(rule => rule.From <= today)
                .OrderBy(rule => rule.Id.Value, StringComparer.Ordinal)
                .Select(rule => (rule, BreaksOf(rule))),
        ];
    }

    public IEnumerable<Rule> Rules => rules.Select(pair => pair.Rule);

    public Rule? Find(RuleId id) => Rules.FirstOrDefault(rule => rule.Id == id);

    /// <summary>The verdict of every rule on every row: Yes breaks it, Unknown cannot tell, No keeps it. An unknown scope with a
    /// demand that certainly holds keeps it, by strong Kleene "and".
    /// </summary>
    public IReadOnlyList<(Rule Rule, Mask Breaks)> Judge(Columns<ComputedSite> columns) =>
        [.. rules.Select(pair => (pair.Rule, columns.Evaluate(pair.Breaks)))];

    /// <summary>The verdicts on one site, which is an index of one row.</summary>
    public IReadOnlyList<Finding> Judge(ComputedSite line) =>
        [
            .. Judge(new ColumnsOfLines<ComputedSite>([line]))
                .Where(judged => judged.Breaks[0] != Truth.No)
                .Select(judged => new Finding(
                    line.Site.Id,
                    judged.Rule,
                    judged.Breaks[0] == Truth.Yes ? Broken(line, judged.Rule) : Verdict.CannotTell
                )),
        ];

    /// <summary>The verdicts on several sites at once, by position.</summary>
    public IReadOnlyList<JudgedSite> Judge(IReadOnlyList<ComputedSite> lines)
    {
        var findings = new List<Finding>?[lines.Count];
        foreach (var (rule, breaks) in Judge(new ColumnsOfLines<ComputedSite>(lines)))
        {
            foreach (var line in breaks.Lines())
            {
                (findings[line] ??= []).Add(new Finding(lines[line].Site.Id, rule, Broken(lines[line], rule)));
            }

            foreach (var line in breaks.Lines(Truth.Unknown))
            {
                (findings[line] ??= []).Add(new Finding(lines[line].Site.Id, rule, Verdict.CannotTell));
            }
        }

        return [.. lines.Zip(findings, (line, found) => new JudgedSite(line, (IReadOnlyList<Finding>?)found ?? []))];
    }

    private static Verdict Broken(ComputedSite line, Rule rule) =>
        line.Exceptions.Any(exception => rule.IsCovered(exception, line)) ? Verdict.Excepted : Verdict.Breaks;

    private static Filter<ComputedSite> BreaksOf(Rule rule) => BreaksOf(rule.Scope, rule.Demand.Expression, SiteAttributes.List);

    /// <summary>The sites that break a demand, within a scope.</summary>
    /// <exception cref="FilterError">One of the two cannot be read.</exception>
    internal static Filter<TLine> BreaksOf<TLine>(string scope, string demand, AttributeList<TLine> list) =>
        CoversOf(scope, list).AndAlso(new Filter<TLine>.Not(Filter.Parse(demand, list)));

    /// <summary>The sites in a scope. Sites in the attic are outside unless one of its conditions is about the attic.</summary>
    /// <exception cref="FilterError">It cannot be read.</exception>
    internal static Filter<TLine> CoversOf<TLine>(string scope, AttributeList<TLine> list)
    {
        var inUse = Filter.Parse("existence eq \"in-use\"", list);
        if (scope.Length == 0)
        {
            return inUse;
        }

        var inScope = Filter.Parse(scope, list);
        return inScope.Uses(SiteAttributes.Existence) ? inScope : inUse.AndAlso(inScope);
    }
}

public enum Verdict : byte
{
    Holds,
    CannotTell,
    Excepted,
    Breaks,
}

/// <summary>A site that breaks a rule, has an exception from it, or for which the rule cannot tell.</summary>
public sealed record Finding(SiteId Site, Rule Rule, Verdict Verdict);
