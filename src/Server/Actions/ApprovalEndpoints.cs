using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Actions;

using ApprovalAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>An action that waits for a second person, with its plan on today's facts.</summary>
/// <param name="Renewed">How often the facts have changed since the request.</param>
/// <param name="MayAnswer">True if the viewer can be the second person.</param>
/// <param name="MayWithdraw">True if it is the viewer's own request.</param>
/// <param name="Refused">Why it can no longer be done; empty if it can.</param>
public sealed record ApprovalResponse(
    Guid Id,
    ApprovalState State,
    ActionName Action,
    string ActionLabel,
    long Site,
    string Title,
    string? Address,
    string Host,
    PersonResponse By,
    string? Reason,
    string Because,
    DateTimeOffset RequestedAt,
    DateOnly Through,
    int Renewed,
    bool MayAnswer,
    bool MayWithdraw,
    PlanResponse? Plan,
    IReadOnlyList<RemarkResponse> Refused
);

public sealed record ApproveRequest(string Fingerprint);

public sealed record ReasonRequest(string? Reason = null);

internal static class ApprovalEndpoints
{
    public static void MapApprovals(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/approvals/{approval:guid}").WithTags("Approvals");
        api.MapGet("", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("approval")
            .WithSummary(
                "An action that waits for a second person, with its plan on today's facts: for administrators, auditors and the person who requested it."
            );
        api.MapPost("/approve", Approve)
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.ApprovalApprove)
            .WithName("approve")
            .WithSummary(
                "Agrees as the second person and carries out the action. 409 with the new plan where the facts have changed; the request stays open."
            );
        api.MapPost("/decline", Decline)
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.ApprovalDecline)
            .WithName("turnDownApproval")
            .WithSummary("Does not agree.");
        api.MapPost("/withdraw", Withdraw)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.ApprovalWithdraw)
            .WithName("withdrawApproval")
            .WithSummary("Withdraws one's own request.");
    }

    private static async Task<Results<Ok<ApprovalResponse>, ProblemHttpResult>> Look(
        Guid approval,
        HttpContext context,
        Store.Database database
    ) =>
        await database.Look(new ApprovalId(approval)) is { } found
        && (
            Viewer.Of(context).Role is Store.Role.Administrator or Store.Role.Auditor
            || found.Approval.By == Viewer.Of(context).Person
        )
            ? TypedResults.Ok(ToResponse(found.Approval, found.Decision, found.Facts, Viewer.Of(context)))
            : ActionEndpoint.NotThere("request");

    private static Task<ApprovalAnswer> Approve(Guid approval, ApproveRequest request, HttpContext context) =>
        context.Carry(
            ApprovalActions.Approve(approval, request.Fingerprint, Viewer.Of(context)),
            request.Fingerprint,
            request,
            Shown
        );

    private static Task<ApprovalAnswer> Decline(Guid approval, ReasonRequest request, HttpContext context) =>
        context.Carry(
            ApprovalActions.Decline(approval, SiteActionAnswers.Reason(request.Reason), Viewer.Of(context)),
            null,
            request,
            Shown
        );

    private static Task<ApprovalAnswer> Withdraw(Guid approval, HttpContext context) =>
        context.Carry(ApprovalActions.Withdraw(approval, Viewer.Of(context)), null, new { approval }, Shown);

    private static Task<PlanResponse> Shown(ApprovalPlan plan) => Task.FromResult(PlanResponse.Of(plan.Plan!, plan.Facts));

    public static ApprovalResponse ToResponse(Approval approval, Decision decision, ActionFacts facts, Viewer viewer) =>
        new(
            approval.Id.Value,
            approval.State,
            approval.Action,
            ActionLabels.Of(approval.Action),
            approval.Site.Value,
            facts.Site.Title,
            facts.Site.Address.Has(out var address) ? address : null,
            facts.Site.Host,
            PersonResponse.Of(approval.By, facts.PeopleDirectory),
            approval.Reason,
            RemarkSentence.Of(approval.Because),
            approval.RequestedAt,
            approval.Through,
            approval.Renewed,
            viewer.Role == Store.Role.Administrator && approval.MayBeAnsweredBy(viewer.Person),
            approval.State == ApprovalState.Requested && approval.By == viewer.Person,
            decision is Decision.Plan plan ? PlanResponse.Of(plan, facts) : null,
            decision is Decision.Refusal(var reasons) ? RemarkResponse.Of(reasons) : []
        );
}
