using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Filters;

/// <summary>A filter whose names are looked up and whose values fit their attributes: it can be evaluated without
/// failing.</summary>
/// <example><code>var filter = Filter.Parse("status eq \"published\" and not (owners pr)", SiteAttributes.List);</code></example>
public abstract record Filter<TLine>
{
    public sealed record And(Filter<TLine> Left, Filter<TLine> Right) : Filter<TLine>;

    public sealed record Or(Filter<TLine> Left, Filter<TLine> Right) : Filter<TLine>;

    public sealed record Not(Filter<TLine> Inner) : Filter<TLine>;

    public sealed record Present(Attribute<TLine> Attribute) : Filter<TLine>;

    /// <summary>The verdict of a comparison on each value of the attribute.</summary>
    public sealed record Text(TextAttribute<TLine> Attribute, Comparison Operator, string Literal) : Filter<TLine>;

    /// <summary><paramref name="Rank"/> is the rank of the literal in the attribute's order; null for a value outside
    /// it.</summary>
    public sealed record Word(WordAttribute<TLine> Attribute, Comparison Operator, int? Rank) : Filter<TLine>;

    public sealed record Number(NumberAttribute<TLine> Attribute, Comparison Operator, decimal Literal) : Filter<TLine>;

    public sealed record Moment(MomentAttribute<TLine> Attribute, Comparison Operator, DateTimeOffset Literal) : Filter<TLine>;

    public sealed record Flag(TruthAttribute<TLine> Attribute, Comparison Operator, bool Literal) : Filter<TLine>;

    /// <summary>True if the inner filter holds for at least one element of a list.</summary>
    public abstract record AnyElement : Filter<TLine>
    {
        internal abstract string ListName { get; }

        internal abstract TResult Accept<TResult>(IAnyElementVisitor<TLine, TResult> visitor);
    }

    public sealed record AnyElement<TElement>(ListAttribute<TLine, TElement> List, Filter<TElement> Inner) : AnyElement
        where TElement : notnull
    {
        internal override string ListName => List.Name;

        internal override TResult Accept<TResult>(IAnyElementVisitor<TLine, TResult> visitor) => visitor.Visit(this);
    }

    public Filter<TLine> AndAlso(Filter<TLine> other) => new And(this, other);

    /// <summary>True if a condition is about this attribute.</summary>
    public bool Uses(string attribute) =>
        this switch
        {
            And(var left, var right) => left.Uses(attribute) || right.Uses(attribute),
            Or(var left, var right) => left.Uses(attribute) || right.Uses(attribute),
            Not(var inner) => inner.Uses(attribute),
            Present(var its) => its.Name == attribute,
            Text text => text.Attribute.Name == attribute,
            Word word => word.Attribute.Name == attribute,
            Number number => number.Attribute.Name == attribute,
            Moment moment => moment.Attribute.Name == attribute,
            Flag flag => flag.Attribute.Name == attribute,
            AnyElement any => any.ListName == attribute,
            _ => throw new InvalidOperationException("A filter is one of these."),
        };
}

internal interface IAnyElementVisitor<TLine, TResult>
{
    TResult Visit<TElement>(Filter<TLine>.AnyElement<TElement> any)
        where TElement : notnull;
}

public static class Filter
{
    /// <param name="today">From which periods such as <c>"-P90D"</c> are counted; null where no day is known.</param>
    /// <exception cref="FilterError">Names the column and the error.</exception>
    public static Filter<TLine> Parse<TLine>(string text, AttributeList<TLine> attributes, Today? today = null) =>
        new FilterBinder(today).Bind(FilterParser.Parse(text), attributes);

    /// <summary>True if the filter changes its meaning from day to day, because it compares with a period.</summary>
    public static bool CountsDays(string text)
    {
        try
        {
            return FilterParser
                .Parse(text)
                .Literals()
                .Any(literal => literal.Value is string value && FilterBinder.IsPeriod(value));
        }
        catch (FilterError)
        {
            return false;
        }
    }
}
