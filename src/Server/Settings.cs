using System.Globalization;
using AtticLedger.Server.Hosting;

namespace AtticLedger.Server;

/// <summary>The settings of a server, from environment variables.</summary>
public sealed record Settings
{
    /// <summary>The connection of the servers' role, which can add to the journal but not change it.</summary>
    public required string Database { get; init; }

    /// <summary>The hosts to connect, each with credentials of its own.</summary>
    public IReadOnlyList<HostSettings> Hosts { get; init; } = [];

    public Uri? StaffList { get; init; }

    public string StaffListToken { get; init; } = "";

    /// <summary>In the demo, the address that sets the clock of the simulated hosts, and its token.</summary>
    public Uri? SimulatedClock { get; init; }

    public string SimulatedClockToken { get; init; } = "";

    /// <summary>
    /// The mail server: <c>smtp://host:port</c> uses TLS if the server offers it, <c>smtp+tls://host:port</c> sends nothing
    /// without it (STARTTLS, RFC 3207), and <c>smtps://host:port</c> starts with it (RFC 8314). Null if no mail is sent.
    /// </summary>
    public Uri? Smtp { get; init; }

    /// <summary>The name and password for the mail server (RFC 4954), if it requires one; never sent without TLS.</summary>
    public System.Net.NetworkCredential? SmtpLogin { get; init; }

    /// <summary>Addresses of the trusted proxies: only their information about a caller's address and scheme is used.</summary>
    public IReadOnlyList<System.Net.IPAddress> Proxies { get; init; } = [];

    public string MailFrom { get; init; } = "attic-ledger@localhost";

    /// <summary>The product's public address: links in mails begin with it.</summary>
    public Uri Address { get; init; } = new("http://127.0.0.1:7420");

    /// <summary>True if this is the demo, whose clock can be moved.</summary>
    public bool IsDemo { get; init; }

    /// <summary>The folder of the built web application; none to serve only the API.</summary>
    public string? Web { get; init; }

    /// <summary>The server's own folder for its snapshot of the register; none to read all rows at every start.</summary>
    public string? Snapshots { get; init; }

    public TimeSpan SyncEvery { get; init; } = TimeSpan.FromMinutes(5);

    /// <summary>True to mark cookies for TLS only. Off on loopback, which has no TLS.</summary>
    public bool SecureCookies { get; init; }

    public static Settings From(IConfiguration from) =>
        new()
        {
            Database = from["ATTIC_DATABASE"]
                ?? throw new InvalidOperationException(
                    "Set ATTIC_DATABASE to the connection of the servers' role. ./start sets it."
                ),
            Hosts = HostSettings.From(from.GetSection("ATTIC_HOSTS")),
            StaffList = Uri(from["ATTIC_STAFF"]),
            StaffListToken = from["ATTIC_STAFF_TOKEN"] ?? "",
            SimulatedClock = Uri(from["ATTIC_DEMO_CLOCK"]),
            SimulatedClockToken = from["ATTIC_DEMO_CLOCK_TOKEN"] ?? "",
            Smtp = Uri(from["ATTIC_SMTP"]),
            SmtpLogin = from["ATTIC_SMTP_USER"] is { Length: > 0 } user ? new(user, from["ATTIC_SMTP_PASSWORD"] ?? "") : null,
            Proxies =
            [
                .. (from["ATTIC_PROXIES"] ?? "")
                    .Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                    .Select(System.Net.IPAddress.Parse),
            ],
            MailFrom = from["ATTIC_MAIL_FROM"] ?? "attic-ledger@localhost",
            Address = Uri(from["ATTIC_ADDRESS"]) ?? new Uri("http://127.0.0.1:7420"),
            IsDemo = from["ATTIC_DEMO"] == "true",
            Web = from["ATTIC_WEB"],
            Snapshots = from["ATTIC_SNAPSHOTS"] is { Length: > 0 } snapshots ? snapshots : null,
            SyncEvery = TimeSpan.FromSeconds(int.Parse(from["ATTIC_SYNC_SECONDS"] ?? "300", CultureInfo.InvariantCulture)),
            SecureCookies = from["ATTIC_SECURE_COOKIES"] == "true",
        };

    private static Uri? Uri(string? text) => string.IsNullOrEmpty(text) ? null : new Uri(text);
}
