using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <content>Every reason why a key cannot be offered, given or answered for.</content>
public static partial class HandOver
{
    /// <summary>Why a key cannot be handed over at a site's host at all, and what to do instead; null where it can.</summary>
    public static string? NotFromHere(SiteFacts site, House house, Roll roll) =>
        house.HabitsOf(site.Host).NamesPeople
            ? null
            : $"{site.Host} lets nobody in by name, so no key can be handed over from here. {Orders.ChangeTheGroup(site, roll)}";

    private static IEnumerable<string> Refusals(DeedFacts facts, OfferWish wish, Doer doer)
    {
        if (NotFromHere(facts.Site, facts.House, facts.Roll) is { } cannot)
        {
            yield return cannot;
        }

        var roll = facts.Roll;
        foreach (
            var reason in Orders
                .NotInUse(facts)
                .Concat(Orders.TooLong(wish.Reason))
                .Concat(Orders.NotTold(facts.Site, "no key can be handed over yet."))
        )
        {
            yield return reason;
        }

        foreach (var reason in NotFit(facts, wish.To, doer))
        {
            yield return reason;
        }

        if (facts.Offers.FirstOrDefault(offer => offer.Giver == wish.Giver) is { } open)
        {
            yield return $"This key is offered to {Name(roll, open.To)} already, through {Date(open.Through)}. Withdraw that offer first.";
        }

        if (wish.Giver is not { } giver)
        {
            if (KeyHolders.Of(facts.Site, roll, facts.House.FitDays).Holders.Any(holder => holder.IsFit))
            {
                yield return "The site has a fit owner: the key is theirs to offer.";
            }
        }
        else if (!Holds(facts.Site, giver))
        {
            yield return $"{Name(roll, giver)} does not hold the key by name. A key held through a group is handed over by changing the group at {facts.Site.Host}.";
        }

        if (doer.As == Capacity.Owner && wish.Giver != doer.Person)
        {
            yield return "You can offer your own key, not somebody else's.";
        }

        if (wish.Giver == doer.Person)
        {
            yield break;
        }

        if (wish.Giver is { } held && CanGive(roll, held))
        {
            yield return $"{Name(roll, held)} is still here and has to offer it: ask for that instead.";
        }

        if (wish.Reason is null)
        {
            yield return "Giving a key in the place of its holder needs a reason.";
        }
    }

    // Gone, outside or a service: somebody who cannot sign in and offer it.
    private static bool CanGive(Roll roll, PersonId person) => roll.IsHere(person);

    private static IEnumerable<string> NotFit(DeedFacts facts, PersonId to, Doer doer)
    {
        var roll = facts.Roll;
        if (roll.Find(to) is not { } person)
        {
            yield return "The person it is offered to is not on the register.";
            yield break;
        }

        foreach (
            var reason in Successors.WhyNot(
                person,
                KeyHolders.Of(facts.Site, roll, facts.House.FitDays),
                roll,
                facts.House.FitDays,
                doer.KnowsDays
            )
        )
        {
            yield return $"{person.Name} {reason}.";
        }
    }

    private static IEnumerable<string> NotForThem(Offer offer, OfferEvent answer, Doer doer)
    {
        if (doer.Person != offer.To)
        {
            yield return "This offer was made to somebody else.";
        }
        else if (OfferStates.After(offer.State, answer) is null)
        {
            yield return Over(offer);
        }
    }

    private static string Over(Offer offer) =>
        offer.State switch
        {
            OfferState.Lapsed => $"The offer lapsed: it could be answered through {Date(offer.Through)}.",
            OfferState.Withdrawn => "The offer was taken back.",
            OfferState.Declined => "The offer was declined.",
            OfferState.Void => "The offer came to nothing: the site was put away, or the key can no longer be taken.",
            OfferState.Switching => "The offer was accepted; the host is being asked to switch.",
            _ => "The offer is answered already.",
        };
}
