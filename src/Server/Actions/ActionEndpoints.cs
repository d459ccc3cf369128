using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Actions;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using PreviewResult = Results<Ok<Preview>, ProblemHttpResult>;

internal static class ActionEndpoints
{
    public static void MapActions(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Actions").RequireAuthorization(Policies.Act);
        api.MapPost("/sites/{site:long}/restrict/plan", PlanRestrict)
            .WithName("planRestrict")
            .WithSummary("The plan to restrict the access of a site; nothing is changed.");
        api.MapPost("/sites/{site:long}/restrict", Restrict)
            .WithName("restrict")
            .WithSummary("Restricts the access of a site as planned; 409 with the new plan where the effect differs.");
        api.MapPost("/host-changes/{hostChange:guid}/undo/plan", PlanUndo)
            .WithName("planUndo")
            .WithSummary("The plan to undo a change.");
        api.MapPost("/host-changes/{hostChange:guid}/undo", Undo)
            .WithName("undo")
            .WithSummary("Undoes a change: withdraws it, or requests the state before it.");
    }

    private static Task<PreviewResult> PlanRestrict(
        long site,
        RestrictPlanRequest request,
        HttpContext context,
        ActionExecutor desk
    ) => desk.PlanOf(Restricting(site, request.Target, request.Reason, context));

    private static Task<ActionAnswer> Restrict(
        long site,
        StartRestrictRequest request,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        ActionExecutor desk
    ) => desk.Carry(Restricting(site, request.Target, request.Reason, context), request.Fingerprint, key, request, context);

    private static async Task<PreviewResult> PlanUndo(Guid hostChange, HttpContext context, ActionExecutor desk) =>
        await desk.HostChange(new ChangeId(hostChange)) is { } undone
            ? await desk.PlanOf(Undoing(undone, null, context))
            : ActionAnswers.NotThere();

    private static async Task<ActionAnswer> Undo(
        Guid hostChange,
        UndoChangeRequest request,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        ActionExecutor desk
    ) =>
        await desk.HostChange(new ChangeId(hostChange)) is { } undone
            ? await desk.Carry(Undoing(undone, request.Reason, context), request.Fingerprint, key, request, context)
            : ActionAnswers.NotThere();

    private static RequestedAction Restricting(long site, Limits target, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new RequestedAction(
            new SiteId(site),
            viewer.Actor(),
            viewer.ScopeOn,
            (facts, id) =>
                RestrictReach.Decide(
                    facts,
                    new RestrictRequest(target.ToLimits(), ActionAnswers.Reason(reason)),
                    new ChangeId(id),
                    viewer.Actor()
                ),
            WithNeighbours: false
        );
    }

    private static RequestedAction Undoing(HostChange undone, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new RequestedAction(undone.Site, viewer.Actor(), viewer.ScopeOn, (facts, id) =>
            UndoHostChange.Decide(
                facts,
                facts.ChangeQueue.Single(one => one.Id == undone.Id),
                new ChangeId(id),
                viewer.Actor(),
                ActionAnswers.Reason(reason)
            )
        );
    }
}
