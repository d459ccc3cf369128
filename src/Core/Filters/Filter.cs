using System.Globalization;
using System.Text.RegularExpressions;

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

public static partial class Filter
{
    /// <exception cref="FilterError">Names the column and the error.</exception>
    public static Filter<TLine> Parse<TLine>(string text, AttributeList<TLine> attributes) =>
        Bind(FilterParser.Parse(text), attributes);

    private static Filter<TLine> Bind<TLine>(FilterSyntax syntax, AttributeList<TLine> attributes) =>
        syntax switch
        {
            FilterSyntax.And(var left, var right) => new Filter<TLine>.And(Bind(left, attributes), Bind(right, attributes)),
            FilterSyntax.Or(var left, var right) => new Filter<TLine>.Or(Bind(left, attributes), Bind(right, attributes)),
            FilterSyntax.Not(var inner, _) => new Filter<TLine>.Not(Bind(inner, attributes)),
            FilterSyntax.Present present => BindPresent(present, attributes),
            FilterSyntax.Compare compare => BindCompare(compare, attributes),
            FilterSyntax.Within within => BindWithin(within, attributes),
            _ => throw new InvalidOperationException("Every kind of syntax is bound above."),
        };

    private static Filter<TLine> BindWithin<TLine>(FilterSyntax.Within within, AttributeList<TLine> attributes) =>
        Look(within.Name, within.Column, attributes) is ListAttribute<TLine> list
            ? list.Accept(new ListBinder<TLine>(within.Inner))
            : throw new FilterError(within.Column, $"\"{within.Name}\" is not a list, so it takes no brackets");

    private static Filter<TLine> BindPresent<TLine>(FilterSyntax.Present present, AttributeList<TLine> attributes) =>
        Look(present.Name, present.Column, attributes, out var part) is { } attribute && part is null
            ? new Filter<TLine>.Present(attribute)
            : ((ListAttribute<TLine>)Look(present.Name, present.Column, attributes, out part)).Accept(
                new ListBinder<TLine>(present with { Name = part! })
            );

    private static Filter<TLine> BindCompare<TLine>(FilterSyntax.Compare compare, AttributeList<TLine> attributes)
    {
        var attribute = Look(compare.Name, compare.Column, attributes, out var part);
        if (compare.Value.Value is null)
        {
            var present = BindPresent(new FilterSyntax.Present(compare.Name, compare.Column), attributes);
            return compare.Operator switch
            {
                Comparison.Eq => new Filter<TLine>.Not(present),
                Comparison.Ne => present,
                _ => throw new FilterError(compare.Value.Column, "null takes eq or ne only"),
            };
        }

        if (attribute is ListAttribute<TLine> list)
        {
            // "owners.standing ne …" says that no element equals; "owners[standing ne …]" judges each.
            var inner = compare with { Name = part ?? "value" };
            return compare.Operator == Comparison.Ne
                ? new Filter<TLine>.Not(list.Accept(new ListBinder<TLine>(inner with { Operator = Comparison.Eq })))
                : list.Accept(new ListBinder<TLine>(inner));
        }

        return BindSimple(attribute, compare);
    }

    private static Filter<TLine> BindSimple<TLine>(Attribute<TLine> attribute, FilterSyntax.Compare compare)
    {
        var (_, comparison, literal, _) = compare;
        if (attribute is not TextAttribute<TLine> && comparison is Comparison.Co or Comparison.Sw or Comparison.Ew)
        {
            throw new FilterError(compare.Column, $"\"{attribute.Name}\" is not text, so co, sw and ew do not apply");
        }

        return (attribute, literal.Value) switch
        {
            (TextAttribute<TLine> text, string value) => new Filter<TLine>.Text(text, comparison, value),
            (WordAttribute<TLine> word, string value) => new Filter<TLine>.Word(word, comparison, Rank(word.Order, value)),
            (NumberAttribute<TLine> number, decimal value) => new Filter<TLine>.Number(number, comparison, value),
            (MomentAttribute<TLine> moment, string value) => new Filter<TLine>.Moment(
                moment,
                comparison,
                Instant(value, literal.Column)
            ),
            (TruthAttribute<TLine> flag, bool value) when comparison is Comparison.Eq or Comparison.Ne => new Filter<TLine>.Flag(
                flag,
                comparison,
                value
            ),
            (TruthAttribute<TLine>, bool) => throw new FilterError(
                compare.Column,
                $"\"{attribute.Name}\" is true or false, so it takes eq or ne only"
            ),
            _ => throw new FilterError(literal.Column, $"\"{attribute.Name}\" is compared with {Wanted(attribute)}"),
        };
    }

    private static string Wanted<TLine>(Attribute<TLine> attribute) =>
        attribute switch
        {
            NumberAttribute<TLine> => "a number",
            TruthAttribute<TLine> => "true or false",
            MomentAttribute<TLine> => "an instant in quotes, such as \"2026-11-24T07:00:00Z\"",
            _ => "a text in quotes",
        };

    private static int? Rank(IReadOnlyList<string> order, string word)
    {
        for (var rank = 0; rank < order.Count; rank++)
        {
            if (order[rank].Equals(word, StringComparison.OrdinalIgnoreCase))
            {
                return rank;
            }
        }

        return null;
    }

    private static DateTimeOffset Instant(string text, int column) =>
        Rfc3339().IsMatch(text)
        && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var instant)
            ? instant
            : throw new FilterError(column, "expected an instant such as \"2026-11-24T07:00:00Z\"");

    // RFC 3339, section 5.6, "date-time".
    [GeneratedRegex(@"^\d{4}-\d{2}-\d{2}[Tt]\d{2}:\d{2}:\d{2}(\.\d+)?([Zz]|[+-]\d{2}:\d{2})$", RegexOptions.CultureInvariant)]
    private static partial Regex Rfc3339();

    private static Attribute<TLine> Look<TLine>(string name, int column, AttributeList<TLine> attributes) =>
        attributes.Find(name) ?? throw new FilterError(column, $"there is no attribute \"{name}\"");

    // A name with a dot is an attribute of that name, or a list and a sub-attribute of its elements.
    private static Attribute<TLine> Look<TLine>(string name, int column, AttributeList<TLine> attributes, out string? part)
    {
        part = null;
        if (attributes.Find(name) is { } whole)
        {
            return whole;
        }

        var dot = name.LastIndexOf('.');
        if (dot > 0 && attributes.Find(name[..dot]) is ListAttribute<TLine> list)
        {
            part = name[(dot + 1)..];
            return list;
        }

        return Look(name, column, attributes);
    }

    private sealed class ListBinder<TLine>(FilterSyntax inner) : IListVisitor<TLine, Filter<TLine>>
    {
        public Filter<TLine> Visit<TElement>(ListAttribute<TLine, TElement> list)
            where TElement : notnull => new Filter<TLine>.AnyElement<TElement>(list, Bind(inner, list.Elements));
    }
}
