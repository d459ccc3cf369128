using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>A line of a list of people as it was read.</summary>
/// <param name="Person">Null if it is refused.</param>
/// <param name="Doubtful">Its words that are not understood, or only because their meaning was chosen.</param>
public sealed record ListedPersonLine(
    int Line,
    PersonClaim? Person,
    IReadOnlyList<ListFault> Faults,
    IReadOnlyList<DoubtfulWord> Doubtful
);

/// <summary>An imported list of people: staff if no staff list is connected, and guests whom no host reports sufficiently.
/// <c>docs/formats.md</c> describes the columns.
/// </summary>
public static class PeopleList
{
    private const int LongestMail = 254;

    /// <summary>The words that a column with fixed words can have, by column.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> FixedWords =>
        new Dictionary<string, IReadOnlyList<string>>
        {
            ["kind"] = [.. Kinds.DistinctBy(pair => pair.Kind).Select(pair => pair.Word)],
            ["standing"] = [.. Standings.Select(pair => pair.Word)],
        };

    private static readonly (string Word, PersonKind Kind)[] Kinds =
    [
        ("staff", PersonKind.Staff),
        ("guest", PersonKind.Guest),
        ("service", PersonKind.Service),
        ("employee", PersonKind.Staff),
        ("internal", PersonKind.Staff),
        ("external", PersonKind.Guest),
        ("contractor", PersonKind.Guest),
        ("robot", PersonKind.Service),
    ];
    private static readonly (string Word, Standing Standing)[] Standings =
    [
        ("current", Standing.Current),
        ("absent", Standing.Absent),
        ("leaving", Standing.Leaving),
        ("left", Standing.Left),
    ];

    /// <param name="otherwise">The kind of the people for whom the list has none; null to claim nothing.</param>
    /// <exception cref="HostException">It is not a list of people; the message says what to do.</exception>
    public static IEnumerable<ListedPersonLine> Read(
        IReadOnlyList<string> heads,
        IEnumerable<ListedRow> rows,
        ListWords words,
        OrganisationTime time,
        DayOrder days = DayOrder.YearFirst,
        PersonKind? otherwise = null
    ) => Read(ListCells.Places(heads), rows, words, otherwise, time, days);

    private static IEnumerable<ListedPersonLine> Read(
        IReadOnlyDictionary<string, int> places,
        IEnumerable<ListedRow> rows,
        ListWords words,
        PersonKind? otherwise,
        OrganisationTime time,
        DayOrder days
    )
    {
        var lines = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        foreach (var row in rows)
        {
            var cells = new Cells(row, places, words, otherwise, time, days);
            ListedPersonLine Refused(string why) => new(row.Line, null, [new ListFault(row.Line, true, why)], []);
            yield return cells.Mail() is not { } mail ? Refused("the mail address is missing.")
            : !IsMail(mail) ? Refused($"\"{mail}\" is not a mail address.")
            : !lines.TryAdd(mail, row.Line) ? Refused($"\"{mail}\" is already in line {lines[mail]}.")
            : new ListedPersonLine(row.Line, cells.Person(mail), cells.Faults, cells.Doubtful);
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
        ListWords words,
        PersonKind? otherwise,
        OrganisationTime time,
        DayOrder days
    ) : ListCells(row, places, words, time, days)
    {
        public string? Mail() => Text("mail").Has(out var mail) ? mail : null;

        // What the list says of the whole of it applies where a line says nothing.
        private Known<PersonKind> Kind() =>
            Word("kind", Kinds) is var said && Cell("kind").Length == 0 && otherwise is { } kind ? Known.Of(kind) : said;

        public PersonClaim Person(string mail) =>
            new(
                mail,
                Text("name"),
                Kind(),
                Unit().Select(code => new UnitCode(code)),
                Text("classification"),
                Word("standing", Standings),
                Day("leaves"),
                Day("away")
            );
    }
}
