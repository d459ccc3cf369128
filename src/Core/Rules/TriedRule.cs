using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A rule tried out on the register as it is: what it covers and what it would find. Nothing is stored.</summary>
/// <param name="Covers">The sites that are certainly in its scope.</param>
/// <param name="Breaks">The verdict on every site: Yes breaks it, Unknown cannot tell.</param>
/// <param name="Known">The sites that break the rule compared with, with or without an exception.</param>
/// <param name="Reads">The attributes that it reads, in the order of the register's.</param>
public sealed record TriedRule(Mask Covers, Mask Breaks, Mask Known, IReadOnlyList<Attribute<JudgedSite>> Reads)
{
    /// <param name="compared">The rule to compare with; null to compare with none.</param>
    /// <exception cref="RuleError">The scope or the demand cannot be read.</exception>
    public static TriedRule Of(VisibleRegister seen, RuleExpression expression, RuleId? compared, Today today)
    {
        expression.Check(today);
        return new TriedRule(
            seen.Where(expression.Covers(JudgedSite.Attributes, today)).Certainly(),
            seen.Where(expression.Breaks(JudgedSite.Attributes, today)),
            compared is { } rule
                ? seen.Where(Filter.Parse($"breaks eq \"{rule.Value}\" or excepted eq \"{rule.Value}\"", JudgedSite.Attributes))
                    .Certainly()
                : Mask.All(seen.All.Length, Truth.No),
            expression.Reads(JudgedSite.Attributes, today)
        );
    }

    /// <summary>The sites that break it and do not break the rule compared with.</summary>
    public Mask Added => Breaks.Certainly().And(Known.Not());

    /// <summary>The sites that break the rule compared with, and certainly not this one.</summary>
    public Mask Cleared => Known.And(Breaks.Not().Certainly());
}
