using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Lanes;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Deeds;

internal static class DeedEndpoints
{
    private const int LongestKey = 200;

    public static void MapDeeds(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Deeds").RequireAuthorization(Policies.Act);
        api.MapPost("/sites/{site:long}/narrow/plan", PlanNarrow).WithName("planNarrow").WithSummary("What narrowing a site's reach would come to; nothing is changed.");
        api.MapPost("/sites/{site:long}/narrow", Narrow).WithName("narrow").WithSummary("Narrows a site's reach as planned; 409 with the new plan where the effect is another by now.");
        api.MapPost("/orders/{order:guid}/undo/plan", PlanUndo).WithName("planUndo").WithSummary("What undoing an order would come to.");
        api.MapPost("/orders/{order:guid}/undo", Undo).WithName("undo").WithSummary("Undoes an order: withdraws it, or asks for what was before.");
    }

    private static async Task<Results<Ok<PreviewWire>, ProblemHttpResult>> PlanNarrow(long site, NarrowPlanWire wish, HttpContext context, DeedDesk desk) =>
        Preview(await desk.Preview(Viewer.Of(context), new SiteId(site), Narrowing(wish.Target, wish.Reason, context)));

    private static Task<Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>> Narrow(
        long site, NarrowWire wish, [FromHeader(Name = "Idempotency-Key")] string? key, HttpContext context, DeedDesk desk) =>
        Carry(new SiteId(site), Narrowing(wish.Target, wish.Reason, context), wish.Fingerprint, key, wish, context, desk);

    private static async Task<Results<Ok<PreviewWire>, ProblemHttpResult>> PlanUndo(Guid order, HttpContext context, DeedDesk desk) =>
        await desk.Order(new OrderId(order)) is { } undone
            ? Preview(await desk.Preview(Viewer.Of(context), undone.Site, Undoing(undone.Id, null, context)))
            : NotThere();

    private static async Task<Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>> Undo(
        Guid order, UndoWire wish, [FromHeader(Name = "Idempotency-Key")] string? key, HttpContext context, DeedDesk desk) =>
        await desk.Order(new OrderId(order)) is { } undone
            ? await Carry(undone.Site, Undoing(undone.Id, wish.Reason, context), wish.Fingerprint, key, wish, context, desk)
            : NotThere();

    private static DeedDesk.Decide Narrowing(LimitsWire target, string? reason, HttpContext context)
    {
        var doer = new Doer(Viewer.Of(context).Person);
        return (facts, order) => NarrowReach.Decide(facts, new NarrowWish(target.ToLimits(), Reason(reason)), order, doer);
    }

    private static DeedDesk.Decide Undoing(OrderId undone, string? reason, HttpContext context)
    {
        var doer = new Doer(Viewer.Of(context).Person);
        return (facts, order) => UndoOrder.Decide(facts, facts.Lane.Single(one => one.Id == undone), order, doer, Reason(reason));
    }

    // NUL cannot stand in a text of the database; a reason of spaces is none.
    private static string? Reason(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Replace('\0', '\uFFFD').Trim();

    private static Results<Ok<PreviewWire>, ProblemHttpResult> Preview(DeedResult result) =>
        result switch
        {
            DeedResult.Planned(var plan, var facts, _) => TypedResults.Ok(new PreviewWire(PlanWire.Of(plan, facts), [])),
            DeedResult.Refused(var reasons) => TypedResults.Ok(new PreviewWire(null, reasons)),
            _ => NotThere(),
        };

    private static async Task<Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>> Carry<TWish>(
        SiteId site, DeedDesk.Decide decide, string fingerprint, string? key, TWish wish, HttpContext context, DeedDesk desk)
    {
        if (key is not { Length: > 0 and <= LongestKey })
        {
            return TypedResults.Problem(statusCode: 400, title: "The header Idempotency-Key is missing or too long.", detail: $"Send a key of your own for this deed, {LongestKey} characters at the most.");
        }

        var requestHash = Head.HashOf($"{context.Request.Path} {JsonSerializer.Serialize(wish)}");
        switch (await desk.Carry(Viewer.Of(context), site, decide, fingerprint, key, requestHash))
        {
            case DeedResult.Done(var place, var order):
                SheetAt.Say(context, place);
                var services = context.RequestServices;
                services.GetRequiredService<OrderLanes>().Wake(services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping);
                return TypedResults.Ok(new DeedDoneWire(order, place));
            case DeedResult.Planned(var plan, var facts, _):
                return TypedResults.Conflict(PlanWire.Of(plan, facts));
            case DeedResult.Refused(var reasons):
                return TypedResults.UnprocessableEntity(new RefusalWire(reasons));
            case DeedResult.KeyUsed:
                return TypedResults.Problem(statusCode: 422, title: "This Idempotency-Key was used for another request.");
            default:
                return NotThere();
        }
    }

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such site.");
}
