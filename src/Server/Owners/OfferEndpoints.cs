using AtticLedger.Core.Actions;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Owners;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using PreviewResult = Results<Ok<Preview>, ProblemHttpResult>;

/// <param name="CurrentOwner">The owner who hands over; null if the site has no owner, or for an administrator who adds one.</param>
public sealed record OfferPlanRequest(long To, CurrentOwnerAfter After, long? CurrentOwner = null, string? Reason = null);

/// <param name="Password">The password, entered again to confirm.</param>
public sealed record MakeOfferRequest(
    long To,
    CurrentOwnerAfter After,
    string Password,
    string Fingerprint,
    long? CurrentOwner = null,
    string? Reason = null
);

/// <param name="Link">The token of the link in the mail, if answered through it: that uses the link up.</param>
public sealed record OfferAnswerRequest(string Fingerprint, string? Reason = null, string? Link = null);

/// <summary>A decline; it changes nothing at the host, so it needs no preview.</summary>
public sealed record DeclineOfferRequest(string? Reason = null, string? Link = null);

/// <summary>The steps of an offer; completed steps have an instant.</summary>
public sealed record StepDone(string Step, DateTimeOffset? At);

/// <param name="MayAnswer">True if the viewer can accept or decline it.</param>
/// <param name="MayWithdraw">True if the viewer can undo it.</param>
/// <param name="Receipt">Before and after, grant by grant, once completed.</param>
/// <param name="Unaffected">The access that the former owner keeps through other grants.</param>
public sealed record OfferResponse(
    Guid Id,
    OfferState State,
    long Site,
    string Title,
    string? Address,
    string Host,
    PersonResponse To,
    PersonResponse? CurrentOwner,
    PersonResponse By,
    PersonResponse? Second,
    CurrentOwnerAfter After,
    string? Reason,
    DateTimeOffset OfferedAt,
    DateOnly Through,
    bool MayAnswer,
    bool MayWithdraw,
    string? Words,
    IReadOnlyList<StepDone> Steps,
    IReadOnlyList<string> Receipt,
    IReadOnlyList<string> Unaffected,
    PlanResponse? Plan,
    IReadOnlyList<RemarkResponse> Refused
);

internal static class OfferEndpoints
{
    public static void MapOffers(this IEndpointRouteBuilder app)
    {
        var sites = app.MapGroup("/api/sites/{site:long}").WithTags("Owners").RequireAuthorization(Policies.Act);
        sites
            .MapPost("/offer/plan", Plan)
            .Previews()
            .WithName("planOffer")
            .WithSummary("The plan of a handover, or of another owner: its effect once the offer is accepted.");
        sites
            .MapPost("/offer", Offer)
            .Carries(ActionName.OwnerOffer)
            .WithName("offerSite")
            .WithSummary(
                "Offers a site to a new owner, or to one more, confirmed with the password; in another owner's place it waits for a second person."
            );
        sites
            .MapPost("/ask-owners/plan", PlanAsk)
            .Previews()
            .WithName("planAskOwners")
            .WithSummary("The leaving owners who would get the mail.");
        sites
            .MapPost("/ask-owners", AskThem)
            .Carries(ActionName.OwnersAsk)
            .WithName("askOwners")
            .WithSummary("Asks the leaving owners by mail to hand their sites over.");
        var offers = app.MapGroup("/api/offers/{offer:guid}").WithTags("Owners").RequireAuthorization(Policies.Read);
        offers
            .MapGet("", Look)
            .WithName("offer")
            .WithSummary("An offer, for the people concerned: its effect, progress and receipt.");
        offers
            .MapPost("/accept", Accept)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.OfferAccept)
            .WithName("acceptOffer")
            .WithSummary("The recipient accepts; the change of owner at the host is queued.");
        offers
            .MapPost("/decline", Decline)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.OfferDecline)
            .WithName("declineOffer")
            .WithSummary("The recipient declines.");
        offers
            .MapPost("/withdraw", Withdraw)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.OfferWithdraw)
            .WithName("withdrawOffer")
            .WithSummary("Withdraws the offer.");
    }

    private static Task<PreviewResult> Plan(long site, OfferPlanRequest request, HttpContext context) =>
        context.PlanOf(Offering(site, request.To, request.CurrentOwner, request.After, request.Reason, context));

    private static async Task<ActionAnswer> Offer(
        long site,
        MakeOfferRequest request,
        HttpContext context,
        ActionExecutor executor,
        SignIn signIn
    )
    {
        var offering = Offering(site, request.To, request.CurrentOwner, request.After, request.Reason, context);
        return await executor.Preview(offering) is Decided<PlanOnSite>.NotSeen ? ActionEndpoint.NotThere("site")
            : await signIn.Confirms(Viewer.Of(context), request.Password)
                ? await context.Carry(offering, request.Fingerprint, request with { Password = "" })
            : TypedResults.UnprocessableEntity(RefusalResponse.Of(new PasswordWrong()));
    }

    private static Task<PreviewResult> PlanAsk(long site, HttpContext context) => context.PlanOf(Asking(site, null, context));

    private static Task<ActionAnswer> AskThem(long site, OfferAnswerRequest request, HttpContext context) =>
        context.Carry(Asking(site, request.Reason, context), request.Fingerprint, request);

    private static async Task<Results<Ok<OfferResponse>, ProblemHttpResult>> Look(
        Guid offer,
        HttpContext context,
        Database database
    ) =>
        await database.Read(async connection =>
            await connection.Offer(new OfferId(offer)) is { } found
            && await FactReader.Of(database, connection).OfSite(_ => new Scope.Everything(), found.Site) is { } facts
            && Concerns(found, facts, Viewer.Of(context))
                ? ToResponse(
                    found,
                    facts,
                    found.HostChange is { } hostChange ? await connection.HostChange(hostChange) : null,
                    Viewer.Of(context)
                )
                : null
        )
            is { } response
            ? TypedResults.Ok(response)
            : NotThere();

    private static Task<ActionAnswer> Accept(Guid offer, OfferAnswerRequest request, HttpContext context) =>
        context.Carry(
            Answering(ActionName.OfferAccept, offer, request.Link, context, (facts, open, id, actor) =>
                HandOver.Accept(facts, open, new ChangeId(id), actor)
            ),
            request.Fingerprint,
            request
        );

    private static Task<ActionAnswer> Decline(Guid offer, DeclineOfferRequest request, HttpContext context) =>
        context.Carry(
            Answering(ActionName.OfferDecline, offer, request.Link, context, (facts, open, _, actor) =>
                HandOver.Decline(facts, open, SiteActionAnswers.Reason(request.Reason), actor)
            ),
            null,
            request
        );

    private static Task<ActionAnswer> Withdraw(Guid offer, DeclineOfferRequest request, HttpContext context) =>
        context.Carry(
            Answering(ActionName.OfferWithdraw, offer, request.Link, context, (facts, open, _, actor) =>
                HandOver.Withdraw(facts, open, actor)
            ),
            null,
            request
        );

    // The offer is read in the transaction that answers it; one that is no longer open is told as it stands.
    private static SiteAction Answering(
        ActionName name,
        Guid id,
        string? link,
        HttpContext context,
        Func<ActionFacts, Offer, Guid, Actor, Decision> decide
    )
    {
        var viewer = Viewer.Of(context);
        Offer? found = null;
        return new SiteAction(
            name,
            async facts => (found = await facts.Connection.Offer(new OfferId(id)))?.Site,
            viewer,
            (facts, hostChange) => decide(facts, found!, hostChange, viewer.Actor())
        )
        {
            What = "offer",
            FromLink = link,
            Sees = facts => Concerns(found!, facts, viewer),
        };
    }

    private static SiteAction Offering(
        long site,
        long to,
        long? currentOwner,
        CurrentOwnerAfter after,
        string? reason,
        HttpContext context
    )
    {
        var viewer = Viewer.Of(context);
        var request = new OfferRequest(
            new PersonId(to),
            currentOwner is { } id ? new PersonId(id) : null,
            after,
            SiteActionAnswers.Reason(reason)
        );
        return new SiteAction(ActionName.OwnerOffer, site, viewer, (facts, offer) =>
            HandOver.Offer(facts, request, new OfferId(offer), viewer.Actor())
        )
        {
            Request = request,
            Reason = request.Reason,
            WithNeighbours = false,
        };
    }

    private static SiteAction Asking(long site, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new SiteAction(ActionName.OwnersAsk, site, viewer, (facts, _) =>
            AskOwners.Decide(facts, SiteActionAnswers.Reason(reason), viewer.Actor())
        )
        {
            WithNeighbours = false,
        };
    }

    // The recipient sees the one site offered; others need it in their scope.
    private static bool Concerns(Offer offer, ActionFacts facts, Viewer viewer) =>
        viewer.Person == offer.To
        || viewer.Person == offer.By
        || viewer.Person == offer.CurrentOwner
        || viewer.ScopeOn(facts.PeopleDirectory).Sees(facts.Site);

    public static OfferResponse ToResponse(Offer offer, ActionFacts facts, HostChange? hostChange, Viewer viewer)
    {
        var directory = facts.PeopleDirectory;
        var actor = viewer.Actor();
        var mine = viewer.MayAct && viewer.Person == offer.To && OfferStates.Table.Allows(offer.State, OfferEvent.Accept);
        var today = mine ? HandOver.Accept(facts, offer, default, actor) : null;
        return new OfferResponse(
            offer.Id.Value,
            offer.State,
            offer.Site.Value,
            facts.Site.Title,
            facts.Site.Address.Has(out var address) ? address : null,
            facts.Site.Host,
            PersonResponse.Of(offer.To, directory),
            offer.CurrentOwner is { } currentOwner ? PersonResponse.Of(currentOwner, directory) : null,
            PersonResponse.Of(offer.By, directory),
            offer.Second is { } second ? PersonResponse.Of(second, directory) : null,
            offer.After,
            offer.Reason,
            offer.OfferedAt,
            offer.Through,
            mine,
            viewer.MayAct && HandOver.Withdraw(facts, offer, actor) is Decision.Plan,
            offer.Words,
            [
                new StepDone("offered", offer.OfferedAt),
                new StepDone(
                    "accepted",
                    offer.State is OfferState.Completing or OfferState.HandedOver or OfferState.NotDone ? offer.AnsweredAt : null
                ),
                new StepDone("completed", hostChange?.ConfirmedAt),
                new StepDone("verified at the host", hostChange?.SeenAt),
            ],
            hostChange is not null && hostChange.State.HadEffect() ? [.. HandOver.Receipt(hostChange, directory)] : [],
            offer.State == OfferState.HandedOver ? RemarkSentence.Of(HandOver.Kept(facts, offer)) : [],
            today is Decision.Plan plan ? PlanResponse.Of(plan, facts) : null,
            today is Decision.Refusal(var reasons) ? RemarkResponse.Of(reasons) : []
        );
    }

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such offer.");
}
