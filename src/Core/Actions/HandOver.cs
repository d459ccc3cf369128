using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A request to offer a site to a new owner.</summary>
/// <param name="CurrentOwner">The owner who hands over; null if the site has no owner.</param>
public sealed record OfferRequest(PersonId To, PersonId? CurrentOwner, CurrentOwnerAfter After, string? Reason);

/// <summary>Hands a site over: offered by its owner, or by an administrator with a reason and a second person if the owner has
/// left; accepted by the person it was offered to; completed by one change, so the site is never without an owner.
/// </summary>
public static partial class HandOver
{
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
        return new Decision.Plan(
            [],
            [Entry(JournalAction.OwnerOffered, facts, offer, actor.InJournal)],
            Predict.Change(facts.Site, Switch(facts, offer), facts.Organisation, facts.Rules, directory)
        )
        {
            Offers = [offer],
            Unaffected = [.. Kept(facts, offer)],
            SideEffects = [.. SideEffects(facts.Site)],
            NeedsSecond = byOther ? new AssigningNeedsSecond() : null,
            Notifications =
            [
                new Notification(
                    offer.To,
                    $"offer:{offer.Id}",
                    $"{facts.Site.Title} is offered to you",
                    [
                        byOther
                            ? $"{Name(directory, actor.Person)} offers you the ownership of {facts.Site.Title}{(request.CurrentOwner is { } gone ? $", which {Name(directory, gone)} owned" : ", which has no owner")}."
                            : $"{Name(directory, actor.Person)} offers you the ownership of {facts.Site.Title} and will {(request.After == CurrentOwnerAfter.Stays ? "stay as an editor" : "leave the site")}.",
                        .. request.Reason is null ? Array.Empty<string>() : [$"Reason: {request.Reason}"],
                        "An owner answers for the site: who may view and edit it, and how long it exists. Nothing changes until you accept.",
                        $"You can answer until the end of {offer.Through.InWords()}. Then the offer lapses.",
                    ],
                    Urgent: true,
                    new NotificationLink(LinkPurpose.Offer, offer.Id.ToString(), until, "Review the offer and answer it")
                ),
            ],
        };
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
        var title = done ? $"{site.Title} is handed over" : $"{site.Title} was not handed over";
        string[] sentences =
            done
                ?
                [
                    $"{Name(directory, offer.To)} now owns {site.Title}.",
                    .. Receipt(hostChange, directory),
                    offer.After == CurrentOwnerAfter.Stays
                        ? "The former owner stays as an editor."
                        : "The former owner keeps no access by name.",
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

    /// <summary>The key of a grant to a person, the same for every host.</summary>
    public static string GrantKey(Person person) => $"person:{person.Mail.ToLowerInvariant()}";

    // One change: the recipient becomes owner as the current owner stops, so the site is never without an owner.
    private static List<GrantChange> Switch(ActionFacts facts, Offer offer)
    {
        var to = facts.PeopleDirectory.Find(offer.To)!;
        var key = Grants(facts.Site, offer.To).FirstOrDefault()?.Key ?? GrantKey(to);
        List<GrantChange> changes = [new(key, new Grant(key, Power.Own, new Subject.OnePerson(offer.To)))];
        if (offer.CurrentOwner is { } currentOwner)
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
            || offer.After == CurrentOwnerAfter.Stays
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
                ("currentOwner", JournalValue.Of(offer.After == CurrentOwnerAfter.Stays ? "stays" : "leaves")),
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
