using System.Globalization;
using System.Text.RegularExpressions;
using AtticLedger.Core.Sites;

namespace AtticLedger.Hosts;

/// <summary>Which part of a date comes first.</summary>
public enum DayOrder : byte
{
    YearFirst,
    DayFirst,
    MonthFirst,
}

/// <summary>How a column of a list is read.</summary>
/// <param name="Head">The heading in the list.</param>
/// <param name="Column">The fact in the column; null if not read.</param>
/// <param name="Because">The reason, in a few words.</param>
public sealed record ColumnChoice(string Head, string? Column, string Because);

/// <summary>How the dates of a list are read if some do not begin with the year.</summary>
/// <param name="IsSure">True if the list allows no other reading: a number above twelve decides it.</param>
/// <param name="Example">A cell with such a date.</param>
public sealed record DayChoice(DayOrder Order, bool IsSure, string? Example);

/// <summary>The mapping of a list: the fact of each column and the format of dates. Earlier choices are reused; the rest is
/// proposed from headings and cells.
/// </summary>
public static class ListMapping
{
    // Cells come from anywhere: these expressions never backtrack.
    private static readonly Regex Mail = new(
        @"^[^@\s;,]+@[^@\s;,]+\.[^@\s;,]+([;,]\s*[^@\s;,]+@[^@\s;,]+)*$",
        RegexOptions.NonBacktracking | RegexOptions.CultureInvariant
    );
    private static readonly Regex Address = new(
        @"^(https?://)?[\w-]+(\.[\w-]+)+(/\S*)?$",
        RegexOptions.NonBacktracking | RegexOptions.CultureInvariant
    );
    private static readonly Regex Numbers = new(
        @"^([0-9]{1,2})[./-]([0-9]{1,2})[./-]([0-9]{4})$",
        RegexOptions.NonBacktracking | RegexOptions.CultureInvariant
    );
    private const int Sample = 200;
    private const double MostAreSo = 0.8;

    /// <param name="chosen">The choices now, by heading; null for not read.</param>
    /// <param name="remembered">The choices for this list last time.</param>
    public static IReadOnlyList<ColumnChoice> Columns(
        ListKind kind,
        IReadOnlyList<string> heads,
        IEnumerable<ListedRow> rows,
        IReadOnlyDictionary<string, string?> chosen,
        IReadOnlyDictionary<string, string?> remembered
    )
    {
        List<ListedRow> sample = [.. rows.Take(Sample)];
        var choices = new ColumnChoice?[heads.Count];
        var taken = new HashSet<string>();
        void Choose(int place, string? column, string because)
        {
            // A fact is proposed for one column only; a person has to correct a double choice.
            if (choices[place] is null && (column is null || taken.Add(column) || because == "chosen"))
            {
                choices[place] = new ColumnChoice(heads[place], column, because);
            }
        }

        void Each(Func<string, int, (bool Is, string? Column, string Because)> propose)
        {
            for (var place = 0; place < heads.Count; place++)
            {
                if (propose(heads[place], place) is (true, var column, var because))
                {
                    Choose(place, column, because);
                }
            }
        }

        Each((head, _) => (chosen.TryGetValue(head, out var column), column, "chosen"));
        Each((head, _) => (remembered.TryGetValue(head, out var column), column, "as in the last import"));
        Each((head, _) => (kind.Columns.Contains(head.ToLowerInvariant()), head.ToLowerInvariant(), "its heading is this fact"));
        Each(
            (head, _) => (kind.Columns.Contains(Vocabulary.Spelling(head)), Vocabulary.Spelling(head), "its heading is this fact")
        );
        Each(
            (head, _) =>
                (kind.Meanings.TryGetValue(Vocabulary.Spelling(head), out var column), column, "its heading means this fact")
        );
        Each((_, place) => (Most(sample, place, cell => Mail.IsMatch(cell)), kind.Mails, "it contains mail addresses"));
        Each(
            (_, place) =>
                (
                    kind.Addresses is not null && Most(sample, place, cell => Address.IsMatch(cell)),
                    kind.Addresses,
                    "it contains web addresses"
                )
        );
        Each((_, _) => (true, null, "no fact recognised"));
        return [.. choices.OfType<ColumnChoice>()];
    }

    /// <summary>The headings as facts; null for a column that is not read.</summary>
    /// <exception cref="HostException">Two columns have the same heading or are read as one fact, or no column identifies the
    /// lines.</exception>
    public static IReadOnlyList<string> Heads(ListKind kind, IReadOnlyList<ColumnChoice> choices)
    {
        if (
            choices
                .Where(choice => choice.Head.Length > 0)
                .GroupBy(choice => choice.Head, StringComparer.OrdinalIgnoreCase)
                .FirstOrDefault(same => same.Count() > 1) is
            { } twice
        )
        {
            throw new HostException($"The column \"{twice.Last().Head}\" appears twice. Keep one of them.");
        }

        foreach (var same in choices.Where(choice => choice.Column is not null).GroupBy(choice => choice.Column))
        {
            if (same.Count() > 1)
            {
                throw new HostException(
                    $"{string.Join(" and ", same.Select(choice => $"\"{choice.Head}\""))} are both imported as {same.Key}. Choose one of them."
                );
            }
        }

        return choices.Any(choice => kind.Keys.Contains(choice.Column))
            ? [.. choices.Select(choice => choice.Column ?? "")]
            : throw new HostException(
                $"The list has {(kind.Keys.Count == 1 ? "no" : "neither a")} column {string.Join(" nor a column ", kind.Keys.Select(key => $"\"{key}\""))}, so its {kind.Lines} cannot be identified. Its columns are: {string.Join(", ", choices.Select(choice => choice.Head))}."
            );
    }

    /// <param name="heads">As facts.</param>
    /// <param name="chosen">The choice, or null.</param>
    public static DayChoice Days(ListKind kind, IReadOnlyList<string> heads, IEnumerable<ListedRow> rows, DayOrder? chosen)
    {
        List<int> places = [.. heads.Index().Where(head => kind.Days.Contains(head.Item)).Select(head => head.Index)];
        var (example, dayFirst, monthFirst) = ((string?)null, false, false);
        foreach (
            var cell in places.Count == 0
                ? []
                : rows.SelectMany(row => places.Where(place => place < row.Cells.Count).Select(place => row.Cells[place]))
        )
        {
            if (Numbers.Match(cell) is { Success: true } match)
            {
                example ??= cell;
                dayFirst |= int.Parse(match.Groups[1].ValueSpan, CultureInfo.InvariantCulture) > 12;
                monthFirst |= int.Parse(match.Groups[2].ValueSpan, CultureInfo.InvariantCulture) > 12;
            }
        }

        return example is null
            ? new DayChoice(DayOrder.YearFirst, true, null)
            : new DayChoice(
                chosen is DayOrder.DayFirst or DayOrder.MonthFirst ? chosen.Value
                    : monthFirst && !dayFirst ? DayOrder.MonthFirst
                    : DayOrder.DayFirst,
                dayFirst != monthFirst,
                example
            );
    }

    /// <summary>A date that does not begin with the year; null if there is no such day, as the 31st of February.</summary>
    internal static DateOnly? Day(string text, DayOrder order)
    {
        if (Numbers.Match(text) is not { Success: true } match)
        {
            return null;
        }

        int Part(int group) => int.Parse(match.Groups[group].ValueSpan, CultureInfo.InvariantCulture);
        var (day, month, year) = order == DayOrder.MonthFirst ? (Part(2), Part(1), Part(3)) : (Part(1), Part(2), Part(3));
        return year is >= 1 and <= 9999 && month is >= 1 and <= 12 && day >= 1 && day <= DateTime.DaysInMonth(year, month)
            ? new DateOnly(year, month, day)
            : null;
    }

    private static bool Most(IReadOnlyList<ListedRow> rows, int place, Func<string, bool> isSo)
    {
        var cells = rows.Where(row => place < row.Cells.Count && row.Cells[place].Length > 1)
            .Select(row => row.Cells[place])
            .ToList();
        return cells.Count > 0 && cells.Count(isSo) >= MostAreSo * cells.Count;
    }
}
