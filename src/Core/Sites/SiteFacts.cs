using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>The publication status, in the sequence of a site's life.</summary>
public enum Status : byte
{
    NeverPublished,
    Published,
    UnpublishedChanges,
    Offline,
}

/// <summary>The existence of a site: in use, in the attic (recoverable), or erased. An erased site keeps a record.</summary>
public enum Existence : byte
{
    InUse,
    Attic,
    Erased,
}

public static class ExistenceWords
{
    /// <summary>The word of filters and of the journal.</summary>
    public static string Word(this Existence existence) =>
        existence switch
        {
            Existence.InUse => "in-use",
            Existence.Attic => "attic",
            _ => "erased",
        };
}

/// <summary>What a host reports about a site in its bin: since when, who deleted it, until when it can be restored, by when it
/// is erased.</summary>
public sealed record Bin(
    DateTimeOffset Since,
    PersonId? By,
    Known<DateTimeOffset> RecoverableUntil,
    Known<DateTimeOffset> ErasedBy
);

/// <summary>A change that the host has not confirmed yet, as its end state.</summary>
public sealed record UnderWay(ChangeId HostChange, WantedState WantedState);

/// <summary>One row of the register: what the sources report about a site, unknown marked unknown.</summary>
public sealed record SiteFacts : ReportedFacts
{
    public required SiteId Id { get; init; }

    public required string Host { get; init; }

    /// <summary>Why it cannot be computed although it exists; null if it can.</summary>
    public string? Fault { get; init; }

    /// <summary>The host's own key of the site.</summary>
    public required string HostKey { get; init; }

    public Known<UnitCode> Unit
    {
        get => Facts.Of(DeclaredFacts.Unit);
        init => Facts = Facts.With(DeclaredFacts.Unit, value);
    }

    public Known<GroupId> Group
    {
        get => Facts.Of(DeclaredFacts.Group);
        init => Facts = Facts.With(DeclaredFacts.Group, value);
    }

    public Known<IReadOnlyList<PersonId>> Editing
    {
        get => Facts.Of(DeclaredFacts.Editing);
        init => Facts = Facts.With(DeclaredFacts.Editing, value);
    }

    public Known<IReadOnlyList<SiteSection>> Sections
    {
        get => Facts.Of(DeclaredFacts.Sections);
        init => Facts = Facts.With(DeclaredFacts.Sections, value);
    }

    /// <summary>The claims about facts that more sources than the host claim.</summary>
    public IReadOnlyList<Claim> Claims { get; init; } = [];

    public Known<Sharing> Sharing { get; init; }

    public Existence Existence { get; init; }

    /// <summary>Since when existence and address are known: a sync that began earlier does not change them.</summary>
    public DateTimeOffset StandsAt { get; init; }

    /// <summary>The host's bin entry, while the site is in it.</summary>
    public Bin? Bin { get; init; }

    /// <summary>Changes under way, the oldest first: requested and not confirmed by the host.</summary>
    public IReadOnlyList<UnderWay> UnderWay { get; init; } = [];

    /// <summary>The exceptions that nobody has ended, including those whose day is over.</summary>
    public IReadOnlyList<RuleException> Exceptions { get; init; } = [];

    /// <summary>The number of other sites in use whose name is the same or nearly so, without those that are both right. It is
    /// counted after names have changed.</summary>
    public Known<int> NearNames { get; init; }

    /// <summary>When a source last reported the site.</summary>
    public DateTimeOffset SeenAt { get; init; }

    /// <summary>True if the last complete sync no longer listed it. No longer reported is not deleted.</summary>
    public bool NoLongerReported { get; init; }

    /// <summary>The row that its site is now, if somebody confirmed that it moved.</summary>
    public SiteId? MovedTo { get; init; }

    public string Title => Name.Has(out var name) ? name : Address.Or(HostKey);

    /// <summary>The grants as they will be once the host has confirmed all that is under way.</summary>
    public Known<IReadOnlyList<Grant>> Expected =>
        Sharing.Select(sharing =>
            UnderWay.Aggregate(sharing.Grants, (grants, hostChange) => grants.With(hostChange.WantedState.Grants))
        );

    public SiteFacts WithGrants(IReadOnlyList<Grant> grants) =>
        this with
        {
            Sharing = Sharing.Select(sharing => sharing with { Grants = grants }),
            UnderWay = [],
        };

    /// <summary>The rest of a site that cannot be computed: its identity and unit; everything else is unknown.</summary>
    public SiteFacts Faulty(string why) =>
        new()
        {
            Id = Id,
            Host = Host,
            HostKey = HostKey,
            Name = Name,
            Address = Address,
            Unit = Unit,
            Existence = Existence,
            SeenAt = SeenAt,
            NoLongerReported = NoLongerReported,
            StandsAt = StandsAt,
            Fault = why,
        };
}
