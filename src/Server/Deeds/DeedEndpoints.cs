using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Deeds;

using CarryResult = Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>;
using PreviewResult = Results<Ok<PreviewWire>, ProblemHttpResult>;

internal static class DeedEndpoints
{
    public static void MapDeeds(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Deeds").RequireAuthorization(Policies.Act);
        api.MapPost("/sites/{site:long}/narrow/plan", PlanNarrow)
            .WithName("planNarrow")
            .WithSummary("What narrowing a site's reach would come to; nothing is changed.");
        api.MapPost("/sites/{site:long}/narrow", Narrow)
            .WithName("narrow")
            .WithSummary("Narrows a site's reach as planned; 409 with the new plan where the effect is another by now.");
        api.MapPost("/orders/{order:guid}/undo/plan", PlanUndo)
            .WithName("planUndo")
            .WithSummary("What undoing an order would come to.");
        api.MapPost("/orders/{order:guid}/undo", Undo)
            .WithName("undo")
            .WithSummary("Undoes an order: withdraws it, or asks for what was before.");
    }

    private static Task<PreviewResult> PlanNarrow(long site, NarrowPlanWire wish, HttpContext context, DeedDesk desk) =>
        desk.PlanOf(Narrowing(site, wish.Target, wish.Reason, context));

    private static Task<CarryResult> Narrow(
        long site,
        NarrowWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    ) => desk.Carry(Narrowing(site, wish.Target, wish.Reason, context), wish.Fingerprint, key, wish, context);

    private static async Task<PreviewResult> PlanUndo(Guid order, HttpContext context, DeedDesk desk) =>
        await desk.Order(new OrderId(order)) is { } undone
            ? await desk.PlanOf(Undoing(undone, null, context))
            : Carrying.NotThere();

    private static async Task<CarryResult> Undo(
        Guid order,
        UndoWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    ) =>
        await desk.Order(new OrderId(order)) is { } undone
            ? await desk.Carry(Undoing(undone, wish.Reason, context), wish.Fingerprint, key, wish, context)
            : Carrying.NotThere();

    private static WishedDeed Narrowing(long site, LimitsWire target, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new WishedDeed(
            new SiteId(site),
            viewer.Doer(),
            viewer.SightOn,
            (facts, id) =>
                NarrowReach.Decide(
                    facts,
                    new NarrowWish(target.ToLimits(), Carrying.Reason(reason)),
                    new OrderId(id),
                    viewer.Doer()
                ),
            WithNeighbours: false
        );
    }

    private static WishedDeed Undoing(Order undone, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new WishedDeed(undone.Site, viewer.Doer(), viewer.SightOn, (facts, id) =>
            UndoOrder.Decide(
                facts,
                facts.Lane.Single(one => one.Id == undone.Id),
                new OrderId(id),
                viewer.Doer(),
                Carrying.Reason(reason)
            )
        );
    }
}
