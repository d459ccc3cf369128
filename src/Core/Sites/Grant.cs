using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>The subject of a grant.</summary>
public abstract record Subject
{
    private Subject() { }

    public sealed record OnePerson(PersonId Person) : Subject;

    public sealed record OneGroup(GroupId Group) : Subject;

    public sealed record WholeUnit(UnitCode Unit) : Subject;

    public sealed record AllStaff : Subject;

    /// <summary>People of organisations on the partner list.</summary>
    public sealed record Partners : Subject;

    /// <summary>Anonymous visitors, including staff.</summary>
    public sealed record Anonymous : Subject;
}

/// <summary>One grant set at the host: these people may do that. <paramref name="Key"/> is the host's own name for it, unique
/// within the site. <paramref name="Through"/> is the last day of a link that ends.
/// </summary>
public sealed record Grant(
    string Key,
    Power Power,
    Subject Subject,
    VisitorSignIn VisitorSignIn = VisitorSignIn.Account,
    bool IsLink = false,
    DateOnly? Through = null
);

/// <summary>A site's grants and settings at the host: everything that is set, and the site's own limit, a setting that only
/// refuses. <paramref name="At"/> is when the host reported it: for a sync, when that sync <em>began</em>.
/// </summary>
public sealed record Sharing(IReadOnlyList<Grant> Grants, PowerLimits? OwnLimit, DateTimeOffset At, SharingSource Source);

public enum SharingSource : byte
{
    Confirmed,
    Read,
}

public static class Sharings
{
    /// <summary>The newer of two. A sync that began before a confirmation never overrides it; at equal instants the sync wins.
    /// </summary>
    public static Sharing Newer(Sharing one, Sharing other) =>
        one.At != other.At ? (one.At > other.At ? one : other)
        : one.Source >= other.Source ? one
        : other;

    /// <summary>The sharing after these changes. Absent keys stay absent unless a change grants them again.</summary>
    public static IReadOnlyList<Grant> With(this IReadOnlyList<Grant> grants, IEnumerable<GrantChange> changes)
    {
        var wanted = changes.ToDictionary(change => change.Key);
        var kept = grants.Select(grant => wanted.TryGetValue(grant.Key, out var change) ? change.Wanted : grant).OfType<Grant>();
        var keys = grants.Select(grant => grant.Key).ToHashSet();
        var added = wanted.Values.Where(change => !keys.Contains(change.Key)).Select(change => change.Wanted).OfType<Grant>();
        return [.. kept.Concat(added).OrderBy(grant => grant.Key, StringComparer.Ordinal)];
    }
}

/// <summary>The end state of one grant: <paramref name="Wanted"/>, or removed if that is null.</summary>
public sealed record GrantChange(string Key, Grant? Wanted);
