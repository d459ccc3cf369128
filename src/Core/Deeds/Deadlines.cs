using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

public enum DeadlineKind : byte
{
    /// <summary>The last day on which a site can be brought back.</summary>
    BringBack,

    /// <summary>The last day on which an offer of a key can be answered.</summary>
    Offer,

    /// <summary>The last day on which a second person can agree.</summary>
    Approval,

    /// <summary>The last day of somebody who holds keys.</summary>
    Leaver,

    /// <summary>The last day that a plan covers.</summary>
    Plan,

    /// <summary>The last day of a way in that ends by itself.</summary>
    WayIn,

    /// <summary>The last day to do what is done by hand.</summary>
    ByHand,

    /// <summary>The last day of an excuse from a rule.</summary>
    Excuse,
}

/// <summary>A day by which something ends or is to be done.</summary>
/// <param name="Key">Names it for as long as it is the same: a calendar knows it again by that.</param>
/// <param name="Words">What it is about, in a sentence or two.</param>
/// <param name="Site">The site that it is about; null where it is about a person.</param>
/// <param name="Person">Whose last day it is.</param>
public sealed record Deadline(
    DeadlineKind Kind,
    string Key,
    DateOnly Day,
    string Title,
    string Words,
    SiteId? Site,
    PersonId? Person = null
);

/// <summary>What deadlines are read from: nothing but what the reader may see.</summary>
/// <param name="Sites">All sites that the others name.</param>
/// <param name="Seen">Those of them that the reader may look at; of the rest they know only what is offered or given to them.</param>
/// <param name="Leavers">Who leaves, with how many keys of sites that the reader may see.</param>
public sealed record DeadlineFacts(
    IReadOnlyDictionary<SiteId, SiteFacts> Sites,
    IReadOnlySet<SiteId> Seen,
    IReadOnlyList<(Stay Stay, Clock Clock)> Clocks,
    IReadOnlyList<Offer> Offers,
    IReadOnlyList<Approval> Approvals,
    IReadOnlyList<(Order Order, HandOrder Hand)> ByHand,
    IReadOnlyList<(Person Person, int Keys)> Leavers,
    Roll Roll
);

/// <summary>Every day that somebody has to know of, the soonest first.</summary>
public static class Deadlines
{
    /// <summary>How far ahead is looked: a year and a bit.</summary>
    public const int DaysAhead = 400;

    public static IReadOnlyList<Deadline> Of(DeadlineFacts facts)
    {
        var today = facts.Roll.Time.DayOf(facts.Roll.Now);
        return
        [
            .. All(facts)
                .Where(deadline => deadline.Day >= today && deadline.Day <= today.Plus(DaysAhead))
                .OrderBy(deadline => deadline.Day)
                .ThenBy(deadline => deadline.Kind)
                .ThenBy(deadline => deadline.Title, StringComparer.Ordinal)
                .ThenBy(deadline => deadline.Key, StringComparer.Ordinal),
        ];
    }

    private static IEnumerable<Deadline> All(DeadlineFacts facts)
    {
        var (roll, time) = (facts.Roll, facts.Roll.Time);
        SiteFacts? SiteOf(SiteId id) => facts.Sites.GetValueOrDefault(id);
        foreach (var (stay, clock) in facts.Clocks)
        {
            if (SiteOf(stay.Site) is { } site && clock.RecoverableUntil is { } until)
            {
                yield return new Deadline(
                    DeadlineKind.BringBack,
                    $"stay-{stay.Id}",
                    time.LastDayBefore(until),
                    $"Last day to bring back {site.Title}",
                    clock.Words(site.Host, roll.Now),
                    site.Id
                );
            }
        }

        foreach (var offer in facts.Offers.Where(offer => offer.State == OfferState.Offered))
        {
            if (SiteOf(offer.Site) is { } site)
            {
                yield return new Deadline(
                    DeadlineKind.Offer,
                    $"offer-{offer.Id}",
                    offer.Through,
                    $"The offer of {site.Title} ends",
                    $"{Name(offer.To, roll)} has not answered yet whether they take its key.",
                    site.Id
                );
            }
        }

        foreach (var approval in facts.Approvals.Where(approval => approval.State == ApprovalState.Asked))
        {
            if (SiteOf(approval.Site) is { } site)
            {
                yield return new Deadline(
                    DeadlineKind.Approval,
                    $"approval-{approval.Id}",
                    approval.Through,
                    $"A second person is asked for {site.Title}",
                    $"{Name(approval.By, roll)} has asked; nobody has answered yet.",
                    site.Id
                );
            }
        }

        foreach (var (order, hand) in facts.ByHand.Where(pair => pair.Order.State is OrderState.Asked or OrderState.Sent))
        {
            if (SiteOf(order.Site) is { } site)
            {
                yield return new Deadline(
                    DeadlineKind.ByHand,
                    $"by-hand-{order.Id}",
                    hand.Through,
                    $"To be done by hand: {site.Title}",
                    $"{Name(hand.To, roll)} has it to do at {site.Host}.",
                    site.Id
                );
            }
        }

        foreach (var (person, keys) in facts.Leavers.Where(pair => pair.Person.Day is not null))
        {
            yield return new Deadline(
                DeadlineKind.Leaver,
                $"leaver-{person.Id.Value.ToString(CultureInfo.InvariantCulture)}",
                person.Day!.Value,
                $"{person.Name}'s last day",
                $"{person.Name} holds {(keys == 1 ? "the key of one site" : $"the keys of {keys.ToString(CultureInfo.InvariantCulture)} sites")}.",
                null,
                person.Id
            );
        }

        foreach (
            var site in facts.Sites.Values.Where(site =>
                facts.Seen.Contains(site.Id) && site is { Existence: Existence.Here, Vanished: false }
            )
        )
        {
            if (site.Content.Plan.Has(out var plan))
            {
                yield return new Deadline(
                    DeadlineKind.Plan,
                    $"plan-{site.Id.Value.ToString(CultureInfo.InvariantCulture)}-{plan.Through:yyyyMMdd}",
                    plan.Through,
                    $"{(plan.Renews ? "The plan renews" : "The plan ends")}: {site.Title}",
                    $"{plan.Name}, {plan.Cost}; {plan.Next}.",
                    site.Id
                );
            }

            foreach (var excuse in site.Excuses.Where(excuse => excuse.IsInForce(roll.Now, time)))
            {
                yield return new Deadline(
                    DeadlineKind.Excuse,
                    $"excuse-{excuse.Id.ToString(CultureInfo.InvariantCulture)}",
                    excuse.Through,
                    $"An excuse ends: {site.Title}",
                    $"It is excused from {excuse.Rule.Value}: {excuse.Reason.TrimEnd('.')}.",
                    site.Id
                );
            }

            // What ends alike on one day is one line.
            foreach (
                var ending in site
                    .Expected.Or([])
                    .Where(grant => grant.Through is not null)
                    .GroupBy(grant => grant.Through!.Value)
            )
            {
                yield return new Deadline(
                    DeadlineKind.WayIn,
                    $"ways-{site.Id.Value.ToString(CultureInfo.InvariantCulture)}-{ending.Key:yyyyMMdd}",
                    ending.Key,
                    $"{(ending.Count() == 1 ? "A way in ends" : $"{ending.Count().ToString(CultureInfo.InvariantCulture)} ways in end")}: {site.Title}",
                    $"{string.Join(", ", ending.Select(grant => GrantWords.Who(grant, roll)).Distinct())}.",
                    site.Id
                );
            }
        }
    }

    private static string Name(PersonId person, Roll roll) =>
        roll.Find(person) is { Name.Length: > 0 } known ? known.Name : "Somebody whose name was erased";
}
