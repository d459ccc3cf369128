using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Something that falls due at an instant, by the passing of time alone.</summary>
public abstract record Due(DateTimeOffset At)
{
    public sealed record OfferEnds(DateTimeOffset At, Offer Offer, OfferEvent Why) : Due(At);

    public sealed record OfferReminder(DateTimeOffset At, Offer Offer) : Due(At);

    public sealed record ApprovalEnds(DateTimeOffset At, Approval Approval) : Due(At);

    /// <summary>Nobody has answered a request to start a site.</summary>
    public sealed record SiteRequestEnds(DateTimeOffset At, SiteRequest Request) : Due(At);

    /// <summary>The time to stop an owner's deletion is over.</summary>
    public sealed record StopTimeOver(DateTimeOffset At, AtticEntry AtticEntry) : Due(At);

    /// <summary>The organisation's period has ended, or runs again.</summary>
    public sealed record ClockTurned(DateTimeOffset At, AtticEntry AtticEntry, AtticEvent How) : Due(At);

    /// <summary>A site can soon no longer be restored.</summary>
    public sealed record LossNear(DateTimeOffset At, AtticEntry AtticEntry, DateTimeOffset Until) : Due(At);

    /// <summary>The assignee of a manual task has left.</summary>
    public sealed record AssigneeLeft(DateTimeOffset At, HostChange HostChange, ManualTask ManualTask) : Due(At);

    /// <summary>The last day of a manual task has begun.</summary>
    public sealed record ManualTaskNear(DateTimeOffset At, HostChange HostChange, ManualTask ManualTask) : Due(At);

    /// <summary>A manual task is neither done nor failed in time.</summary>
    public sealed record ManualTaskOverdue(DateTimeOffset At, HostChange HostChange, ManualTask ManualTask) : Due(At);

    /// <summary>The owners of a site are asked about a finding.</summary>
    public sealed record OwnersToAsk(DateTimeOffset At, UnaskedFinding Finding) : Due(At);

    public sealed record QuestionReminder(DateTimeOffset At, OwnerQuestion Question) : Due(At);

    /// <summary>The last day of a question has passed.</summary>
    public sealed record QuestionEnds(DateTimeOffset At, OwnerQuestion Question) : Due(At);

    /// <summary>There is nothing to answer any more.</summary>
    public sealed record QuestionSettled(DateTimeOffset At, OwnerQuestion Question) : Due(At);

    /// <summary>An exception ends soon, and the site will break its rule again.</summary>
    public sealed record ExceptionNear(DateTimeOffset At, SiteId Site, RuleException Exception) : Due(At);

    /// <summary>A leaver's last day is over.</summary>
    public sealed record PersonLeft(DateTimeOffset At, Person Person) : Due(At);
}

/// <summary>What can fall due: everything open, and people who leave.</summary>
/// <param name="Clocks">Open attic entries with their periods.</param>
/// <param name="Written">The keys of earlier notifications, by person.</param>
public sealed record DueFacts(
    IReadOnlyList<Offer> Offers,
    IReadOnlyList<Approval> Approvals,
    IReadOnlyList<(AtticEntry AtticEntry, Clock? Clock)> Clocks,
    PeopleDirectory PeopleDirectory,
    IReadOnlySet<(PersonId, string)> Written
)
{
    /// <summary>The keys of earlier notifications to anybody.</summary>
    public IReadOnlySet<string> WrittenKeys { get; } = Written.Select(written => written.Item2).ToHashSet(StringComparer.Ordinal);

    /// <summary>Open requests to start a site.</summary>
    public IReadOnlyList<SiteRequest> SiteRequests { get; init; } = [];

    public IReadOnlyList<UnaskedFinding> Unasked { get; init; } = [];

    /// <summary>Questions that have not ended; settled if their finding has.</summary>
    public IReadOnlyList<(OwnerQuestion Question, bool IsSettled)> Questions { get; init; } = [];

    /// <summary>Exceptions in force whose end is near.</summary>
    public IReadOnlyList<(SiteId Site, RuleException Exception)> Exceptions { get; init; } = [];

    /// <summary>Open manual tasks.</summary>
    public IReadOnlyList<(HostChange HostChange, ManualTask ManualTask)> ManualTasks { get; init; } = [];
}

/// <summary>Everything due is a function of the instant: however long ago the last check was, all that fell due since is found
/// once, in the sequence in which it fell due.
/// </summary>
public static class DueNow
{
    public const int ReminderDays = 2;
    public const int LossDays = 7;

    public static IReadOnlyList<Due> Of(DueFacts facts)
    {
        var now = facts.PeopleDirectory.Now;
        var time = facts.PeopleDirectory.Time;
        var left = facts
            .PeopleDirectory.People.Where(person =>
                person is { Standing: Standing.Leaving, Day: not null } && time.IsOver(person.Day.Value, now)
            )
            .Select(person => (Due)new Due.PersonLeft(time.EndOf(person.Day!.Value), person));
        var due = facts
            .Offers.SelectMany(offer => OfOffer(offer, facts))
            .Concat(
                facts
                    .Approvals.Where(approval => approval.State == ApprovalState.Requested)
                    .Select(approval => (Due)new Due.ApprovalEnds(time.EndOf(approval.Through), approval))
            )
            .Concat(
                facts
                    .SiteRequests.Where(request => request.State == SiteRequestState.Requested)
                    .Select(request => (Due)new Due.SiteRequestEnds(time.EndOf(request.Through), request))
            )
            .Concat(facts.Clocks.SelectMany(pair => OfAtticEntry(pair.AtticEntry, pair.Clock, facts)))
            .Concat(
                facts.ManualTasks.SelectMany(pair =>
                    ManualTaskSteps.DueOf(pair.HostChange, pair.ManualTask, facts.PeopleDirectory, facts.Written)
                )
            )
            .Concat(facts.Unasked.Select(unasked => (Due)new Due.OwnersToAsk(unasked.Since, unasked)))
            .Concat(
                facts.Questions.SelectMany(pair =>
                    pair.IsSettled ? [new Due.QuestionSettled(now, pair.Question)] : AskingOwners.DueOf(pair.Question, facts)
                )
            )
            .Concat(facts.Exceptions.SelectMany(pair => ExceptionActions.DueOf(pair.Site, pair.Exception, facts)))
            .Concat(left);

        // At equal instants leavers come first, because offers to them end with it.
        return
        [
            .. due.Where(one => one.At <= now)
                .OrderBy(one => one.At)
                .ThenBy(one => one is Due.PersonLeft ? 0 : 1)
                .ThenBy(one => one.GetType().Name, StringComparer.Ordinal),
        ];
    }

    /// <summary>Carries out what is due for a site, on current facts; null if it is no longer due.</summary>
    /// <param name="say">Makes the sentence of what blocks it, for the mail and the record.</param>
    public static Decision.Plan? Carry(Due due, ActionFacts facts, ChangeId newHostChange, Func<Remark, string> say) =>
        due switch
        {
            Due.OfferEnds(var at, var offer, var why) => facts.Offers.FirstOrDefault(one => one.Id == offer.Id)
                is { State: OfferState.Offered } open
                ? HandOver.End(facts, open, why, at)
                : null,
            Due.OfferReminder(_, var offer) => Reminder(offer, facts),
            Due.StopTimeOver(_, var atticEntry) => facts.AtticEntry is { State: AtticState.Announced } announced
            && announced.Id == atticEntry.Id
                ? MoveToAttic.Go(facts, announced, newHostChange, say)
                : null,
            Due.ClockTurned(var at, _, var how) => facts.AtticEntry is { } open && AtticStates.Table.Allows(open.State, how)
                ? Turned(facts, open, how, at)
                : null,
            Due.LossNear(_, var atticEntry, var until) => Near(facts, atticEntry, until),
            Due.AssigneeLeft(_, var hostChange, var manualTask) => Still(facts, hostChange) is { } open
                ? ManualTaskSteps.Left(open, manualTask, facts.Site, facts.PeopleDirectory)
                : null,
            Due.ManualTaskNear(_, var hostChange, var manualTask) => Still(facts, hostChange) is { } open
                ? ManualTaskSteps.Near(open, manualTask, facts.Site)
                : null,
            Due.ManualTaskOverdue(_, var hostChange, var manualTask) => Still(facts, hostChange) is { } open
                ? ManualTaskSteps.Overdue(open, manualTask, facts.Site, facts.Administrators, facts.PeopleDirectory)
                : null,
            Due.OwnersToAsk(_, var finding) => AskingOwners.Ask(facts, finding, new QuestionId(newHostChange.Value)),
            Due.QuestionReminder(_, var question) => AskingOwners.Remind(facts, question),
            Due.QuestionEnds(_, var question) => AskingOwners.LastDayPassed(facts, question, newHostChange, say),
            Due.QuestionSettled(_, var question) => AskingOwners.Settle(facts, question),
            Due.ExceptionNear(_, _, var exception) => ExceptionActions.Near(facts, exception),
            _ => null,
        };

    /// <summary>A leaver has left: recorded once, with the actual day.</summary>
    public static Decision.Plan Leave(Person person, DateTimeOffset at) =>
        new(
            [],
            [
                new Draft(JournalAction.PersonLeft, EntryActor.Product, EntrySubject.Organisation)
                {
                    After = JournalValue.Of(("person", JournalValue.Of(EntryActor.Of(person.Id))), ("due", JournalValue.Of(at))),
                },
            ],
            Effect.None
        )
        {
            Person = person with { Standing = Standing.Left },
        };

    public static Draft Lapsed(Approval approval, DateTimeOffset at) =>
        approval.Entry(JournalAction.ApprovalLapsed, EntryActor.Product) with
        {
            Before = JournalValue.Of(("due", JournalValue.Of(at))),
        };

    /// <summary>A request to start a site that nobody answered in time: its address is free again, and the requester hears of it.
    /// </summary>
    public static (SiteRequest Request, Draft Entry, IReadOnlyList<Notification> Notifications) Lapsed(
        SiteRequest request,
        DateTimeOffset at,
        DateTimeOffset now
    )
    {
        var ended = request.Move(SiteRequestEvent.Lapse) with { EndedAt = now };
        return (
            ended,
            ended.Entry(JournalAction.RequestLapsed, EntryActor.Product) with
            {
                Before = JournalValue.Of(("due", JournalValue.Of(at))),
            },
            [
                new Notification(
                    request.By,
                    $"request-lapsed:{request.Id}",
                    $"Nobody answered your request: {request.Wanted.Name}",
                    [
                        $"Nobody answered your request for the site {request.Wanted.Name} until the end of {request.Through.InWords()}. Its address is free again; you can ask once more.",
                    ]
                ),
            ]
        );
    }

    private static IEnumerable<Due> OfOffer(Offer offer, DueFacts facts)
    {
        if (offer.State != OfferState.Offered)
        {
            yield break;
        }

        var time = facts.PeopleDirectory.Time;
        var ends = time.EndOf(offer.Through);
        if (
            facts.PeopleDirectory.Find(offer.To) is { Standing: Standing.Left or Standing.Leaving } leaver
            && (leaver.Day is { } last ? time.EndOf(last) : facts.PeopleDirectory.Now) is var leaves
            && leaves < ends
        )
        {
            yield return new Due.OfferEnds(leaves, offer, OfferEvent.RecipientNotActive);
        }

        // Deleted at the host itself; a move to the attic by the product ends offers at once.
        if (
            facts
                .Clocks.FirstOrDefault(pair => pair.AtticEntry.Site == offer.Site && pair.AtticEntry.State.IsInAttic())
                .AtticEntry is
            { MovedToAtticAt: { } away }
        )
        {
            yield return new Due.OfferEnds(away, offer, OfferEvent.SiteMovedToAttic);
        }

        yield return new Due.OfferEnds(ends, offer, OfferEvent.Lapse);
        var remind = time.StartOf(offer.Through.Plus(-ReminderDays));
        if (
            remind > offer.OfferedAt
            && facts.PeopleDirectory.Now < ends
            && !facts.Written.Contains((offer.To, ReminderKey(offer)))
        )
        {
            yield return new Due.OfferReminder(remind, offer);
        }
    }

    private static IEnumerable<Due> OfAtticEntry(AtticEntry atticEntry, Clock? clock, DueFacts facts)
    {
        if (atticEntry is { State: AtticState.Announced, StoppableUntil: { } stoppable })
        {
            yield return new Due.StopTimeOver(stoppable, atticEntry);
        }

        if (clock is null || !atticEntry.State.IsInAttic())
        {
            yield break;
        }

        var now = facts.PeopleDirectory.Now;
        if (atticEntry.State == AtticState.InAttic && clock.Clears is { } clears && clock.IsDue(now))
        {
            yield return new Due.ClockTurned(clears, atticEntry, AtticEvent.EndPassed);
        }

        if (atticEntry.State == AtticState.Due && !clock.IsDue(now))
        {
            yield return new Due.ClockTurned(now, atticEntry, AtticEvent.EndMoved);
        }

        if (clock.RecoverableUntil is { } until && until > now)
        {
            var time = facts.PeopleDirectory.Time;
            var near = time.StartOf(time.LastDayBefore(until).Plus(-LossDays));
            if (near > atticEntry.RequestedAt && !facts.WrittenKeys.Contains(NearKey(atticEntry, until)))
            {
                yield return new Due.LossNear(near, atticEntry, until);
            }
        }
    }

    private static Decision.Plan Reminder(Offer offer, ActionFacts facts) =>
        new([], [], Effect.None)
        {
            Notifications =
            [
                new Notification(
                    offer.To,
                    ReminderKey(offer),
                    $"The offer of {facts.Site.Title} lapses soon",
                    [$"{facts.Site.Title} is offered to you. You can answer until the end of {offer.Through.InWords()}."],
                    Link: new NotificationLink(
                        LinkPurpose.Offer,
                        offer.Id.ToString(),
                        facts.PeopleDirectory.Time.EndOf(offer.Through),
                        "Review the offer and answer it"
                    )
                ),
            ],
        };

    private static Decision.Plan Turned(ActionFacts facts, AtticEntry atticEntry, AtticEvent how, DateTimeOffset at) =>
        new(
            [],
            [
                new Draft(
                    how == AtticEvent.EndPassed ? JournalAction.AtticDue : JournalAction.AtticExtended,
                    EntryActor.Product,
                    EntrySubject.Of(facts.Site.Id)
                )
                {
                    After = JournalValue.Of(
                        ("due", JournalValue.Of(at)),
                        ("clears", facts.Clock?.Clears is { } clears ? JournalValue.Of(clears) : JournalValue.Null)
                    ),
                },
            ],
            Effect.None
        )
        {
            AtticEntry = atticEntry.Move(how),
        };

    private static Decision.Plan? Near(ActionFacts facts, AtticEntry atticEntry, DateTimeOffset until)
    {
        // The owners and the administrators are warned, also of what somebody deleted at the host itself.
        var recipients = facts
            .Administrators.Concat(
                SiteOwners
                    .Of(facts.Site, facts.PeopleDirectory, facts.Organisation.ActiveDays)
                    .Holders.Select(holder => holder.Person.Id)
                    .Where(facts.PeopleDirectory.IsHere)
            )
            .Concat(atticEntry.By is { } by ? [by] : [])
            .Distinct()
            .ToList();
        if (recipients.Count == 0)
        {
            return null;
        }

        var day = facts.PeopleDirectory.Time.LastDayBefore(until);
        Notification To(PersonId person) =>
            new(
                person,
                NearKey(atticEntry, until),
                $"{facts.Site.Title} can be restored until the end of {day.InWords()}",
                [$"{facts.Site.Title} is in the attic. After {day.InWords()} it may no longer be possible to restore it."],
                Link: new NotificationLink(LinkPurpose.Yours, "", until, "Open your sites")
            );
        return new Decision.Plan([], [], Effect.None) { Notifications = [.. recipients.Select(To)] };
    }

    private static HostChange? Still(ActionFacts facts, HostChange hostChange) =>
        facts.ChangeQueue.FirstOrDefault(one =>
            one.Id == hostChange.Id && one.State == ChangeState.Sent && one.DueAt == hostChange.DueAt
        );

    private static string ReminderKey(Offer offer) => $"remind:{offer.Id}";

    private static string NearKey(AtticEntry atticEntry, DateTimeOffset until) => $"near:{atticEntry.Id}:{until.UtcTicks}";
}
