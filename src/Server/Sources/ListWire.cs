using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Hosts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.FirstWeek;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Sources;

/// <summary>What becomes of a line of a list.</summary>
public enum ListVerdict
{
    New,
    Changed,
    Same,
    Refused,
}

/// <param name="Before">As the register has it; null where it says nothing, or that there is none.</param>
/// <param name="After">As the list has it.</param>
public sealed record FactChangeWire(string Fact, string? Before, string? After);

/// <param name="Line">Of the file.</param>
/// <param name="Title">Of the site, or the name of the person.</param>
/// <param name="Id">Of the site, or of the person, on the register; null where it has none yet.</param>
/// <param name="Why">Why it is refused, or which of its cells are not understood.</param>
public sealed record ListRowWire(
    int Line,
    ListVerdict Verdict,
    string Title,
    long? Id,
    IReadOnlyList<FactChangeWire> Changes,
    IReadOnlyList<string> Why
);

public sealed record ListRowsWire(int Total, IReadOnlyList<ListRowWire> Rows)
{
    /// <summary>The heading of the column that says why lines are to be mended.</summary>
    internal const string WhatIsWrong = "what is wrong";

    /// <summary>The one verdict that is asked for, null for all; or what is wrong with it.</summary>
    internal static (ListVerdict? Only, ProblemHttpResult? Fault) Verdict(string? word) =>
        word is null ? (null, null)
        : Enum.TryParse<ListVerdict>(word, ignoreCase: true, out var verdict) ? (verdict, null)
        : (
            null,
            TypedResults.Problem(
                statusCode: 400,
                title: $"There is no verdict \"{word}\".",
                detail: "Leave it out, or ask for new, changed, same or refused."
            )
        );
}

/// <param name="By">Who had said that it is done.</param>
/// <param name="IsSo">Whether the list shows it.</param>
public sealed record ListOrderWire(Guid Order, string Title, PersonWire? By, bool IsSo, string Difference);

/// <summary>What taking in a list would come to.</summary>
/// <param name="Sites">How many sites it names.</param>
/// <param name="New">How many lines are of sites that the register does not have yet; <paramref name="Changed"/>, <paramref name="Same"/> and <paramref name="Refusals"/> likewise.</param>
/// <param name="Vanished">Names of sites that it no longer names, the first of them; <paramref name="Gone"/> says how many.</param>
/// <param name="Rules">Which findings there would be more or fewer of.</param>
/// <param name="Orders">Orders by hand that it shows done, or not.</param>
/// <param name="NotSites">How many lines cannot be taken as sites: with any, no site vanishes.</param>
/// <param name="Refused">The first of them, with why.</param>
/// <param name="NotUnderstood">How many cells are not understood: the fact is unknown then.</param>
/// <param name="Problems">The first of them, likewise.</param>
public sealed record ListPlanWire(
    string Fingerprint,
    int Sites,
    int New,
    int Changed,
    int Same,
    int Refusals,
    int Gone,
    IReadOnlyList<string> Vanished,
    IReadOnlyList<ListOrderWire> Orders,
    IReadOnlyList<RuleMoveWire> Rules,
    int NotSites,
    IReadOnlyList<string> Refused,
    int NotUnderstood,
    IReadOnlyList<string> Problems,
    ListReadingWire Reading
);

/// <param name="Column">The fact that is read from it; null where it is not read.</param>
/// <param name="Because">Why, in a few words.</param>
public sealed record ColumnChoiceWire(string Head, string? Column, string Because);

/// <summary>How a list was understood.</summary>
/// <param name="ReadAs">The file.</param>
/// <param name="Facts">What a column can be read as.</param>
/// <param name="Days">How days are read that do not begin with the year; null where there are none.</param>
/// <param name="DaysAreSure">Whether the list leaves no other reading.</param>
public sealed record ListReadingWire(
    string ReadAs,
    IReadOnlyList<ColumnChoiceWire> Columns,
    IReadOnlyList<string> Facts,
    DayOrder? Days,
    bool DaysAreSure,
    string? DayExample
)
{
    internal static ListReadingWire Of(UnderstoodList list) =>
        new(
            list.Table.ReadAs,
            [.. list.Columns.Select(choice => new ColumnChoiceWire(choice.Head, choice.Column, choice.Because))],
            list.Kind.Columns,
            list.Days.Example is null ? null : list.Days.Order,
            list.Days.IsSure,
            list.Days.Example
        );
}

/// <summary>How a list is to be understood, where somebody corrects what is proposed.</summary>
/// <param name="Columns">"Heading=fact" each; nothing behind the sign for a column that is not read.</param>
/// <param name="Days">How days are written that do not begin with the year.</param>
public sealed record ListReadingQuery(
    [property: FromQuery(Name = "columns")] string[]? Columns = null,
    [property: FromQuery(Name = "days")] string? Days = null
)
{
    private const string DayFirst = "day-first";
    private const string MonthFirst = "month-first";

    /// <summary>As a list was understood: what is remembered may be another by the time it is gone on with.</summary>
    internal static ListReadingQuery As(UnderstoodList list) =>
        new(
            [.. list.Columns.Select(choice => $"{choice.Head}={choice.Column}")],
            list.Days.Order switch
            {
                DayOrder.DayFirst => DayFirst,
                DayOrder.MonthFirst => MonthFirst,
                _ => null,
            }
        );

    /// <exception cref="FormatException">There is no such fact.</exception>
    internal Dictionary<string, string?> Chosen(ListKind kind)
    {
        var chosen = new Dictionary<string, string?>();
        foreach (var choice in Columns ?? [])
        {
            // The heading may have the sign in it; a fact has none.
            var at = choice.LastIndexOf('=');
            var fact = choice[(at + 1)..];
            chosen[at < 0 ? throw new FormatException($"\"{choice}\" names no column: write heading=fact.") : choice[..at]] =
                fact.Length == 0 ? null
                : kind.Columns.Contains(fact) ? fact
                : throw new FormatException(
                    $"There is no fact \"{fact}\" that a column could be read as. There are: {string.Join(", ", kind.Columns)}."
                );
        }

        return chosen;
    }

    /// <exception cref="FormatException">There is no such order.</exception>
    internal DayOrder? Order =>
        Days switch
        {
            null or "" or "year-first" => null,
            DayFirst => DayOrder.DayFirst,
            MonthFirst => DayOrder.MonthFirst,
            _ => throw new FormatException($"\"{Days}\" is no order of days: it is {DayFirst} or {MonthFirst}."),
        };
}

/// <param name="Place">The place in the feed: whoever sends it back sees what was taken in.</param>
public sealed record ListTakenWire(long Place);

/// <summary>How a host is worked by hand.</summary>
/// <param name="Doer">The mail address of who carries orders out; null: whoever asks.</param>
public sealed record HandKeptWire(
    string Account,
    string Support,
    int Days,
    string Reach,
    string Key,
    string PutAway,
    string BringBack,
    string? Doer = null
)
{
    public static HandKeptWire Of(HandKept kept, Roll roll) =>
        new(
            kept.Account,
            kept.Support,
            kept.Days,
            kept.Reach,
            kept.Key,
            kept.PutAway,
            kept.BringBack,
            kept.Doer is { } doer ? roll.Find(doer)?.Mail : null
        );
}
