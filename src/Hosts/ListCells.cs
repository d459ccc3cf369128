using System.Globalization;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <param name="Line">The line in the file.</param>
public sealed record ListedRow(int Line, IReadOnlyList<string> Cells);

/// <summary>A fault in a line of a list.</summary>
/// <param name="IsRefused">True if the whole line is refused; otherwise one fact is unknown.</param>
/// <param name="Why">The reason without the line number: "created: …".</param>
public sealed record ListFault(int Line, bool IsRefused, string Why)
{
    public string Words => IsRefused ? $"Line {Line}: {Why}" : $"Line {Line}, {Why}";
}

/// <summary>The cells of one line, by the facts of their columns. An empty cell claims nothing; a dash claims "none". A cell
/// that is not understood is a fault, and its fact unknown.
/// </summary>
internal abstract class ListCells(
    ListedRow row,
    IReadOnlyDictionary<string, int> places,
    ListWords words,
    OrganisationTime time,
    DayOrder days
)
{
    protected const string None = "-";
    private const int LongestCell = 2000;
    private const string DayRemedy = "write a day as 2026-01-31";
    private static readonly string[] Moments = ["yyyy-MM-ddTHH:mm:ssK", "yyyy-MM-dd HH:mm:ss", "yyyy-MM-dd HH:mm"];
    private readonly List<ListFault> faults = [];
    private readonly List<DoubtfulWord> doubtful = [];

    public IReadOnlyList<ListFault> Faults => faults;

    public IReadOnlyList<DoubtfulWord> Doubtful => doubtful;

    /// <summary>The position of each column.</summary>
    /// <exception cref="HostException">A column occurs twice.</exception>
    public static IReadOnlyDictionary<string, int> Places(IReadOnlyList<string> heads)
    {
        var places = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        for (var place = 0; place < heads.Count; place++)
        {
            if (heads[place].Length > 0 && !places.TryAdd(heads[place], place))
            {
                throw new HostException($"The column \"{heads[place]}\" appears twice. Keep one of them.");
            }
        }

        return places;
    }

    protected string Cell(string column) =>
        places.TryGetValue(column, out var place) && place < row.Cells.Count
            ? row.Cells[place] is { Length: > LongestCell } longer
                ? longer[..LongestCell]
                : row.Cells[place].Replace('\0', '\uFFFD')
            : "";

    protected Known<string> Text(string column) =>
        Cell(column) switch
        {
            "" => Known<string>.Unknown,
            None => Known<string>.None,
            var text => Known.Of(text),
        };

    protected Known<T> Fact<T>(string column, Func<string, T?> read, string remedy)
        where T : struct =>
        Text(column) is var said && said.Has(out var text)
            ? read(text) is { } value
                ? Known.Of(value)
                : Wrong<T>(column, $"\"{text}\" is not understood; {remedy}")
            : said.IsNone
                ? Known<T>.None
                : Known<T>.Unknown;

    /// <summary>A fact with a fixed set of values.</summary>
    protected Known<T> Word<T>(string column, IReadOnlyList<(string Word, T Value)> values)
        where T : struct, Enum =>
        Meant(
            column,
            column,
            text =>
                values.FirstOrDefault(pair => pair.Word == text.ToLowerInvariant()) is { Word: not null } pair
                    ? Known.Of(pair.Value)
                    : Known<T>.Unknown,
            text =>
                $"\"{text}\" is not understood; write one of {string.Join(", ", values.DistinctBy(pair => pair.Value).Select(pair => pair.Word))}"
        );

    protected Known<string> Unit() =>
        Meant(
            "unit",
            ListWord.Units,
            text => words.Unit(text) is { } code ? Known.Of(code) : Known<string>.Unknown,
            text => $"there is no unit \"{text}\""
        );

    protected (string Key, HostSubject Subject)? Who(string text) => words.Who(text);

    /// <summary>The meaning of a cell of one word: as chosen for the whole list, or as read.</summary>
    private Known<T> Meant<T>(string column, string of, Func<string, Known<T>> read, Func<string, string> fault)
        where T : notnull
    {
        if (!Text(column).Has(out var text))
        {
            return Text(column).IsNone ? Known<T>.None : Known<T>.Unknown;
        }

        var meaning = Chosen(of, text) ?? text;
        return meaning == None ? Known<T>.None
            : read(meaning) is { IsUnknown: false } known ? known
            : NotUnderstood<T>(column, of, text, fault(meaning));
    }

    protected bool IsChosen(string of, string text) => words.Chosen.ContainsKey(new ListWord(of, text));

    /// <summary>The meaning that was chosen for a word of the whole list; null if none was.</summary>
    protected string? Chosen(string of, string text)
    {
        var word = new ListWord(of, text);
        if (!words.Chosen.TryGetValue(word, out var chosen))
        {
            return null;
        }

        doubtful.Add(new DoubtfulWord(word, true));
        return chosen;
    }

    protected Known<T> NotUnderstood<T>(string column, string of, string text, string what)
        where T : notnull
    {
        doubtful.RemoveAll(one => one.Word.Of == of && one.Word.Text == text);
        doubtful.Add(new DoubtfulWord(new ListWord(of, text), false));
        return Wrong<T>(column, what);
    }

    protected Known<DateOnly> Day(string column) => Fact(column, DayOf, DayRemedy);

    /// <summary>A moment, or the beginning of a day.</summary>
    protected Known<DateTimeOffset> Moment(string column) =>
        Fact<DateTimeOffset>(
            column,
            text =>
                DayOf(text) is { } day ? time.StartOf(day)
                : DateTimeOffset.TryParseExact(
                    text,
                    Moments,
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.AssumeUniversal,
                    out var instant
                )
                    ? instant.ToUniversalTime()
                : null,
            DayRemedy
        );

    protected Known<T> Wrong<T>(string column, string what)
        where T : notnull
    {
        faults.Add(new ListFault(row.Line, false, $"{column}: {what}."));
        return Known<T>.Unknown;
    }

    private DateOnly? DayOf(string text) =>
        DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day
        : days != DayOrder.YearFirst ? ListMapping.Day(text, days)
        : null;
}
