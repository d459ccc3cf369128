using System.Net;
using System.Net.Sockets;

namespace AtticLedger.Server.Looks;

/// <summary>Which addresses of the network are public: everything else may be a machine of the organisation.</summary>
/// <remarks>The special-purpose registries of RFC 6890, and what carries an IPv4 address inside an IPv6 one.</remarks>
internal static class PublicAddresses
{
    private static readonly IPNetwork[] Special =
    [
        .. new[]
        {
            "0.0.0.0/8",
            "10.0.0.0/8",
            "100.64.0.0/10",
            "127.0.0.0/8",
            "169.254.0.0/16",
            "172.16.0.0/12",
            "192.0.0.0/24",
            "192.0.2.0/24",
            "192.88.99.0/24",
            "192.168.0.0/16",
            "198.18.0.0/15",
            "198.51.100.0/24",
            "203.0.113.0/24",
            "224.0.0.0/4",
            "240.0.0.0/4",
        }.Select(network => IPNetwork.Parse(network)),
    ];

    // The only block of IPv6 that is given out for the public network; 2001::/23, 2001:db8::/32, 2002::/16 and 3fff::/20 lie in it
    // and are not public, or carry an IPv4 address.
    private static readonly IPNetwork Global = IPNetwork.Parse("2000::/3");
    private static readonly IPNetwork[] NotGlobal =
    [
        .. new[] { "2001::/23", "2001:db8::/32", "2002::/16", "3fff::/20" }.Select(network => IPNetwork.Parse(network)),
    ];

    public static bool Has(IPAddress address)
    {
        var plain = address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address;
        return plain.AddressFamily switch
        {
            AddressFamily.InterNetwork => !Array.Exists(Special, network => network.Contains(plain)),
            AddressFamily.InterNetworkV6 => Global.Contains(plain)
                && !Array.Exists(NotGlobal, network => network.Contains(plain)),
            _ => false,
        };
    }
}
