using System.Globalization;

namespace AtticLedger.Server;

/// <summary>What a server is told by its environment.</summary>
public sealed record Settings
{
    /// <summary>The connection of the servers' role, which can add to the journal and change nothing in it.</summary>
    public required string Database { get; init; }

    public Uri? Slipway { get; init; }

    public Uri? Lantern { get; init; }

    public Uri? Quay { get; init; }

    public Uri? StaffList { get; init; }

    /// <summary>Where visitors find the sites of Slipway in this installation; shown as a link.</summary>
    public Uri? Front { get; init; }

    /// <summary>The bearer token of each outside service: one that leaks opens that service alone.</summary>
    public string SlipwayToken { get; init; } = "";

    public string LanternToken { get; init; } = "";

    public string QuayToken { get; init; } = "";

    public string StaffListToken { get; init; } = "";

    /// <summary>
    /// Where mail goes: <c>smtp://host:port</c> takes TLS where the server offers it, <c>smtp+tls://host:port</c> sends nothing
    /// without it (STARTTLS, RFC 3207), and <c>smtps://host:port</c> begins with it (RFC 8314). None where no mail is sent.
    /// </summary>
    public Uri? Smtp { get; init; }

    /// <summary>The name and password for the mail server (RFC 4954), where it wants one; never sent without TLS.</summary>
    public System.Net.NetworkCredential? SmtpLogin { get; init; }

    /// <summary>Addresses of the proxies in front of the server: what they say of a caller's address and scheme is believed, and nobody else.</summary>
    public IReadOnlyList<System.Net.IPAddress> Proxies { get; init; } = [];

    public string MailFrom { get; init; } = "attic-ledger@localhost";

    /// <summary>Under which address people reach this product: links in mails begin with it.</summary>
    public Uri Address { get; init; } = new("http://127.0.0.1:7420");

    /// <summary>Whether this is the demo, whose clock can be moved.</summary>
    public bool IsDemo { get; init; }

    /// <summary>The folder of the built web application; none where only the API is served.</summary>
    public string? Web { get; init; }

    /// <summary>A folder of the server's own for its snapshot of the register; none where every start reads all rows.</summary>
    public string? Snapshots { get; init; }

    public TimeSpan ReadEvery { get; init; } = TimeSpan.FromMinutes(5);

    /// <summary>Whether cookies are marked for TLS only. Off on loopback, where there is none.</summary>
    public bool SecureCookies { get; init; }

    public static Settings From(IConfiguration from) =>
        new()
        {
            Database = from["ATTIC_DATABASE"]
                ?? throw new InvalidOperationException("Set ATTIC_DATABASE: the connection of the servers' role. ./start does."),
            Slipway = Uri(from["ATTIC_SLIPWAY"]),
            Lantern = Uri(from["ATTIC_LANTERN"]),
            Quay = Uri(from["ATTIC_QUAY"]),
            StaffList = Uri(from["ATTIC_STAFF"]),
            Front = Uri(from["ATTIC_FRONT"]),
            SlipwayToken = from["ATTIC_SLIPWAY_TOKEN"] ?? "",
            LanternToken = from["ATTIC_LANTERN_TOKEN"] ?? "",
            QuayToken = from["ATTIC_QUAY_TOKEN"] ?? "",
            StaffListToken = from["ATTIC_STAFF_TOKEN"] ?? "",
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
            ReadEvery = TimeSpan.FromSeconds(int.Parse(from["ATTIC_READ_SECONDS"] ?? "300", CultureInfo.InvariantCulture)),
            SecureCookies = from["ATTIC_SECURE_COOKIES"] == "true",
        };

    private static Uri? Uri(string? text) => string.IsNullOrEmpty(text) ? null : new Uri(text);
}
