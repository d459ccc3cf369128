using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>Let a site ask for no more than this.</summary>
public sealed record NarrowWish(PowerLimits Target, string? Reason);

/// <summary>
/// Narrows what a site asks of its host. A grant that the target refuses is lowered to the strongest power at which it is
/// let through, or removed. Only a whole grant can be changed: a group of which one member is refused stays, and the
/// plan says so.
/// </summary>
public static class NarrowReach
{
    public const string Deed = "site.narrow";
    public const int LongestReason = 500;

    /// <summary>The remedy: exactly what the house permits; unknown where a layer is.</summary>
    public static Known<PowerLimits> Remedy(SiteLine line)
    {
        Known<Limit> Permitted(Power power) => line.Passage(power).Permitted;
        return
            Permitted(Power.View).Has(out var view)
            && Permitted(Power.Preview).Has(out var preview)
            && Permitted(Power.Edit).Has(out var edit)
            ? Known.Of(new PowerLimits(view, preview, edit with { Inside = edit.Inside | InsideLimit.Named }))
            : Known<PowerLimits>.Unknown;
    }

    public static Decision Decide(DeedFacts facts, NarrowWish wish, OrderId newOrder, Doer doer)
    {
        var site = facts.Site;
        var refused = RefusalsBefore(facts, wish).ToList();
        if (refused.Count > 0 || !site.Expected.Has(out var grants))
        {
            return new Decision.Refusal(refused);
        }

        var narrowing = new Narrowing(facts, wish.Target);
        var changes = narrowing.Of(grants);
        if (changes.Count == 0)
        {
            return new Decision.Refusal([.. NothingToNarrow(facts, narrowing.Remains)]);
        }

        var effect = Foresee.Change(site, changes, facts.House, facts.Rules, facts.Roll);
        var order = Orders.New(newOrder, facts, new Wish(changes), doer, wish.Reason);
        return new Decision.Plan(
            [.. Orders.Superseded(facts.Lane, order), order],
            [
                new Draft(Deed, doer.InJournal, $"site:{site.Id.Value}")
                {
                    Before = JournalValue.Of(order.Before.Select(GrantWords.InJournal)),
                    After = JournalValue.Of(("order", JournalValue.Of(newOrder.ToString())), ("predicted", effect.InJournal)),
                    Reason = wish.Reason,
                },
            ],
            effect
        )
        {
            Remains = narrowing.Remains,
        };
    }

    private static IEnumerable<string> RefusalsBefore(DeedFacts facts, NarrowWish wish)
    {
        var site = facts.Site;
        foreach (var reason in Orders.TooLong(wish.Reason))
        {
            yield return reason;
        }

        foreach (
            var reason in Orders
                .NotInUse(facts)
                .Concat(Orders.NotTold(site, "nothing can be narrowed yet. Read the host again first."))
        )
        {
            yield return reason;
        }
    }

    private static IEnumerable<string> NothingToNarrow(DeedFacts facts, IReadOnlyList<string> remains)
    {
        yield return facts.Site.UnderWay.Count > 0
            ? "What is under way already does this; nothing is left to narrow."
            : "The site asks for no more than this; nothing is to be narrowed.";
        foreach (var sentence in remains)
        {
            yield return sentence;
        }
    }
}
