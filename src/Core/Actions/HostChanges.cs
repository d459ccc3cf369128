using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What actions that make changes have in common.</summary>
internal static class HostChanges
{
    /// <summary>What to do instead if a host admits nobody by name.</summary>
    public static string ChangeTheGroup(SiteFacts site, PeopleDirectory directory) =>
        site
            .Expected.Or([])
            .Where(grant => grant.Power == Power.Own)
            .Select(grant => grant.Subject)
            .OfType<Subject.OneGroup>()
            .Select(subject => directory.Find(subject.Group)?.Name)
            .OfType<string>()
            .FirstOrDefault()
            is { } group
            ? $"Change who is in the group \"{group}\" at {site.Host}; the next sync reports it."
            : $"Make a group an owner at {site.Host}; the next sync reports it.";

    public static HostChange New(ChangeId id, ActionFacts facts, WantedState wanted, Actor actor, string? reason) =>
        new()
        {
            Id = id,
            Site = facts.Site.Id,
            WantedState = wanted,
            Before = Current(facts.Site, wanted.Grants),
            By = actor.Person,
            Reason = reason,
            RequestedAt = facts.Now,
            NextTry = facts.Now,
            DueAt = facts.Organisation.CapabilitiesOf(facts.Site.Host).ManualProcedure is { } how
                ? facts.PeopleDirectory.Time.EndOf(facts.PeopleDirectory.Time.DayOf(facts.Now).AddDays(how.Days))
                : facts.Now + ChangeQueue.DueWithin,
        };

    /// <summary>Unsent changes whose grants the new change settles completely.</summary>
    public static IEnumerable<HostChange> Superseded(IEnumerable<HostChange> changeQueue, HostChange by)
    {
        var settled = by.WantedState.Grants.Select(change => change.Key).ToHashSet();
        return changeQueue
            .Where(hostChange =>
                hostChange.State == ChangeState.Queued
                && hostChange.WantedState is { Existence: null, Address: null }
                && hostChange.WantedState.Grants.All(change => settled.Contains(change.Key))
            )
            .Select(hostChange => hostChange.Move(ChangeEvent.Supersede));
    }

    /// <summary>Why no change of a site can be requested that is not in use, or is leaving use.</summary>
    public static IEnumerable<string> NotInUse(ActionFacts facts)
    {
        var site = facts.Site;
        foreach (var reason in Unreadable(site))
        {
            yield return reason;
        }

        if (site.NoLongerReported)
        {
            yield return $"{site.Host} no longer reports this site.";
        }

        if (facts.AtticEntry is { State: AtticState.MovingToAttic })
        {
            yield return $"The site is being moved to the attic: the change at {site.Host} is under way.";
        }
        else if (facts.AtticEntry?.State.IsInAttic() == true || site.Existence == Existence.Attic)
        {
            yield return "The site is in the attic. Restore it first.";
        }
        else if (site.Existence == Existence.Erased)
        {
            yield return $"{site.Host} has erased the site.";
        }
    }

    /// <summary>Why no action is possible on a site whose row cannot be read.</summary>
    public static IEnumerable<string> Unreadable(SiteFacts site)
    {
        if (site.Fault is { } fault)
        {
            yield return $"This site cannot be computed, so no action is possible: {fault}";
        }
    }

    /// <summary>Why no action on access is possible if the host does not report who has access; for a site that cannot be read,
    /// see <see cref="NotInUse"/>.</summary>
    /// <param name="so">What cannot be done yet, with full stop.</param>
    public static IEnumerable<string> NotReported(SiteFacts site, string so)
    {
        if (site is { Sharing.IsUnknown: true, Fault: null })
        {
            yield return $"{site.Host} does not report the access to this site, so {so}";
        }
    }

    /// <summary>The refusal of a reason that is too long.</summary>
    public static IEnumerable<string> TooLong(string? reason)
    {
        if (reason?.Length > RestrictReach.LongestReason)
        {
            yield return $"The reason is {reason.Length} characters long; {RestrictReach.LongestReason} is the maximum.";
        }
    }

    private static List<GrantChange> Current(SiteFacts site, IReadOnlyList<GrantChange> wanted)
    {
        var grants = site.Expected.Or([]).ToDictionary(grant => grant.Key);
        return [.. wanted.Select(change => new GrantChange(change.Key, grants.GetValueOrDefault(change.Key)))];
    }
}
