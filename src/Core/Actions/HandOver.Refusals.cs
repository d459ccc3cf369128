using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <content>Every reason why a handover cannot be offered, approved or answered.</content>
public static partial class HandOver
{
    /// <summary>Why a site of this host cannot be handed over at all, and what to do instead; null if it can.</summary>
    public static Remark? NotFromHere(SiteFacts site, Organisation organisation, PeopleDirectory directory) =>
        organisation.CapabilitiesOf(site.Host).NamesPeople
            ? null
            : new HandoverByGroup(site.Host, HostChanges.OwningGroup(site, directory));

    private static IEnumerable<Remark> Refusals(ActionFacts facts, OfferRequest request, Actor actor)
    {
        if (NotFromHere(facts.Site, facts.Organisation, facts.PeopleDirectory) is { } cannot)
        {
            yield return cannot;
        }

        var directory = facts.PeopleDirectory;
        foreach (
            var reason in HostChanges
                .NotInUse(facts)
                .Concat(HostChanges.TooLong(request.Reason))
                .Concat(HostChanges.NotReported(facts.Site, AccessStep.HandOver))
        )
        {
            yield return reason;
        }

        foreach (var reason in NotActive(facts, request.To, actor))
        {
            yield return reason;
        }

        if (facts.Offers.FirstOrDefault(offer => offer.CurrentOwner == request.CurrentOwner) is { } open)
        {
            yield return new OfferOpen(Name(directory, open.To), open.Through);
        }

        if (request.CurrentOwner is not { } currentOwner)
        {
            if (
                request.After != CurrentOwnerAfter.Owns
                && SiteOwners.Of(facts.Site, directory, facts.Organisation.ActiveDays).ActiveAtLeast > 0
            )
            {
                yield return new OwnerIsActive();
            }
        }
        else if (!Holds(facts.Site, currentOwner))
        {
            yield return new OwnerByGroup(Name(directory, currentOwner), facts.Site.Host);
        }

        if (
            request is { After: CurrentOwnerAfter.Stays, CurrentOwner: { } former }
            && directory.PlaceOf(former) is { } formerPlace
            && directory.Standings[formerPlace] == People.Standing.Left
        )
        {
            yield return new FormerOwnerLeft(Name(directory, former));
        }

        if (actor.As == Capacity.Owner && request.CurrentOwner != actor.Person)
        {
            yield return new OwnerOffersOnlyTheirs();
        }

        if (request.CurrentOwner == actor.Person)
        {
            yield break;
        }

        if (request is { After: not CurrentOwnerAfter.Owns, CurrentOwner: { } held } && CanGive(directory, held))
        {
            yield return new OwnerCanOffer(Name(directory, held));
        }

        if (request.Reason is null)
        {
            yield return new AssigningNeedsReason();
        }
    }

    // Has left, is from outside, or is a service: cannot sign in and offer it.
    private static bool CanGive(PeopleDirectory directory, PersonId person) => directory.IsHere(person);

    private static IEnumerable<Remark> NotActive(ActionFacts facts, PersonId to, Actor actor)
    {
        var directory = facts.PeopleDirectory;
        if (directory.Find(to) is not { } person)
        {
            yield return new NewOwnerUnknown();
            yield break;
        }

        foreach (
            var reason in Successors.WhyNot(
                person,
                SiteOwners.Of(facts.Site, directory, facts.Organisation.ActiveDays),
                directory,
                facts.Organisation.ActiveDays,
                actor.KnowsDays
            )
        )
        {
            yield return new NewOwnerIneligible(person.Name, reason.Because, reason.Day);
        }
    }

    private static IEnumerable<Remark> NotForThem(Offer offer, OfferEvent answer, Actor actor)
    {
        if (actor.Person != offer.To)
        {
            yield return new OfferOfAnother();
        }
        else if (!OfferStates.Table.Allows(offer.State, answer))
        {
            yield return Over(offer);
        }
    }

    private static Remark Over(Offer offer) =>
        offer.State switch
        {
            OfferState.Lapsed => new OfferLapsed(offer.Through),
            OfferState.Withdrawn => new OfferWithdrawn(),
            OfferState.Declined => new OfferDeclined(),
            OfferState.Void => new OfferVoid(),
            OfferState.Completing => new OfferAccepted(),
            _ => new OfferAnswered(),
        };
}
