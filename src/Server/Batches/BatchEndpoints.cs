using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Batches;

using BatchAnswer = Results<Ok<BatchIdResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using SteerAnswer = Results<
    Ok<BatchIdResponse>,
    Conflict<BatchIdResponse>,
    UnprocessableEntity<RefusalResponse>,
    ProblemHttpResult
>;

internal static class BatchEndpoints
{
    private const int MostLines = 500;
    private static readonly TimeSpan Lately = TimeSpan.FromDays(7);

    public static void MapBatches(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/batches").WithTags("Batches");
        api.MapPost("", Plan)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planBatch")
            .WithSummary("Plans one action for many sites. Nothing is changed; the plan is deleted after a day.");
        api.MapGet("", List)
            .RequireAuthorization(Policies.Read)
            .WithName("batches")
            .WithSummary(
                "Batches under way and those that ended within a week: one's own, or all for administrators and auditors."
            );
        api.MapGet("/{batch:guid}", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("batch")
            .WithSummary("A batch: its effect and its progress.");
        api.MapGet("/{batch:guid}/lines", Lines)
            .RequireAuthorization(Policies.Read)
            .WithName("batchLines")
            .WithSummary("A window of a batch's rows, all or those with one outcome.");
        api.MapPost("/{batch:guid}/start", Start)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.BatchStart)
            .WithName("startBatch")
            .WithSummary("Starts a planned batch; it runs on the server, row by row.");
        api.MapPost("/{batch:guid}/stop", Stop)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.BatchStop)
            .WithName("stopBatch")
            .WithSummary("Stops a batch before the next row. What was done stays done.");
        api.MapPost("/{batch:guid}/resume", Resume)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.BatchResume)
            .WithName("resumeBatch")
            .WithSummary("Continues a batch with the remaining rows.");
        api.MapPost("/{batch:guid}/again", Again)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planBatchAgain")
            .WithSummary("Plans the action again for the sites on which it was not done.");
        api.MapPost("/{batch:guid}/undo/plan", PlanUndo)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planBatchUndo")
            .WithSummary("Plans a batch that undoes this one on every site where it was done; nothing is changed.");
    }

    private static async Task<BatchAnswer> Plan(BatchPlanRequest request, HttpContext context, BatchActions desk)
    {
        if (BulkActions.All.Where(one => one.Text() == request.Action).ToList() is not [var action])
        {
            return Problem(
                $"The action \"{request.Action}\" is not possible for many sites at once.",
                $"Choose one of {string.Join(", ", BulkActions.All.Select(one => one.Text()))}."
            );
        }

        List<BatchTarget> sites = [.. request.Sites.Distinct().Select(site => new BatchTarget(new SiteId(site)))];
        return sites.Count switch
        {
            0 => Problem("The list of sites is empty.", "Name at least one site."),
            > Batch.MostSites => Problem(
                $"{sites.Count} sites are too many.",
                $"Name at most {Batch.MostSites}, and the others in a later batch."
            ),
            _ => Answer(await desk.Plan(Viewer.Of(context), action, sites), context),
        };
    }

    private static async Task<Ok<IReadOnlyList<BatchSummary>>> List(BatchActions desk, SeenRegister register)
    {
        var state = register.State;
        var viewer = register.Viewer;
        return TypedResults.Ok<IReadOnlyList<BatchSummary>>([
            .. (await desk.Lately(viewer, Lately)).Select(found => BatchSummary.Of(found.Batch, found.Counts, state)),
        ]);
    }

    private static async Task<Results<Ok<BatchResponse>, ProblemHttpResult>> Look(
        Guid batch,
        BatchActions desk,
        SeenRegister register
    )
    {
        var state = register.State;
        var viewer = register.Viewer;
        return await desk.Look(new BatchId(batch), viewer) is var (found, lines)
            ? TypedResults.Ok(BatchResponse.Of(found, lines, await desk.UndoneBy(found.Id, viewer), state, viewer))
            : NotThere();
    }

    private static async Task<Results<Ok<BatchLines>, ProblemHttpResult>> Lines(
        Guid batch,
        BatchActions desk,
        SeenRegister register,
        string? outcome = null,
        int offset = 0,
        int limit = 100
    )
    {
        var state = register.State;
        var viewer = register.Viewer;
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

        var wanted = BatchLineResponse.Seen(lines, state, viewer).Where(one => only is null || one.Row.Outcome == only).ToList();
        return TypedResults.Ok(
            new BatchLines(
                wanted.Count,
                [
                    .. wanted
                        .Skip(Math.Max(0, offset))
                        .Take(Math.Clamp(limit, 0, MostLines))
                        .Select(one => BatchLineResponse.Of(one.Row, one.Site, state)),
                ]
            )
        );
    }

    private static Task<SteerAnswer> Start(Guid batch, BatchStartRequest request, HttpContext context) =>
        Steer(
            new SteerBatch(ActionName.BatchStart, batch, Viewer.Of(context), BatchEvent.Start, JournalAction.BatchStarted)
            {
                Number = request.Number,
                Reason = SiteActionAnswers.Reason(request.Reason),
            },
            request,
            context
        );

    private static Task<SteerAnswer> Stop(Guid batch, HttpContext context) =>
        Steer(
            new SteerBatch(ActionName.BatchStop, batch, Viewer.Of(context), BatchEvent.Stop, JournalAction.BatchStopped),
            new { batch },
            context
        );

    private static Task<SteerAnswer> Resume(Guid batch, HttpContext context) =>
        Steer(
            new SteerBatch(ActionName.BatchResume, batch, Viewer.Of(context), BatchEvent.Resume, JournalAction.BatchResumed),
            new { batch },
            context
        );

    private static Task<SteerAnswer> Steer(SteerBatch action, object request, HttpContext context) =>
        context.Carry(action, null, request, plan => Task.FromResult(new BatchIdResponse(plan.Batch.Id.Value)));

    private static async Task<BatchAnswer> Again(Guid batch, HttpContext context, BatchActions desk) =>
        Answer(await desk.Again(new BatchId(batch), Viewer.Of(context)), context);

    private static async Task<BatchAnswer> PlanUndo(Guid batch, HttpContext context, BatchActions desk) =>
        Answer(await desk.PlanUndo(new BatchId(batch), Viewer.Of(context)), context);

    private static BatchAnswer Answer(BatchResult result, HttpContext context)
    {
        switch (result)
        {
            case BatchResult.Done(var id):
                return TypedResults.Ok(new BatchIdResponse(id.Value));
            case BatchResult.Refused(var reason):
                return TypedResults.UnprocessableEntity(RefusalResponse.Of(reason));
            default:
                return NotThere();
        }
    }

    private static ProblemHttpResult Problem(string title, string detail) =>
        TypedResults.Problem(statusCode: 400, title: title, detail: detail);

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such batch.");
}
