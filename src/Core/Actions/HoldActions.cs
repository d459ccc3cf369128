using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <param name="Through">The last day of the hold; null: until it is released.</param>
public sealed record HoldRequest(string Reason, DateOnly? Through);

/// <summary>Places and releases holds, which keep a site from being erased.</summary>
public static class HoldActions
{
    public static Decision Place(ActionFacts facts, HoldRequest request, Actor actor)
    {
        var refused = Refusals(facts, request, actor).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var hold = new Hold(0, request.Reason.Trim(), actor.Person, facts.Now, request.Through);
        return new Decision.Plan([], [Entry(JournalAction.HoldPlaced, facts, hold, actor, request.Reason)], Effect.None)
        {
            Hold = hold,
            SideEffects =
            [
                facts.AtticEntry?.State.IsInAttic() == true ? Sentence(facts, [.. facts.Holds, hold])
                : facts.Organisation.CapabilitiesOf(facts.Site.Host).AtticIsOurs
                    ? "Until the hold ends, the site can be moved to the attic but is not erased."
                : "Until the hold ends, the site cannot be moved to the attic.",
            ],
        };
    }

    public static Decision Release(ActionFacts facts, long id, string? reason, Actor actor)
    {
        var time = facts.PeopleDirectory.Time;
        if (actor.As == Capacity.Owner)
        {
            return new Decision.Refusal([new HoldNotByOwners()]);
        }

        if (facts.Holds.FirstOrDefault(hold => hold.Id == id && hold.IsInForce(facts.Now, time)) is not { } held)
        {
            return new Decision.Refusal([new HoldEnded()]);
        }

        if (reason is null)
        {
            return new Decision.Refusal([new HoldReleaseNeedsReason()]);
        }

        var released = held with { Released = facts.Now };
        return new Decision.Plan([], [Entry(JournalAction.HoldReleased, facts, released, actor, reason)], Effect.None)
        {
            Hold = released,
            SideEffects =
                facts.AtticEntry?.State.IsInAttic() == true
                    ? [Sentence(facts, [.. facts.Holds.Where(hold => hold.Id != id), released])]
                    : [],
        };
    }

    private static IEnumerable<Remark> Refusals(ActionFacts facts, HoldRequest request, Actor actor)
    {
        var site = facts.Site;
        var time = facts.PeopleDirectory.Time;
        if (actor.As == Capacity.Owner)
        {
            yield return new HoldNotByOwners();
        }

        if (string.IsNullOrWhiteSpace(request.Reason))
        {
            yield return new HoldNeedsReason();
        }

        foreach (var reason in HostChanges.TooLong(request.Reason))
        {
            yield return reason;
        }

        if (request.Through is { } through && time.IsOver(through, facts.Now))
        {
            yield return new LastDayPassed(through);
        }

        if (site.Existence == Existence.Erased)
        {
            yield return new ErasedNotHeld(site.Host);
        }

        // A hold does not stop the period of the host's bin.
        if (
            site.Bin is { } bin
            && bin.RecoverableUntil.Has(out var until)
            && !(request.Through is { } last && time.EndOf(last) <= until)
        )
        {
            yield return new BinEmptiesFirst(site.Host, time.DayOf(until));
        }
    }

    private static string Sentence(ActionFacts facts, IReadOnlyList<Hold> holds) =>
        Clock
            .Of(facts.AtticEntry!.ClockFacts(facts.Site, facts.Organisation, holds), facts.PeopleDirectory.Time, facts.Now)
            .Words(facts.Site.Host, facts.Now);

    private static Draft Entry(JournalAction action, ActionFacts facts, Hold hold, Actor actor, string? reason) =>
        new(action, actor.InJournal, EntrySubject.Of(facts.Site.Id))
        {
            After = JournalValue.Of(
                ("reason", JournalValue.Of(hold.Reason)),
                ("through", JournalValue.Of(hold.Through?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("released", hold.Released is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = reason,
        };
}
