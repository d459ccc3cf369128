using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>A line of a list of people as it was understood.</summary>
/// <param name="Person">Null where it is refused.</param>
public sealed record ListedPersonLine(int Line, SaidPerson? Person, IReadOnlyList<ListFault> Faults);

/// <summary>
/// A list of people that somebody keeps: staff where no staff list is connected, and guests of whom no host says enough.
/// <c>docs/formats.md</c> names the columns.
/// </summary>
public static class PeopleList
{
    private const int LongestMail = 254;
    private static readonly (string Word, PersonKind Kind)[] Kinds =
    [
        ("staff", PersonKind.Staff),
        ("guest", PersonKind.Guest),
        ("service", PersonKind.Service),
    ];
    private static readonly (string Word, Standing Standing)[] Standings =
    [
        ("current", Standing.Current),
        ("absent", Standing.Absent),
        ("leaving", Standing.Leaving),
        ("left", Standing.Left),
    ];

    /// <exception cref="HostException">It is no list of people; the message says what to do.</exception>
    public static IEnumerable<ListedPersonLine> Read(
        IReadOnlyList<string> heads,
        IEnumerable<ListedRow> rows,
        Func<string, bool> isUnit,
        HouseTime time,
        DayOrder days = DayOrder.YearFirst
    ) => Read(ListCells.Places(heads), rows, isUnit, time, days);

    private static IEnumerable<ListedPersonLine> Read(
        IReadOnlyDictionary<string, int> places,
        IEnumerable<ListedRow> rows,
        Func<string, bool> isUnit,
        HouseTime time,
        DayOrder days
    )
    {
        var lines = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        foreach (var row in rows)
        {
            var cells = new Cells(row, places, isUnit, time, days);
            ListedPersonLine Refused(string why) => new(row.Line, null, [new ListFault(row.Line, true, why)]);
            yield return cells.Mail() is not { } mail ? Refused("no mail address.")
            : !IsMail(mail) ? Refused($"\"{mail}\" is no mail address.")
            : !lines.TryAdd(mail, row.Line) ? Refused($"\"{mail}\" stands in line {lines[mail]} already.")
            : new ListedPersonLine(row.Line, cells.Person(mail), cells.Faults);
        }
    }

    private static bool IsMail(string text) =>
        text.Length <= LongestMail
        && text.IndexOf('@') is > 0 and var at
        && at == text.LastIndexOf('@')
        && at < text.Length - 1
        && !text.Any(letter => char.IsWhiteSpace(letter) || char.IsControl(letter));

    private sealed class Cells(
        ListedRow row,
        IReadOnlyDictionary<string, int> places,
        Func<string, bool> isUnit,
        HouseTime time,
        DayOrder days
    ) : ListCells(row, places, time, days)
    {
        public string? Mail() => Text("mail").Has(out var mail) ? mail : null;

        public SaidPerson Person(string mail) =>
            new(
                mail,
                Text("name"),
                Word("kind", Kinds),
                Unit(isUnit).Select(code => new UnitCode(code)),
                Text("class"),
                Word("standing", Standings),
                Day("leaves"),
                Day("away")
            );
    }
}
