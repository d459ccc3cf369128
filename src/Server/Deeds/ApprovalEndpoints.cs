using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Deeds;

using ApprovalAnswer = Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>;

/// <summary>A deed that waits for a second person, with what it would come to today.</summary>
/// <param name="Renewed">How often the facts have changed since it was first asked.</param>
/// <param name="MayAnswer">Whether the viewer can be the second person.</param>
/// <param name="MayWithdraw">Whether the viewer asked for it.</param>
/// <param name="Refused">Why it can no longer be done, or nothing.</param>
public sealed record ApprovalWire(
    Guid Id,
    ApprovalState State,
    string Deed,
    long Site,
    string Title,
    string? Address,
    string Host,
    PersonWire By,
    string? Reason,
    string Because,
    DateTimeOffset AskedAt,
    DateOnly Through,
    int Renewed,
    bool MayAnswer,
    bool MayWithdraw,
    PlanWire? Plan,
    IReadOnlyList<string> Refused
);

public sealed record GiveWire(string Fingerprint);

public sealed record ReasonWire(string? Reason = null);

internal static class ApprovalEndpoints
{
    public static void MapApprovals(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/approvals/{approval:guid}").WithTags("Approvals");
        api.MapGet("", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("approval")
            .WithSummary(
                "A deed that waits for a second person, and what it would come to today: for those who see everything, and for who asked."
            );
        api.MapPost("/give", Give)
            .RequireAuthorization(Policies.Administer)
            .WithName("giveApproval")
            .WithSummary(
                "Agrees as the second person; the deed is done. 409 with the new plan, asked anew, where the facts have changed."
            );
        api.MapPost("/turn-down", TurnDown)
            .RequireAuthorization(Policies.Administer)
            .WithName("turnDownApproval")
            .WithSummary("Does not agree.");
        api.MapPost("/withdraw", Withdraw)
            .RequireAuthorization(Policies.Act)
            .WithName("withdrawApproval")
            .WithSummary("Takes back what one asked for.");
    }

    private static async Task<Results<Ok<ApprovalWire>, ProblemHttpResult>> Look(
        Guid approval,
        HttpContext context,
        ApprovalDesk desk
    ) =>
        await desk.Look(new ApprovalId(approval)) is { } found
        && (
            Viewer.Of(context).Role is Store.Role.Administrator or Store.Role.Auditor
            || found.Approval.By == Viewer.Of(context).Person
        )
            ? TypedResults.Ok(Wire(found.Approval, found.Decision, found.Facts, Viewer.Of(context)))
            : NotThere();

    private static async Task<ApprovalAnswer> Give(Guid approval, GiveWire wish, HttpContext context, ApprovalDesk desk) =>
        Answer(await desk.Give(new ApprovalId(approval), wish.Fingerprint, Viewer.Of(context)), context);

    private static async Task<ApprovalAnswer> TurnDown(Guid approval, ReasonWire wish, HttpContext context, ApprovalDesk desk) =>
        Answer(await desk.TurnDown(new ApprovalId(approval), Carrying.Reason(wish.Reason), Viewer.Of(context)), context);

    private static async Task<ApprovalAnswer> Withdraw(Guid approval, HttpContext context, ApprovalDesk desk) =>
        Answer(await desk.Withdraw(new ApprovalId(approval), Viewer.Of(context)), context);

    public static ApprovalWire Wire(Approval approval, Decision decision, DeedFacts facts, Viewer viewer) =>
        new(
            approval.Id.Value,
            approval.State,
            approval.Deed,
            approval.Site.Value,
            facts.Site.Title,
            facts.Site.Address.Has(out var address) ? address : null,
            facts.Site.Host,
            PersonWire.Of(approval.By, facts.Roll),
            approval.Reason,
            approval.Because,
            approval.AskedAt,
            approval.Through,
            approval.Renewed,
            viewer.Role == Store.Role.Administrator && approval.MayBeAnsweredBy(viewer.Person),
            approval.State == ApprovalState.Asked && approval.By == viewer.Person,
            decision is Decision.Plan plan ? PlanWire.Of(plan, facts) : null,
            decision is Decision.Refusal(var reasons) ? reasons : []
        );

    private static ApprovalAnswer Answer(ApprovalResult result, HttpContext context) =>
        result switch
        {
            ApprovalResult.Carried(var deed) => Carrying.Answer(deed, context),
            ApprovalResult.Done(var place) => Carrying.Answer(new DeedResult.Done(place, null, null, null), context),
            ApprovalResult.Renewed(var plan, var facts) => TypedResults.Conflict(PlanWire.Of(plan, facts)),
            ApprovalResult.Refused(var reasons) => TypedResults.UnprocessableEntity(new RefusalWire(reasons)),
            _ => NotThere(),
        };

    private static ProblemHttpResult NotThere() =>
        TypedResults.Problem(statusCode: 404, title: "There is nothing that waits for a second person here.");
}
