using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <param name="Through">The last day on which it holds, or null for until it is released.</param>
public sealed record HoldWish(string Reason, DateOnly? Through);

/// <summary>Orders not to clear a site, and their release.</summary>
public static class HoldDeeds
{
    public static Decision Place(DeedFacts facts, HoldWish wish, Doer doer)
    {
        var refused = Refusals(facts, wish, doer).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var hold = new Hold(0, wish.Reason.Trim(), doer.Person, facts.Now, wish.Through);
        return new Decision.Plan([], [Entry("hold.placed", facts, hold, doer, wish.Reason)], Effect.None)
        {
            Hold = hold,
            Along =
            [
                facts.Stay?.State.IsInAttic() == true ? Sentence(facts, [.. facts.Holds, hold])
                : facts.House.HabitsOf(facts.Site.Host).AtticIsOurs
                    ? "While it holds, the site may be put away but is not cleared out."
                : "While it holds, the site cannot be put away.",
            ],
        };
    }

    public static Decision Release(DeedFacts facts, long id, string? reason, Doer doer)
    {
        var time = facts.Roll.Time;
        if (doer.As == Capacity.Owner)
        {
            return new Decision.Refusal(["Holds are placed and released by administrators and stewards."]);
        }

        if (facts.Holds.FirstOrDefault(hold => hold.Id == id && hold.IsInForce(facts.Now, time)) is not { } held)
        {
            return new Decision.Refusal(["This hold is over."]);
        }

        if (reason is null)
        {
            return new Decision.Refusal(["Releasing a hold needs a reason."]);
        }

        var released = held with { Released = facts.Now };
        return new Decision.Plan([], [Entry("hold.released", facts, released, doer, reason)], Effect.None)
        {
            Hold = released,
            Along =
                facts.Stay?.State.IsInAttic() == true
                    ? [Sentence(facts, [.. facts.Holds.Where(hold => hold.Id != id), released])]
                    : [],
        };
    }

    private static IEnumerable<string> Refusals(DeedFacts facts, HoldWish wish, Doer doer)
    {
        var site = facts.Site;
        var time = facts.Roll.Time;
        if (doer.As == Capacity.Owner)
        {
            yield return "Holds are placed and released by administrators and stewards.";
        }

        if (string.IsNullOrWhiteSpace(wish.Reason))
        {
            yield return "A hold needs a reason.";
        }

        foreach (var reason in Orders.TooLong(wish.Reason))
        {
            yield return reason;
        }

        if (wish.Through is { } through && time.IsOver(through, facts.Now))
        {
            yield return $"{Day(through)} has passed; a hold ends on a day to come.";
        }

        if (site.Existence == Existence.Cleared)
        {
            yield return $"{site.Host} has cleared the site for good; there is nothing left to hold.";
        }

        // The bin's own clock does not stop for us.
        if (
            site.Bin is { } bin
            && bin.RecoverableUntil.Has(out var until)
            && !(wish.Through is { } last && time.EndOf(last) <= until)
        )
        {
            yield return $"{site.Host} clears its bin on {Day(time.DayOf(until))} whatever we hold. Bring the site back first: a held site cannot be put away.";
        }
    }

    private static string Sentence(DeedFacts facts, IReadOnlyList<Hold> holds) =>
        Clock
            .Of(facts.Stay!.ClockFacts(facts.Site, facts.House, holds), facts.Roll.Time, facts.Now)
            .Words(facts.Site.Host, facts.Now);

    private static Draft Entry(string deed, DeedFacts facts, Hold hold, Doer doer, string? reason) =>
        new(deed, doer.InJournal, $"site:{facts.Site.Id.Value}")
        {
            After = JournalValue.Of(
                ("reason", JournalValue.Of(hold.Reason)),
                ("through", JournalValue.Of(hold.Through?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("released", hold.Released is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = reason,
        };

    private static string Day(DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
