using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What deeds share in making orders.</summary>
internal static class Orders
{
    /// <summary>What to do instead where a host lets nobody in by name.</summary>
    public static string ChangeTheGroup(SiteFacts site, Roll roll) =>
        site
            .Expected.Or([])
            .Where(grant => grant.Power == Power.Own)
            .Select(grant => grant.Subject)
            .OfType<Subject.OneGroup>()
            .Select(subject => roll.Find(subject.Group)?.Name)
            .OfType<string>()
            .FirstOrDefault()
            is { } group
            ? $"Change who is in the group \"{group}\" at {site.Host}; the next read sees it."
            : $"Give a group the key at {site.Host}; the next read sees it.";

    public static Order New(OrderId id, DeedFacts facts, Wish wish, Doer doer, string? reason) =>
        new()
        {
            Id = id,
            Site = facts.Site.Id,
            Wish = wish,
            Before = Current(facts.Site, wish.Grants),
            By = doer.Person,
            Reason = reason,
            AskedAt = facts.Now,
            NextTry = facts.Now,
            DueAt = facts.House.HabitsOf(facts.Site.Host).ByHand is { } how
                ? facts.Roll.Time.EndOf(facts.Roll.Time.DayOf(facts.Now).AddDays(how.Days))
                : facts.Now + Lane.DueWithin,
        };

    /// <summary>Orders not yet sent of which the new one settles every grant.</summary>
    public static IEnumerable<Order> Superseded(IEnumerable<Order> lane, Order by)
    {
        var settled = by.Wish.Grants.Select(change => change.Key).ToHashSet();
        return lane.Where(order =>
                order.State == OrderState.Asked
                && order.Wish is { Existence: null, Address: null }
                && order.Wish.Grants.All(change => settled.Contains(change.Key))
            )
            .Select(order => order.Move(OrderEvent.Supersede));
    }

    /// <summary>Why nothing can be asked of a site that is not in use, or is on its way out of use.</summary>
    public static IEnumerable<string> NotInUse(DeedFacts facts)
    {
        var site = facts.Site;
        foreach (var reason in Unreadable(site))
        {
            yield return reason;
        }

        if (site.Vanished)
        {
            yield return $"{site.Host} no longer lists this site.";
        }

        if (facts.Stay is { State: StayState.GoingAway })
        {
            yield return $"The site is being put away: {site.Host} has been asked to delete it.";
        }
        else if (facts.Stay?.State.IsInAttic() == true || site.Existence == Existence.Attic)
        {
            yield return "The site lies in the attic. Bring it back first.";
        }
        else if (site.Existence == Existence.Cleared)
        {
            yield return $"{site.Host} has cleared the site for good.";
        }
    }

    /// <summary>Why nothing is done to a site whose row cannot be read.</summary>
    public static IEnumerable<string> Unreadable(SiteFacts site)
    {
        if (site.Fault is { } fault)
        {
            yield return $"What is known of this site cannot be read, so nothing is done to it: {fault}";
        }
    }

    /// <summary>Why nothing about access is decided of a site whose host did not say who is let in; of one that cannot be read, <see cref="NotInUse"/> says why.</summary>
    /// <param name="so">What cannot be done yet, to its full stop.</param>
    public static IEnumerable<string> NotTold(SiteFacts site, string so)
    {
        if (site is { Sharing.IsUnknown: true, Fault: null })
        {
            yield return $"{site.Host} did not say who is let in here, so {so}";
        }
    }

    /// <summary>A reason that is too long, if it is.</summary>
    public static IEnumerable<string> TooLong(string? reason)
    {
        if (reason?.Length > NarrowReach.LongestReason)
        {
            yield return $"The reason is {reason.Length} characters long; {NarrowReach.LongestReason} is the most.";
        }
    }

    private static List<GrantChange> Current(SiteFacts site, IReadOnlyList<GrantChange> wish)
    {
        var grants = site.Expected.Or([]).ToDictionary(grant => grant.Key);
        return [.. wish.Select(change => new GrantChange(change.Key, grants.GetValueOrDefault(change.Key)))];
    }
}
