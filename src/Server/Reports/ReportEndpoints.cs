using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Reports;

/// <summary>A report that there is.</summary>
public sealed record ReportKindWire(string Name, string Title, string Says, ReportSpan Span);

/// <param name="IsNumber">Whether its cells are numbers.</param>
public sealed record ReportColumnWire(string Head, bool IsNumber);

public sealed record ReportRowWire(long? Site, IReadOnlyList<string> Cells);

/// <param name="On">The day, and <paramref name="From"/> and <paramref name="Through"/> the days, that it was made for.</param>
/// <param name="By">The person whose deeds it shows.</param>
/// <param name="MadeAt">By the server's clock.</param>
/// <param name="Total">How many rows there are in all.</param>
public sealed record ReportWire(
    ReportKindWire Report,
    DateOnly On,
    DateOnly From,
    DateOnly Through,
    PersonWire? By,
    DateTimeOffset MadeAt,
    IReadOnlyList<string> Notes,
    IReadOnlyList<ReportColumnWire> Columns,
    int Total,
    IReadOnlyList<ReportRowWire> Rows
);

/// <param name="On">yyyy-MM-dd; today where it is left out.</param>
/// <param name="From">The first day; thirty days back where it is left out.</param>
/// <param name="Through">The last day; today where it is left out.</param>
/// <param name="By">A person's id.</param>
public sealed record ReportQuery(
    [FromQuery(Name = "on")] DateOnly? On = null,
    [FromQuery(Name = "from")] DateOnly? From = null,
    [FromQuery(Name = "through")] DateOnly? Through = null,
    [FromQuery(Name = "by")] long? By = null
)
{
    private const int UsualDays = 30;
    private static readonly DateOnly First = new(1970, 1, 1);
    private static readonly DateOnly Last = new(2999, 12, 31);

    /// <summary>Whether its days are such as clocks and calendars know.</summary>
    public bool IsPossible => new[] { On, From, Through }.All(day => day is null || (day >= First && day <= Last));

    public ReportWish Wish(DateOnly today) =>
        new(On ?? today, From ?? (Through ?? today).Plus(-UsualDays), Through ?? today, By is { } id ? new PersonId(id) : null);
}

/// <summary>Reports for whoever has to show that the house is in order: on a page, on paper, as a file.</summary>
internal static class ReportEndpoints
{
    // A page shows so many; a file has them all.
    private const int MostRows = 2000;

    public static void MapReports(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/reports").WithTags("Reports").RequireAuthorization(Policies.Evidence);
        api.MapGet("", () => TypedResults.Ok<IReadOnlyList<ReportKindWire>>([.. ReportKind.All.Select(Wire)]))
            .WithName("reports")
            .WithSummary("The reports that there are.");
        api.MapGet("/{report}", Look).WithName("report").WithSummary("A report, up to 2,000 rows of it.");
        api.MapGet("/{report}/export", Export)
            .WithName("exportReport")
            .WithSummary("A whole report as CSV, as a workbook or as JSON Lines, with a link to each site.")
            .Produces<string>(contentType: "text/csv");
    }

    private static async Task<Results<Ok<ReportWire>, ProblemHttpResult>> Look(
        string report,
        [AsParameters] ReportQuery query,
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        int limit = MostRows
    )
    {
        if (await Made(report, query, context, sheet, database) is not var (kind, wish, made, state))
        {
            return NotMade(report, query);
        }

        return TypedResults.Ok(
            new ReportWire(
                Wire(kind),
                wish.On,
                wish.From,
                wish.Through,
                wish.By is { } by ? PersonWire.Of(by, state.Roll) : null,
                database.Now,
                made.Notes,
                [
                    .. kind
                        .Columns.Index()
                        .Select(column => new ReportColumnWire(column.Item, kind.Numbers.Contains(column.Index))),
                ],
                made.Rows.Count,
                [.. made.Rows.Take(Math.Clamp(limit, 0, MostRows)).Select(row => new ReportRowWire(row.Site, row.Cells))]
            )
        );
    }

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> Export(
        string report,
        [AsParameters] ReportQuery query,
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        Settings settings,
        [FromQuery(Name = "as")] string form = "csv"
    )
    {
        if (await Made(report, query, context, sheet, database) is not var (kind, wish, made, _))
        {
            return NotMade(report, query);
        }

        var rows = made.Rows.Select(row =>
            (IReadOnlyList<string>)
                [.. row.Cells, row.Site is { } site ? new Uri(settings.Address, $"/sites/{site}").ToString() : ""]
        );
        if (
            ListFile.Of(form, kind.Title, [.. kind.Columns, "link"], kind.Numbers.ToHashSet(), rows, context.RequestAborted)
            is not { } file
        )
        {
            return TypedResults.Problem(statusCode: 400, title: ListFile.NoSuchForm(form));
        }

        return file.Answer(
            context,
            $"{kind.Name}-{(kind.Span == ReportSpan.Days ? $"{wish.From:yyyy-MM-dd}-{wish.Through:yyyy-MM-dd}" : $"{wish.On:yyyy-MM-dd}")}"
        );
    }

    private static async Task<(ReportKind Kind, ReportWish Wish, Report Made, LedgerState State)?> Made(
        string report,
        ReportQuery query,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        if (ReportKind.All.FirstOrDefault(kind => kind.Name == report) is not { } kind || !query.IsPossible)
        {
            return null;
        }

        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var wish = query.Wish(state.Roll.Time.DayOf(state.Roll.Now));
        return (kind, wish, await database.Read(connection => kind.Make(new ReportFacts(connection, state), wish)), state);
    }

    private static ReportKindWire Wire(ReportKind kind) => new(kind.Name, kind.Title, kind.Says, kind.Span);

    private static ProblemHttpResult NotMade(string report, ReportQuery query) =>
        !query.IsPossible
            ? TypedResults.Problem(statusCode: 400, title: "A day is from 1970-01-01 through 2999-12-31.")
            : TypedResults.Problem(
                statusCode: 404,
                title: $"There is no report \"{report}\".",
                detail: $"There are {string.Join(", ", ReportKind.All.Select(kind => kind.Name))}."
            );
}
