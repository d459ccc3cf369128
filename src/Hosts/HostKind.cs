namespace AtticLedger.Hosts;

/// <summary>How one host of an organisation is reached; several hosts can be of one kind.</summary>
/// <param name="Name">Unique; screens show it, and the register names the host by it.</param>
/// <param name="Http">With the base address of its API and the credentials of this host.</param>
/// <param name="Prefix">The first part of its sites' addresses, which its API leaves out: "sites.example". Empty where the API
/// returns whole addresses.</param>
public sealed record HostConnection(string Name, HttpClient Http, string Prefix = "")
{
    /// <summary>The whole address of a site.</summary>
    internal string Address(string rest) => Prefix.Length == 0 ? rest : $"{Prefix}/{rest}";

    /// <summary>The part of an address that the API knows; null if the address is not one of this host.</summary>
    internal string? Rest(string address) =>
        Prefix.Length == 0 ? address
        : address.StartsWith($"{Prefix}/", StringComparison.Ordinal) ? address[(Prefix.Length + 1)..]
        : null;
}

/// <summary>A kind of host for which there is a connector.</summary>
/// <param name="Name">In settings, in lower case.</param>
/// <param name="Path">Where its API is on the host, with a slash at the end.</param>
public sealed record HostKind(string Name, string Path, Func<HostConnection, ISiteHost> Connect)
{
    /// <summary>Every kind; a new connector is added here.</summary>
    public static IReadOnlyList<HostKind> All { get; } = [SlipwayHost.Kind, LanternHost.Kind, QuayHost.Kind];

    public static HostKind? Find(string name) =>
        All.FirstOrDefault(kind => string.Equals(kind.Name, name, StringComparison.OrdinalIgnoreCase));
}
