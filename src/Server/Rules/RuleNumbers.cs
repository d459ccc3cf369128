using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Register;

namespace AtticLedger.Server.Rules;

/// <summary>The numbers of rules on the register as it is, within a viewer's scope.</summary>
internal sealed class RuleNumbers(LedgerState state, VisibleRegister seen)
{
    private const int MostExamples = 12;

    /// <summary>The numbers on all sites, for those who write rules.</summary>
    public static RuleNumbers OfAll(LedgerState state) => new(state, state.Seen(new Scope.Everything()));

    /// <exception cref="RuleError">The scope or the demand cannot be read.</exception>
    public TriedRule Try(RuleExpression expression, RuleId? compared) =>
        TriedRule.Of(seen, expression, compared, state.Rules.Today);

    /// <summary>What a version would find, compared with the one in force.</summary>
    public TriedRule Try(Rule rule) => Try(rule.Expression, state.Rules.Find(rule.Id)?.Id);

    public RuleOfBook OfBook(Rule rule)
    {
        var isInForce = state.Rules.Find(rule.Id) == rule;
        var response = new RuleResponse(rule.Id.Value, rule.Title, rule.Short, rule.Level);
        RuleOfBook Counted(int covers, int breaks, int excepted, int cannotTell, string? fault) =>
            new(
                response,
                rule.Version,
                rule.Scope,
                rule.Demand.Expression,
                rule.Enforcement,
                rule.From,
                isInForce,
                covers,
                breaks,
                excepted,
                cannotTell,
                fault
            );
        try
        {
            var tried = Try(rule.Expression, isInForce ? rule.Id : null);
            var exceptions = isInForce ? Excepted(rule.Id) : Mask.All(seen.All.Length, Truth.No);
            return Counted(
                tried.Covers.CountYes,
                tried.Breaks.Certainly().And(exceptions.Not()).CountYes,
                exceptions.CountYes,
                Untold(tried).And(exceptions.Not()).CountYes,
                null
            );
        }
        catch (RuleError error)
        {
            return Counted(0, 0, 0, isInForce ? seen.InUse.CountYes : 0, $"{error.Part}, column {error.Column}: {error.Message}");
        }
    }

    /// <summary>The sites with a finding of a rule, without those that have an exception.</summary>
    public int Found(RuleId rule) =>
        seen.Where(Filter.Parse($"breaks eq {FilterText.Literal(rule.Value)}", JudgedSite.Attributes)).CountYes;

    public int ExceptedFrom(RuleId rule) => Excepted(rule).CountYes;

    /// <summary>What has to be looked at again before a version that was tried out is written: it would find most sites. Null for
    /// nothing.</summary>
    public Remark? LookAgain(TriedRule tried)
    {
        var (added, sites) = (tried.Added.CountYes, seen.InUse.CountYes);
        return added * 2 > sites ? new RuleTouchesMost(added, sites) : null;
    }

    public TriedRuleResponse Response(TriedRule tried, RuleExpression expression)
    {
        var breaks = tried.Breaks.Certainly();
        var untold = Untold(tried);
        return new TriedRuleResponse(
            tried.Covers.CountYes,
            breaks.CountYes,
            untold.CountYes,
            tried.Added.CountYes,
            tried.Cleared.CountYes,
            Parts("unit", breaks, code => state.PeopleDirectory.Find(new UnitCode(code))?.Name ?? code, "no unit"),
            Parts("host", breaks, host => host, "no host"),
            [
                .. seen.Lines(tried.Added.CountYes > 0 ? tried.Added : breaks, [new SortKey("title", false)])
                    .Take(MostExamples)
                    .Select(line => new RuleExample(line.Id.Value, line.Title, RuleEvidence.Of(line, tried.Reads, state))),
            ],
            [
                .. tried
                    .Reads.Select(attribute => new MissingForRule(
                        attribute.Name,
                        AttributeLabels.Of(attribute.Name),
                        untold.And(seen.Columns.Of(attribute).IsCertain().Not()).CountYes
                    ))
                    .Where(missing => missing.Sites > 0)
                    .OrderByDescending(missing => missing.Sites),
            ],
            expression.Scope.Length > 0 ? $"({expression.Scope}) and not ({expression.Demand})" : $"not ({expression.Demand})"
        );
    }

    private Mask Excepted(RuleId rule) =>
        seen.Where(Filter.Parse($"excepted eq {FilterText.Literal(rule.Value)}", JudgedSite.Attributes)).Certainly();

    // Rows out of scope are never unknown: they are not there.
    private Mask Untold(TriedRule tried) => tried.Breaks.Untold().And(seen.All);

    private List<CountedPart> Parts(string attribute, Mask of, Func<string, string> name, string none) =>
        [
            .. ((Column<string>)seen.Columns.Of(attribute))
                .Counts(of)
                .Select(pair =>
                    pair.Value.Has(out var key) ? new CountedPart(key, name(key), pair.Count)
                    : pair.Value.IsNone ? new CountedPart(null, none, pair.Count)
                    : new CountedPart(null, "not known", pair.Count)
                )
                .OrderByDescending(part => part.Count)
                .ThenBy(part => part.Name, StringComparer.OrdinalIgnoreCase),
        ];
}
