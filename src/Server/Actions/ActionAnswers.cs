using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.ChangeQueues;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Mail;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Actions;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>The responses of every action's endpoint: the plan, and the result.</summary>
internal static class ActionAnswers
{
    private const int LongestKey = 200;

    public static async Task<Results<Ok<Preview>, ProblemHttpResult>> PlanOf(
        this ActionExecutor desk,
        RequestedAction requested
    ) =>
        await desk.Preview(requested) switch
        {
            ActionOutcome.Planned(var plan, var facts, _) => TypedResults.Ok(new Preview(PlanResponse.Of(plan, facts), [])),
            ActionOutcome.Refused(var reasons) => TypedResults.Ok(new Preview(null, reasons)),
            _ => NotThere(),
        };

    /// <param name="request">The request: the same request under the same key is done once.</param>
    public static async Task<ActionAnswer> Carry<TRequest>(
        this ActionExecutor desk,
        RequestedAction requested,
        string fingerprint,
        string? key,
        TRequest request,
        HttpContext context
    )
    {
        if (key is not { Length: > 0 and <= LongestKey })
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: "The header Idempotency-Key is missing or too long.",
                detail: $"Send a unique key for this action, at most {LongestKey} characters."
            );
        }

        var requestHash = Head.HashOf($"{context.Request.Path} {JsonSerializer.Serialize(request)}");
        return Answer(await desk.Carry(Viewer.Of(context), requested, fingerprint, key, requestHash), context);
    }

    /// <summary>An action without choices: it needs no preview.</summary>
    public static async Task<ActionAnswer> CarryAtOnce<TRequest>(
        this ActionExecutor desk,
        RequestedAction requested,
        string? key,
        TRequest request,
        HttpContext context
    ) =>
        await desk.Carry(
            requested,
            await desk.Preview(requested) is ActionOutcome.Planned(var plan, _, _) ? plan.Fingerprint : "",
            key,
            request,
            context
        );

    public static ActionAnswer Answer(ActionOutcome result, HttpContext context)
    {
        switch (result)
        {
            case ActionOutcome.Done(var place, var order, var offer, var approval):
                RegisterAt.SetFact(context, place);
                Wake(context);
                return TypedResults.Ok(new ActionDone(place, order, offer, approval));
            case ActionOutcome.Planned(var plan, var facts, _):
                return TypedResults.Conflict(PlanResponse.Of(plan, facts));
            case ActionOutcome.Refused(var reasons):
                return TypedResults.UnprocessableEntity(new RefusalResponse(reasons));
            case ActionOutcome.KeyUsed:
                return TypedResults.Problem(statusCode: 422, title: "This Idempotency-Key was used for another request.");
            case ActionOutcome.BadLink(var fault):
                return LinkEndpoints.Problem(fault);
            default:
                return NotThere();
        }
    }

    public static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such site.");

    // The database cannot store NUL in a text; a reason of spaces is no reason.
    public static string? Reason(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Replace('\0', '\uFFFD').Trim();

    public static Actor Actor(this Viewer viewer) =>
        new(
            viewer.Person,
            viewer.Role switch
            {
                Store.Role.Administrator => Capacity.Administrator,
                Store.Role.Steward => Capacity.Steward,
                _ => Capacity.Owner,
            }
        );

    private static void Wake(HttpContext context)
    {
        var services = context.RequestServices;
        var stop = services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping;
        services.GetRequiredService<ChangeQueueRunner>().Wake(stop);
        services.GetRequiredService<Outbox>().Wake(stop);
    }
}
