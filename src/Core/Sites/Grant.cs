using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Whom a grant lets in.</summary>
public abstract record Subject
{
    private Subject() { }

    public sealed record OnePerson(PersonId Person) : Subject;

    public sealed record OneGroup(GroupId Group) : Subject;

    public sealed record WholeUnit(UnitCode Unit) : Subject;

    public sealed record AllStaff : Subject;

    /// <summary>People of bodies on the partner list.</summary>
    public sealed record Partners : Subject;

    /// <summary>Anybody who comes by, the staff among them.</summary>
    public sealed record PassersBy : Subject;
}

/// <summary>
/// One thing that a site asks of its host: let these people do that. <paramref name="Key"/> is the host's own name for it
/// and unique within the site. <paramref name="Through"/> is the last day of a link that ends.
/// </summary>
public sealed record Grant(
    string Key,
    Power Power,
    Subject Subject,
    Proof Proof = Proof.SignedIn,
    bool IsLink = false,
    DateOnly? Through = null
);

/// <summary>
/// What a site's grants and settings at the host say: everything asked, and the site's own limit, a setting that only
/// refuses. <paramref name="At"/> is when the host said so: for a read, when that read <em>began</em>.
/// </summary>
public sealed record Sharing(IReadOnlyList<Grant> Grants, PowerLimits? OwnLimit, DateTimeOffset At, SharingSource Source);

public enum SharingSource : byte
{
    Confirmed,
    Read,
}

public static class Sharings
{
    /// <summary>
    /// The newer of two. A read that began before a confirmation never overrides it; at equal instants the read wins.
    /// </summary>
    public static Sharing Newer(Sharing one, Sharing other) =>
        one.At != other.At ? (one.At > other.At ? one : other)
        : one.Source >= other.Source ? one
        : other;

    /// <summary>What the sharing would be with these changes carried out. Keys that are absent stay absent unless a change grants them anew.</summary>
    public static IReadOnlyList<Grant> With(this IReadOnlyList<Grant> grants, IEnumerable<GrantChange> changes)
    {
        var wanted = changes.ToDictionary(change => change.Key);
        var kept = grants.Select(grant => wanted.TryGetValue(grant.Key, out var change) ? change.Wanted : grant).OfType<Grant>();
        var keys = grants.Select(grant => grant.Key).ToHashSet();
        var added = wanted.Values.Where(change => !keys.Contains(change.Key)).Select(change => change.Wanted).OfType<Grant>();
        return [.. kept.Concat(added).OrderBy(grant => grant.Key, StringComparer.Ordinal)];
    }
}

/// <summary>
/// A wanted end state of a site at its host. What is not named stays as it is. With <see cref="Existence.Attic"/> the
/// grants are those that the site keeps in the bin, so none are named.
/// </summary>
/// <param name="Address">The whole address, where it is to be another.</param>
public sealed record Wish(IReadOnlyList<GrantChange> Grants, Existence? Existence = null, string? Address = null)
{
    /// <summary>What of it is not so yet; null where all of it is.</summary>
    public Wish? LeftIn(SiteFacts site)
    {
        var left = new Wish(
            site.Sharing.Has(out var sharing)
                ? [.. Grants.Where(change => sharing.Grants.FirstOrDefault(grant => grant.Key == change.Key) != change.Wanted)]
                : Grants,
            Existence == site.Existence ? null : Existence,
            site.Address.Has(out var address) && address == Address ? null : Address
        );
        return left is { Grants.Count: 0, Existence: null, Address: null } ? null : left;
    }

    /// <summary>What of it is still wished after later wishes for the same site.</summary>
    public Wish Without(IReadOnlyCollection<Wish> later) =>
        later.Count == 0
            ? this
            : new(
                [.. Grants.Where(change => !later.Any(wish => wish.Grants.Any(other => other.Key == change.Key)))],
                later.Any(wish => wish.Existence is not null) ? null : Existence,
                later.Any(wish => wish.Address is not null) ? null : Address
            );

    /// <summary>Whether a site is as wished; unknown where the host did not say.</summary>
    public Truth IsSoIn(SiteFacts site)
    {
        var exists = Existence is null || Existence == site.Existence ? Truth.Yes : Truth.No;
        var addressed =
            Address is null ? Truth.Yes
            : site.Address.IsUnknown ? Truth.Unknown
            : Truths.Of(site.Address.Or("") == Address);
        var shared =
            Grants.Count == 0 ? Truth.Yes
            : !site.Sharing.Has(out var sharing) ? Truth.Unknown
            : Truths.Of(
                sharing.Grants.With(Grants).SequenceEqual(sharing.Grants.OrderBy(grant => grant.Key, StringComparer.Ordinal))
            );
        return exists.And(addressed).And(shared);
    }
}

/// <summary>The end state of one grant: as <paramref name="Wanted"/> says, or gone where that is null.</summary>
public sealed record GrantChange(string Key, Grant? Wanted);
