using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A request to offer a site to a new owner.</summary>
/// <param name="CurrentOwner">The owner who hands over; null if the site has no owner, or for an administrator who adds one.</param>
public sealed record OfferRequest(PersonId To, PersonId? CurrentOwner, CurrentOwnerAfter After, string? Reason);

/// <summary>Hands a site over, or adds an owner: offered by its owner, or by an administrator with a reason and a second person if the owner has
/// left; accepted by the person it was offered to; completed by one change, so the site is never without an owner.
/// </summary>
public static partial class HandOver
{
    // Of more owners a mail gives the number.
    private const int MostNamed = 2;

    public static Decision Offer(ActionFacts facts, OfferRequest request, OfferId id, Actor actor)
    {
        var refused = Refusals(facts, request, actor).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var directory = facts.PeopleDirectory;
        var offer = new Offer
        {
            Id = id,
            Site = facts.Site.Id,
            To = request.To,
            CurrentOwner = request.CurrentOwner,
            After = request.After,
            By = actor.Person,
            Second = actor.Second,
            Reason = request.Reason,
            OfferedAt = facts.Now,
            Through = directory.Time.DayOf(facts.Now).Plus(facts.Organisation.OfferDays),
        };
        var until = directory.Time.EndOf(offer.Through);
        var byOther = request.CurrentOwner != actor.Person;
        var owners = SiteOwners.Of(facts.Site, directory, facts.Organisation.ActiveDays);
        return new Decision.Plan(
            [],
            [Entry(JournalAction.OwnerOffered, facts, offer, actor.InJournal)],
            Predict.Change(facts.Site, Switch(facts, offer), facts.Organisation, facts.Rules, directory)
        )
        {
            Offers = [offer],
            Unaffected = [.. Kept(facts, offer)],
            SideEffects = [.. SideEffects(facts.Site)],
            // An owner who is added takes nothing from those who own it, and they hear of it at once. Nobody adds themselves alone.
            NeedsSecond =
                byOther && (request.After != CurrentOwnerAfter.Owns || owners.ActiveAtLeast == 0 || request.To == actor.Person)
                    ? new AssigningNeedsSecond()
                    : null,
            Notifications =
            [
                new Notification(
                    offer.To,
                    $"offer:{offer.Id}",
                    $"{facts.Site.Title} is offered to you",
                    [
                        $"{Name(directory, actor.Person)} {Offered(request, owners, byOther, facts)}.",
                        .. request.Reason is null ? Array.Empty<string>() : [$"Reason: {request.Reason}"],
                        "An owner answers for the site: who may view and edit it, and how long it exists. Nothing changes until you accept.",
                        $"You can answer until the end of {offer.Through.InWords()}. Then the offer lapses.",
                    ],
                    Urgent: true,
                    new NotificationLink(LinkPurpose.Offer, offer.Id.ToString(), until, "Review the offer and answer it")
                ),
                .. byOther && request.After == CurrentOwnerAfter.Owns ? ToOwners(facts, offer, owners, actor) : [],
            ],
        };
    }

    private static string Offered(OfferRequest request, SiteOwners owners, bool byOther, ActionFacts facts) =>
        (request.After, byOther) switch
        {
            (CurrentOwnerAfter.Owns, false) => $"asks you to become an owner of {facts.Site.Title} too, and stays an owner",
            (CurrentOwnerAfter.Owns, true) =>
                $"asks you to become an owner of {facts.Site.Title}{(owners.Holders.Count == 0 ? "" : $", which {InWords(owners)} {(owners.Holders.Count == 1 ? "owns" : "own")} now")}",
            (_, true) =>
                $"offers you the ownership of {facts.Site.Title}{(request.CurrentOwner is { } gone ? $", which {Name(facts.PeopleDirectory, gone)} owned" : ", which has no owner")}",
            (CurrentOwnerAfter.Stays, _) => $"offers you the ownership of {facts.Site.Title} and will stay as an editor",
            _ => $"offers you the ownership of {facts.Site.Title} and will leave the site",
        };

    private static string InWords(SiteOwners owners) =>
        owners.Holders.Count > MostNamed
            ? owners.Holders.Count.Counted("person", "people")
            : string.Join(" and ", owners.Holders.Select(holder => holder.Person.Name));

    // They keep what they have, and may know somebody better.
    private static IEnumerable<Notification> ToOwners(ActionFacts facts, Offer offer, SiteOwners owners, Actor actor)
    {
        var directory = facts.PeopleDirectory;
        return owners
            .Holders.Where(holder => holder.IsActive && holder.Person.Id != actor.Person)
            .Select(holder => new Notification(
                holder.Person.Id,
                $"co-owner:{offer.Id}",
                $"{Name(directory, offer.To)} is asked to own {facts.Site.Title} too",
                [
                    $"{Name(directory, actor.Person)} asks {Name(directory, offer.To)} to become an owner of {facts.Site.Title}. You stay an owner.",
                    .. offer.Reason is null ? Array.Empty<string>() : [$"Reason: {offer.Reason}"],
                ],
                Urgent: true
            ));
    }

    /// <summary>The recipient accepts: the change of owner is decided on today's facts.</summary>
    public static Decision Accept(ActionFacts facts, Offer offer, ChangeId newHostChange, Actor actor)
    {
        var refused = NotForThem(offer, OfferEvent.Accept, actor)
            .Concat(HostChanges.NotInUse(facts))
            .Concat(NotActive(facts, offer.To, actor))
            .Concat(HostChanges.NotReported(facts.Site, AccessStep.ChangeOwner))
            .ToList();

        if (offer.CurrentOwner is { } currentOwner && !Holds(facts.Site, currentOwner))
        {
            refused.Add(new NoLongerOwner(Name(facts.PeopleDirectory, currentOwner)));
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var changes = Switch(facts, offer);
        var hostChange = HostChanges.New(newHostChange, facts, new WantedState(changes), actor, offer.Reason) with
        {
            Purpose = ChangePurpose.Owners,
        };
        var completing = offer.Move(OfferEvent.Accept) with { AnsweredAt = facts.Now, HostChange = newHostChange };
        return new Decision.Plan(
            [hostChange],
            [Entry(JournalAction.OwnerAccepted, facts, completing, actor.InJournal)],
            Predict.Change(facts.Site, changes, facts.Organisation, facts.Rules, facts.PeopleDirectory)
        )
        {
            Offers = [completing],
            Unaffected = [.. Kept(facts, offer)],
            SideEffects = [.. SideEffects(facts.Site)],
        };
    }

    public static Decision Decline(ActionFacts facts, Offer offer, string? reason, Actor actor)
    {
        List<Remark> refused = [.. NotForThem(offer, OfferEvent.Decline, actor), .. HostChanges.TooLong(reason)];
        return refused.Count > 0
            ? new Decision.Refusal(refused)
            : Ended(
                facts,
                offer,
                OfferEvent.Decline,
                JournalAction.OwnerDeclined,
                actor.InJournal,
                reason,
                $"{Name(facts.PeopleDirectory, offer.To)} declined {facts.Site.Title}{(reason is null ? "" : $": {reason}")}"
            );
    }

    public static Decision Withdraw(ActionFacts facts, Offer offer, Actor actor) =>
        actor.As == Capacity.Owner && actor.Person != offer.By && actor.Person != offer.CurrentOwner
            ? new Decision.Refusal([new OfferNotTheirs()])
        : !OfferStates.Table.Allows(offer.State, OfferEvent.Withdraw) ? new Decision.Refusal([Over(offer)])
        : Ended(facts, offer, OfferEvent.Withdraw, JournalAction.OwnerWithdrawn, actor.InJournal, null, null);

    /// <summary>Its last day has passed, the recipient can no longer become owner, or the site was moved to the attic.</summary>
    public static Decision.Plan End(ActionFacts facts, Offer offer, OfferEvent why, DateTimeOffset due) =>
        Ended(
            facts,
            offer,
            why,
            why == OfferEvent.Lapse ? JournalAction.OwnerLapsed : JournalAction.OwnerVoid,
            EntryActor.Product,
            null,
            why switch
            {
                OfferEvent.Lapse =>
                    $"{Name(facts.PeopleDirectory, offer.To)} did not answer the offer of {facts.Site.Title} by the end of {offer.Through.InWords()}, so it lapsed",
                OfferEvent.SiteMovedToAttic =>
                    $"{facts.Site.Title} was moved to the attic, so the offer to {Name(facts.PeopleDirectory, offer.To)} is void",
                _ => $"{Name(facts.PeopleDirectory, offer.To)} can no longer own {facts.Site.Title}, so the offer is void",
            },
            due
        );

    /// <summary>The result of the host's response: the receipt, or the host's reason.</summary>
    public static (Offer Offer, Draft Entry, IReadOnlyList<Notification> Notifications) Follow(
        Offer offer,
        HostChange hostChange,
        SiteFacts site,
        PeopleDirectory directory,
        DateTimeOffset now
    )
    {
        var done = hostChange.State == ChangeState.Confirmed;
        var moved = offer.Move(
            done ? OfferEvent.Switched
            : hostChange.State == ChangeState.Withdrawn ? OfferEvent.RecipientNotActive
            : OfferEvent.CompletionRefused
        ) with
        {
            EndedAt = now,
            Words = hostChange.Words,
        };
        var entry = new Draft(
            done ? JournalAction.OwnerHandedOver : JournalAction.OwnerNotDone,
            EntryActor.OfSource(site.Host),
            EntrySubject.Of(site.Id)
        )
        {
            OnBehalf = EntryActor.Of(offer.To),
            Before = JournalValue.Of(hostChange.Before.Select(GrantText.InJournal)),
            After = JournalValue.Of(
                ("offer", JournalValue.Of(offer.Id.ToString())),
                ("grants", JournalValue.Of(hostChange.WantedState.Grants.Select(GrantText.InJournal))),
                ("message", JournalValue.Of(hostChange.Words))
            ),
        };
        var title = (offer.After, done) switch
        {
            (CurrentOwnerAfter.Owns, true) => $"{site.Title} has another owner",
            (CurrentOwnerAfter.Owns, false) => $"{site.Title} did not get another owner",
            (_, true) => $"{site.Title} is handed over",
            _ => $"{site.Title} was not handed over",
        };
        string[] sentences =
            done
                ?
                [
                    $"{Name(directory, offer.To)} now owns {site.Title}.",
                    .. Receipt(hostChange, directory),
                    offer.After switch
                    {
                        CurrentOwnerAfter.Owns => "Nobody stopped being an owner.",
                        CurrentOwnerAfter.Stays => "The former owner stays as an editor.",
                        _ => "The former owner keeps no access by name.",
                    },
                ]
            : hostChange.State == ChangeState.Withdrawn ? [hostChange.Words ?? ""]
            : [$"{site.Host} refused to change the owner: {hostChange.Words}"];
        return (
            moved,
            entry,
            [.. Parties(offer).Select(person => new Notification(person, $"handed:{offer.Id}", title, sentences, Urgent: true))]
        );
    }

    /// <summary>Before and after, grant by grant.</summary>
    public static IEnumerable<string> Receipt(HostChange hostChange, PeopleDirectory directory)
    {
        var before = hostChange.Before.ToDictionary(change => change.Key, change => change.Wanted);
        return hostChange.WantedState.Grants.Select(change =>
            $"{GrantText.Who((change.Wanted ?? before[change.Key])!, directory)}: {before[change.Key]?.Power.Word() ?? "nothing"} before, {change.Wanted?.Power.Word() ?? "nothing"} after."
        );
    }

    public static bool Holds(SiteFacts site, PersonId person) => Grants(site, person).Any(grant => grant.Power == Power.Own);

    // One change: the recipient becomes owner as the current owner stops, so the site is never without an owner.
    private static List<GrantChange> Switch(ActionFacts facts, Offer offer)
    {
        var to = facts.PeopleDirectory.Find(offer.To)!;
        var key = Grants(facts.Site, offer.To).FirstOrDefault()?.Key ?? GrantKeys.Of(to);
        List<GrantChange> changes = [new(key, new Grant(key, Power.Own, new Subject.OnePerson(offer.To)))];
        if (offer is { After: not CurrentOwnerAfter.Owns, CurrentOwner: { } currentOwner })
        {
            changes.AddRange(
                Grants(facts.Site, currentOwner)
                    .Where(grant => grant.Power == Power.Own)
                    .Select(grant => new GrantChange(
                        grant.Key,
                        offer.After == CurrentOwnerAfter.Stays ? grant with { Power = Power.Edit } : null
                    ))
            );
        }

        return changes;
    }

    private static IEnumerable<Grant> Grants(SiteFacts site, PersonId person) =>
        site.Expected.Or([]).Where(grant => !grant.IsLink && grant.Subject is Subject.OnePerson(var one) && one == person);

    /// <summary>What the current owner keeps after leaving, through groups and wide grants, to be removed there.</summary>
    public static IEnumerable<Remark> Kept(ActionFacts facts, Offer offer)
    {
        if (
            offer.CurrentOwner is not { } currentOwner
            || facts.PeopleDirectory.PlaceOf(currentOwner) is not { } place
            || offer.After != CurrentOwnerAfter.Leaves
        )
        {
            yield break;
        }

        foreach (var grant in facts.Site.Expected.Or([]).Where(grant => grant.Subject is not Subject.OnePerson))
        {
            var lets = Ask.Of(grant, facts.PeopleDirectory).Lets.AtLeast;
            if (lets.Inside.Union(lets.Guests).Contains(place))
            {
                yield return new CurrentOwnerKeeps(
                    Name(facts.PeopleDirectory, currentOwner),
                    grant.Power,
                    GrantText.Who(grant, facts.PeopleDirectory)
                );
            }
        }
    }

    private static IEnumerable<string> SideEffects(SiteFacts site)
    {
        foreach (var domain in site.Domains.Or([]))
        {
            yield return $"The web domain {domain} stays with the site.";
        }

        if (site.Domains.IsUnknown)
        {
            yield return $"{site.Host} does not report the site's web domains.";
        }
    }

    private static Decision.Plan Ended(
        ActionFacts facts,
        Offer offer,
        OfferEvent why,
        JournalAction what,
        EntryActor actor,
        string? reason,
        string? told,
        DateTimeOffset? due = null
    )
    {
        var over = offer.Move(why) with { EndedAt = facts.Now, Words = reason };
        return new Decision.Plan([], [Entry(what, facts, over, actor, due) with { Reason = reason }], Effect.None)
        {
            Offers = [over],
            Notifications = told is null
                ? []
                :
                [
                    .. Parties(offer)
                        .Where(person => person != offer.To)
                        .Select(person => new Notification(
                            person,
                            $"{what}:{offer.Id}",
                            told,
                            [$"{told}.", "You can offer it to another person."]
                        )),
                ],
        };
    }

    private static IEnumerable<PersonId> Parties(Offer offer) =>
        new[] { offer.To, offer.By, offer.CurrentOwner ?? offer.By }.Distinct();

    private static Draft Entry(
        JournalAction what,
        ActionFacts facts,
        Offer offer,
        EntryActor actor,
        DateTimeOffset? due = null
    ) =>
        new(what, actor, EntrySubject.Of(facts.Site.Id))
        {
            OnBehalf = offer.CurrentOwner is { } currentOwner ? EntryActor.Of(currentOwner) : null,
            After = JournalValue.Of(
                ("offer", JournalValue.Of(offer.Id.ToString())),
                ("to", JournalValue.Of(EntryActor.Of(offer.To))),
                ("currentOwner", JournalValue.Of(offer.After.ToString().ToLowerInvariant())),
                (
                    "through",
                    JournalValue.Of(offer.Through.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture))
                ),
                ("second", JournalValue.Of(offer.Second is { } second ? EntryActor.Of(second) : null)),
                ("due", due is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = offer.Reason,
        };

    private static string Name(PeopleDirectory directory, PersonId person) => directory.Find(person)?.Name ?? "Somebody";
}
