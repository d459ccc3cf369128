using System.Text.Json.Serialization;

namespace AtticLedger.StandIns.Slipway;

/// <summary>Slipway's own records, in its own words. Its answers omit the fields that it does not report.</summary>
public sealed record SlipwayPerson(
    string Id,
    string Name,
    string Mail,
    bool Guest,
    bool Active,
    string? Team,
    string? InvitedBy = null
)
{
    /// <summary>When a guest first signed in; null if they have not.</summary>
    public DateTimeOffset? Joined { get; init; }

    public DateTimeOffset? LastSeen { get; init; }
}

public sealed record SlipwayMember(string? Person = null, string? Group = null, string? Directory = null);

public sealed record SlipwayGroup(string Id, string Name, IReadOnlyList<SlipwayMember> Members, bool Truncated = false);

/// <summary>Who may do what at a site: <c>everyone</c>, <c>world</c>, <c>partners</c>, <c>p:…</c>, <c>g:…</c>, <c>team:…</c> or
/// <c>link:…</c>.</summary>
public sealed record SlipwayEntry(string Entry, string Role, string? Proof = null, string? Audience = null, string? Until = null);

/// <summary>A saved version: when and by whom.</summary>
public sealed record SlipwayState(DateTimeOffset At, string By);

/// <param name="Text">Plain text; <c>[[slug]]</c> is a link to another site.</param>
public sealed record SlipwayPage(string Title, string Text);

/// <summary>A slug that a site had, and that forwards to it.</summary>
public sealed record SlipwayForward(string Slug, DateTimeOffset Until);

public sealed record SlipwaySite
{
    public required string Id { get; init; }

    public required string Slug { get; init; }

    public required string Title { get; init; }

    public string? Team { get; init; }

    public string? Label { get; init; }

    /// <summary>The purpose that its authors chose; null if they chose none.</summary>
    public string? UsedFor { get; init; }

    public string Template { get; init; } = "pages";

    /// <summary>How people join: <c>none</c>, <c>request</c> or <c>self</c>; and since when each request waits.</summary>
    public string Join { get; init; } = "none";

    /// <summary>The role of people who join.</summary>
    public string JoinAs { get; init; } = "read";

    public IReadOnlyList<DateTimeOffset> JoinRequests { get; init; } = [];

    /// <summary>Free tags of its authors.</summary>
    public IReadOnlyList<string> Topics { get; init; } = [];

    /// <summary>The heading of its pages; null if it is the title.</summary>
    public string? Header { get; init; }

    public string? About { get; init; }

    /// <summary>A language tag.</summary>
    public string? Language { get; init; } = "en";

    /// <summary>What visitors read before the first page; null for nothing.</summary>
    public string? Notice { get; init; }

    /// <summary>When it is no longer needed; null if that is not set.</summary>
    public DateTimeOffset? Ends { get; init; }

    /// <summary>The mail address of its group.</summary>
    public string? Mailbox { get; init; }

    /// <summary>True if its pages ask search engines to leave them out.</summary>
    public bool NoIndex { get; init; }

    /// <summary>Where its logo is: <c>own</c>, <c>site</c> (the files of another site) or <c>link</c>; null if it has
    /// none.</summary>
    public string? Logo { get; init; }

    /// <summary>The id of the site whose logo it shows, or the address of a linked one.</summary>
    public string? LogoFrom { get; init; }

    /// <summary>Its own logo as PNG; null if it is the one that Slipway draws.</summary>
    public byte[]? LogoPicture { get; init; }

    /// <summary>Slugs that it had.</summary>
    public IReadOnlyList<SlipwayForward> Formerly { get; init; } = [];

    public DateTimeOffset Created { get; init; }

    public DateTimeOffset Edited { get; init; }

    public DateTimeOffset? Published { get; init; }

    public bool Offline { get; init; }

    public DateTimeOffset? LastVisit { get; init; }

    public int? Visits7 { get; init; }

    public IReadOnlyList<SlipwayEntry> Entries { get; init; } = [];

    /// <summary>The site's own limit: <c>none</c>, <c>guests</c>, <c>partners</c>, <c>team</c>, or null.</summary>
    public string? Limit { get; init; }

    public IReadOnlyList<SlipwayPage> Working { get; init; } = [];

    public IReadOnlyList<SlipwayPage> Live { get; init; } = [];

    /// <summary>The fields that Slipway omits from its answers about this site.</summary>
    public IReadOnlyList<string> Withheld { get; init; } = [];

    /// <summary>Web domains that show this site.</summary>
    public IReadOnlyList<string> Domains { get; init; } = [];

    /// <summary>The site above it.</summary>
    public string? Parent { get; init; }

    /// <summary>A group that was created with the site and is deleted with it.</summary>
    public string? OwnGroup { get; init; }

    public long Bytes { get; init; }

    /// <summary>The people who are editing it now.</summary>
    public IReadOnlyList<string> Editing { get; init; } = [];

    public IReadOnlyList<SlipwayState> States { get; init; } = [];

    public DateTimeOffset? Deleted { get; init; }

    public string? DeletedBy { get; init; }

    [JsonIgnore]
    public int Unpublished => Working.Zip(Live).Count(pair => pair.First != pair.Second) + Math.Abs(Working.Count - Live.Count);
}

public sealed record SlipwayWorkspace(
    string Name,
    string Outside,
    bool SignIn,
    string DefaultEntry,
    int BinDays = 30,
    int StateDays = 180
);

/// <summary>A request that was carried out, by its idempotency key. A repeated request with the key changes nothing.</summary>
public sealed record SlipwayEffect(string Key, string Site, string Request, DateTimeOffset At);

public sealed record SlipwayRecords
{
    public required SlipwayWorkspace Workspace { get; set; }

    public Dictionary<string, SlipwayPerson> People { get; init; } = [];

    public Dictionary<string, SlipwayGroup> Groups { get; init; } = [];

    public Dictionary<string, SlipwaySite> Sites { get; init; } = [];

    /// <summary>Deleted sites, until they are erased.</summary>
    public Dictionary<string, SlipwaySite> Bin { get; init; } = [];

    public List<SlipwayEffect> Effects { get; init; } = [];

    /// <summary>The members of a group of the staff list, as far as Slipway knows.</summary>
    public Dictionary<string, IReadOnlyList<string>> DirectoryGroups { get; init; } = [];
}
