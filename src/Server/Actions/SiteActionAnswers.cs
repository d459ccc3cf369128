using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Actions;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>The responses of the actions on one site: the plan, and the result.</summary>
internal static class SiteActionAnswers
{
    public static async Task<Results<Ok<Preview>, ProblemHttpResult>> PlanOf(this HttpContext context, SiteAction action) =>
        await context.RequestServices.GetRequiredService<ActionExecutor>().Preview(action) switch
        {
            Decided<PlanOnSite>.Planned(var plan, _) => TypedResults.Ok(new Preview(PlanResponse.Of(plan.Plan, plan.Facts), [])),
            Decided<PlanOnSite>.Refused(var reasons, _) => TypedResults.Ok(new Preview(null, RemarkResponse.Of(reasons))),
            _ => ActionEndpoint.NotThere("site"),
        };

    /// <param name="fingerprint">The fingerprint of the previewed plan; null for an action without choices.</param>
    public static Task<ActionAnswer> Carry(this HttpContext context, SiteAction action, string? fingerprint, object request) =>
        context.Carry(action, fingerprint, request, Shown);

    public static Task<PlanResponse> Shown(PlanOnSite plan) => Task.FromResult(PlanResponse.Of(plan.Plan, plan.Facts));

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
}
