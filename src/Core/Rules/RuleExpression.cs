using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
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

/// <summary>The sites that a rule judges and what it demands of them, in the grammar of filters.</summary>
/// <param name="Scope">Empty for all sites in use.</param>
public sealed record RuleExpression(string Scope, string Demand)
{
    /// <summary>A longer expression is a mistake or an attack.</summary>
    public const int LongestExpression = 4000;

    /// <summary>Reads both parts as a rule reads them: it uses the attributes of a site, never the findings of other rules.
    /// </summary>
    /// <exception cref="RuleError">The scope or the demand cannot be read.</exception>
    public void Check(Today today)
    {
        Check("scope", Scope, () => Covers(SiteAttributes.List, today));
        Check("demand", Demand, () => Filter.Parse(Demand, SiteAttributes.List, today));
    }

    /// <summary>The sites in scope that break the demand.</summary>
    /// <exception cref="FilterError">One of the two cannot be read.</exception>
    public Filter<TLine> Breaks<TLine>(AttributeList<TLine> attributes, Today today) =>
        Covers(attributes, today).AndAlso(new Filter<TLine>.Not(Filter.Parse(Demand, attributes, today)));

    /// <summary>The sites in scope. Sites in the attic are outside unless one of its conditions is about the attic.</summary>
    /// <exception cref="FilterError">It cannot be read.</exception>
    public Filter<TLine> Covers<TLine>(AttributeList<TLine> attributes, Today today)
    {
        if (Scope.Length == 0)
        {
            return InUse(attributes);
        }

        var inScope = Filter.Parse(Scope, attributes, today);
        return inScope.Uses(SiteAttributes.Existence) ? inScope : InUse(attributes).AndAlso(inScope);
    }

    /// <summary>The attributes that it reads, in the order of the list.</summary>
    /// <exception cref="FilterError">One of the two cannot be read.</exception>
    public IReadOnlyList<Attribute<TLine>> Reads<TLine>(AttributeList<TLine> attributes, Today today)
    {
        var breaks = Breaks(attributes, today);
        return [.. attributes.All.Where(attribute => attribute.Name != SiteAttributes.Existence && breaks.Uses(attribute.Name))];
    }

    internal static Filter<TLine> InUse<TLine>(AttributeList<TLine> attributes) =>
        Filter.Parse("existence eq \"in-use\"", attributes);

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
