using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Ownership;

/// <summary>How many active owners a site has: none, one, or at least two. Unknown if not all owners are known and those that are do
/// not decide it.
/// </summary>
public enum OwnershipState : byte
{
    None,
    Single,
    Active,
    Unknown,
}

/// <summary>A site's ownership with the days left to act. A person who has left or is from outside, and a service account,
/// cannot act; the days end when the last active owner leaves.
/// </summary>
/// <param name="DaysLeft">0 if no active owner is left, null if one stays.</param>
/// <param name="LastDay">The day on which the last of them leaves, or null.</param>
/// <param name="IsComplete">False if not all owners are known: there may be more.</param>
public sealed record OwnershipStatus(
    OwnershipState State,
    IReadOnlyList<InactiveReason> Reasons,
    int? DaysLeft,
    DateOnly? LastDay,
    bool IsComplete
)
{
    public static OwnershipStatus Of(SiteOwners keys, PeopleDirectory directory)
    {
        var reasons = keys.ActiveAtLeast > 0 ? [] : keys.Holders.SelectMany(holder => holder.Why).Distinct().Order().ToList();
        var present = keys
            .Holders.Where(holder => holder.Person.Kind == PersonKind.Staff && holder.Standing != Standing.Left)
            .ToList();
        var isLast =
            present.Count > 0
            && present.TrueForAll(holder => holder.Standing == Standing.Leaving && holder.Person.Day is not null);
        var last = isLast ? present.Max(holder => holder.Person.Day) : null;
        var days =
            present.Count == 0 ? 0
            : last is { } day ? Math.Max(0, day.DayNumber - directory.Time.DayOf(directory.Now).DayNumber)
            : (int?)null;
        return new OwnershipStatus(
            (keys.ActiveAtLeast, keys.ActiveAtMost) switch
            {
                (>= 2, _) => OwnershipState.Active,
                (0, 0) => OwnershipState.None,
                (1, 1) => OwnershipState.Single,
                _ => OwnershipState.Unknown,
            },
            reasons,
            keys.Complete || days is null ? days : null,
            last,
            keys.Complete
        );
    }
}
