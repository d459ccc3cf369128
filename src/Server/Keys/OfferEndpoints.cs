using AtticLedger.Core.Deeds;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Keys;

using CarryResult = Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>;
using PreviewResult = Results<Ok<PreviewWire>, ProblemHttpResult>;

/// <param name="Giver">Whose key; null where nobody holds one.</param>
public sealed record OfferPlanWire(long To, GiverAfter After, long? Giver = null, string? Reason = null);

/// <param name="Password">The giver confirms afresh who they are.</param>
public sealed record OfferWishWire(
    long To,
    GiverAfter After,
    string Password,
    string Fingerprint,
    long? Giver = null,
    string? Reason = null
);

/// <param name="Link">The token of the mail's link, where it is answered through it: the link is used up.</param>
public sealed record AnswerWire(string Fingerprint, string? Reason = null, string? Link = null);

/// <summary>An answer that changes nothing at the host, so there is nothing to have seen before.</summary>
public sealed record NoWire(string? Reason = null, string? Link = null);

/// <summary>What an offer comes to, step by step: done ones carry an instant.</summary>
public sealed record StepDoneWire(string Step, DateTimeOffset? At);

/// <param name="MayAnswer">Whether the viewer can countersign or decline it.</param>
/// <param name="MayWithdraw">Whether the viewer can take it back.</param>
/// <param name="Receipt">Before and after, grant by grant, once it is switched.</param>
/// <param name="Remains">What the former owner keeps through other ways.</param>
public sealed record OfferWire(
    Guid Id,
    OfferState State,
    long Site,
    string Title,
    string? Address,
    string Host,
    PersonWire To,
    PersonWire? Giver,
    PersonWire By,
    PersonWire? Second,
    GiverAfter After,
    string? Reason,
    DateTimeOffset OfferedAt,
    DateOnly Through,
    bool MayAnswer,
    bool MayWithdraw,
    string? Words,
    IReadOnlyList<StepDoneWire> Steps,
    IReadOnlyList<string> Receipt,
    IReadOnlyList<string> Remains,
    PlanWire? Plan,
    IReadOnlyList<string> Refused
);

internal static class OfferEndpoints
{
    public static void MapOffers(this IEndpointRouteBuilder app)
    {
        var sites = app.MapGroup("/api/sites/{site:long}").WithTags("Keys").RequireAuthorization(Policies.Act);
        sites
            .MapPost("/offer/plan", Plan)
            .WithName("planOffer")
            .WithSummary("What offering a key would come to once it is accepted.");
        sites
            .MapPost("/offer", Offer)
            .WithName("offerKey")
            .WithSummary("Offers a key, confirmed afresh with the password; in another's place it waits for a second person.");
        sites
            .MapPost("/ask-owners/plan", PlanAsk)
            .WithName("planAskOwners")
            .WithSummary("Whom asking the leaving owners would reach.");
        sites
            .MapPost("/ask-owners", AskThem)
            .WithName("askOwners")
            .WithSummary("Asks the leaving owners by mail to hand their keys over.");
        var offers = app.MapGroup("/api/offers/{offer:guid}").WithTags("Keys").RequireAuthorization(Policies.Read);
        offers
            .MapGet("", Look)
            .WithName("offer")
            .WithSummary("An offer, for whom it concerns: what it would come to, how far it is, its receipt.");
        offers
            .MapPost("/countersign", Countersign)
            .RequireAuthorization(Policies.Act)
            .WithName("countersign")
            .WithSummary("The recipient accepts; the host is asked to switch.");
        offers
            .MapPost("/decline", Decline)
            .RequireAuthorization(Policies.Act)
            .WithName("declineOffer")
            .WithSummary("The recipient declines.");
        offers
            .MapPost("/withdraw", Withdraw)
            .RequireAuthorization(Policies.Act)
            .WithName("withdrawOffer")
            .WithSummary("The offer is taken back.");
    }

    private static Task<PreviewResult> Plan(long site, OfferPlanWire wish, HttpContext context, DeedDesk desk) =>
        desk.PlanOf(Offering(site, wish.To, wish.Giver, wish.After, wish.Reason, context));

    private static async Task<CarryResult> Offer(
        long site,
        OfferWishWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk,
        SignIn signIn
    )
    {
        var offering = Offering(site, wish.To, wish.Giver, wish.After, wish.Reason, context);
        return await desk.Preview(offering) is DeedResult.NotSeen ? Carrying.NotThere()
            : await signIn.Confirms(Viewer.Of(context), wish.Password)
                ? await desk.Carry(offering, wish.Fingerprint, key, wish with { Password = "" }, context)
            : TypedResults.UnprocessableEntity(new RefusalWire(["The password is not right. Type the one you sign in with."]));
    }

    private static Task<PreviewResult> PlanAsk(long site, HttpContext context, DeedDesk desk) =>
        desk.PlanOf(Asking(site, null, context));

    private static Task<CarryResult> AskThem(
        long site,
        AnswerWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    ) => desk.Carry(Asking(site, wish.Reason, context), wish.Fingerprint, key, wish, context);

    private static async Task<Results<Ok<OfferWire>, ProblemHttpResult>> Look(
        Guid offer,
        HttpContext context,
        Database database
    ) =>
        await database.Read(async connection =>
            await connection.Offer(new OfferId(offer)) is { } found
            && await database.Facts(connection, _ => new Sight.Everything(), found.Site) is { } facts
            && Concerns(found, facts, Viewer.Of(context))
                ? Wire(found, facts, found.Order is { } order ? await connection.Order(order) : null, Viewer.Of(context))
                : null
        )
            is { } wire
            ? TypedResults.Ok(wire)
            : NotThere();

    private static Task<CarryResult> Countersign(
        Guid offer,
        AnswerWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk,
        Database database
    ) =>
        Answer(offer, wish, wish.Fingerprint, wish.Link, key, context, desk, database, (facts, open, id, doer) =>
            HandOver.Countersign(facts, open, new OrderId(id), doer)
        );

    private static Task<CarryResult> Decline(
        Guid offer,
        NoWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk,
        Database database
    ) =>
        Answer(offer, wish, Decision.Plan.NothingPredicted, wish.Link, key, context, desk, database, (facts, open, _, doer) =>
            HandOver.Decline(facts, open, Carrying.Reason(wish.Reason), doer)
        );

    private static Task<CarryResult> Withdraw(
        Guid offer,
        NoWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk,
        Database database
    ) =>
        Answer(offer, wish, Decision.Plan.NothingPredicted, wish.Link, key, context, desk, database, (facts, open, _, doer) =>
            HandOver.Withdraw(facts, open, doer)
        );

    // The offer is read again in the transaction that answers it.
    private static async Task<CarryResult> Answer<TWish>(
        Guid id,
        TWish wish,
        string fingerprint,
        string? link,
        string? key,
        HttpContext context,
        DeedDesk desk,
        Database database,
        Func<DeedFacts, Offer, Guid, Doer, Decision> decide
    )
    {
        var viewer = Viewer.Of(context);
        var found = await database.Read(async connection =>
            await connection.Offer(new OfferId(id)) is { } offer
            && await database.Facts(connection, _ => new Sight.Everything(), offer.Site) is { } facts
            && Concerns(offer, facts, viewer)
                ? offer
                : null
        );
        if (found is null)
        {
            return NotThere();
        }

        return await desk.Carry(
            new WishedDeed(
                found.Site,
                viewer.Doer(),
                _ => new Sight.Everything(),
                (facts, order) =>
                    decide(
                        facts,
                        facts.Offers.FirstOrDefault(open => open.Id == found.Id) ?? found with { State = OfferState.Declined },
                        order,
                        viewer.Doer()
                    ),
                Link: link
            ),
            fingerprint,
            key,
            wish,
            context
        );
    }

    private static WishedDeed Offering(long site, long to, long? giver, GiverAfter after, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        var wish = new OfferWish(new PersonId(to), giver is { } id ? new PersonId(id) : null, after, Carrying.Reason(reason));
        return new WishedDeed(
            new SiteId(site),
            viewer.Doer(),
            viewer.SightOn,
            (facts, offer) => HandOver.Offer(facts, wish, new OfferId(offer), viewer.Doer()),
            HandOver.Deed,
            wish,
            wish.Reason,
            WithNeighbours: false
        );
    }

    private static WishedDeed Asking(long site, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new WishedDeed(
            new SiteId(site),
            viewer.Doer(),
            viewer.SightOn,
            (facts, _) => AskOwners.Decide(facts, Carrying.Reason(reason), viewer.Doer()),
            WithNeighbours: false
        );
    }

    // The recipient sees the one site that they are offered; others need sight of it.
    private static bool Concerns(Offer offer, DeedFacts facts, Viewer viewer) =>
        viewer.Person == offer.To
        || viewer.Person == offer.By
        || viewer.Person == offer.Giver
        || viewer.SightOn(facts.Roll).Sees(facts.Site);

    public static OfferWire Wire(Offer offer, DeedFacts facts, Order? order, Viewer viewer)
    {
        var roll = facts.Roll;
        var doer = viewer.Doer();
        var mine =
            viewer.MayAct && viewer.Person == offer.To && OfferStates.After(offer.State, OfferEvent.Countersign) is not null;
        var today = mine ? HandOver.Countersign(facts, offer, default, doer) : null;
        return new OfferWire(
            offer.Id.Value,
            offer.State,
            offer.Site.Value,
            facts.Site.Title,
            facts.Site.Address.Has(out var address) ? address : null,
            facts.Site.Host,
            PersonWire.Of(offer.To, roll),
            offer.Giver is { } giver ? PersonWire.Of(giver, roll) : null,
            PersonWire.Of(offer.By, roll),
            offer.Second is { } second ? PersonWire.Of(second, roll) : null,
            offer.After,
            offer.Reason,
            offer.OfferedAt,
            offer.Through,
            mine,
            viewer.MayAct && HandOver.Withdraw(facts, offer, doer) is Decision.Plan,
            offer.Words,
            [
                new StepDoneWire("offered", offer.OfferedAt),
                new StepDoneWire(
                    "countersigned",
                    offer.State is OfferState.Switching or OfferState.HandedOver or OfferState.NotDone ? offer.AnsweredAt : null
                ),
                new StepDoneWire("switched", order?.ConfirmedAt),
                new StepDoneWire("seen at the host", order?.SeenAt),
            ],
            order is not null && order.State.HadEffect() ? [.. HandOver.Receipt(order, roll)] : [],
            offer.State == OfferState.HandedOver ? [.. HandOver.Kept(facts, offer)] : [],
            today is Decision.Plan plan ? PlanWire.Of(plan, facts) : null,
            today is Decision.Refusal(var reasons) ? reasons : []
        );
    }

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such offer.");
}
