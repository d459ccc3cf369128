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
        return Permitted(Power.View).Has(out var view) && Permitted(Power.Preview).Has(out var preview) && Permitted(Power.Edit).Has(out var edit)
            ? Known.Of(new PowerLimits(view, preview, edit with { Inside = edit.Inside | InsideLimit.Named }))
            : Known<PowerLimits>.Unknown;
    }

    public static Decision Decide(DeedFacts facts, NarrowWish wish, OrderId newOrder, Doer doer)
    {
        var site = facts.Site;
        var refused = RefusalsBefore(site, wish).ToList();
        if (refused.Count > 0 || !site.Expected.Has(out var grants))
        {
            return new Decision.Refusal(refused);
        }

        var narrowing = new Narrowing(facts, wish.Target);

        // Two wide grants that are cut to the unit ask for the same grant to it: the stronger stands.
        var changes = grants.SelectMany(narrowing.Of)
            .GroupBy(change => change.Key)
            .Select(same => same.MaxBy(change => change.Wanted?.Power)!)
            .ToList();
        if (changes.Count == 0)
        {
            return new Decision.Refusal([.. NothingToNarrow(facts, narrowing.Remains)]);
        }

        var effect = Foresee.Change(site, changes, facts.House, facts.Rules, facts.Roll);
        var order = Orders.New(newOrder, facts, changes, doer, wish.Reason);
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
            effect,
            narrowing.Remains);
    }

    private static IEnumerable<string> RefusalsBefore(SiteFacts site, NarrowWish wish)
    {
        if (wish.Reason?.Length > LongestReason)
        {
            yield return $"The reason is {wish.Reason.Length} characters long; {LongestReason} is the most.";
        }

        if (site.Sharing.IsUnknown)
        {
            yield return $"{site.Host} did not say who is let in here, so nothing can be narrowed yet. Read the host again first.";
        }

        if (site.Vanished)
        {
            yield return $"{site.Host} no longer lists this site.";
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

    private sealed class Narrowing(DeedFacts facts, PowerLimits target)
    {
        private readonly PeopleSet ownUnit = facts.Site.Unit.Has(out var unit) ? facts.Roll.OfUnit(unit) : PeopleSet.Empty;
        private readonly List<string> remains = [];

        public IReadOnlyList<string> Remains => remains;

        public IEnumerable<GrantChange> Of(Grant grant)
        {
            var opening = Ask.Of(grant, facts.Roll).Lets.AtMost;
            var kept = Enumerable.Range(0, (int)grant.Power + 1)
                .Select(power => (Power)power)
                .Where(power => Left(opening, power) == Refusal.Nothing)
                .Select(power => (Power?)power)
                .LastOrDefault();
            if (opening.IsNothing || kept == grant.Power)
            {
                return [];
            }

            if (grant.Power == Power.Own)
            {
                remains.Add($"{GrantWords.Who(grant, facts.Roll)} holds a key. Hand it over before taking the access away.");
                return [];
            }

            if (!opening.IsWide && Left(opening, grant.Power) == Refusal.Part)
            {
                remains.Add($"{GrantWords.Who(grant, facts.Roll)} lets in some whom the limit refuses. Change who is in the group, at {facts.Site.Host}.");
                return [];
            }

            return Narrowed(grant, opening, kept);
        }

        private IEnumerable<GrantChange> Narrowed(Grant grant, Opening opening, Power? kept)
        {
            yield return new GrantChange(grant.Key, kept is { } lower ? grant with { Power = lower } : null);

            // All of the staff, cut to the own unit, is the unit.
            if (opening.IsWide && Left(opening, grant.Power) == Refusal.Part && facts.Site.Unit.Has(out var unit)
                && target.For(grant.Power).Inside == InsideLimit.Unit)
            {
                var key = $"unit:{unit.Value}";
                if (!facts.Site.Expected.Or([]).Any(other => other.Key == key && other.Power >= grant.Power))
                {
                    yield return new GrantChange(key, new Grant(key, grant.Power, new Subject.WholeUnit(unit)));
                }
            }
        }

        private enum Refusal : byte
        {
            Nothing,
            Part,
            All,
        }

        private Refusal Left(Opening opening, Power power)
        {
            var left = opening.Under(target.For(power), ownUnit);
            return left.Inside.Includes(opening.Inside) && left.Doors == opening.Doors ? Refusal.Nothing
                : left.IsNothing ? Refusal.All
                : Refusal.Part;
        }
    }
}

/// <summary>What deeds share in making orders.</summary>
internal static class Orders
{
    public static Order New(OrderId id, DeedFacts facts, IReadOnlyList<GrantChange> wish, Doer doer, string? reason) =>
        new()
        {
            Id = id,
            Site = facts.Site.Id,
            Wish = wish,
            Before = Current(facts.Site, wish),
            By = doer.Person,
            Reason = reason,
            AskedAt = facts.Now,
            NextTry = facts.Now,
            DueAt = facts.Now + Lane.DueWithin,
        };

    /// <summary>Orders not yet sent of which the new one settles every grant.</summary>
    public static IEnumerable<Order> Superseded(IEnumerable<Order> lane, Order by)
    {
        var settled = by.Wish.Select(change => change.Key).ToHashSet();
        return lane
            .Where(order => order.State == OrderState.Asked && order.Wish.All(change => settled.Contains(change.Key)))
            .Select(order => order.Move(OrderEvent.Supersede));
    }

    private static List<GrantChange> Current(SiteFacts site, IReadOnlyList<GrantChange> wish)
    {
        var grants = site.Expected.Or([]).ToDictionary(grant => grant.Key);
        return [.. wish.Select(change => new GrantChange(change.Key, grants.GetValueOrDefault(change.Key)))];
    }
}
