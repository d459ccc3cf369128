using System.Text.Json.Serialization;

namespace AtticLedger.StandIns.Slipway;

/// <summary>Slipway's own records, in its own words. Fields it does not give away are left out of its answers.</summary>
public sealed record SlipwayPerson(
    string Id,
    string Name,
    string Mail,
    bool Guest,
    bool Active,
    string? Team,
    string? InvitedBy = null
);

public sealed record SlipwayMember(string? Person = null, string? Group = null, string? Directory = null);

public sealed record SlipwayGroup(string Id, string Name, IReadOnlyList<SlipwayMember> Members, bool Truncated = false);

/// <summary>Who may do what at a site: <c>everyone</c>, <c>world</c>, <c>partners</c>, <c>p:…</c>, <c>g:…</c>, <c>team:…</c> or <c>link:…</c>.</summary>
public sealed record SlipwayEntry(string Entry, string Role, string? Proof = null, string? Audience = null, string? Until = null);

/// <summary>A saved state: when and by whom.</summary>
public sealed record SlipwayState(DateTimeOffset At, string By);

public sealed record SlipwayPage(string Title, string Text);

public sealed record SlipwaySite
{
    public required string Id { get; init; }

    public required string Slug { get; init; }

    public required string Title { get; init; }

    public string? Team { get; init; }

    public string? Label { get; init; }

    public string Template { get; init; } = "pages";

    /// <summary>How people join: <c>none</c>, <c>request</c> or <c>self</c>; and since when each who asked waits.</summary>
    public string Join { get; init; } = "none";

    /// <summary>The role of those who join.</summary>
    public string JoinAs { get; init; } = "read";

    public IReadOnlyList<DateTimeOffset> JoinRequests { get; init; } = [];

    /// <summary>Free words of its makers.</summary>
    public IReadOnlyList<string> Topics { get; init; } = [];

    /// <summary>What stands at the head of its pages; null where that is the title.</summary>
    public string? Header { get; init; }

    public string? About { get; init; }

    /// <summary>A language tag.</summary>
    public string? Language { get; init; } = "en";

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

    /// <summary>Facts that Slipway leaves out of its answers about this site, by field name.</summary>
    public IReadOnlyList<string> Withheld { get; init; } = [];

    /// <summary>Web domains that show it under a name of their own.</summary>
    public IReadOnlyList<string> Domains { get; init; } = [];

    /// <summary>The site that it is a child of.</summary>
    public string? Parent { get; init; }

    /// <summary>A group that was made with it and goes with it.</summary>
    public string? OwnGroup { get; init; }

    public long Bytes { get; init; }

    /// <summary>Who has it open for editing.</summary>
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

/// <summary>An order that had its effect, by the key it came with: what makes doing it twice doing it once.</summary>
public sealed record SlipwayEffect(string Key, string Site, string Request, DateTimeOffset At);

public sealed record SlipwayRecords
{
    public required SlipwayWorkspace Workspace { get; set; }

    public Dictionary<string, SlipwayPerson> People { get; init; } = [];

    public Dictionary<string, SlipwayGroup> Groups { get; init; } = [];

    public Dictionary<string, SlipwaySite> Sites { get; init; } = [];

    /// <summary>Deleted sites, until their days are over.</summary>
    public Dictionary<string, SlipwaySite> Bin { get; init; } = [];

    public List<SlipwayEffect> Effects { get; init; } = [];

    /// <summary>Which people a group of the staff list holds, as Slipway was told.</summary>
    public Dictionary<string, IReadOnlyList<string>> DirectoryGroups { get; init; } = [];
}
