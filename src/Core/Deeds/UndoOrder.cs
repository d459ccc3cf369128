using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>
/// Undoing is a new deed, decided on today's facts and pointing back: an order that was not sent is withdrawn, one that
/// had its effect is countered.
/// </summary>
public static class UndoOrder
{
    public const string Deed = "order.undo";

    public static Decision Decide(DeedFacts facts, Order undone, OrderId newOrder, Doer doer, string? reason)
    {
        if (undone.Purpose != OrderPurpose.Reach)
        {
            return new Decision.Refusal([
                undone.Purpose == OrderPurpose.Key
                    ? "A countersigned handover cannot be undone. Its new owner can offer the key back."
                    : "Putting away and bringing back are undone in the attic: stop it there, bring the site back, or put it away again.",
            ]);
        }

        if (undone.State == OrderState.Asked)
        {
            return Withdraw(facts, undone, doer, reason);
        }

        var grants = facts.Site.Expected.Or([]);
        var refused = Refusals(facts, undone, grants).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var changes = undone
            .Before.Where(change => grants.FirstOrDefault(grant => grant.Key == change.Key) != change.Wanted)
            .ToList();
        var effect = Foresee.Change(facts.Site, changes, facts.House, facts.Rules, facts.Roll);
        var order = Orders.New(newOrder, facts, new Wish(changes), doer, reason) with { UndoOf = undone.Id };
        return new Decision.Plan(
            [.. Orders.Superseded(facts.Lane, order), order],
            [Entry(facts, undone, effect, doer, reason, newOrder)],
            effect
        );
    }

    private static Decision Withdraw(DeedFacts facts, Order undone, Doer doer, string? reason)
    {
        var effect = Foresee.Change(facts.Site, undone.Before, facts.House, facts.Rules, facts.Roll);
        return new Decision.Plan([undone.Move(OrderEvent.Withdraw)], [Entry(facts, undone, effect, doer, reason, null)], effect);
    }

    private static IEnumerable<string> Refusals(DeedFacts facts, Order undone, IReadOnlyList<Grant> grants)
    {
        if (!undone.State.HadEffect() && undone.State != OrderState.Contradicted)
        {
            yield return undone.State == OrderState.Sent
                ? facts.House.HabitsOf(facts.Site.Host).ByHand is not null
                    ? "A person has the order. Call it back on its page."
                    : "The order is with the host. It can be undone as soon as the host has answered."
                : "The order had no effect, so there is nothing to undo.";
        }

        foreach (var reason in Orders.NotInUse(facts).Concat(Orders.NotTold(facts.Site, "nothing can be decided yet.")))
        {
            yield return reason;
        }

        if (grants.With(undone.Before).SequenceEqual(grants.OrderBy(grant => grant.Key, StringComparer.Ordinal)))
        {
            yield return "It is already as it was before the order.";
        }
        else if (!grants.With(undone.Wish.Grants).SequenceEqual(grants.OrderBy(grant => grant.Key, StringComparer.Ordinal)))
        {
            yield return "Somebody has changed the same access since. Undoing would overwrite their change.";
        }
    }

    private static Draft Entry(DeedFacts facts, Order undone, Effect effect, Doer doer, string? reason, OrderId? order) =>
        new(Deed, doer.InJournal, $"site:{facts.Site.Id.Value}")
        {
            Before = JournalValue.Of(
                ("order", JournalValue.Of(undone.Id.ToString())),
                ("state", JournalValue.Of(undone.State.ToString().ToLowerInvariant()))
            ),
            After = JournalValue.Of(("order", JournalValue.Of(order?.ToString())), ("predicted", effect.InJournal)),
            Reason = reason,
            UndoOf = undone.Place,
        };
}
