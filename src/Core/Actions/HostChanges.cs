using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What actions that make changes have in common.</summary>
internal static class HostChanges
{
    /// <summary>The name of a group that owns the site; null if none does.</summary>
    public static string? OwningGroup(SiteFacts site, PeopleDirectory directory) =>
        site
            .Expected.Or([])
            .Where(grant => grant.Power == Power.Own)
            .Select(grant => grant.Subject)
            .OfType<Subject.OneGroup>()
            .Select(subject => directory.Find(subject.Group)?.Name)
            .OfType<string>()
            .FirstOrDefault();

    public static HostChange New(ChangeId id, ActionFacts facts, WantedState wanted, Actor actor, string? reason) =>
        new()
        {
            Id = id,
            Site = facts.Site.Id,
            WantedState = wanted,
            Before = Current(facts.Site, wanted.Grants),
            Former = Former(facts.Site, wanted),
            By = actor.Person,
            Reason = reason,
            RequestedAt = facts.Now,
            NextTry = facts.Now,
            DueAt = facts.Organisation.CapabilitiesOf(facts.Site.Host).ManualProcedure is { } how
                ? facts.PeopleDirectory.Time.EndOf(facts.PeopleDirectory.Time.DayOf(facts.Now).AddDays(how.Days))
                : facts.Now + ChangeQueue.DueWithin,
        };

    /// <summary>Unsent changes of grants and looks that the new change settles completely.</summary>
    public static IEnumerable<HostChange> Superseded(IEnumerable<HostChange> changeQueue, HostChange by) =>
        changeQueue
            .Where(hostChange =>
                hostChange.State == ChangeState.Queued
                && hostChange.WantedState is { Existence: null, Address: null }
                && hostChange.WantedState.Without([by.WantedState]).IsEmpty
            )
            .Select(hostChange => hostChange.Move(ChangeEvent.Supersede));

    /// <summary>Why no change of a site can be requested that is not in use, or is leaving use.</summary>
    public static IEnumerable<Remark> NotInUse(ActionFacts facts)
    {
        var site = facts.Site;
        foreach (var reason in Unreadable(site))
        {
            yield return reason;
        }

        if (site.NoLongerReported)
        {
            yield return new SiteNotReported(site.Host);
        }

        if (facts.AtticEntry is { State: AtticState.MovingToAttic })
        {
            yield return new SiteMovesToAttic(site.Host);
        }
        else if (facts.AtticEntry?.State.IsInAttic() == true || site.Existence == Existence.Attic)
        {
            yield return new SiteIsInAttic();
        }
        else if (site.Existence == Existence.Erased)
        {
            yield return new SiteErased(site.Host);
        }
    }

    /// <summary>Why no action is possible on a site whose row cannot be read.</summary>
    public static IEnumerable<Remark> Unreadable(SiteFacts site)
    {
        if (site.Fault is { } fault)
        {
            yield return new SiteUnreadable(fault);
        }
    }

    /// <summary>Why no action on access is possible if the host does not report who has access; for a site that cannot be read,
    /// see <see cref="NotInUse"/>.</summary>
    /// <param name="step">What cannot be done yet.</param>
    public static IEnumerable<Remark> NotReported(SiteFacts site, AccessStep step)
    {
        if (site is { Sharing.IsUnknown: true, Fault: null })
        {
            yield return new AccessNotReported(site.Host, step);
        }
    }

    /// <summary>The refusal of a reason that is too long.</summary>
    public static IEnumerable<Remark> TooLong(string? reason)
    {
        if (reason?.Length > RestrictReach.LongestReason)
        {
            yield return new ReasonTooLong(reason.Length, RestrictReach.LongestReason);
        }
    }

    private static WantedState? Former(SiteFacts site, WantedState wanted) =>
        wanted.Look is null && (wanted.Address is null || wanted.Existence is not null)
            ? null
            : new WantedState([], Address: wanted.Address is not null && site.Address.Has(out var address) ? address : null)
            {
                Look = wanted.Look is { } parts ? WantedLook.Of(site, parts) : null,
                SwapWith = wanted.SwapWith,
            };

    private static List<GrantChange> Current(SiteFacts site, IReadOnlyList<GrantChange> wanted)
    {
        var grants = site.Expected.Or([]).ToDictionary(grant => grant.Key);
        return [.. wanted.Select(change => new GrantChange(change.Key, grants.GetValueOrDefault(change.Key)))];
    }
}
