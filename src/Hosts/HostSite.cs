using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>The subject of a host's grant, in the host's terms: people by mail address, groups by source and key.</summary>
public abstract record HostSubject
{
    private HostSubject() { }

    public sealed record ByMail(string Mail) : HostSubject;

    public sealed record GroupOf(string Source, string Key) : HostSubject;

    public sealed record Unit(string Code) : HostSubject;

    public sealed record Staff : HostSubject;

    public sealed record Partners : HostSubject;

    public sealed record Anonymous : HostSubject;
}

public sealed record HostGrant(
    string Key,
    Power Power,
    HostSubject Subject,
    VisitorSignIn VisitorSignIn,
    bool IsLink = false,
    DateOnly? Through = null
);

public sealed record HostSharing(IReadOnlyList<HostGrant> Grants, PowerLimits? OwnLimit);

/// <summary>A section of a site with its own access settings, in the host's terms.</summary>
public sealed record HostSection(string Key, string Name, SectionTie Tie, HostSharing Sharing);

/// <summary>A site as its host reported it, people and groups in the host's terms; anything not reported is unknown.</summary>
public sealed record HostSite(string Key) : ReportedFacts
{
    /// <summary>The code of its unit.</summary>
    public Known<string> Unit { get; init; }

    /// <summary>The key of a group that is removed with the site.</summary>
    public Known<string> Group { get; init; }

    /// <summary>The mail addresses of the people who are editing it.</summary>
    public Known<IReadOnlyList<string>> Editing { get; init; }

    public Known<IReadOnlyList<HostSection>> Sections { get; init; }

    public Known<HostSharing> Sharing { get; init; }

    /// <summary>Its entry in the host's bin, if it is there; also if a host that deletes irrevocably keeps it shut.</summary>
    public HostBin? Bin { get; init; }
}

/// <summary>A deleted site as its host keeps it: when and by whom it was deleted, until when it can be restored, by when it is
/// erased.</summary>
public sealed record HostBin(
    DateTimeOffset Since,
    string? ByMail,
    Known<DateTimeOffset> RecoverableUntil,
    Known<DateTimeOffset> ErasedBy
);

/// <summary>One saved state of a site: when, and by whom if a person saved it.</summary>
public sealed record HostState(DateTimeOffset At, string? ByMail);

/// <param name="SponsorMail">The sponsor of a guest, if reported.</param>
public sealed record HostPerson(string Name, string Mail, bool IsGuest, string? SponsorMail = null)
{
    /// <summary>When a guest first signed in; none if they have not.</summary>
    public Known<DateTimeOffset> Joined { get; init; }

    public Known<DateTimeOffset> LastSeen { get; init; }
}

public sealed record HostMember(string? Mail, string? GroupSource, string? GroupKey);

public sealed record HostGroup(string Key, string Name, IReadOnlyList<HostMember> Members, bool Complete);

/// <summary>The host's own people, groups, the limit that it enforces on all its sites, and its capabilities.</summary>
public sealed record HostSetting(
    IReadOnlyList<HostPerson> People,
    IReadOnlyList<HostGroup> Groups,
    Known<PowerLimits> Limit,
    HostCapabilities Capabilities
);

/// <summary>A page of sites, and what is missing from it.</summary>
/// <param name="Withheld">The sites that the host has but does not report, so that a site in no list may still be there.</param>
/// <param name="NotUnderstood">The parts of listed sites that are unknown because the host's words for them are.</param>
/// <param name="Next">The bookmark from which an interrupted sync continues after this page; null after the last.</param>
public sealed record HostPage(
    IReadOnlyList<HostSite> Sites,
    IReadOnlyList<string> Withheld,
    IReadOnlyList<string> NotUnderstood,
    int? Expected,
    string? Next = null
);

/// <summary>The number of requests a host allows per window, and how many are left.</summary>
public sealed record HostBudget(int Allowed, int Left);

/// <summary>The changes at a host since a bookmark.</summary>
/// <param name="Gone">Keys of sites that are neither in use nor in the bin any more.</param>
/// <param name="Mark">The bookmark for the next request.</param>
public sealed record HostChanges(
    IReadOnlyList<HostSite> Sites,
    IReadOnlyList<string> Gone,
    IReadOnlyList<string> Refused,
    string Mark
);

/// <summary>A page of a site as its editors see it.</summary>
/// <param name="Html">Its content as HTML, with addresses relative to the site's own.</param>
public sealed record HostPageContent(string Title, string Html);

/// <summary>The logo that a site is to have, in the host's terms.</summary>
/// <param name="From">Borrowed: the key of the other site. Linked: the address of the picture.</param>
/// <param name="Picture">The picture itself as PNG, if it is kept with the site.</param>
public sealed record HostLogo(LogoSource? Source, string? From, byte[]? Picture);

/// <summary>How a site is to present itself. A part that is null stays; the empty description is none.</summary>
public sealed record HostLook(string? Name, string? Description, HostLogo? Logo);

/// <summary>A host's reply to a change.</summary>
public abstract record HostReply
{
    private HostReply() { }

    /// <summary>Carried out: the site as it is at the host now.</summary>
    /// <param name="Sharing">Null if the host withholds who has access and the change did not concern it.</param>
    /// <param name="Key">The host's key of a site that was made.</param>
    /// <param name="Forwards">The addresses that forward to it; null if the reply does not say.</param>
    public sealed record Done(
        HostSharing? Sharing,
        HostBin? Bin = null,
        string? Address = null,
        string? Key = null,
        Known<IReadOnlyList<Forward>>? Forwards = null
    ) : HostReply;

    public sealed record Refused(string Words) : HostReply;

    public sealed record Later(TimeSpan After, string Words) : HostReply;

    public sealed record Lost(string Words) : HostReply;
}

/// <summary>A site to be made, in the host's terms: people by mail address.</summary>
/// <param name="Address">The whole address.</param>
/// <param name="Unit">The code of its unit.</param>
/// <param name="Ends">The first instant after its last day.</param>
/// <param name="MailAlias">The whole alias; null if it gets none.</param>
/// <param name="HasGroup">True if its editors get access through a group of its own.</param>
/// <param name="Doors">The grants beside those of owners and editors.</param>
/// <param name="Pages">The titles of the pages that it begins with.</param>
public sealed record NewHostSite(
    string Name,
    string Address,
    string Kind,
    string? Unit,
    string? Classification,
    string? Purpose,
    string? Language,
    string? Description,
    string? ContentNotice,
    DateTimeOffset? Ends,
    IReadOnlyList<string> Tags,
    string? MailAlias,
    bool HasGroup,
    IReadOnlyList<string> Owners,
    IReadOnlyList<string> Editors,
    IReadOnlyList<GrantChange> Doors,
    IReadOnlyList<string> Pages
)
{
    /// <summary>Its owners, then its other editors, each once.</summary>
    public IReadOnlyList<string> People => [.. Owners.Concat(Editors).Distinct(StringComparer.OrdinalIgnoreCase)];
}
