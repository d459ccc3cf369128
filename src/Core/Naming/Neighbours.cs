using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Naming;

/// <summary>A site as its neighbours on the same host know it.</summary>
/// <param name="IsSeen">Whether whoever acts may see it; of others they hear that there is one, and no more.</param>
public sealed record Neighbour(SiteId Site, string Name, string Address, bool IsSeen = true);

/// <summary>Names and addresses of the sites in use on one host; each is looked up, for a host may have very many.</summary>
public sealed class Neighbours(IReadOnlyList<Neighbour>? sites)
{
    private readonly Lazy<ILookup<string, Neighbour>> saying = new(() =>
        Read(sites).ToLookup(site => LookAlikes.Bare(site.Name))
    );
    private readonly Lazy<ILookup<string, Neighbour>> at = new(() => Read(sites).ToLookup(site => site.Address));

    /// <summary>For deeds that have nothing to do with them: nobody read them, and nobody may ask.</summary>
    public static Neighbours NotRead { get; } = new(null);

    /// <summary>Other sites whose names say the same as that of a site, of those that may be seen.</summary>
    public IEnumerable<Neighbour> LookAlikesOf(SiteId site, string name) =>
        LookAlikes.Bare(name) is { Length: > 0 } bare
            ? saying.Value[bare].Where(other => other.Site != site && other.IsSeen)
            : [];

    /// <summary>Which other site has an address.</summary>
    public Neighbour? HolderOf(string address, SiteId but) => at.Value[address].FirstOrDefault(other => other.Site != but);

    private static IReadOnlyList<Neighbour> Read(IReadOnlyList<Neighbour>? sites) =>
        sites ?? throw new InvalidOperationException("The neighbours were not read for this deed.");
}
