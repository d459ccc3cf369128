using System.Globalization;

namespace AtticLedger.Server;

/// <summary>What a server is told by its environment.</summary>
public sealed record Settings
{
    /// <summary>The connection of the servers' role, which can add to the journal and change nothing in it.</summary>
    public required string Database { get; init; }

    public Uri? Slipway { get; init; }

    public Uri? StaffList { get; init; }

    /// <summary>Where visitors find the sites of Slipway in this installation; shown as a link.</summary>
    public Uri? Front { get; init; }

    public string Token { get; init; } = "";

    /// <summary>The folder of the built web application; none where only the API is served.</summary>
    public string? Web { get; init; }

    public TimeSpan ReadEvery { get; init; } = TimeSpan.FromMinutes(5);

    /// <summary>Whether cookies are marked for TLS only. Off on loopback, where there is none.</summary>
    public bool SecureCookies { get; init; }

    public static Settings From(IConfiguration from) =>
        new()
        {
            Database = from["ATTIC_DATABASE"] ?? throw new InvalidOperationException("Set ATTIC_DATABASE: the connection of the servers' role. ./start does."),
            Slipway = Address(from["ATTIC_SLIPWAY"]),
            StaffList = Address(from["ATTIC_STAFF"]),
            Front = Address(from["ATTIC_FRONT"]),
            Token = from["ATTIC_TOKEN"] ?? "",
            Web = from["ATTIC_WEB"],
            ReadEvery = TimeSpan.FromSeconds(int.Parse(from["ATTIC_READ_SECONDS"] ?? "300", CultureInfo.InvariantCulture)),
            SecureCookies = from["ATTIC_SECURE_COOKIES"] == "true",
        };

    private static Uri? Address(string? text) => string.IsNullOrEmpty(text) ? null : new Uri(text);
}
