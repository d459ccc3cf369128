using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Naming;

/// <summary>A site as its neighbours on the same host know it.</summary>
/// <param name="IsSeen">True if it is in the actor's scope; of others they learn only that one exists.</param>
public sealed record Neighbour(SiteId Site, string Name, string Address, bool IsSeen = true);

/// <summary>Names and addresses of the sites in use on one host, looked up one by one because a host can have very
/// many.</summary>
public sealed class Neighbours(IReadOnlyList<Neighbour>? sites)
{
    private readonly Lazy<ILookup<string, Neighbour>> saying = new(() =>
        Read(sites).ToLookup(site => LookAlikes.Bare(site.Name))
    );
    private readonly Lazy<ILookup<string, Neighbour>> at = new(() => Read(sites).ToLookup(site => site.Address));

    /// <summary>For actions that do not depend on them: they were not read, and asking is an error.</summary>
    public static Neighbours NotRead { get; } = new(null);

    /// <summary>Other sites in scope with an equivalent name.</summary>
    public IEnumerable<Neighbour> LookAlikesOf(SiteId site, string name) =>
        LookAlikes.Bare(name) is { Length: > 0 } bare
            ? saying.Value[bare].Where(other => other.Site != site && other.IsSeen)
            : [];

    /// <summary>The other site that has an address.</summary>
    public Neighbour? HolderOf(string address, SiteId but) => at.Value[address].FirstOrDefault(other => other.Site != but);

    private static IReadOnlyList<Neighbour> Read(IReadOnlyList<Neighbour>? sites) =>
        sites ?? throw new InvalidOperationException("The neighbours were not read for this action.");
}
