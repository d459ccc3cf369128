using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>A wanted end state of a site at its host. Anything not named stays as it is. With <see cref="Existence.Attic"/> the
/// site keeps its grants in the bin, so none are named.
/// </summary>
/// <param name="Address">The new address, if it changes.</param>
public sealed record WantedState(IReadOnlyList<GrantChange> Grants, Existence? Existence = null, string? Address = null)
{
    public WantedLook? Look { get; init; }

    /// <summary>Until when the address that the site had forwards to the new one; null if it does not.</summary>
    public DateTimeOffset? ForwardUntil { get; init; }

    /// <summary>The host's key of the site that has the new address and gets the old one for it.</summary>
    public string? SwapWith { get; init; }

    /// <summary>True if it names nothing.</summary>
    public bool IsEmpty => Grants.Count == 0 && Existence is null && Address is null && Look is null;

    /// <summary>The part that is not fulfilled yet; null if all of it is.</summary>
    public WantedState? LeftIn(SiteFacts site)
    {
        var left = this with
        {
            Grants = site.Sharing.Has(out var sharing)
                ? [.. Grants.Where(change => sharing.Grants.FirstOrDefault(grant => grant.Key == change.Key) != change.Wanted)]
                : Grants,
            Existence = Existence == site.Existence ? null : Existence,
            Address = site.Address.Has(out var address) && address == Address ? null : Address,
            Look = Look?.LeftIn(site),
        };
        return left.IsEmpty ? null : left;
    }

    /// <summary>The part that later requests for the same site leave in force.</summary>
    public WantedState Without(IReadOnlyCollection<WantedState> later) =>
        later.Count == 0
            ? this
            : this with
            {
                Grants = [.. Grants.Where(change => !later.Any(wanted => wanted.Grants.Any(other => other.Key == change.Key)))],
                Existence = later.Any(wanted => wanted.Existence is not null) ? null : Existence,
                Address = later.Any(wanted => wanted.Address is not null) ? null : Address,
                Look = later.Aggregate(Look, (look, wanted) => look?.Without(wanted.Look)),
            };

    /// <summary>True if a site is as requested; unknown if the host did not report it.</summary>
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
        return exists.And(addressed).And(shared).And(Look?.IsSoIn(site) ?? Truth.Yes);
    }
}
