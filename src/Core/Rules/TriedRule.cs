using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A part of a rule whose expression cannot be read.</summary>
public sealed class RuleError(string part, FilterError error) : Exception(error.Message)
{
    /// <summary>"scope" or "demand".</summary>
    public string Part => part;

    /// <summary>Counted from 1, within the part.</summary>
    public int Column => error.Column;
}

/// <summary>A rule tried out on the register as it is: what it covers and what it would find. Nothing is stored.</summary>
/// <param name="Covers">The sites that are certainly in its scope.</param>
/// <param name="Breaks">The verdict on every site: Yes breaks it, Unknown cannot tell.</param>
/// <param name="Known">The sites that break the rule compared with, with or without an exception.</param>
/// <param name="Reads">The attributes that it reads, in the order of the register's.</param>
public sealed record TriedRule(Mask Covers, Mask Breaks, Mask Known, IReadOnlyList<Attribute<JudgedSite>> Reads)
{
    /// <summary>A longer expression is a mistake or an attack.</summary>
    public const int LongestExpression = 4000;

    /// <param name="scope">Empty for all sites.</param>
    /// <param name="compared">The rule to compare with; null to compare with none.</param>
    /// <exception cref="RuleError">The scope or the demand cannot be read.</exception>
    public static TriedRule Of(VisibleRegister seen, string scope, string demand, RuleId? compared)
    {
        // Rules read the attributes of a site only, never the findings of other rules.
        Check("scope", scope, () => RuleBook.CoversOf(scope, SiteAttributes.List));
        Check("demand", demand, () => Filter.Parse(demand, SiteAttributes.List));
        var breaks = RuleBook.BreaksOf(scope, demand, JudgedSite.Attributes);
        return new TriedRule(
            seen.Where(RuleBook.CoversOf(scope, JudgedSite.Attributes)).Certainly(),
            seen.Where(breaks),
            compared is { } rule
                ? seen.Where(Filter.Parse($"breaks eq \"{rule.Value}\" or excepted eq \"{rule.Value}\"", JudgedSite.Attributes))
                    .Certainly()
                : Mask.All(seen.All.Length, Truth.No),
            [
                .. JudgedSite.Attributes.All.Where(attribute =>
                    attribute.Name != SiteAttributes.Existence && breaks.Uses(attribute.Name)
                ),
            ]
        );
    }

    /// <summary>The sites that break it and do not break the rule compared with.</summary>
    public Mask Added => Breaks.Certainly().And(Known.Not());

    /// <summary>The sites that break the rule compared with, and certainly not this one.</summary>
    public Mask Cleared => Known.And(Breaks.Not().Certainly());

    private static void Check(string part, string text, Func<object> read)
    {
        try
        {
            if (text.Length > LongestExpression)
            {
                throw new FilterError(
                    LongestExpression + 1,
                    $"an expression has at most {LongestExpression} characters; this one has {text.Length}"
                );
            }

            read();
        }
        catch (FilterError error)
        {
            throw new RuleError(part, error);
        }
    }
}
