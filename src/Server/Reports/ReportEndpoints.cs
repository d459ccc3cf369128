using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Reports;

/// <summary>A report, as the list of reports shows it.</summary>
public sealed record ReportKindResponse(string Name, string Title, string Says, ReportSpan Span);

/// <param name="IsNumber">True if its cells are numbers.</param>
public sealed record ReportColumn(string Head, bool IsNumber);

public sealed record ReportRowResponse(long? Site, IReadOnlyList<string> Cells);

/// <param name="On">The day of the report; <paramref name="From"/> and <paramref name="Through"/>: its period.</param>
/// <param name="By">The person whose actions the report lists.</param>
/// <param name="MadeAt">When it was made, by the server's clock.</param>
/// <param name="Total">The number of all rows.</param>
public sealed record ReportResponse(
    ReportKindResponse Report,
    DateOnly On,
    DateOnly From,
    DateOnly Through,
    PersonResponse? By,
    DateTimeOffset MadeAt,
    IReadOnlyList<string> Notes,
    IReadOnlyList<ReportColumn> Columns,
    int Total,
    IReadOnlyList<ReportRowResponse> Rows
);

/// <param name="On">yyyy-MM-dd; default: today.</param>
/// <param name="From">The first day; default: thirty days ago.</param>
/// <param name="Through">The last day; default: today.</param>
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

    /// <summary>True if its days are valid calendar dates.</summary>
    public bool IsPossible => new[] { On, From, Through }.All(day => day is null || (day >= First && day <= Last));

    public ReportRequest Request(DateOnly today) =>
        new(On ?? today, From ?? (Through ?? today).Plus(-UsualDays), Through ?? today, By is { } id ? new PersonId(id) : null);
}

/// <summary>Reports as evidence for others: on a page, on paper, exported.</summary>
internal static class ReportEndpoints
{
    // The maximum number of rows on a page; an export has all.
    private const int MostRows = 2000;

    public static void MapReports(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/reports").WithTags("Reports").RequireAuthorization(Policies.Evidence);
        api.MapGet("", () => TypedResults.Ok<IReadOnlyList<ReportKindResponse>>([.. ReportKind.All.Select(ToResponse)]))
            .WithName("reports")
            .WithSummary("All reports.");
        api.MapGet("/{report}", Look).WithName("report").WithSummary("A report, at most 2,000 rows.");
        api.MapGet("/{report}/export", Export)
            .WithName("exportReport")
            .WithSummary("A whole report as CSV, as a workbook or as JSON Lines, with a link to each site.")
            .Produces<string>(contentType: "text/csv");
    }

    private static async Task<Results<Ok<ReportResponse>, ProblemHttpResult>> Look(
        string report,
        [AsParameters] ReportQuery query,
        HttpContext context,
        SeenRegister register,
        Database database,
        int limit = MostRows
    )
    {
        if (await Made(report, query, register, database) is not var (kind, request, made, state))
        {
            return NotMade(report, query);
        }

        return TypedResults.Ok(
            new ReportResponse(
                ToResponse(kind),
                request.On,
                request.From,
                request.Through,
                request.By is { } by ? PersonResponse.Of(by, state.PeopleDirectory) : null,
                database.Now,
                made.Notes,
                [.. kind.Columns.Index().Select(column => new ReportColumn(column.Item, kind.Numbers.Contains(column.Index)))],
                made.Rows.Count,
                [.. made.Rows.Take(Math.Clamp(limit, 0, MostRows)).Select(row => new ReportRowResponse(row.Site, row.Cells))]
            )
        );
    }

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> Export(
        string report,
        [AsParameters] ReportQuery query,
        HttpContext context,
        SeenRegister register,
        Database database,
        Settings settings,
        [FromQuery(Name = "as")] string form = "csv"
    )
    {
        if (await Made(report, query, register, database) is not var (kind, request, made, _))
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
            $"{kind.Name}-{(kind.Span == ReportSpan.Days ? $"{request.From:yyyy-MM-dd}-{request.Through:yyyy-MM-dd}" : $"{request.On:yyyy-MM-dd}")}"
        );
    }

    private static async Task<(ReportKind Kind, ReportRequest Request, Report Made, LedgerState State)?> Made(
        string report,
        ReportQuery query,
        SeenRegister register,
        Database database
    )
    {
        if (ReportKind.All.FirstOrDefault(kind => kind.Name == report) is not { } kind || !query.IsPossible)
        {
            return null;
        }

        var state = register.State;
        var now = database.Now;
        var request = query.Request(state.PeopleDirectory.Time.DayOf(now));
        return (
            kind,
            request,
            await database.Read(connection => kind.Make(new ReportFacts(connection, state, now), request)),
            state
        );
    }

    private static ReportKindResponse ToResponse(ReportKind kind) => new(kind.Name, kind.Title, kind.Says, kind.Span);

    private static ProblemHttpResult NotMade(string report, ReportQuery query) =>
        !query.IsPossible
            ? TypedResults.Problem(statusCode: 400, title: "A day has to be between 1970-01-01 and 2999-12-31.")
            : TypedResults.Problem(
                statusCode: 404,
                title: $"There is no report \"{report}\".",
                detail: $"There are {string.Join(", ", ReportKind.All.Select(kind => kind.Name))}."
            );
}
