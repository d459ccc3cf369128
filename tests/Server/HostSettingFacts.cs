using Microsoft.Extensions.Configuration;

namespace AtticLedger.Server.Tests;

/// <summary>The hosts in a server's environment: each has its own name, kind, address and credentials.</summary>
public class HostSettingFacts
{
    [Fact]
    public void Two_hosts_of_one_kind_are_two_hosts()
    {
        var hosts = Read(
            ("0:NAME", "Slipway"),
            ("0:KIND", "slipway"),
            ("0:ADDRESS", "https://one.example"),
            ("0:TOKEN", "first"),
            ("1:NAME", "Slipway of the yard"),
            ("1:KIND", "Slipway"),
            ("1:ADDRESS", "http://two.example"),
            ("1:TOKEN", "second"),
            ("1:FRONT", "https://pages.example")
        );
        Assert.Equal(["Slipway", "Slipway of the yard"], hosts.Select(host => host.Name));
        Assert.Equal(["first", "second"], hosts.Select(host => host.Token));
        Assert.Equal(new Uri("https://pages.example"), hosts[1].Front);
        Assert.Empty(Read());
    }

    [Theory]
    [InlineData("ATTIC_HOSTS__0: Set its NAME.", "", "slipway", "https://one.example")]
    [InlineData("KIND is one of slipway, lantern, quay.", "One", "pier", "https://one.example")]
    [InlineData("ADDRESS is an address", "One", "quay", "")]
    [InlineData("ADDRESS is an address", "One", "quay", "file:///etc/passwd")]
    [InlineData("There are two hosts \"Two\"", "Two", "quay", "https://one.example")]
    public void A_host_that_is_not_described_completely_is_named_with_the_remedy(
        string message,
        string name,
        string kind,
        string address
    )
    {
        var fault = Assert.Throws<InvalidOperationException>(() =>
            Read(
                ("0:NAME", name),
                ("0:KIND", kind),
                ("0:ADDRESS", address),
                ("1:NAME", "Two"),
                ("1:KIND", "quay"),
                ("1:ADDRESS", "https://two.example")
            )
        );
        Assert.Contains(message, fault.Message, StringComparison.Ordinal);
    }

    private static IReadOnlyList<HostSettings> Read(params (string Name, string Value)[] settings) =>
        HostSettings.From(
            new ConfigurationBuilder()
                .AddInMemoryCollection(
                    settings.Select(pair => KeyValuePair.Create<string, string?>($"ATTIC_HOSTS:{pair.Name}", pair.Value))
                )
                .Build()
                .GetSection("ATTIC_HOSTS")
        );
}
