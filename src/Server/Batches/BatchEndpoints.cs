using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Batches;

using BatchAnswer = Results<Ok<BatchIdWire>, ProblemHttpResult>;

internal static class BatchEndpoints
{
    private const int MostLines = 500;
    private static readonly TimeSpan Lately = TimeSpan.FromDays(7);

    public static void MapBatches(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/batches").WithTags("Batches");
        api.MapPost("", Plan)
            .RequireAuthorization(Policies.Act)
            .WithName("planBatch")
            .WithSummary("Plans one deed for many sites; the plan is kept for a day and nothing is changed.");
        api.MapGet("", List)
            .RequireAuthorization(Policies.Read)
            .WithName("batches")
            .WithSummary(
                "Batches under way, and those that ended within a week: the viewer's own, and everybody's for those who see everything."
            );
        api.MapGet("/{batch:guid}", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("batch")
            .WithSummary("One deed on many sites: what it comes to, and how far it is.");
        api.MapGet("/{batch:guid}/lines", Lines)
            .RequireAuthorization(Policies.Read)
            .WithName("batchLines")
            .WithSummary("A window of a batch's lines, all or those of one outcome.");
        api.MapPost("/{batch:guid}/start", Start)
            .RequireAuthorization(Policies.Act)
            .WithName("startBatch")
            .WithSummary("Carries out what was planned, line by line; it goes on by itself.");
        api.MapPost("/{batch:guid}/stop", Stop)
            .RequireAuthorization(Policies.Act)
            .WithName("stopBatch")
            .WithSummary("Stops before the next line. What was done stays done.");
        api.MapPost("/{batch:guid}/resume", Resume)
            .RequireAuthorization(Policies.Act)
            .WithName("resumeBatch")
            .WithSummary("Goes on with the lines that wait.");
        api.MapPost("/{batch:guid}/again", Again)
            .RequireAuthorization(Policies.Act)
            .WithName("planBatchAgain")
            .WithSummary("Plans the deed anew for the sites on which it was not done.");
        api.MapPost("/{batch:guid}/undo/plan", PlanUndo)
            .RequireAuthorization(Policies.Act)
            .WithName("planBatchUndo")
            .WithSummary("Plans a batch that takes this one back on every site where it was done; nothing is changed.");
    }

    private static async Task<BatchAnswer> Plan(BatchPlanWire wish, HttpContext context, BatchDesk desk)
    {
        if (!BulkDeeds.All.Contains(wish.Deed))
        {
            return Problem(
                $"The deed \"{wish.Deed}\" is not done on many sites at once.",
                $"Choose one of {string.Join(", ", BulkDeeds.All)}."
            );
        }

        List<BatchTarget> sites = [.. wish.Sites.Distinct().Select(site => new BatchTarget(new SiteId(site)))];
        return sites.Count switch
        {
            0 => Problem("No site is named.", "Name one at least."),
            > Batch.MostSites => Problem(
                $"{sites.Count} sites are too many.",
                $"Name {Batch.MostSites} at the most, and do the rest after them."
            ),
            _ => Answer(await desk.Plan(Viewer.Of(context), wish.Deed, sites), context),
        };
    }

    private static async Task<Ok<IReadOnlyList<BatchSummaryWire>>> List(HttpContext context, BatchDesk desk, LedgerSheet sheet)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        return TypedResults.Ok<IReadOnlyList<BatchSummaryWire>>([
            .. (await desk.Lately(viewer, Lately)).Select(found => BatchSummaryWire.Of(found.Batch, found.Counts, state)),
        ]);
    }

    private static async Task<Results<Ok<BatchWire>, ProblemHttpResult>> Look(
        Guid batch,
        HttpContext context,
        BatchDesk desk,
        LedgerSheet sheet
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        return await desk.Look(new BatchId(batch), viewer) is var (found, lines)
            ? TypedResults.Ok(BatchWire.Of(found, lines, await desk.UndoneBy(found.Id, viewer), state, viewer))
            : NotThere();
    }

    private static async Task<Results<Ok<BatchLinesWire>, ProblemHttpResult>> Lines(
        Guid batch,
        HttpContext context,
        BatchDesk desk,
        LedgerSheet sheet,
        string? outcome = null,
        int offset = 0,
        int limit = 100
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        BatchOutcome? only = null;
        if (outcome is not null)
        {
            if (!Enum.TryParse<BatchOutcome>(outcome.Replace("-", "", StringComparison.Ordinal), ignoreCase: true, out var word))
            {
                return Problem($"There is no outcome \"{outcome}\".", "Leave it out, or name one that the batch counts.");
            }

            only = word;
        }

        if (await desk.Look(new BatchId(batch), viewer) is not var (_, lines))
        {
            return NotThere();
        }

        var wanted = BatchLineWire.Seen(lines, state, viewer).Where(one => only is null || one.Row.Outcome == only).ToList();
        return TypedResults.Ok(
            new BatchLinesWire(
                wanted.Count,
                [
                    .. wanted
                        .Skip(Math.Max(0, offset))
                        .Take(Math.Clamp(limit, 0, MostLines))
                        .Select(one => BatchLineWire.Of(one.Row, one.Site, state)),
                ]
            )
        );
    }

    private static async Task<BatchAnswer> Start(Guid batch, BatchStartWire wish, HttpContext context, BatchDesk desk) =>
        Answer(await desk.Start(new BatchId(batch), Viewer.Of(context), wish.Number, Carrying.Reason(wish.Reason)), context);

    private static async Task<BatchAnswer> Stop(Guid batch, HttpContext context, BatchDesk desk) =>
        Answer(await desk.Stop(new BatchId(batch), Viewer.Of(context)), context);

    private static async Task<BatchAnswer> Resume(Guid batch, HttpContext context, BatchDesk desk) =>
        Answer(await desk.Resume(new BatchId(batch), Viewer.Of(context)), context);

    private static async Task<BatchAnswer> Again(Guid batch, HttpContext context, BatchDesk desk) =>
        Answer(await desk.Again(new BatchId(batch), Viewer.Of(context)), context);

    private static async Task<BatchAnswer> PlanUndo(Guid batch, HttpContext context, BatchDesk desk) =>
        Answer(await desk.PlanUndo(new BatchId(batch), Viewer.Of(context)), context);

    private static BatchAnswer Answer(BatchResult result, HttpContext context)
    {
        switch (result)
        {
            case BatchResult.Done(var id, var place):
                if (place is { } at)
                {
                    SheetAt.Say(context, at);
                    context
                        .RequestServices.GetRequiredService<BatchRunner>()
                        .Wake(context.RequestServices.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping);
                }

                return TypedResults.Ok(new BatchIdWire(id.Value));
            case BatchResult.Refused(var reason):
                return TypedResults.Problem(statusCode: 422, title: reason);
            default:
                return NotThere();
        }
    }

    private static ProblemHttpResult Problem(string title, string detail) =>
        TypedResults.Problem(statusCode: 400, title: title, detail: detail);

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such batch.");
}
