using System.Globalization;
using AtticLedger.Core.Access;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <param name="Typed">The name as it was typed; null in a preview.</param>
public sealed record MoveToAtticRequest(string? Reason, string? Typed = null);

/// <summary>Deletes a site recoverably: its blockers in the sequence to solve them, everything removed with it, and the
/// confirmation it requires. An owner's deletion of a site that others use can be stopped for a while, and administrators are
/// notified.
/// </summary>
public static class MoveToAttic
{
    /// <summary>The maximum number of pages of a small site.</summary>
    public const int SmallPages = 5;

    /// <summary>The maximum number of people who can see the draft of a small site.</summary>
    public const int SmallPeople = 3;

    /// <summary>From this number of owners and editors, of members, or of visits in a week, a second person has to agree.</summary>
    public const int ManyEditors = 25;

    public const int ManyMembers = 100;

    public const int ManyVisits = 200;

    public static Decision Decide(ActionFacts facts, MoveToAtticRequest request, ChangeId newHostChange, Actor actor)
    {
        var site = facts.Site;
        var confirmation = ConfirmationLevelOf(facts);
        List<Remark> refused = [.. HostChanges.TooLong(request.Reason), .. Blockers(facts)];
        if (
            request.Typed is { } typed
            && confirmation != ConfirmationLevel.UndoAlone
            && !string.Equals(typed.Trim(), site.Title.Trim(), StringComparison.Ordinal)
        )
        {
            refused.Add(new NameTypedWrong(site.Title));
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var loss = LossOf(facts);
        var waits = actor.As == Capacity.Owner && confirmation == ConfirmationLevel.TypeTheName;
        var hostChange = HostChanges.New(newHostChange, facts, new WantedState([], Existence.Attic), actor, request.Reason) with
        {
            Purpose = ChangePurpose.MoveToAttic,
        };
        var atticEntry = new AtticEntry
        {
            Site = site.Id,
            State = waits ? AtticState.Announced : AtticState.MovingToAttic,
            By = actor.Person,
            ByOwner = actor.As == Capacity.Owner,
            Reason = request.Reason,
            RequestedAt = facts.Now,
            StoppableUntil = waits ? facts.Now + facts.Organisation.StopTime : null,
            ContentBefore = Snapshot.Of(site),
            HostChange = waits ? null : newHostChange,
        };
        return new Decision.Plan(
            waits ? [] : [hostChange],
            [
                Entry(waits ? JournalAction.AtticAnnounced : JournalAction.SiteMoveToAttic, facts, atticEntry, actor, loss),
                .. facts
                    .Offers.Where(IsOpen)
                    .SelectMany(offer => HandOver.End(facts, offer, OfferEvent.SiteMovedToAttic, facts.Now).Entries),
            ],
            Predict.MoveToAttic(site, facts.Organisation, facts.Rules, facts.PeopleDirectory)
        )
        {
            AtticEntry = atticEntry,
            Advice = ChangeLook.Borrowing(facts) is { } borrowing ? [borrowing] : [],
            HiddenBorrowers = ChangeLook.HiddenBorrowers(facts),
            Unaffected = [.. StayingOpen(facts.Site)],
            SideEffects =
            [
                .. facts
                    .Offers.Where(IsOpen)
                    .Select(offer => $"The offer to {facts.PeopleDirectory.Find(offer.To)?.Name ?? "somebody"} becomes void."),
            ],
            Loss = loss,
            Confirmation = confirmation,
            NeedsSecond = confirmation == ConfirmationLevel.SecondPerson ? Because(facts) : null,
            Offers =
            [
                .. facts
                    .Offers.Where(IsOpen)
                    .SelectMany(offer => HandOver.End(facts, offer, OfferEvent.SiteMovedToAttic, facts.Now).Offers),
            ],
            Notifications =
            [
                .. Notifications(facts, atticEntry, actor, loss),
                .. facts
                    .Offers.Where(IsOpen)
                    .SelectMany(offer => HandOver.End(facts, offer, OfferEvent.SiteMovedToAttic, facts.Now).Notifications),
            ],
        };
    }

    /// <summary>Stops an owner's deletion while that is possible.</summary>
    public static Decision Stop(ActionFacts facts, Actor actor) =>
        facts.AtticEntry is { } atticEntry && AtticStates.Table.Allows(atticEntry.State, AtticEvent.Stop)
            ? Stopped(facts, atticEntry, actor.InJournal, null)
            : new Decision.Refusal([
                facts.AtticEntry is { State: AtticState.MovingToAttic } ? new MoveSent(facts.Site.Host) : new NothingToStop(),
            ]);

    /// <summary>The time to stop it is over: the change is queued, unless something blocks it by now.</summary>
    /// <param name="say">Makes the sentence of a blocker, for the mail and the record.</param>
    public static Decision.Plan Go(ActionFacts facts, AtticEntry atticEntry, ChangeId newHostChange, Func<Remark, string> say)
    {
        var blockers = Blockers(facts with { AtticEntry = null }).ToList();
        if (blockers.Count > 0)
        {
            return Stopped(facts, atticEntry, EntryActor.Product, string.Join(" ", blockers.Select(say)));
        }

        var actor = new Actor(atticEntry.By ?? default, Capacity.Owner);
        var hostChange = HostChanges.New(
            newHostChange,
            facts,
            new WantedState([], Existence.Attic),
            actor,
            atticEntry.Reason
        ) with
        {
            Purpose = ChangePurpose.MoveToAttic,
        };
        var going = atticEntry.Move(AtticEvent.Go) with { HostChange = newHostChange, ContentBefore = Snapshot.Of(facts.Site) };
        return new Decision.Plan(
            [hostChange],
            [Entry(JournalAction.SiteMoveToAttic, facts, going, actor, LossOf(facts), atticEntry.StoppableUntil)],
            Effect.None
        )
        {
            AtticEntry = going,
        };
    }

    /// <summary>What has to be solved first, in the sequence to solve it.</summary>
    public static IEnumerable<Remark> Blockers(ActionFacts facts)
    {
        var site = facts.Site;
        foreach (var reason in HostChanges.NotInUse(facts))
        {
            yield return reason;
        }

        if (facts.AtticEntry is { State: AtticState.Announced } announced)
        {
            yield return new MoveAnnounced(facts.PeopleDirectory.Time.InZone(announced.StoppableUntil!.Value));
        }

        // Where the product keeps the dates, nothing ends by itself, so a held site can be in the attic.
        foreach (
            var hold in facts.Holds.Where(hold =>
                !facts.Organisation.CapabilitiesOf(site.Host).AtticIsOurs && hold.IsInForce(facts.Now, facts.PeopleDirectory.Time)
            )
        )
        {
            yield return new HeldFromAttic(hold.Through, hold.Reason, site.Host);
        }

        foreach (var obligation in site.Obligations.Or([]))
        {
            yield return new ObligationOpen(obligation.Count, obligation.What, obligation.Through, site.Host);
        }

        foreach (var domain in site.Domains.Or([]))
        {
            yield return new DomainShowsSite(domain, site.Host);
        }

        foreach (var child in facts.Around.Children)
        {
            yield return facts.Around.Scope.Sees(child) ? new SiteBelow(child.Title) : new HiddenSiteBelow();
        }

        if (facts.ChangeQueue.Any(hostChange => hostChange.State.IsOpen()))
        {
            yield return new ChangeUnderWay(site.Host);
        }

        foreach (var person in site.Editing.Or([]))
        {
            yield return new BeingEdited(facts.PeopleDirectory.Find(person)?.Name);
        }
    }

    // Shutting the site does not shut a section with its own access.
    private static IEnumerable<Remark> StayingOpen(SiteFacts site) =>
        site
            .Sections.Or([])
            .Where(section => section.Tie == SectionTie.StandingFree && section.Grants.Count > 0)
            .Select(section => new SectionStaysOpen(section.Name, site.Host));

    private static bool IsOpen(Offer offer) => offer.State == OfferState.Offered;

    private static ConfirmationLevel ConfirmationLevelOf(ActionFacts facts)
    {
        var site = facts.Site;
        if (
            site.Status.Has(out var status)
            && status == Status.NeverPublished
            && site.Pages.Has(out var pages)
            && pages <= SmallPages
            && Used(facts).Draft <= SmallPeople
            && Because(facts) is null
        )
        {
            return ConfirmationLevel.UndoAlone;
        }

        return Because(facts) is null ? ConfirmationLevel.TypeTheName : ConfirmationLevel.SecondPerson;
    }

    // If the reach of a site cannot be told, it may reach everybody.
    private static Remark? Because(ActionFacts facts)
    {
        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        foreach (var power in (Power[])[Power.View, Power.Edit])
        {
            if (line.Outside(power) is var outside && outside.Has(out var who) && who.AtMost == (int)OutsideLevel.Anonymous)
            {
                return new AnonymousNeedSecond(power, who.AtLeast == who.AtMost);
            }

            if (line.Inside(power) is var inside && inside.Has(out var level) && level.AtMost == (int)InsideLevel.Staff)
            {
                return new StaffNeedSecond(power, level.AtLeast == level.AtMost);
            }
        }

        var (owners, editors, members, _) = Used(facts);
        var visits = facts.Site.Visits.Has(out var measured) ? (int?)measured : null;
        return owners + editors >= ManyEditors || members >= ManyMembers || visits >= ManyVisits
            ? new ManyUseNeedSecond(owners, editors, members, visits)
            : null;
    }

    /// <summary>The people who use a site, each counted once, by the strongest power that they may have; and who may see the
    /// draft.</summary>
    private static (int Owners, int Editors, int Members, int Draft) Used(ActionFacts facts)
    {
        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        PeopleSet Of(Power power) =>
            line.AccessPath(power).Effective.AtMost is var access
                ? access.Inside.Union(access.Guests).Except(facts.PeopleDirectory.Services).Except(facts.PeopleDirectory.Left)
                : PeopleSet.Empty;
        var owners = PeopleSet.Of([
            .. line.Owners.Holders.Select(holder => facts.PeopleDirectory.PlaceOf(holder.Person.Id)).OfType<int>(),
        ]);
        var (draft, editors) = (Of(Power.Preview), Of(Power.Edit));
        var members = line.Inside(Power.View).Has(out _) ? Of(Power.View).Union(draft) : draft;
        return (
            owners.Count,
            editors.Except(owners).Count,
            members.Except(editors).Except(owners).Count,
            draft.Union(owners).Count
        );
    }

    private static Loss LossOf(ActionFacts facts)
    {
        var site = facts.Site;
        var group = site.Group.Has(out var id) ? facts.PeopleDirectory.Find(id) : null;
        var people = group is null ? PeopleSet.Empty : facts.PeopleDirectory.Expand(group.Id).People;
        var capabilities = facts.Organisation.CapabilitiesOf(site.Host);
        var clock = Clock.Of(
            new ClockFacts(
                site.Host,
                facts.Now,
                [
                    new ClassificationSince(
                        facts.Organisation.Words.Read(
                            ClaimedFact.Classification,
                            site.Classification.Has(out var classification) ? classification : null
                        ),
                        facts.Now
                    ),
                ],
                facts.Organisation.RetentionRules,
                facts.Holds,
                Known<DateTimeOffset>.Unknown
            ),
            facts.PeopleDirectory.Time,
            facts.Now
        );
        return new Loss(
            site.Pages,
            site.Bytes,
            site.Domains.Or([]),
            group?.Name,
            [
                .. facts
                    .Around.OpenedByGroup.Where(facts.Around.Scope.Sees)
                    .Select(opened => new OpenedSite(opened.Id, opened.Title, Losing(opened, group!, people, facts))),
            ],
            site.Visits,
            [.. facts.Around.OnHost.LookAlikesOf(site.Id, site.Title).Select(other => $"{other.Name} ({other.Address})")],
            clock.LastDay,
            $"policy keeps {clock.Because.Of} {clock.Because.Days} days",
            HostKeepsThrough(facts, capabilities),
            capabilities.AtticIsOurs,
            site.Plan.Has(out var plan) ? plan : null,
            site.MailAlias.Has(out var alias) ? alias : null,
            site.Records,
            site.Shared.Or([])
        )
        {
            AllOpened = [.. facts.Around.OpenedByGroup.Select(opened => opened.Id)],
        };
    }

    // The bin's end, or that of a plan that does not renew, if that is earlier.
    private static DateOnly? HostKeepsThrough(ActionFacts facts, HostCapabilities capabilities)
    {
        DateOnly? bin = capabilities is { AtticIsOurs: false, BinDays: { } days }
            ? facts.PeopleDirectory.Time.DayOf(facts.Now).AddDays(days)
            : null;
        DateOnly? plan = facts.Site.Plan.Has(out var paid) && !paid.Renews ? paid.Through.AddDays(paid.GraceDays) : null;
        return bin is null || plan < bin ? plan : bin;
    }

    // Who gets into the other site through the group only.
    private static int Losing(SiteFacts opened, Group group, PeopleSet people, ActionFacts facts)
    {
        var without = opened.WithGrants([
            .. opened.Expected.Or([]).Where(grant => grant.Subject is not Subject.OneGroup(var other) || other != group.Id),
        ]);
        var left = new ComputedSite(without, facts.Organisation, facts.PeopleDirectory)
            .AccessPath(Power.Preview)
            .Effective.AtLeast;
        var had = new ComputedSite(opened, facts.Organisation, facts.PeopleDirectory).AccessPath(Power.Preview).Effective.AtLeast;
        return people
            .Places()
            .Count(place => had.Inside.Union(had.Guests).Contains(place) && !left.Inside.Union(left.Guests).Contains(place));
    }

    private static Decision.Plan Stopped(ActionFacts facts, AtticEntry atticEntry, EntryActor actor, string? words)
    {
        var stopped = atticEntry.Move(AtticEvent.Stop) with { EndedAt = facts.Now, Words = words };
        return new Decision.Plan(
            [],
            [
                new Draft(JournalAction.AtticStopped, actor, EntrySubject.Of(facts.Site.Id))
                {
                    Reason = words,
                    After = JournalValue.Of(("stay", JournalValue.Of(atticEntry.Place))),
                },
            ],
            Effect.None
        )
        {
            AtticEntry = stopped,
            Notifications =
                words is null || atticEntry.By is not { } by
                    ? []
                    :
                    [
                        new Notification(
                            by,
                            $"stopped:{atticEntry.Id}",
                            $"{facts.Site.Title} was not moved to the attic",
                            [words],
                            Urgent: true
                        ),
                    ],
        };
    }

    private static IEnumerable<Notification> Notifications(ActionFacts facts, AtticEntry atticEntry, Actor actor, Loss loss)
    {
        var site = facts.Site;
        var who = facts.PeopleDirectory.Find(actor.Person)?.Name ?? "Somebody";
        var kept =
            loss.HostKeepsThrough is { } host && host < loss.KeptThrough
                ? $"It can be restored until the end of {host.InWords()}; {site.Host} keeps it no longer."
                : $"It can be restored until the end of {loss.KeptThrough.InWords()}: {loss.KeptBecause}.";
        var key = $"away:{site.Id.Value}:{facts.Now.UtcTicks}";
        if (atticEntry.StoppableUntil is { } until)
        {
            yield return new Notification(
                actor.Person,
                key,
                $"You are moving {site.Title} to the attic",
                [
                    $"You asked to move {site.Title} to the attic ({site.Address.Or("no address")}). It moves at {Moment(until, facts.PeopleDirectory)} unless you stop it.",
                    kept,
                ],
                Urgent: true,
                new NotificationLink(
                    LinkPurpose.Stop,
                    site.Id.Value.ToString(CultureInfo.InvariantCulture),
                    until,
                    "Review it or stop it"
                )
            );
        }

        var others = SiteOwners
            .Of(site, facts.PeopleDirectory, facts.Organisation.ActiveDays)
            .Holders.Select(holder => holder.Person)
            .Where(person => person.Kind == PersonKind.Staff)
            .Select(person => person.Id);
        var told = actor.As == Capacity.Owner ? others.Concat(facts.Administrators) : others;
        foreach (var person in told.Distinct().Where(person => person != actor.Person))
        {
            yield return new Notification(
                person,
                key,
                $"{site.Title} {(atticEntry.StoppableUntil is null ? "is moved" : "will be moved")} to the attic",
                [
                    atticEntry.StoppableUntil is { } stop
                        ? $"{who} moves {site.Title} to the attic ({site.Address.Or("no address")}) at {Moment(stop, facts.PeopleDirectory)}{(atticEntry.Reason is null ? "" : $": {atticEntry.Reason}")}. Until then an owner can stop it on the page Your sites."
                        : $"{who} moved {site.Title} to the attic ({site.Address.Or("no address")}){(atticEntry.Reason is null ? "" : $": {atticEntry.Reason}")}.",
                    kept,
                ],
                Urgent: true
            );
        }
    }

    private static Draft Entry(
        JournalAction action,
        ActionFacts facts,
        AtticEntry atticEntry,
        Actor actor,
        Loss loss,
        DateTimeOffset? due = null
    ) =>
        new(action, actor.InJournal, EntrySubject.Of(facts.Site.Id))
        {
            Before = JournalValue.Of(
                ("name", JournalValue.Of(facts.Site.Title)),
                ("address", JournalValue.Of(facts.Site.Address.Or("")))
            ),
            After = JournalValue.Of(
                ("change", JournalValue.Of(atticEntry.HostChange?.ToString())),
                ("stoppableUntil", atticEntry.StoppableUntil is { } until ? JournalValue.Of(until) : JournalValue.Null),
                ("predicted", Predict.MoveToAttic(facts.Site, facts.Organisation, facts.Rules, facts.PeopleDirectory).InJournal),
                ("loss", loss.InJournal),
                ("second", JournalValue.Of(actor.Second is { } second ? EntryActor.Of(second) : null)),
                ("due", due is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = atticEntry.Reason,
        };

    private static string Moment(DateTimeOffset at, PeopleDirectory directory) =>
        directory.Time.InZone(at).ToString("HH:mm 'on' d MMM", CultureInfo.InvariantCulture);
}
