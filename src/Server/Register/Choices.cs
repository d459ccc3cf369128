using System.Globalization;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Register;

/// <summary>The values of an attribute over some rows, with the number of rows for each.</summary>
internal static class Choices
{
    private const int Most = 40;

    public static ChoicesResponse Of(AttributeResponse attribute, VisibleRegister seen, Mask over, string? find)
    {
        over = over.And(seen.All);
        var whole = JudgedSite.Attributes.Find(attribute.Name);
        var column = seen.Columns.Of(whole?.Name ?? attribute.Name[..attribute.Name.LastIndexOf('.')]);
        var present = column.IsPresent();
        var values = whole is null
            ? OfElements(column, attribute.Name[(attribute.Name.LastIndexOf('.') + 1)..], over)
            : OfLines(column, attribute, over);
        var fitting = values
            .Where(value =>
                string.IsNullOrWhiteSpace(find) || value.Words.Contains(find.Trim(), StringComparison.OrdinalIgnoreCase)
            )
            .OrderByDescending(value => value.Count)
            .ThenBy(value => value.Key, StringComparer.OrdinalIgnoreCase)
            .ToList();
        return new ChoicesResponse(
            attribute,
            [.. fitting.Take(Most)],
            Math.Max(0, fitting.Count - Most),
            over.And(present.Not()).CountYes,
            present.CountUnknownOf(over)
        );
    }

    private static IEnumerable<ValueCount> OfLines(Column column, AttributeResponse attribute, Mask over) =>
        column switch
        {
            Column<string> text => text.Counts(over)
                .Where(pair => pair.Value.Has(out _))
                .Select(pair => Counted(pair.Value.Or(""), pair.Count))
                .GroupBy(choice => choice.Key, StringComparer.OrdinalIgnoreCase)
                .Select(same => same.First() with { Count = same.Sum(choice => choice.Count) }),
            Column<Span> spans when attribute.Order.Count > 0 => spans
                .Counts(over)
                .Where(pair => pair.Value.Has(out var span) && span.AtLeast == span.AtMost)
                .Select(pair => Counted(attribute.Order[(int)pair.Value.Or(default).AtLeast], pair.Count)),
            Column<Span> spans => spans
                .Counts(over)
                .Where(pair => pair.Value.Has(out var span) && span.AtLeast == span.AtMost)
                .Select(pair => Counted(pair.Value.Or(default).AtLeast.ToString(CultureInfo.InvariantCulture), pair.Count)),
            Column<bool> flags => flags
                .Counts(over)
                .Where(pair => pair.Value.Has(out _))
                .Select(pair => Counted(pair.Value.Or(false) ? "yes" : "no", pair.Count)),
            _ => [],
        };

    // A row counts once for each value, however many of its elements have it.
    private static IEnumerable<ValueCount> OfElements(Column column, string part, Mask over) =>
        column switch
        {
            ListColumn<UnitCode> units => ByPart(units, part, over),
            ListColumn<string> domains => ByPart(domains, part, over),
            ListColumn<Core.Ownership.SiteOwner> owners => ByPart(owners, part, over),
            ListColumn<Rule> rules => ByPart(rules, part, over),
            ListColumn<Cause> causes => ByPart(causes, part, over),
            _ => throw new InvalidOperationException("Every list of a site stands above."),
        };

    private static IEnumerable<ValueCount> ByPart<TElement>(ListColumn<TElement> list, string part, Mask over)
        where TElement : notnull
    {
        var attribute = list.Parts.Attributes.Find(part)!;
        return list.CountsBy(element => Word(list.Parts.Of(attribute), attribute, element), over)
            .Select(pair => Counted(pair.Key, pair.Count));
    }

    private static string? Word<TElement>(Column column, Attribute<TElement> attribute, int element) =>
        column switch
        {
            Column<string> text => text[element].Has(out var said) ? said : null,
            Column<bool> flags => flags[element].Has(out var said) ? (said ? "yes" : "no") : null,
            Column<Span> spans when spans[element].Has(out var span) => attribute is WordAttribute<TElement> word
                ? word.Order[(int)span.AtLeast]
                : span.AtLeast.ToString(CultureInfo.InvariantCulture),
            _ => null,
        };

    private static ValueCount Counted(string key, int count) => new(key, key, count);
}
