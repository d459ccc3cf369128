using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Hosts;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Identity;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Sources;

/// <summary>The planned result of a line of a list.</summary>
public enum ImportVerdict
{
    New,
    Changed,
    Same,
    Refused,
}

/// <param name="Before">The register's value; null if unknown or none.</param>
/// <param name="After">The list's value.</param>
public sealed record FactChange(string Fact, string? Before, string? After);

/// <param name="Line">The line in the file, from 1.</param>
/// <param name="Title">The title of the site, or the name of the person.</param>
/// <param name="Id">The id of the site or person in the register; null if new.</param>
/// <param name="Why">Why it is refused, or which cells are not understood.</param>
public sealed record ImportRow(
    int Line,
    ImportVerdict Verdict,
    string Title,
    long? Id,
    IReadOnlyList<FactChange> Changes,
    IReadOnlyList<string> Why
);

public sealed record ImportRows(int Total, IReadOnlyList<ImportRow> Rows)
{
    /// <summary>The heading of the column with the faults.</summary>
    internal const string WhatIsWrong = "what is wrong";

    /// <summary>The requested verdict, null for all; or its fault.</summary>
    internal static (ImportVerdict? Only, ProblemHttpResult? Fault) Verdict(string? word) =>
        word is null ? (null, null)
        : Enum.TryParse<ImportVerdict>(word, ignoreCase: true, out var verdict) ? (verdict, null)
        : (
            null,
            TypedResults.Problem(
                statusCode: 400,
                title: $"There is no verdict \"{word}\".",
                detail: "Omit it, or use new, changed, same or refused."
            )
        );
}

/// <param name="By">The person who reported it done.</param>
/// <param name="IsSo">True if the list shows the wanted result.</param>
public sealed record ManualTaskClaim(Guid HostChange, string Title, PersonResponse? By, bool IsSo, string Difference);

/// <summary>The plan of an import.</summary>
/// <param name="Sites">The number of sites in the list.</param>
/// <param name="New">The number of lines with new sites; <paramref name="Changed"/>, <paramref name="Same"/> and
/// <paramref name="Refusals"/>: changed, unchanged and refused ones.</param>
/// <param name="NoLongerReported">The first sites missing from the list, by title; <paramref name="Gone"/> is their
/// number.</param>
/// <param name="Rules">The findings that would appear or disappear, by rule.</param>
/// <param name="HostChanges">Manual tasks that the list verifies or contradicts.</param>
/// <param name="NotSites">The number of lines that cannot be read as sites; with any, no site becomes "no longer
/// reported".</param>
/// <param name="Refused">The first of them, with the reason.</param>
/// <param name="NotUnderstood">The number of cells not understood; their facts become unknown.</param>
/// <param name="Problems">The first of them, with the reason.</param>
public sealed record ImportPlan(
    string Fingerprint,
    int Sites,
    int New,
    int Changed,
    int Same,
    int Refusals,
    int Gone,
    IReadOnlyList<string> NoLongerReported,
    IReadOnlyList<ManualTaskClaim> HostChanges,
    IReadOnlyList<RuleMove> Rules,
    int NotSites,
    IReadOnlyList<string> Refused,
    int NotUnderstood,
    IReadOnlyList<string> Problems,
    ListMappingResponse Reading
);

/// <param name="Column">The fact read from the column; null if the column is not read.</param>
/// <param name="Because">The reason, in a few words.</param>
public sealed record ColumnChoiceResponse(string Head, string? Column, string Because);

/// <param name="Of">"unit", "people" (owners, editors and viewers), or the fact of a column with fixed words.</param>
/// <param name="Word">As written in the list.</param>
/// <param name="Lines">The number of lines with it.</param>
/// <param name="Meaning">The chosen meaning; null if none.</param>
/// <param name="IsUnderstood">False if there is no meaning, or an impossible one.</param>
/// <param name="NewUnit">A free code for a new unit of this name; null if it does not name a unit.</param>
public sealed record ListWordResponse(string Of, string Word, int Lines, string? Meaning, bool IsUnderstood, string? NewUnit);

/// <param name="Meaning">As a request gives it.</param>
public sealed record WordMeaning(string Meaning, string Label);

/// <summary>How the file was read.</summary>
/// <param name="ReadAs">The file.</param>
/// <param name="Facts">The facts as which a column can be read.</param>
/// <param name="Days">How dates without a leading year are read; null if there are none.</param>
/// <param name="DaysAreSure">True if the list allows no other reading.</param>
/// <param name="Words">The commonest words that are not understood, or only because their meaning was chosen.</param>
/// <param name="Meanings">What these words can mean, by what they name; people can also be given by mail address.</param>
/// <param name="NewUnits">The units that the import adds.</param>
public sealed record ListMappingResponse(
    string ReadAs,
    IReadOnlyList<ColumnChoiceResponse> Columns,
    IReadOnlyList<string> Facts,
    DayOrder? Days,
    bool DaysAreSure,
    string? DayExample,
    IReadOnlyList<ListWordResponse> Words,
    IReadOnlyDictionary<string, IReadOnlyList<WordMeaning>> Meanings,
    IReadOnlyList<UnitResponse> NewUnits
)
{
    internal static ListMappingResponse Of(UnderstoodList list, DoubtfulWords words, PeopleDirectory directory) =>
        new(
            list.Table.ReadAs,
            [.. list.Columns.Select(choice => new ColumnChoiceResponse(choice.Head, choice.Column, choice.Because))],
            list.Kind.Columns,
            list.Days.Example is null ? null : list.Days.Order,
            list.Days.IsSure,
            list.Days.Example,
            words.ToResponse(list.Words, directory),
            words.Named.ToDictionary(of => of, of => MeaningsOf(of, list, directory)),
            [.. list.Words.NewUnits.Select(unit => new UnitResponse(unit.Code.Value, unit.Name))]
        );

    private static IReadOnlyList<WordMeaning> MeaningsOf(string of, UnderstoodList list, PeopleDirectory directory) =>
        of switch
        {
            ListWord.Units =>
            [
                .. directory
                    .Units.OrderBy(unit => unit.Name, StringComparer.OrdinalIgnoreCase)
                    .Select(unit => new WordMeaning(unit.Code.Value, $"{unit.Name} ({unit.Code.Value})")),
                new WordMeaning("-", "no unit"),
            ],
            ListWord.People =>
            [
                new WordMeaning("staff", "all staff"),
                new WordMeaning("partners", "partners"),
                new WordMeaning("anonymous", "anonymous visitors"),
                new WordMeaning("-", "nobody"),
            ],
            _ => [.. list.Kind.FixedWords[of].Select(word => new WordMeaning(word, word))],
        };
}

/// <summary>The corrected mapping of a list.</summary>
/// <param name="Columns">"Heading=fact" each; an empty fact for a column that is not read.</param>
/// <param name="Days">The format of dates that do not begin with the year.</param>
/// <param name="Kind">staff, guest or service: the kind of the people for whom a list of people has none.</param>
/// <param name="Words">"of:word=meaning" each, for all lines of the list: "people:employee=staff", "unit:Pilots=PIL", or
/// "unit:Pilots=new:PIL" to add a unit; no meaning for a word that is not to have one any more.</param>
public sealed record ListMappingQuery(
    [property: FromQuery(Name = "columns")] string[]? Columns = null,
    [property: FromQuery(Name = "days")] string? Days = null,
    [property: FromQuery(Name = "kind")] string? Kind = null,
    [property: FromQuery(Name = "words")] string[]? Words = null
)
{
    // They travel in the address of the request, which proxies limit.
    private const int MostWords = 40;

    private const string DayFirst = "day-first";
    private const string MonthFirst = "month-first";

    /// <summary>The mapping with which a list was read: the remembered one may differ when the import is resumed.</summary>
    internal static ListMappingQuery As(UnderstoodList list) =>
        new(
            [.. list.Columns.Select(choice => $"{choice.Head}={choice.Column}")],
            list.Days.Order switch
            {
                DayOrder.DayFirst => DayFirst,
                DayOrder.MonthFirst => MonthFirst,
                _ => null,
            },
            Words: list.Words.Written
        );

    /// <exception cref="FormatException">It cannot be requested.</exception>
    internal void Check()
    {
        if (Words?.Length > MostWords)
        {
            throw new FormatException(
                $"The meaning of {Words.Length} words was chosen; at most {MostWords} can be chosen for a list. Correct the others in the list."
            );
        }
    }

    /// <exception cref="FormatException">There is no such kind.</exception>
    internal Core.People.PersonKind? DefaultKind =>
        Kind switch
        {
            null or "" => null,
            "staff" => Core.People.PersonKind.Staff,
            "guest" => Core.People.PersonKind.Guest,
            "service" => Core.People.PersonKind.Service,
            _ => throw new FormatException($"There is no kind \"{Kind}\". Use staff, guest or service."),
        };

    /// <exception cref="FormatException">There is no such fact.</exception>
    internal Dictionary<string, string?> Chosen(ListKind kind)
    {
        var chosen = new Dictionary<string, string?>();
        foreach (var choice in Columns ?? [])
        {
            // A heading can contain the equals sign; a fact cannot.
            var at = choice.LastIndexOf('=');
            var fact = choice[(at + 1)..];
            chosen[
                at < 0 ? throw new FormatException($"\"{choice}\" does not name a column: write heading=fact.") : choice[..at]
            ] =
                fact.Length == 0 ? null
                : kind.Columns.Contains(fact) ? fact
                : throw new FormatException(
                    $"There is no fact \"{fact}\" for a column. Choose one of: {string.Join(", ", kind.Columns)}."
                );
        }

        return chosen;
    }

    /// <exception cref="FormatException">There is no such date format.</exception>
    internal DayOrder? Order =>
        Days switch
        {
            null or "" or "year-first" => null,
            DayFirst => DayOrder.DayFirst,
            MonthFirst => DayOrder.MonthFirst,
            _ => throw new FormatException($"\"{Days}\" is not an order of day and month: use {DayFirst} or {MonthFirst}."),
        };
}

/// <param name="Place">The place in the feed: a client that sends it back sees the import.</param>
public sealed record ImportDone(long Place);

/// <param name="Id">The number of the import, by which it can be undone.</param>
public sealed record ImportBegun(long Id);

/// <summary>The manual procedure of a host without a connector.</summary>
/// <param name="Assignee">The mail address of the assignee; null for the person who requests the change.</param>
public sealed record ManualProcedureSettings(
    string Account,
    string Support,
    int Days,
    string Reach,
    string Owners,
    string MoveToAttic,
    string Restore,
    string? Assignee = null,
    string Look = ""
)
{
    public static ManualProcedureSettings Of(ManualProcedure kept, PeopleDirectory directory) =>
        new(
            kept.Account,
            kept.Support,
            kept.Days,
            kept.Reach,
            kept.Owners,
            kept.MoveToAttic,
            kept.Restore,
            kept.Assignee is { } assignee ? directory.Find(assignee)?.Mail : null,
            kept.Look
        );
}
