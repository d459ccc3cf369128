using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>Something that falls due at an instant, by the passing of time alone.</summary>
public abstract record Due(DateTimeOffset At)
{
    public sealed record OfferEnds(DateTimeOffset At, Offer Offer, OfferEvent Why) : Due(At);

    public sealed record OfferReminder(DateTimeOffset At, Offer Offer) : Due(At);

    public sealed record ApprovalEnds(DateTimeOffset At, Approval Approval) : Due(At);

    /// <summary>The time to stop an owner's deletion is over.</summary>
    public sealed record StopTimeOver(DateTimeOffset At, Stay Stay) : Due(At);

    /// <summary>Our clock has run out, or runs again.</summary>
    public sealed record ClockTurned(DateTimeOffset At, Stay Stay, StayEvent How) : Due(At);

    /// <summary>Soon a site can no longer be brought back.</summary>
    public sealed record LossNear(DateTimeOffset At, Stay Stay, DateTimeOffset Until) : Due(At);

    /// <summary>Whoever has an order by hand has left.</summary>
    public sealed record HandLeft(DateTimeOffset At, Order Order, HandOrder Hand) : Due(At);

    /// <summary>The last day of an order by hand has begun.</summary>
    public sealed record HandNear(DateTimeOffset At, Order Order, HandOrder Hand) : Due(At);

    /// <summary>An order by hand is neither done nor refused in time.</summary>
    public sealed record HandOverdue(DateTimeOffset At, Order Order, HandOrder Hand) : Due(At);

    /// <summary>A leaver's last day is over.</summary>
    public sealed record PersonLeft(DateTimeOffset At, Person Person) : Due(At);
}

/// <summary>What may be due: what is open, and who is leaving.</summary>
/// <param name="Clocks">Open stays with the clocks that run on them.</param>
/// <param name="Written">Keys of letters that were written before, by person.</param>
public sealed record DueFacts(
    IReadOnlyList<Offer> Offers,
    IReadOnlyList<Approval> Approvals,
    IReadOnlyList<(Stay Stay, Clock? Clock)> Clocks,
    Roll Roll,
    IReadOnlySet<(PersonId, string)> Written
)
{
    /// <summary>Orders that people have.</summary>
    public IReadOnlyList<(Order Order, HandOrder Hand)> ByHand { get; init; } = [];
}

/// <summary>
/// Everything due is a function of the moment: however long nobody asked, all that fell due meanwhile is found, once, in
/// the order in which it fell due.
/// </summary>
public static class DueNow
{
    public const int ReminderDays = 2;
    public const int LossDays = 7;

    public static IReadOnlyList<Due> Of(DueFacts facts)
    {
        var now = facts.Roll.Now;
        var time = facts.Roll.Time;
        var left = facts
            .Roll.People.Where(person =>
                person is { Standing: Standing.Leaving, Day: not null } && time.IsOver(person.Day.Value, now)
            )
            .Select(person => (Due)new Due.PersonLeft(time.EndOf(person.Day!.Value), person));
        var due = facts
            .Offers.SelectMany(offer => OfOffer(offer, facts))
            .Concat(
                facts
                    .Approvals.Where(approval => approval.State == ApprovalState.Asked)
                    .Select(approval => (Due)new Due.ApprovalEnds(time.EndOf(approval.Through), approval))
            )
            .Concat(facts.Clocks.SelectMany(pair => OfStay(pair.Stay, pair.Clock, facts)))
            .Concat(facts.ByHand.SelectMany(pair => ByHand.DueOf(pair.Order, pair.Hand, facts.Roll, facts.Written)))
            .Concat(left);

        // At equal instants: who left first, for offers to them end with it.
        return
        [
            .. due.Where(one => one.At <= now)
                .OrderBy(one => one.At)
                .ThenBy(one => one is Due.PersonLeft ? 0 : 1)
                .ThenBy(one => one.GetType().Name, StringComparer.Ordinal),
        ];
    }

    /// <summary>Carries out what is due on a site, on facts read anew; null where it is no longer due.</summary>
    public static Decision.Plan? Carry(Due due, DeedFacts facts, OrderId newOrder) =>
        due switch
        {
            Due.OfferEnds(var at, var offer, var why) => facts.Offers.FirstOrDefault(one => one.Id == offer.Id)
                is { State: OfferState.Offered } open
                ? HandOver.End(facts, open, why, at)
                : null,
            Due.OfferReminder(_, var offer) => Reminder(offer, facts),
            Due.StopTimeOver(_, var stay) => facts.Stay is { State: StayState.Announced } announced && announced.Id == stay.Id
                ? PutAway.Go(facts, announced, newOrder)
                : null,
            Due.ClockTurned(var at, _, var how) => facts.Stay is { } open && StayStates.After(open.State, how) is not null
                ? Turned(facts, open, how, at)
                : null,
            Due.LossNear(_, var stay, var until) => Near(facts, stay, until),
            Due.HandLeft(_, var order, var hand) => Still(facts, order) is { } open
                ? ByHand.Left(open, hand, facts.Site, facts.Roll)
                : null,
            Due.HandNear(_, var order, var hand) => Still(facts, order) is { } open ? ByHand.Near(open, hand, facts.Site) : null,
            Due.HandOverdue(_, var order, var hand) => Still(facts, order) is { } open
                ? ByHand.Overdue(open, hand, facts.Site, facts.Administrators, facts.Roll)
                : null,
            _ => null,
        };

    /// <summary>A leaver has left: it is written down once, with the day on which it was so.</summary>
    public static Decision.Plan Leave(Person person, DateTimeOffset at) =>
        new(
            [],
            [
                new Draft("person.left", "house", "house")
                {
                    After = JournalValue.Of(
                        ("person", JournalValue.Of($"person:{person.Id.Value}")),
                        ("due", JournalValue.Of(at))
                    ),
                },
            ],
            Effect.None
        )
        {
            Person = person with { Standing = Standing.Left },
        };

    public static Draft Lapsed(Approval approval, DateTimeOffset at) =>
        approval.Entry("lapsed", "house") with
        {
            Before = JournalValue.Of(("due", JournalValue.Of(at))),
        };

    private static IEnumerable<Due> OfOffer(Offer offer, DueFacts facts)
    {
        if (offer.State != OfferState.Offered)
        {
            yield break;
        }

        var time = facts.Roll.Time;
        var ends = time.EndOf(offer.Through);
        if (
            facts.Roll.Find(offer.To) is { Standing: Standing.Left or Standing.Leaving } leaver
            && (leaver.Day is { } last ? time.EndOf(last) : facts.Roll.Now) is var leaves
            && leaves < ends
        )
        {
            yield return new Due.OfferEnds(leaves, offer, OfferEvent.RecipientUnfit);
        }

        // Deleted at the host itself; our own putting away ends its offers at once.
        if (
            facts.Clocks.FirstOrDefault(pair => pair.Stay.Site == offer.Site && pair.Stay.State.IsInAttic()).Stay is
            { PutAwayAt: { } away }
        )
        {
            yield return new Due.OfferEnds(away, offer, OfferEvent.SitePutAway);
        }

        yield return new Due.OfferEnds(ends, offer, OfferEvent.Lapse);
        var remind = time.StartOf(offer.Through.Plus(-ReminderDays));
        if (remind > offer.OfferedAt && facts.Roll.Now < ends && !facts.Written.Contains((offer.To, ReminderKey(offer))))
        {
            yield return new Due.OfferReminder(remind, offer);
        }
    }

    private static IEnumerable<Due> OfStay(Stay stay, Clock? clock, DueFacts facts)
    {
        if (stay is { State: StayState.Announced, StoppableUntil: { } stoppable })
        {
            yield return new Due.StopTimeOver(stoppable, stay);
        }

        if (clock is null || !stay.State.IsInAttic())
        {
            yield break;
        }

        var now = facts.Roll.Now;
        if (stay.State == StayState.Kept && clock.Clears is { } clears && clock.IsDue(now))
        {
            yield return new Due.ClockTurned(clears, stay, StayEvent.EndPassed);
        }

        if (stay.State == StayState.Due && !clock.IsDue(now))
        {
            yield return new Due.ClockTurned(now, stay, StayEvent.EndMoved);
        }

        if (clock.RecoverableUntil is { } until && until > now)
        {
            var time = facts.Roll.Time;
            var near = time.StartOf(time.LastDayBefore(until).Plus(-LossDays));
            if (near > stay.AskedAt && stay.By is { } by && !facts.Written.Contains((by, NearKey(stay, until))))
            {
                yield return new Due.LossNear(near, stay, until);
            }
        }
    }

    private static Decision.Plan Reminder(Offer offer, DeedFacts facts) =>
        new([], [], Effect.None)
        {
            Letters =
            [
                new Letter(
                    offer.To,
                    ReminderKey(offer),
                    $"The offer of {facts.Site.Title} ends soon",
                    [$"The key of {facts.Site.Title} is offered to you. You can answer through {Day(offer.Through)}."],
                    Link: new LetterLink(
                        LinkPurpose.Offer,
                        offer.Id.ToString(),
                        facts.Roll.Time.EndOf(offer.Through),
                        "Look at the offer and answer it"
                    )
                ),
            ],
        };

    private static Decision.Plan Turned(DeedFacts facts, Stay stay, StayEvent how, DateTimeOffset at) =>
        new(
            [],
            [
                new Draft(how == StayEvent.EndPassed ? "attic.due" : "attic.extended", "house", $"site:{facts.Site.Id.Value}")
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
            Stay = stay.Move(how),
        };

    private static Decision.Plan? Near(DeedFacts facts, Stay stay, DateTimeOffset until)
    {
        if (stay.By is not { } by)
        {
            return null;
        }

        var day = facts.Roll.Time.LastDayBefore(until);
        Letter To(PersonId person) =>
            new(
                person,
                NearKey(stay, until),
                $"{facts.Site.Title} can be brought back through {Day(day)}",
                [
                    $"{facts.Site.Title} was put away and lies in the attic. After {Day(day)} it can no longer surely be brought back.",
                ],
                Link: new LetterLink(LinkPurpose.Yours, "", until, "Look at your sites")
            );
        return new Decision.Plan([], [], Effect.None) { Letters = [.. facts.Administrators.Append(by).Distinct().Select(To)] };
    }

    private static Order? Still(DeedFacts facts, Order order) =>
        facts.Lane.FirstOrDefault(one => one.Id == order.Id && one.State == OrderState.Sent && one.DueAt == order.DueAt);

    private static string ReminderKey(Offer offer) => $"remind:{offer.Id}";

    private static string NearKey(Stay stay, DateTimeOffset until) => $"near:{stay.Id}:{until.UtcTicks}";

    private static string Day(DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
