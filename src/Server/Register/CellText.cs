using System.Globalization;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Register;

/// <summary>An attribute of a row in words: none and not known are explicit and look different.</summary>
internal static class CellText
{
    private const string NotKnown = "not known";

    public static string Of(RegisterRow line, Attribute<JudgedSite> attribute, LedgerState state) =>
        line.Columns.Of(attribute) switch
        {
            Column<string> text => Text(text[line.Place], said => said),
            Column<bool> flags => Text(flags[line.Place], said => said ? "yes" : "no"),
            Column<DateTimeOffset> moments => Text(moments[line.Place], said =>
                state.PeopleDirectory.Time.DayOf(said).ToString("d MMM yyyy", CultureInfo.InvariantCulture)
            ),
            Column<Span> spans => Text(spans[line.Place], span =>
                attribute is WordAttribute<JudgedSite> word
                    ? RegisterRowWriter.Words(span, value => word.Order[value].Replace('-', ' '))
                    : Number(span)
            ),
            ListColumn<UnitCode> units => Listed(units[line.Place], unit => unit.Value),
            ListColumn<string> domains => Listed(domains[line.Place], domain => domain),
            ListColumn<SiteOwner> owners => Listed(owners[line.Place], holder => holder.Person.Mail),
            ListColumn<Rule> rules => Listed(rules[line.Place], rule => rule.Id.Value),
            ListColumn<Cause> causes => Listed(causes[line.Place], cause => cause.Name),
            _ => throw new InvalidOperationException("Every kind of column has words above."),
        };

    /// <summary>The same for machines: none is an empty cell, instants as in RFC 3339, numbers without separators, two dots
    /// between bounds, a semicolon between the elements of a list.
    /// </summary>
    public static string Exact(RegisterRow line, Attribute<JudgedSite> attribute) =>
        line.Columns.Of(attribute) switch
        {
            Column<string> text => Exactly(text[line.Place], said => said),
            Column<bool> flags => Exactly(flags[line.Place], said => said ? "true" : "false"),
            Column<DateTimeOffset> moments => Exactly(moments[line.Place], said =>
                said.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss.FFFFFF'Z'", CultureInfo.InvariantCulture)
            ),
            Column<Span> spans => Exactly(spans[line.Place], span =>
                Bounds(span, value =>
                    attribute is WordAttribute<JudgedSite> word
                        ? word.Order[(int)value]
                        : value.ToString(CultureInfo.InvariantCulture)
                )
            ),
            ListColumn<UnitCode> units => Together(units[line.Place], unit => unit.Value),
            ListColumn<string> domains => Together(domains[line.Place], domain => domain),
            ListColumn<SiteOwner> owners => Together(owners[line.Place], holder => holder.Person.Mail),
            ListColumn<Rule> rules => Together(rules[line.Place], rule => rule.Id.Value),
            ListColumn<Cause> causes => Together(causes[line.Place], cause => cause.Name),
            _ => throw new InvalidOperationException("Every kind of column is written above."),
        };

    private static string Exactly<T>(Known<T> fact, Func<T, string> text)
        where T : notnull =>
        fact.Has(out var said) ? text(said)
        : fact.IsNone ? ""
        : NotKnown;

    private static string Bounds(Span span, Func<long, string> text) =>
        span.AtLeast == span.AtMost ? text(span.AtLeast)
        : span.AtMost == int.MaxValue ? $"{text(span.AtLeast)}.."
        : $"{text(span.AtLeast)}..{text(span.AtMost)}";

    private static string Together<T>(Listed<T> list, Func<T, string> text) =>
        string.Join("; ", list.Items.Select(text).Concat(list.Complete ? [] : [NotKnown]));

    private static string Text<T>(Known<T> fact, Func<T, string> words)
        where T : notnull =>
        fact.Has(out var said) ? words(said)
        : fact.IsNone ? "none"
        : NotKnown;

    private static string Number(Span span) =>
        span.AtLeast == span.AtMost ? span.AtLeast.ToString("N0", CultureInfo.InvariantCulture)
        : span.AtMost == int.MaxValue ? $"at least {span.AtLeast.ToString("N0", CultureInfo.InvariantCulture)}"
        : $"{span.AtLeast.ToString("N0", CultureInfo.InvariantCulture)} to {span.AtMost.ToString("N0", CultureInfo.InvariantCulture)}";

    private static string Listed<T>(Listed<T> list, Func<T, string> word) =>
        list.Items.Count > 0 ? string.Join(", ", list.Items.Select(word)) + (list.Complete ? "" : " and perhaps more")
        : list.Complete ? "none"
        : NotKnown;
}
