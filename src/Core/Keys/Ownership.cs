using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Keys;

/// <summary>How well a site is owned: two fit people, one, or none.</summary>
public enum OwnershipState : byte
{
    None,
    Single,
    Fit,
}

/// <summary>
/// A site's ownership with the days left to act. Somebody who is gone, from outside or a service cannot act; the days
/// end when the last who can leaves.
/// </summary>
/// <param name="DaysLeft">0 where nobody is left who could act, null where somebody stays.</param>
/// <param name="LastDay">The day on which the last of them leaves, or null.</param>
/// <param name="Sure">False where the list of owners is not all known: there may be more.</param>
public sealed record Ownership(OwnershipState State, IReadOnlyList<Unfit> Reasons, int? DaysLeft, DateOnly? LastDay, bool Sure)
{
    public static Ownership Of(KeyHolders keys, Roll roll)
    {
        var fit = keys.FitAtLeast;
        var reasons = fit > 0 ? [] : keys.Holders.SelectMany(holder => holder.Why).Distinct().Order().ToList();
        var present = keys
            .Holders.Where(holder => holder.Person.Kind == PersonKind.Staff && holder.Standing != Standing.Left)
            .ToList();
        var isLast =
            present.Count > 0
            && present.TrueForAll(holder => holder.Standing == Standing.Leaving && holder.Person.Day is not null);
        var last = isLast ? present.Max(holder => holder.Person.Day) : null;
        var days =
            present.Count == 0 ? 0
            : last is { } day ? Math.Max(0, day.DayNumber - roll.Time.DayOf(roll.Now).DayNumber)
            : (int?)null;
        return new Ownership(
            fit switch
            {
                0 => OwnershipState.None,
                1 => OwnershipState.Single,
                _ => OwnershipState.Fit,
            },
            reasons,
            keys.Complete || days is null ? days : null,
            last,
            keys.Complete
        );
    }
}
