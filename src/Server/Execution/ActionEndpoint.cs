using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Work;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Execution;

/// <summary>Every reason why an action is refused, in the order to solve them.</summary>
public sealed record RefusalResponse(IReadOnlyList<RemarkResponse> Reasons)
{
    public static RefusalResponse Of(params IEnumerable<Remark> reasons) => new(RemarkResponse.Of(reasons));
}

/// <summary>What an endpoint that writes is: the way to an action, or outside the actions for a reason. A test asks every one.</summary>
public sealed record Writes(ActionName? Action, string? Outside);

/// <summary>The endpoint of an action: maps a request to it and its outcome to a response, and does nothing else.</summary>
internal static class ActionEndpoint
{
    public const string KeyHeader = "Idempotency-Key";
    public const int LongestKey = 200;

    /// <summary>Marks the endpoint that carries out an action.</summary>
    public static RouteHandlerBuilder Carries(this RouteHandlerBuilder endpoint, ActionName action) =>
        endpoint.WithMetadata(new Writes(action, null));

    /// <summary>Marks the endpoint of a preview, which changes nothing.</summary>
    public static RouteHandlerBuilder Previews(this RouteHandlerBuilder endpoint) => endpoint.OutsideActions("a preview");

    /// <summary>Marks an endpoint that is no GET and yet outside the actions.</summary>
    public static RouteHandlerBuilder OutsideActions(this RouteHandlerBuilder endpoint, string why) =>
        endpoint.WithMetadata(new Writes(null, why));

    /// <summary>Carries out an action and answers: 200 with the result, 409 with the new plan, 422 with every reason.</summary>
    /// <param name="request">The request: the same request under the same key is done once.</param>
    /// <param name="shown">The response for a plan.</param>
    public static async Task<Results<Ok<TDone>, Conflict<TShown>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Carry<
        TPlan,
        TDone,
        TShown
    >(
        this HttpContext context,
        RequestedAction<TPlan, TDone> action,
        string? fingerprint,
        object request,
        Func<TPlan, Task<TShown>> shown
    )
    {
        string? key = context.Request.Headers[KeyHeader];
        if (key is not { Length: > 0 and <= LongestKey })
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: $"The header {KeyHeader} is missing or too long.",
                detail: $"Send a unique key for this action, at most {LongestKey} characters."
            );
        }

        if (context.GetEndpoint()?.Metadata.GetMetadata<Writes>()?.Action != action.Name)
        {
            throw new InvalidOperationException($"This endpoint is not marked as the one of {action.Name}.");
        }

        var outcome = await context
            .RequestServices.GetRequiredService<ActionExecutor>()
            .Carry(
                Viewer.Of(context),
                action,
                fingerprint,
                key,
                Head.HashOf(
                    $"{context.Request.Method} {context.Request.Path} {JsonSerializer.Serialize(request, request.GetType())}"
                )
            );
        switch (outcome)
        {
            case ActionOutcome<TPlan, TDone>.Done(var place, var result):
                RegisterAt.Set(context, place);
                context
                    .RequestServices.GetRequiredService<WakeUps>()
                    .Wake(
                        context.RequestServices.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping,
                        [.. action.Wakes]
                    );
                return TypedResults.Ok(result);
            case ActionOutcome<TPlan, TDone>.Another(var plan):
                return TypedResults.Conflict(await shown(plan));
            case ActionOutcome<TPlan, TDone>.Refused(var reasons):
                return TypedResults.UnprocessableEntity(RefusalResponse.Of(reasons));
            case ActionOutcome<TPlan, TDone>.KeyUsed:
                return TypedResults.Problem(statusCode: 422, title: $"This {KeyHeader} was used for another request.");
            case ActionOutcome<TPlan, TDone>.BadLink(var fault):
                return Links.Problem(fault);
            case ActionOutcome<TPlan, TDone>.NotSeen(var what):
                return NotThere(what);
            default:
                throw new InvalidOperationException("An outcome is one of these.");
        }
    }

    public static ProblemHttpResult NotThere(string what) =>
        TypedResults.Problem(statusCode: 404, title: $"There is no such {what}.");
}
