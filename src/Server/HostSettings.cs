using AtticLedger.Hosts;

namespace AtticLedger.Server;

/// <summary>A host to connect, from <c>ATTIC_HOSTS__0__NAME</c> and so on, counted from 0.</summary>
public sealed record HostSettings
{
    /// <summary>As screens show it; unique. The register names the host by it, so it stays.</summary>
    public string Name { get; init; } = "";

    /// <summary>The name of its kind.</summary>
    /// <seealso cref="HostKind"/>
    public string Kind { get; init; } = "";

    /// <summary>Where the host is; its kind adds the path of the API.</summary>
    public Uri? Address { get; init; }

    /// <summary>A bearer token (RFC 6750), of this host alone: a leaked one opens no other.</summary>
    public string Token { get; init; } = "";

    /// <summary>The first part of its sites' addresses, where its API leaves it out.</summary>
    public string Prefix { get; init; } = "";

    /// <summary>Where visitors find its sites: shown as a link. The first part of an address is replaced by it. None for no
    /// link.</summary>
    public Uri? Front { get; init; }

    /// <exception cref="InvalidOperationException">A host is not described completely; the message names it and the
    /// remedy.</exception>
    public static IReadOnlyList<HostSettings> From(IConfigurationSection section)
    {
        List<HostSettings> hosts = [];
        foreach (var child in section.GetChildren())
        {
            HostSettings host;
            try
            {
                host = child.Get<HostSettings>() ?? new HostSettings();
            }
            catch (InvalidOperationException fault)
            {
                throw new InvalidOperationException($"{child.Path}: {fault.InnerException?.Message ?? fault.Message}", fault);
            }

            hosts.Add(host);
            if (host.Fault(hosts) is { } wrong)
            {
                throw new InvalidOperationException($"{child.Path.Replace(":", "__", StringComparison.Ordinal)}: {wrong}");
            }
        }

        return hosts;
    }

    private string? Fault(List<HostSettings> all) =>
        Name.Length == 0 ? "Set its NAME."
        : all.Count(host => host.Name == Name) > 1 ? $"There are two hosts \"{Name}\". Give each its own NAME."
        : HostKind.Find(Kind) is null
            ? $"There is no kind of host \"{Kind}\". KIND is one of {string.Join(", ", HostKind.All.Select(kind => kind.Name))}."
        : Address is not { IsAbsoluteUri: true, Scheme: "http" or "https" }
            ? "ADDRESS is an address that begins with http:// or https://."
        : null;
}
