using System.Globalization;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Register;

/// <summary>
/// One "and …" of the sentence, as the address bar carries it: <c>attribute:how:value|value</c>. Any attribute of the
/// list can be spoken of, and of a list any part of its elements (<c>owners.standing:is:left</c>). Within a value an
/// upright stroke is written %7C and a percent sign %25.
/// </summary>
/// <example><code>class:not:Open|Internal · edited:before:2026-01-31 · owners.unit:none · name:has:tug</code></example>
public sealed record Clause(string Attribute, string How, IReadOnlyList<string> Values)
{
    private const int MostValues = 50;

    /// <exception cref="FilterError">Names what cannot be read, and what is possible there.</exception>
    public static Clause Parse(string text)
    {
        var parts = text.Split(':', 3);
        if (parts.Length < 2)
        {
            throw new FilterError(1, $"\"{text}\" is not attribute:how:value");
        }

        IReadOnlyList<string> values =
            parts.Length < 3 || parts[2].Length == 0
                ? []
                :
                [
                    .. parts[2]
                        .Split('|')
                        .Select(value =>
                            value.Replace("%7C", "|", StringComparison.Ordinal).Replace("%25", "%", StringComparison.Ordinal)
                        ),
                ];
        return values.Count > MostValues
            ? throw new FilterError(1, $"at most {MostValues} values can be named at once")
            : new Clause(parts[0], parts[1], values);
    }

    /// <summary>The clause as the address bar carries it.</summary>
    public override string ToString() =>
        $"{Attribute}:{How}:{string.Join('|', Values.Select(value => value.Replace("%", "%25", StringComparison.Ordinal).Replace("|", "%7C", StringComparison.Ordinal)))}";

    /// <summary>The clause in the grammar of filters.</summary>
    /// <param name="keepsPeriods">A number of days ago stays one, as in a rule, and is not the day that it is now.</param>
    public string Filter(PeopleDirectory directory, bool keepsPeriods = false)
    {
        var (list, simple) = Find();
        if (How is "any" or "none")
        {
            // For a part of a list: some element has it, or none.
            var present = list is null ? $"{Attribute} pr" : $"{list.Name}[{simple.Name} pr]";
            return How == "any" ? present : $"not ({present})";
        }

        var (@operator, negated) = Operator(simple.Type);
        if (Values.Count == 0)
        {
            throw new FilterError(1, $"\"{Attribute}:{How}\" names no value");
        }

        var name = list is null ? Attribute : simple.Name;
        var any = string.Join(
            " or ",
            Values.Select(value => $"{name} {@operator} {Literal(simple.Type, value, directory, keepsPeriods)}")
        );
        var inner = list is null ? any : $"{list.Name}[{any}]";
        return negated ? $"not ({inner})"
            : list is null && Values.Count > 1 ? $"({inner})"
            : inner;
    }

    /// <summary>The clause in words.</summary>
    /// <param name="keepsPeriods">A number of days ago stays one, as in a rule.</param>
    public string Words(PeopleDirectory directory, bool keepsPeriods = false)
    {
        var type = Find().Simple.Type;
        var subject = AttributeLabels.Of(Attribute);
        var values = string.Join(
            How == "not" || How == "lacks" ? " nor " : " or ",
            Values.Select(value => Shown(type, value, directory))
        );
        return How switch
        {
            "any" => $"{subject} is known",
            "none" => $"{subject} is none",
            "is" when type.Kind == AttributeKind.Truth => values == "yes" ? subject : $"not {subject}",
            "is" => $"{subject} is {values}",
            "not" => $"{subject} is not {values}",
            "has" => $"{subject} has {values}",
            "lacks" => $"{subject} does not contain {values}",
            "starts" => $"{subject} begins with {values}",
            "least" => $"{subject} is at least {values}",
            "most" => $"{subject} is at most {values}",
            "before" when keepsPeriods && Values is [var period] && DaysAgo(period) is { } days =>
                $"{subject} is more than {days} days ago",
            "since" when keepsPeriods && Values is [var period] && DaysAgo(period) is { } days =>
                $"{subject} is at most {days} days ago",
            "before" => $"{subject} is before {values}",
            _ => $"{subject} is on or after {values}",
        };
    }

    /// <summary>The list of which the attribute is a part, or null; and the attribute or part.</summary>
    public (ListAttribute<JudgedSite>? List, (string Name, AttributeType Type) Simple) Find()
    {
        if (JudgedSite.Attributes.Find(Attribute) is { } whole)
        {
            return whole is ListAttribute<JudgedSite> list ? (list, Part(list, "value")) : (null, (whole.Name, whole.Type));
        }

        var dot = Attribute.LastIndexOf('.');
        return dot > 0 && JudgedSite.Attributes.Find(Attribute[..dot]) is ListAttribute<JudgedSite> of
            ? (of, Part(of, Attribute[(dot + 1)..]))
            : throw new FilterError(1, $"there is no attribute \"{Attribute}\"");
    }

    private (string Name, AttributeType Type) Part(ListAttribute<JudgedSite> list, string name) =>
        list.Parts.FirstOrDefault(part => part.Name == name) is { Name: not null } part
            ? (part.Name, part.Type)
            : throw new FilterError(1, $"there is no attribute \"{Attribute}\"");

    private (string Operator, bool Negated) Operator(AttributeType type)
    {
        var isText = type.Kind == AttributeKind.Text;
        var isOrdered = type.Kind is AttributeKind.Word or AttributeKind.Number;
        return How switch
        {
            "is" when type.Kind != AttributeKind.Instant => ("eq", false),
            "not" when type.Kind != AttributeKind.Instant => ("eq", true),
            "has" when isText => ("co", false),
            "lacks" when isText => ("co", true),
            "starts" when isText => ("sw", false),
            "least" when isOrdered => ("ge", false),
            "most" when isOrdered => ("le", false),
            "before" when type.Kind == AttributeKind.Instant => ("lt", false),
            "since" when type.Kind == AttributeKind.Instant => ("ge", false),
            _ => throw new FilterError(1, $"\"{Attribute}\" ({type}) has no comparison \"{How}\""),
        };
    }

    private string Literal(AttributeType type, string value, PeopleDirectory directory, bool keepsPeriods) =>
        type.Kind switch
        {
            AttributeKind.Number => decimal.TryParse(
                value,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                CultureInfo.InvariantCulture,
                out var number
            )
                ? number.ToString(CultureInfo.InvariantCulture)
                : throw new FilterError(1, $"\"{value}\" is not a number"),
            AttributeKind.Truth => value is "yes" or "no"
                ? (value == "yes" ? "true" : "false")
                : throw new FilterError(1, $"\"{Attribute}\" is yes or no"),
            AttributeKind.Instant when keepsPeriods && DaysAgo(value) is { } days => $"\"-P{days}D\"",
            AttributeKind.Instant =>
                $"\"{directory.Time.StartOf(Day(value, directory)).ToUniversalTime():yyyy-MM-dd'T'HH:mm:ss'Z'}\"",
            _ => FilterText.Literal(value),
        };

    private static string Shown(AttributeType type, string value, PeopleDirectory directory) =>
        type.Kind switch
        {
            AttributeKind.Instant => Day(value, directory).ToString("d MMMM yyyy", CultureInfo.InvariantCulture),
            AttributeKind.Truth or AttributeKind.Number => value,
            AttributeKind.Word => value.Replace('-', ' '),
            _ => $"“{value}”",
        };

    // A date, or a number of days ago: then the filter is still valid tomorrow.
    private static DateOnly Day(string value, PeopleDirectory directory) =>
        DateOnly.TryParseExact(value, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day
        : DaysAgo(value) is { } days ? directory.Time.DayOf(directory.Now).AddDays(-days)
        : throw new FilterError(1, $"\"{value}\" is neither a date such as 2026-01-31 nor a number of days ago such as 90d");

    /// <summary>The days of a value such as <c>90d</c>; null for a date, and for more days than a clause takes.</summary>
    public static int? DaysAgo(string value) =>
        value.EndsWith('d')
        && int.TryParse(value[..^1], NumberStyles.None, CultureInfo.InvariantCulture, out var days)
        && days < 100_000
            ? days
            : null;
}
