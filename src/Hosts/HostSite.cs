using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>Whom a host's grant names, in the host's words: people by mail address, groups by source and key.</summary>
public abstract record HostSubject
{
    private HostSubject() { }

    public sealed record ByMail(string Mail) : HostSubject;

    public sealed record GroupOf(string Source, string Key) : HostSubject;

    public sealed record Unit(string Code) : HostSubject;

    public sealed record Staff : HostSubject;

    public sealed record Partners : HostSubject;

    public sealed record PassersBy : HostSubject;
}

public sealed record HostGrant(
    string Key,
    Power Power,
    HostSubject Subject,
    Proof Proof,
    bool IsLink = false,
    DateOnly? Through = null
);

public sealed record HostSharing(IReadOnlyList<HostGrant> Grants, PowerLimits? OwnLimit);

/// <summary>A part of a site with permissions of its own, in the host's words.</summary>
public sealed record HostSection(string Key, string Name, PartTie Tie, HostSharing Sharing);

/// <summary>A site as its host described it; what it did not say is unknown.</summary>
public sealed record HostSite(string Key)
{
    public Known<string> Name { get; init; }

    public Known<string> Address { get; init; }

    public Known<string> Unit { get; init; }

    public Known<string> Class { get; init; }

    public Known<string> Purpose { get; init; }

    /// <summary>Free words.</summary>
    public Known<string> Tags { get; init; }

    /// <summary>The name that its pages carry.</summary>
    public Known<string> ShownName { get; init; }

    public Known<string> HomeTitle { get; init; }

    public Known<string> Description { get; init; }

    public Known<string> Language { get; init; }

    public Known<string> Kind { get; init; }

    public Known<Stage> Stage { get; init; }

    public Known<DateTimeOffset> Created { get; init; }

    public Known<DateTimeOffset> LastEdit { get; init; }

    public Known<DateTimeOffset> LastVisit { get; init; }

    public Known<int> Visits { get; init; }

    public Known<HostSharing> Sharing { get; init; }

    public Known<int> Pages { get; init; }

    public Known<long> Bytes { get; init; }

    public Known<IReadOnlyList<string>> Domains { get; init; }

    /// <summary>The key of the site that this one is a child of.</summary>
    public Known<string> Parent { get; init; }

    /// <summary>The key of a group that goes with the site.</summary>
    public Known<string> Group { get; init; }

    /// <summary>Mail addresses of who has it open for editing.</summary>
    public Known<IReadOnlyList<string>> Editing { get; init; }

    public Known<SitePlan> Plan { get; init; }

    public Known<string> MailAlias { get; init; }

    public Known<IReadOnlyList<Obligation>> Obligations { get; init; }

    public Known<int> Records { get; init; }

    public Known<IReadOnlyList<Signal>> Signals { get; init; }

    public Known<Joining> Joining { get; init; }

    public Known<IReadOnlyList<Shared>> Shared { get; init; }

    public Known<IReadOnlyList<HostSection>> Sections { get; init; }

    /// <summary>Its place in the host's bin, where it lies there; also where a host that deletes for good keeps it shut.</summary>
    public HostBin? Bin { get; init; }
}

/// <summary>A deleted site as its host keeps it: when and by whom it was deleted, until when it can be brought back, by when it is erased.</summary>
public sealed record HostBin(
    DateTimeOffset Since,
    string? ByMail,
    Known<DateTimeOffset> RecoverableUntil,
    Known<DateTimeOffset> ErasedBy
);

/// <summary>One saved state of a site: when, and by whom where a person saved it.</summary>
public sealed record HostState(DateTimeOffset At, string? ByMail);

/// <param name="SponsorMail">Who asked a guest in and answers for them, where the host says so.</param>
public sealed record HostPerson(string Name, string Mail, bool IsGuest, string? SponsorMail = null);

public sealed record HostMember(string? Mail, string? GroupSource, string? GroupKey);

public sealed record HostGroup(string Key, string Name, IReadOnlyList<HostMember> Members, bool Complete);

/// <summary>The host's own people, groups, the limit that it enforces on all its sites, and how it behaves.</summary>
public sealed record HostSetting(
    IReadOnlyList<HostPerson> People,
    IReadOnlyList<HostGroup> Groups,
    Known<PowerLimits> Limit,
    HostHabits Habits
);

/// <summary>A page of sites, and what the host would not tell of.</summary>
/// <param name="Next">Where a read that breaks off after this page goes on, in the host's own words; null after the last.</param>
public sealed record HostPage(IReadOnlyList<HostSite> Sites, IReadOnlyList<string> Refused, int? Expected, string? Next = null);

/// <summary>How many requests a host allows in its span of time, and how many of them are left.</summary>
public sealed record HostBudget(int Allowed, int Left);

/// <summary>What became other at a host since a mark.</summary>
/// <param name="Gone">Keys of sites that it no longer has, neither in use nor in the bin.</param>
/// <param name="Mark">What to ask from the next time.</param>
public sealed record HostChanges(
    IReadOnlyList<HostSite> Sites,
    IReadOnlyList<string> Gone,
    IReadOnlyList<string> Refused,
    string Mark
);

/// <summary>What a host replied to an order.</summary>
public abstract record HostReply
{
    private HostReply() { }

    /// <summary>Carried out: the site as the host has it now.</summary>
    /// <param name="Sharing">Null where the host withholds who is let in, and nothing of that was asked for.</param>
    public sealed record Done(HostSharing? Sharing, HostBin? Bin = null, string? Address = null) : HostReply;

    public sealed record Refused(string Words) : HostReply;

    public sealed record Later(TimeSpan After, string Words) : HostReply;

    public sealed record Lost(string Words) : HostReply;
}

/// <summary>A host through which sites are read and changed.</summary>
public interface ISiteHost
{
    /// <summary>The host's name, as screens show it.</summary>
    string Name { get; }

    Task<HostSetting> ReadSetting(CancellationToken stop);

    /// <summary>All sites, those in the host's bin too, page by page. Ending without an exception means that the read was complete.</summary>
    /// <param name="from">Where an earlier read broke off; null for the whole.</param>
    /// <exception cref="BeginAgainException">It does not go on from there any more.</exception>
    /// <exception cref="HostException">The host could not be read to the end; the message says why.</exception>
    IAsyncEnumerable<HostPage> ReadSites(string? from, CancellationToken stop);

    /// <summary>As its last answer said; null where it says nothing of it.</summary>
    HostBudget? Budget => null;

    /// <summary>What changed since a mark, where the host's habits say that it tells; with no mark, the mark of now and nothing else.</summary>
    /// <exception cref="BeginAgainException">The mark is too old: all of it is to be read.</exception>
    Task<HostChanges> ReadChanges(string? mark, CancellationToken stop) =>
        throw new NotSupportedException($"{Name} does not tell what changed.");

    /// <summary>One site, in use or in the bin, or null where the host has no such site.</summary>
    Task<HostSite?> ReadSite(string key, CancellationToken stop);

    HostHabits Habits { get; }

    /// <summary>Brings an order to the host. Never throws for what a host or a network does: that is a reply.</summary>
    Task<HostReply> Carry(OrderId order, string siteKey, Wish wish, CancellationToken stop);

    /// <summary>The states of a site that were saved since an instant.</summary>
    /// <exception cref="HostException">The host did not say.</exception>
    Task<IReadOnlyList<HostState>> ReadStates(string key, DateTimeOffset since, CancellationToken stop);
}

/// <summary>A host said something that cannot be worked with. The message names what and where.</summary>
public class HostException(string message, Exception? inner = null) : Exception(message, inner);

/// <summary>A list cannot go on from where it was; it can be begun again.</summary>
public sealed class BeginAgainException(string message) : HostException(message);
