using AtticLedger.Core.Filters;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>How much a rule matters, the most first.</summary>
public enum Level : byte
{
    Must,
    Should,
    Look,
}

/// <summary>What a rule asks of a site. Built-in demands are short names for expressions over computed attributes.</summary>
public abstract record Demand
{
    private Demand() { }

    /// <summary>The demand as an expression in the grammar of filters.</summary>
    public abstract string Expression { get; }

    /// <summary>
    /// How far a site surely is from it, in steps of which each is worse the higher it is: what an excuse covers. Limits that
    /// are narrower are further away. Empty where it cannot be measured.
    /// </summary>
    public abstract IReadOnlyList<int> Distance(SiteLine line);

    public sealed record General(string Text) : Demand
    {
        public override string Expression => Text;

        public override IReadOnlyList<int> Distance(SiteLine line) => [];
    }

    /// <summary>Nothing reaches further in fact than the house allows.</summary>
    public sealed record WithinAllowed : Demand
    {
        public override string Expression => "beyond eq false";

        public override IReadOnlyList<int> Distance(SiteLine line) =>
            [.. Powers.Limited.SelectMany(power => Distance(line, power))];

        private static int[] Distance(SiteLine line, Power power)
        {
            if (line.BeyondOf(power) != Truth.Yes)
            {
                return [0, 0, 0, 0];
            }

            var allowed = line.Passage(power).Permitted;
            var outside = (int)
                Math.Max(
                    0,
                    line.Outside(power).Or(default).AtLeast
                        - allowed.Select(limit => (int)limit.Widest).Or((int)OutsideLevel.PassersBy)
                );
            var inside = (int)
                Math.Max(
                    0,
                    line.Inside(power).Or(default).AtLeast
                        - allowed.Select(limit => (int)limit.Inside.Level()).Or((int)InsideLevel.Staff)
                );

            // Of a whole level it does not matter how many there are; of people who are let in one by one each is one more.
            var beyond = line.Passage(power).Beyond.Certain;
            return
            [
                outside,
                inside,
                beyond.Doors.Doors().Count(),
                outside + inside > 0 ? int.MaxValue : beyond.Inside.Count + beyond.Guests.Count,
            ];
        }
    }

    /// <summary>Nobody edits but people who are named, one by one or in groups.</summary>
    public sealed record EditingNamedOnly : Demand
    {
        public override string Expression => "edit.inside le \"named\" and edit.outside le \"named-guests\"";

        public override IReadOnlyList<int> Distance(SiteLine line) =>
            [
                (int)Math.Max(0, line.Inside(Power.Edit).Or(default).AtLeast - (int)InsideLevel.Named),
                (int)Math.Max(0, line.Outside(Power.Edit).Or(default).AtLeast - (int)OutsideLevel.NamedGuests),
            ];
    }

    /// <summary>At least so many distinct fit key holders.</summary>
    public sealed record FitKeyHolders(int Least) : Demand
    {
        public override string Expression => $"owners.fit.count ge {Least}";

        public override IReadOnlyList<int> Distance(SiteLine line) =>
            [Math.Max(0, Least - (line.Keys.FitAtMost ?? line.Keys.FitAtLeast))];
    }
}

/// <summary>A house rule. It judges the sites in its scope from its first day on.</summary>
/// <param name="Short">A few words for a finding in a list.</param>
public sealed record Rule(RuleId Id, string Title, string Short, Level Level, string Scope, Demand Demand, DateOnly From)
{
    /// <summary>
    /// Whether an excuse covers what is so: the site stands no worse than it did then. A demand that cannot be measured must
    /// be the very same; of the others a tighter one is further away.
    /// </summary>
    public bool IsCovered(Excuse excuse, SiteLine line) =>
        excuse.Rule == Id
        && (Demand is not Demand.General || Demand.Expression == excuse.Demand)
        && Demand.Distance(line) is var now
        && now.Count == excuse.Distance.Count
        && now.Zip(excuse.Distance).All(step => step.First <= step.Second);
}

/// <summary>The rules in force on a day, ready to judge.</summary>
public sealed class RuleBook
{
    private static readonly Filter<SiteLine> InUse = Filter.Parse("existence eq \"here\"", SiteAttributes.List);
    private readonly IReadOnlyList<(Rule Rule, Filter<SiteLine> Breaks)> rules;

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

    /// <summary>
    /// The verdict of every rule on every line: Yes breaks, Unknown cannot tell, No is in order. An unknown scope with a
    /// demand that surely holds is in order, as strong Kleene "and" has it.
    /// </summary>
    public IReadOnlyList<(Rule Rule, Mask Breaks)> Judge(Columns<SiteLine> columns) =>
        [.. rules.Select(pair => (pair.Rule, columns.Evaluate(pair.Breaks)))];

    /// <summary>The verdicts on one site, which is a sheet of one line.</summary>
    public IReadOnlyList<Finding> Judge(SiteLine line) =>
        [
            .. Judge(new ColumnsOfLines<SiteLine>([line]))
                .Where(judged => judged.Breaks[0] != Truth.No)
                .Select(judged => new Finding(
                    line.Site.Id,
                    judged.Rule,
                    judged.Breaks[0] == Truth.Yes ? Broken(line, judged.Rule) : Verdict.CannotTell
                )),
        ];

    /// <summary>The verdicts on several sites at once, by their places.</summary>
    public IReadOnlyList<JudgedLine> Judge(IReadOnlyList<SiteLine> lines)
    {
        var findings = new List<Finding>?[lines.Count];
        foreach (var (rule, breaks) in Judge(new ColumnsOfLines<SiteLine>(lines)))
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

        return [.. lines.Zip(findings, (line, found) => new JudgedLine(line, (IReadOnlyList<Finding>?)found ?? []))];
    }

    private static Verdict Broken(SiteLine line, Rule rule) =>
        line.Excuses.Any(excuse => rule.IsCovered(excuse, line)) ? Verdict.Excused : Verdict.Breaks;

    private static Filter<SiteLine> BreaksOf(Rule rule)
    {
        Filter<SiteLine> breaks = new Filter<SiteLine>.Not(Filter.Parse(rule.Demand.Expression, SiteAttributes.List));
        var inScope = rule.Scope.Length == 0 ? breaks : Filter.Parse(rule.Scope, SiteAttributes.List).AndAlso(breaks);

        // Put-away sites are outside unless the rule's scope speaks of them.
        return rule.Scope.Contains("existence", StringComparison.OrdinalIgnoreCase) ? inScope : InUse.AndAlso(inScope);
    }
}

public enum Verdict : byte
{
    Holds,
    CannotTell,
    Excused,
    Breaks,
}

/// <summary>A site that breaks a rule, is excused from it while it does, or of which it cannot be told whether it does.</summary>
public sealed record Finding(SiteId Site, Rule Rule, Verdict Verdict);
