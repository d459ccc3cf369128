using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>Offer the key of a site to somebody.</summary>
/// <param name="Giver">Whose key; null where nobody holds one.</param>
public sealed record OfferWish(PersonId To, PersonId? Giver, GiverAfter After, string? Reason);

/// <summary>
/// Handing over a key: offered by its holder, or by an administrator with a reason and a second person where the holder is
/// gone; countersigned by the very person it was offered to; switched by one order, so that there is never a moment
/// without an owner.
/// </summary>
public static partial class HandOver
{
    public const string Deed = "key.offer";

    public static Decision Offer(DeedFacts facts, OfferWish wish, OfferId id, Doer doer)
    {
        var refused = Refusals(facts, wish, doer).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var roll = facts.Roll;
        var offer = new Offer
        {
            Id = id,
            Site = facts.Site.Id,
            To = wish.To,
            Giver = wish.Giver,
            After = wish.After,
            By = doer.Person,
            Second = doer.Second,
            Reason = wish.Reason,
            OfferedAt = facts.Now,
            Through = roll.Time.DayOf(facts.Now).Plus(facts.House.OfferDays),
        };
        var until = roll.Time.EndOf(offer.Through);
        var byOther = wish.Giver != doer.Person;
        return new Decision.Plan(
            [],
            [Entry("offered", facts, offer, doer.InJournal)],
            Foresee.Change(facts.Site, Switch(facts, offer), facts.House, facts.Rules, roll)
        )
        {
            Offers = [offer],
            Remains = [.. Kept(facts, offer)],
            Along = [.. Along(facts.Site)],
            NeedsSecond = byOther ? "Giving a key in the place of its holder takes two people." : null,
            Letters =
            [
                new Letter(
                    offer.To,
                    $"offer:{offer.Id}",
                    $"The key of {facts.Site.Title} is offered to you",
                    [
                        byOther
                            ? $"{Name(roll, doer.Person)} offers you the key of {facts.Site.Title}{(wish.Giver is { } gone ? $", which {Name(roll, gone)} held" : ", which nobody holds")}."
                            : $"{Name(roll, doer.Person)} offers you the key of {facts.Site.Title} and will {(wish.After == GiverAfter.Stays ? "stay on as an editor" : "leave the site")}.",
                        .. wish.Reason is null ? Array.Empty<string>() : [$"The reason given: {wish.Reason}"],
                        "Whoever holds the key answers for the site: who may read and edit it, and how long it is kept. Nothing changes until you accept.",
                        $"You can answer through {Date(offer.Through)}; after that the offer lapses.",
                    ],
                    Urgent: true,
                    new LetterLink(LinkPurpose.Offer, offer.Id.ToString(), until, "Look at the offer and answer it")
                ),
            ],
        };
    }

    /// <summary>The recipient accepts: the keys are switched, decided on today's facts.</summary>
    public static Decision Countersign(DeedFacts facts, Offer offer, OrderId newOrder, Doer doer)
    {
        var refused = NotForThem(offer, OfferEvent.Countersign, doer)
            .Concat(Orders.NotInUse(facts))
            .Concat(NotFit(facts, offer.To, doer))
            .Concat(Orders.NotTold(facts.Site, "the key cannot be switched yet."))
            .ToList();

        if (offer.Giver is { } giver && !Holds(facts.Site, giver))
        {
            refused.Add($"{Name(facts.Roll, giver)} no longer holds the key of this site, so it is not theirs to give.");
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var changes = Switch(facts, offer);
        var order = Orders.New(newOrder, facts, new Wish(changes), doer, offer.Reason) with { Purpose = OrderPurpose.Key };
        var switching = offer.Move(OfferEvent.Countersign) with { AnsweredAt = facts.Now, Order = newOrder };
        return new Decision.Plan(
            [order],
            [Entry("countersigned", facts, switching, doer.InJournal)],
            Foresee.Change(facts.Site, changes, facts.House, facts.Rules, facts.Roll)
        )
        {
            Offers = [switching],
            Remains = [.. Kept(facts, offer)],
            Along = [.. Along(facts.Site)],
        };
    }

    public static Decision Decline(DeedFacts facts, Offer offer, string? reason, Doer doer)
    {
        List<string> refused = [.. NotForThem(offer, OfferEvent.Decline, doer), .. Orders.TooLong(reason)];
        return refused.Count > 0
            ? new Decision.Refusal(refused)
            : Ended(
                facts,
                offer,
                OfferEvent.Decline,
                "declined",
                doer.InJournal,
                reason,
                $"{Name(facts.Roll, offer.To)} declined the key of {facts.Site.Title}{(reason is null ? "" : $": {reason}")}"
            );
    }

    public static Decision Withdraw(DeedFacts facts, Offer offer, Doer doer) =>
        doer.As == Capacity.Owner && doer.Person != offer.By && doer.Person != offer.Giver
            ? new Decision.Refusal(["Only who offered a key can take the offer back, or an administrator."])
        : OfferStates.After(offer.State, OfferEvent.Withdraw) is null ? new Decision.Refusal([Over(offer)])
        : Ended(facts, offer, OfferEvent.Withdraw, "withdrawn", doer.InJournal, null, null);

    /// <summary>Its last day has passed, the recipient can no longer take it, or the site was put away.</summary>
    public static Decision.Plan End(DeedFacts facts, Offer offer, OfferEvent why, DateTimeOffset due) =>
        Ended(
            facts,
            offer,
            why,
            why == OfferEvent.Lapse ? "lapsed" : "void",
            "house",
            null,
            why switch
            {
                OfferEvent.Lapse =>
                    $"{Name(facts.Roll, offer.To)} did not answer the offer of {facts.Site.Title} through {Date(offer.Through)}; it has lapsed",
                OfferEvent.SitePutAway =>
                    $"{facts.Site.Title} was put away, so the offer of its key to {Name(facts.Roll, offer.To)} came to nothing",
                _ =>
                    $"{Name(facts.Roll, offer.To)} can no longer take the key of {facts.Site.Title}, so the offer came to nothing",
            },
            due
        );

    /// <summary>What the host's answer to the switch comes to: the receipt, or what it said.</summary>
    public static (Offer Offer, Draft Entry, IReadOnlyList<Letter> Letters) Follow(
        Offer offer,
        Order order,
        SiteFacts site,
        Roll roll,
        DateTimeOffset now
    )
    {
        var done = order.State == OrderState.Confirmed;
        var moved = offer.Move(
            done ? OfferEvent.Switched
            : order.State == OrderState.Withdrawn ? OfferEvent.RecipientUnfit
            : OfferEvent.SwitchRefused
        ) with
        {
            EndedAt = now,
            Words = order.Words,
        };
        var entry = new Draft(done ? "key.handed-over" : "key.not-done", Draft.ActorOf(site.Host), $"site:{site.Id.Value}")
        {
            OnBehalf = $"person:{offer.To.Value}",
            Before = JournalValue.Of(order.Before.Select(GrantWords.InJournal)),
            After = JournalValue.Of(
                ("offer", JournalValue.Of(offer.Id.ToString())),
                ("grants", JournalValue.Of(order.Wish.Grants.Select(GrantWords.InJournal))),
                ("words", JournalValue.Of(order.Words))
            ),
        };
        var title = done ? $"The key of {site.Title} is handed over" : $"The key of {site.Title} was not handed over";
        string[] sentences =
            done
                ?
                [
                    $"{Name(roll, offer.To)} holds the key of {site.Title} now.",
                    .. Receipt(order, roll),
                    offer.After == GiverAfter.Stays ? "The giver stays on as an editor." : "The giver keeps nothing by name.",
                ]
            : order.State == OrderState.Withdrawn ? [order.Words ?? ""]
            : [$"{site.Host} refused to switch the key: {order.Words}"];
        return (
            moved,
            entry,
            [.. Parties(offer).Select(person => new Letter(person, $"handed:{offer.Id}", title, sentences, Urgent: true))]
        );
    }

    /// <summary>Before and after, grant by grant.</summary>
    public static IEnumerable<string> Receipt(Order order, Roll roll)
    {
        var before = order.Before.ToDictionary(change => change.Key, change => change.Wanted);
        return order.Wish.Grants.Select(change =>
            $"{GrantWords.Who((change.Wanted ?? before[change.Key])!, roll)}: {before[change.Key]?.Power.Word() ?? "nothing"} before, {change.Wanted?.Power.Word() ?? "nothing"} after."
        );
    }

    public static bool Holds(SiteFacts site, PersonId person) => Grants(site, person).Any(grant => grant.Power == Power.Own);

    /// <summary>The key under which every host is asked for a grant to a person.</summary>
    public static string GrantKey(Person person) => $"person:{person.Mail.ToLowerInvariant()}";

    // One order: the recipient gains the key as the giver lays it down, so there is no moment without an owner.
    private static List<GrantChange> Switch(DeedFacts facts, Offer offer)
    {
        var to = facts.Roll.Find(offer.To)!;
        var key = Grants(facts.Site, offer.To).FirstOrDefault()?.Key ?? GrantKey(to);
        List<GrantChange> changes = [new(key, new Grant(key, Power.Own, new Subject.OnePerson(offer.To)))];
        if (offer.Giver is { } giver)
        {
            changes.AddRange(
                Grants(facts.Site, giver)
                    .Where(grant => grant.Power == Power.Own)
                    .Select(grant => new GrantChange(
                        grant.Key,
                        offer.After == GiverAfter.Stays ? grant with { Power = Power.Edit } : null
                    ))
            );
        }

        return changes;
    }

    private static IEnumerable<Grant> Grants(SiteFacts site, PersonId person) =>
        site.Expected.Or([]).Where(grant => !grant.IsLink && grant.Subject is Subject.OnePerson(var one) && one == person);

    /// <summary>What the giver keeps although they leave: through groups and wide grants, to be removed where they stand.</summary>
    public static IEnumerable<string> Kept(DeedFacts facts, Offer offer)
    {
        if (offer.Giver is not { } giver || facts.Roll.PlaceOf(giver) is not { } place || offer.After == GiverAfter.Stays)
        {
            yield break;
        }

        foreach (var grant in facts.Site.Expected.Or([]).Where(grant => grant.Subject is not Subject.OnePerson))
        {
            var lets = Ask.Of(grant, facts.Roll).Lets.AtLeast;
            if (lets.Inside.Union(lets.Guests).Contains(place))
            {
                yield return $"{Name(facts.Roll, giver)} can still {grant.Power.Word()} through {GrantWords.Who(grant, facts.Roll)}.";
            }
        }
    }

    private static IEnumerable<string> Along(SiteFacts site)
    {
        foreach (var domain in site.Content.Domains.Or([]))
        {
            yield return $"The web domain {domain} goes with the site.";
        }

        if (site.Content.Domains.IsUnknown)
        {
            yield return $"{site.Host} did not say which web domains go with the site.";
        }
    }

    private static Decision.Plan Ended(
        DeedFacts facts,
        Offer offer,
        OfferEvent why,
        string what,
        string actor,
        string? reason,
        string? told,
        DateTimeOffset? due = null
    )
    {
        var over = offer.Move(why) with { EndedAt = facts.Now, Words = reason };
        return new Decision.Plan([], [Entry(what, facts, over, actor, due) with { Reason = reason }], Effect.None)
        {
            Offers = [over],
            Letters = told is null
                ? []
                :
                [
                    .. Parties(offer)
                        .Where(person => person != offer.To)
                        .Select(person => new Letter(
                            person,
                            $"{what}:{offer.Id}",
                            told,
                            [$"{told}.", "You can offer it to somebody else."]
                        )),
                ],
        };
    }

    private static IEnumerable<PersonId> Parties(Offer offer) => new[] { offer.To, offer.By, offer.Giver ?? offer.By }.Distinct();

    private static Draft Entry(string what, DeedFacts facts, Offer offer, string actor, DateTimeOffset? due = null) =>
        new($"key.{what}", actor, $"site:{facts.Site.Id.Value}")
        {
            OnBehalf = offer.Giver is { } giver ? $"person:{giver.Value}" : null,
            After = JournalValue.Of(
                ("offer", JournalValue.Of(offer.Id.ToString())),
                ("to", JournalValue.Of($"person:{offer.To.Value}")),
                ("giver", JournalValue.Of(offer.After == GiverAfter.Stays ? "stays" : "leaves")),
                (
                    "through",
                    JournalValue.Of(offer.Through.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture))
                ),
                ("second", JournalValue.Of(offer.Second is { } second ? $"person:{second.Value}" : null)),
                ("due", due is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = offer.Reason,
        };

    private static string Name(Roll roll, PersonId person) => roll.Find(person)?.Name ?? "Somebody";

    private static string Date(DateOnly day) => day.ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture);
}
