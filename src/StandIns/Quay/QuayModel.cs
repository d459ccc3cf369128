namespace AtticLedger.StandIns.Quay;

/// <summary>Quay's own records, in its own words. People have access to a site only through circles.</summary>
public sealed record QuayPerson(string Mail, string Name, bool IsVisitor);

/// <param name="Inner">Other circles in it, by id.</param>
public sealed record QuayCircle(string Id, string Name, IReadOnlyList<string> People, IReadOnlyList<string> Inner);

/// <summary>Who may do what on a site: <c>house</c> for all of the staff, <c>department:CODE</c>, or <c>circle:ID</c>.</summary>
/// <param name="May">read, contribute, run or answer for.</param>
public sealed record QuayRight(string Who, string May);

/// <summary>A part of a site with its own access: within the site's access, or independent of it.</summary>
public sealed record QuaySection(string Id, string Name, bool OwnDoor, IReadOnlyList<QuayRight> Rights);

public sealed record QuayState(DateTimeOffset At, string? By);

public sealed record QuaySite
{
    public required string Id { get; init; }

    public required string Path { get; init; }

    public required string Name { get; init; }

    public string? Department { get; init; }

    public string? Label { get; init; }

    public string Kind { get; init; } = "room";

    /// <summary>Free tags, separated by semicolons.</summary>
    public string Keywords { get; init; } = "";

    /// <summary>Pages that other sites show too, by title, with the keys of those sites.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> AlsoShown { get; init; } =
        new Dictionary<string, IReadOnlyList<string>>();

    /// <summary>The site above it.</summary>
    public string? Under { get; init; }

    /// <summary>The circle that was created with the site and is deleted with it.</summary>
    public string? Circle { get; init; }

    public IReadOnlyList<QuayRight> Rights { get; init; } = [];

    public IReadOnlyList<QuaySection> Sections { get; init; } = [];

    public bool OutOfSearch { get; init; }

    /// <summary>Where its emblem is kept: <c>here</c>, or <c>there</c> with the site above it; null if it has none.</summary>
    public string? Emblem { get; init; }

    public DateTimeOffset Made { get; init; }

    public DateTimeOffset Saved { get; init; }

    public int Pages { get; init; }

    /// <summary>As counted last night.</summary>
    public long Stored { get; init; }

    public IReadOnlyList<QuayState> States { get; init; } = [];

    public DateTimeOffset? Removed { get; init; }

    public string? RemovedBy { get; init; }
}

/// <summary>A change that was carried out, by its idempotency key.</summary>
public sealed record QuayEffect(string Key, string Site, string Request);

public sealed record QuayRecords
{
    public Dictionary<string, QuayPerson> People { get; init; } = [];

    public Dictionary<string, QuayCircle> Circles { get; init; } = [];

    public Dictionary<string, QuaySite> Sites { get; init; } = [];

    public List<QuayEffect> Effects { get; init; } = [];
}
