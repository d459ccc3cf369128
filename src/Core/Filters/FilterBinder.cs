using System.Globalization;
using System.Text.RegularExpressions;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Filters;

/// <summary>Looks up the names of a filter and checks that its values fit their attributes.</summary>
/// <param name="today">From which periods are counted; null where no day is known.</param>
internal sealed partial class FilterBinder(Today? today)
{
    public static bool IsPeriod(string text) => Period().IsMatch(text);

    public Filter<TLine> Bind<TLine>(FilterSyntax syntax, AttributeList<TLine> attributes) =>
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

    private Filter<TLine> BindWithin<TLine>(FilterSyntax.Within within, AttributeList<TLine> attributes) =>
        Look(within.Name, within.Column, attributes) is ListAttribute<TLine> list
            ? list.Accept(new ListBinder<TLine>(this, within.Inner))
            : throw new FilterError(within.Column, $"\"{within.Name}\" is not a list, so it takes no brackets");

    private Filter<TLine> BindPresent<TLine>(FilterSyntax.Present present, AttributeList<TLine> attributes) =>
        Look(present.Name, present.Column, attributes, out var part) is { } attribute && part is null
            ? new Filter<TLine>.Present(attribute)
            : ((ListAttribute<TLine>)Look(present.Name, present.Column, attributes, out part)).Accept(
                new ListBinder<TLine>(this, present with { Name = part! })
            );

    private Filter<TLine> BindCompare<TLine>(FilterSyntax.Compare compare, AttributeList<TLine> attributes)
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
                ? new Filter<TLine>.Not(list.Accept(new ListBinder<TLine>(this, inner with { Operator = Comparison.Eq })))
                : list.Accept(new ListBinder<TLine>(this, inner));
        }

        return BindSimple(attribute, compare);
    }

    private Filter<TLine> BindSimple<TLine>(Attribute<TLine> attribute, FilterSyntax.Compare compare)
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

    private DateTimeOffset Instant(string text, int column)
    {
        if (Period().Match(text) is { Success: true } period)
        {
            return today is null
                ? throw new FilterError(column, "a period cannot be compared with here; write an instant")
                : today.Plus(int.Parse(period.Groups["days"].Value, CultureInfo.InvariantCulture) * (text[0] == '-' ? -1 : 1));
        }

        return
            Rfc3339().IsMatch(text)
            && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var instant)
            ? instant
            : throw new FilterError(
                column,
                "expected an instant such as \"2026-11-24T07:00:00Z\", or days from today such as \"-P90D\""
            );
    }

    // RFC 3339, section 5.6, "date-time".
    [GeneratedRegex(@"^\d{4}-\d{2}-\d{2}[Tt]\d{2}:\d{2}:\d{2}(\.\d+)?([Zz]|[+-]\d{2}:\d{2})$", RegexOptions.CultureInvariant)]
    private static partial Regex Rfc3339();

    // ISO 8601-2, a duration with a sign, in days only: months and years differ in length.
    [GeneratedRegex(@"^[+-]?P(?<days>\d{1,5})D$", RegexOptions.CultureInvariant)]
    private static partial Regex Period();

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

    private sealed class ListBinder<TLine>(FilterBinder binder, FilterSyntax inner) : IListVisitor<TLine, Filter<TLine>>
    {
        public Filter<TLine> Visit<TElement>(ListAttribute<TLine, TElement> list)
            where TElement : notnull => new Filter<TLine>.AnyElement<TElement>(list, binder.Bind(inner, list.Elements));
    }
}
