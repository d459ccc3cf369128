using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>The deeds that can be done on many sites at once, each with a wish that fits every site.</summary>
public static class BulkDeeds
{
    public static readonly IReadOnlyList<string> All = [NarrowReach.Deed, PutAway.Deed, AskOwners.Deed];

    /// <summary>Whether the number of sites has to be typed before it starts: what others use goes away with it.</summary>
    public static bool WantsNumber(string deed) => deed == PutAway.Deed;

    /// <summary>Whether it has to do with the other sites on a site's host.</summary>
    public static bool LooksAround(string deed) => deed is PutAway.Deed or BringBack.Deed;

    /// <summary>The deed that takes another back on every site where it was done; null where nothing could.</summary>
    public static string? UndoOf(string deed) =>
        deed switch
        {
            NarrowReach.Deed or UndoOrder.Deed => UndoOrder.Deed,
            PutAway.Deed => BringBack.Deed,
            _ => null,
        };

    /// <param name="undone">The order that is to be taken back, where that is the deed.</param>
    public static Decision Decide(
        string deed,
        DeedFacts facts,
        string? reason,
        Guid newOrder,
        Doer doer,
        OrderId? undone = null
    ) =>
        deed switch
        {
            UndoOrder.Deed => facts.Lane.FirstOrDefault(order => order.Id == undone) is { } order
                ? UndoOrder.Decide(facts, order, new OrderId(newOrder), doer, reason)
                : new Decision.Refusal(["Nothing was asked of the host here, so there is nothing to take back."]),
            BringBack.Deed => BringBack.Decide(facts, new BringBackWish(reason), new OrderId(newOrder), doer),
            NarrowReach.Deed => NarrowReach.Remedy(new SiteLine(facts.Site, facts.House, facts.Roll)).Has(out var permitted)
                ? NarrowReach.Decide(facts, new NarrowWish(permitted, reason), new OrderId(newOrder), doer)
                : new Decision.Refusal([
                    "A limit over this site is not known, so it cannot be told how far to narrow it. Narrow it by itself.",
                ]),
            PutAway.Deed when doer.As == Capacity.Owner => new Decision.Refusal([
                "Owners put their sites away one by one, so that each can be stopped for a while.",
            ]),
            PutAway.Deed => PutAway.Decide(facts, Away(reason), new OrderId(newOrder), doer),
            AskOwners.Deed => AskOwners.Decide(facts, reason, doer),
            _ => throw new InvalidOperationException($"The deed {deed} is not done on many sites at once."),
        };

    /// <summary>The wish as it is kept where a line waits for a second person.</summary>
    public static object Wish(string deed, string? reason) =>
        deed == PutAway.Deed ? Away(reason) : throw new InvalidOperationException($"The deed {deed} needs no second person.");

    private static PutAwayWish Away(string? reason) => new(reason);
}
