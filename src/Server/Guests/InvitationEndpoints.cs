using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Work;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Guests;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using PreviewResult = Results<Ok<Preview>, ProblemHttpResult>;

/// <param name="Mail">The address of the guest.</param>
/// <param name="Through">The last day of the access.</param>
/// <param name="Sponsor">The mail address of the member of staff who answers for the guest; the viewer if left out.</param>
public sealed record InvitationPlanRequest(
    string Mail,
    Power Power,
    DateOnly Through,
    string? Sponsor = null,
    string? Reason = null
);

/// <param name="Fingerprint">The fingerprint of the previewed plan: a different effect is refused.</param>
public sealed record StartInvitationRequest(
    string Mail,
    Power Power,
    DateOnly Through,
    string Fingerprint,
    string? Sponsor = null,
    string? Reason = null
)
{
    /// <summary>The same without the fingerprint.</summary>
    internal InvitationPlanRequest Planned => new(Mail, Power, Through, Sponsor, Reason);
}

/// <param name="Fingerprint">The fingerprint of the previewed plan: a different effect is refused.</param>
public sealed record WithdrawInvitationRequest(string Fingerprint);

/// <summary>An invitation, with what has become of it.</summary>
/// <param name="Guest">Null while nobody in the register has the address.</param>
/// <param name="StoppedBy">What stops it, in sentences; empty once it is sent.</param>
/// <param name="Words">The latest message of the host; null if it has none.</param>
/// <param name="SentAt">When the host confirmed it.</param>
/// <param name="ExpiresAfter">The last day on which the guest can sign in for the first time; null once that is settled, and where the
/// host does not report it.</param>
public sealed record InvitationResponse(
    Guid Id,
    SiteNameResponse Site,
    string Mail,
    PersonResponse? Guest,
    Power Power,
    DateOnly Through,
    PersonResponse Sponsor,
    bool SponsorHasLeft,
    PersonResponse By,
    DateTimeOffset AskedAt,
    string? Reason,
    InvitationState State,
    IReadOnlyList<string> StoppedBy,
    string? Words,
    DateTimeOffset? SentAt,
    DateOnly? ExpiresAfter,
    bool IsOpen
);

internal static class InvitationEndpoints
{
    public static void MapInvitations(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Guests");
        api.MapGet("/sites/{site:long}/invitations", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("invitations")
            .WithSummary("The invitations of guests to a site, with what has become of each.");
        api.MapPost("/sites/{site:long}/invitations/plan", PlanInvite)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planInvitation")
            .WithSummary("Who the guest is, what stops them, and what follows; nothing is sent.");
        api.MapPost("/sites/{site:long}/invitations", Invite)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.GuestInvite)
            .WithName("inviteGuest")
            .WithSummary(
                "Invites a guest. The invitation waits while something stops the guest, and is sent by itself afterwards."
            );
        api.MapPost("/invitations/{invitation:guid}/withdraw/plan", PlanWithdraw)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planWithdrawInvitation")
            .WithSummary("The plan to withdraw an invitation, with the access that it takes back.");
        api.MapPost("/invitations/{invitation:guid}/withdraw", Withdraw)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.InvitationWithdraw)
            .WithName("withdrawInvitation")
            .WithSummary("Withdraws an invitation that was not accepted; access that it gave is removed at the host.");
    }

    private static async Task<Results<Ok<IReadOnlyList<InvitationResponse>>, ProblemHttpResult>> Look(
        long site,
        SeenRegister register,
        Database database
    )
    {
        if (register.Visible.Find(new SiteId(site)) is not { } line)
        {
            return ActionEndpoint.NotThere("site");
        }

        var directory = register.State.PeopleDirectory;
        var states = await database.Read(async connection =>
            await connection.StatesOf(await connection.InvitationsTo(new SiteId(site)), directory.Today)
        );
        return TypedResults.Ok<IReadOnlyList<InvitationResponse>>([.. states.Select(one => Of(one, line.Title, directory))]);
    }

    public static InvitationResponse Of(FollowedInvitation followed, string title, PeopleDirectory directory)
    {
        var (invitation, state, sent, isReported) = followed;
        return new InvitationResponse(
            invitation.Id.Value,
            new SiteNameResponse(invitation.Site.Value, title),
            invitation.Mail,
            directory.ByMail.TryGetValue(invitation.Mail.ToLowerInvariant(), out var guest)
                ? PersonResponse.Of(guest, directory)
                : null,
            invitation.Power,
            invitation.Through,
            PersonResponse.Of(invitation.Sponsor, directory),
            !directory.IsHere(invitation.Sponsor),
            PersonResponse.Of(invitation.By, directory),
            invitation.AskedAt,
            invitation.Reason,
            state,
            state == InvitationState.Waiting ? invitation.StoppedBy : [],
            state is InvitationState.Sending or InvitationState.NotSent ? sent?.Words : null,
            sent?.ConfirmedAt,
            state == InvitationState.Sent && isReported && sent?.ConfirmedAt is { } at
                ? directory.Time.DayOf(at).AddDays(Invitation.AcceptWithin)
                : null,
            state.IsOpen()
        );
    }

    private static Task<PreviewResult> PlanInvite(long site, InvitationPlanRequest request, HttpContext context) =>
        context.PlanOf(Inviting(site, request, context));

    private static Task<ActionAnswer> Invite(long site, StartInvitationRequest request, HttpContext context) =>
        context.Carry(Inviting(site, request.Planned, context), request.Fingerprint, request);

    private static Task<PreviewResult> PlanWithdraw(Guid invitation, HttpContext context) =>
        context.PlanOf(Withdrawing(invitation, context));

    private static Task<ActionAnswer> Withdraw(Guid invitation, WithdrawInvitationRequest request, HttpContext context) =>
        context.Carry(Withdrawing(invitation, context), request.Fingerprint, request);

    private static SiteAction Inviting(long site, InvitationPlanRequest asked, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        var request = new InviteGuestRequest(
            asked.Mail.Replace('\0', '\uFFFD'),
            asked.Power,
            asked.Through,
            asked.Sponsor?.Replace('\0', '\uFFFD'),
            SiteActionAnswers.Reason(asked.Reason)
        );
        return new SiteAction(ActionName.GuestInvite, site, viewer, (facts, id) =>
            InviteGuest.Decide(facts, request, new InvitationId(id), viewer.Actor())
        )
        {
            Request = request,
            Reason = request.Reason,
            WithNeighbours = false,
            AlsoWakes = [WorkKind.Invitations],
        };
    }

    private static SiteAction Withdrawing(Guid id, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        (Invitation Invitation, InvitationState State)? found = null;
        return new SiteAction(
            ActionName.InvitationWithdraw,
            async facts => (await facts.Connection.Invitation(new InvitationId(id)))?.Site,
            viewer,
            (facts, change) =>
                InviteGuest.End(
                    facts,
                    found!.Value.Invitation,
                    found.Value.State,
                    InvitationEnding.Withdrawn,
                    new ChangeId(change),
                    viewer.Actor()
                )
        )
        {
            What = "invitation",
            WithNeighbours = false,
            Completing = async (facts, of) =>
            {
                var invitation = (await facts.Connection.Invitation(new InvitationId(id)))!;
                found = (invitation, await facts.Connection.StateOf(invitation, of.PeopleDirectory.Today));
                return of;
            },
        };
    }
}
