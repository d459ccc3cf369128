using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <content>Every reason why a handover cannot be offered, approved or answered.</content>
public static partial class HandOver
{
    /// <summary>Why a site of this host cannot be handed over at all, and what to do instead; null if it can.</summary>
    public static string? NotFromHere(SiteFacts site, Organisation organisation, PeopleDirectory directory) =>
        organisation.CapabilitiesOf(site.Host).NamesPeople
            ? null
            : $"{site.Host} has access by groups only, so a site cannot be handed over from here. {HostChanges.ChangeTheGroup(site, directory)}";

    private static IEnumerable<string> Refusals(ActionFacts facts, OfferRequest request, Actor actor)
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
                .Concat(HostChanges.NotReported(facts.Site, "the site cannot be handed over yet."))
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
            yield return $"This site is already offered to {Name(directory, open.To)} until the end of {Date(open.Through)}. Withdraw that offer first.";
        }

        if (request.CurrentOwner is not { } currentOwner)
        {
            if (SiteOwners.Of(facts.Site, directory, facts.Organisation.ActiveDays).Holders.Any(holder => holder.IsActive))
            {
                yield return "The site has an active owner. Only an owner can offer it.";
            }
        }
        else if (!Holds(facts.Site, currentOwner))
        {
            yield return $"{Name(directory, currentOwner)} does not own the site by name. To change an owner in a group, change the group at {facts.Site.Host}.";
        }

        if (actor.As == Capacity.Owner && request.CurrentOwner != actor.Person)
        {
            yield return "You can offer your own sites only.";
        }

        if (request.CurrentOwner == actor.Person)
        {
            yield break;
        }

        if (request.CurrentOwner is { } held && CanGive(directory, held))
        {
            yield return $"{Name(directory, held)} is still active and has to offer it. Ask them by mail instead.";
        }

        if (request.Reason is null)
        {
            yield return "Assigning an owner in another's place needs a reason.";
        }
    }

    // Has left, is from outside, or is a service: cannot sign in and offer it.
    private static bool CanGive(PeopleDirectory directory, PersonId person) => directory.IsHere(person);

    private static IEnumerable<string> NotActive(ActionFacts facts, PersonId to, Actor actor)
    {
        var directory = facts.PeopleDirectory;
        if (directory.Find(to) is not { } person)
        {
            yield return "The new owner is not in the register.";
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
            yield return $"{person.Name} {reason}.";
        }
    }

    private static IEnumerable<string> NotForThem(Offer offer, OfferEvent answer, Actor actor)
    {
        if (actor.Person != offer.To)
        {
            yield return "This offer is for another person.";
        }
        else if (OfferStates.After(offer.State, answer) is null)
        {
            yield return Over(offer);
        }
    }

    private static string Over(Offer offer) =>
        offer.State switch
        {
            OfferState.Lapsed => $"The offer lapsed at the end of {Date(offer.Through)}.",
            OfferState.Withdrawn => "The offer was withdrawn.",
            OfferState.Declined => "The offer was declined.",
            OfferState.Void => "The offer is void: the site was moved to the attic, or can no longer be handed over.",
            OfferState.Completing => "The offer is accepted already; the change of owner is under way.",
            _ => "The offer is answered already.",
        };
}
