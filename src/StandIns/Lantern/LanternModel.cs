namespace AtticLedger.StandIns.Lantern;

/// <summary>Lantern's own records, in its own words.</summary>
public sealed record LanternSeat(string Mail, string Name);

/// <param name="PaidThrough">The last paid day, as <c>yyyy-MM-dd</c>.</param>
public sealed record LanternPlan(
    string Id,
    string Name,
    int Cents,
    string Currency,
    int Months,
    string PaidThrough,
    bool Renews,
    int GraceDays
);

public sealed record LanternVouchers(int Left, string? LastDay);

public sealed record LanternSite
{
    public required string Id { get; init; }

    public required string Host { get; init; }

    public string? Name { get; init; }

    public string Theme { get; init; } = "leaflet";

    /// <summary>The description for search engines.</summary>
    public string? Teaser { get; init; }

    public string Language { get; init; } = "en";

    /// <summary>True if search engines may list it.</summary>
    public bool Findable { get; init; } = true;

    /// <summary>Where its mark comes from: <c>file</c> or <c>url</c>; null if it has none.</summary>
    public string? Mark { get; init; } = "file";

    /// <summary>The people who work on it, by mail address: reader, reviewer, writer, builder or holder.</summary>
    public IReadOnlyDictionary<string, string> Members { get; init; } = new Dictionary<string, string>();

    /// <summary>True if anybody can read it.</summary>
    public bool Open { get; init; } = true;

    public bool Online { get; init; } = true;

    public DateTimeOffset? FirstOnline { get; init; }

    public DateTimeOffset Created { get; init; }

    public DateTimeOffset Changed { get; init; }

    public DateTimeOffset? LastVisit { get; init; }

    public int? Visits7 { get; init; }

    public int Pages { get; init; }

    public int Megabytes { get; init; }

    public IReadOnlyList<string> Domains { get; init; } = [];

    public string? Plan { get; init; }

    public string? Mailbox { get; init; }

    /// <summary>What its holders note about it, for themselves.</summary>
    public string? Note { get; init; }

    public int OrdersOpen { get; init; }

    public int OrdersDone { get; init; }

    public LanternVouchers? Vouchers { get; init; }

    public IReadOnlyList<string> Trackers { get; init; } = [];

    public IReadOnlyList<string> Forms { get; init; } = [];

    /// <summary>Shut to everybody but the account since this time; nothing is lost.</summary>
    public DateTimeOffset? Suspended { get; init; }
}

/// <summary>A change that was carried out, as Lantern's own log shows it.</summary>
public sealed record LanternEffect(string Site, string Request, DateTimeOffset At);

public sealed record LanternRecords
{
    public Dictionary<string, LanternSeat> Seats { get; init; } = [];

    public Dictionary<string, LanternPlan> Plans { get; init; } = [];

    public Dictionary<string, LanternSite> Sites { get; init; } = [];

    public List<LanternEffect> Effects { get; init; } = [];
}
