using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>What visitors can see of a site, in the order of a site's life.</summary>
public enum Stage : byte
{
    NeverLive,
    Live,
    Changed,
    Offline,
}

/// <summary>Whether there is a site: in use, put away and recoverable, or gone for good. Of the last a tombstone stays.</summary>
public enum Existence : byte
{
    Here,
    Attic,
    Cleared,
}

/// <summary>What a host says of a site that lies in its bin: since when, who put it there, until when it can be brought back, by when it is erased.</summary>
public sealed record Bin(
    DateTimeOffset Since,
    PersonId? By,
    Known<DateTimeOffset> RecoverableUntil,
    Known<DateTimeOffset> ErasedBy
);

/// <summary>An order that the host has not confirmed yet, as the end state it names.</summary>
public sealed record UnderWay(OrderId Order, Wish Wish);

/// <summary>One line of the register: what the sources said of a site, unknown marked unknown.</summary>
public sealed record SiteFacts
{
    public required SiteId Id { get; init; }

    public required string Host { get; init; }

    /// <summary>Why nothing can be computed of it, though it is there; null where all can.</summary>
    public string? Fault { get; init; }

    /// <summary>The host's own key of the site.</summary>
    public required string HostKey { get; init; }

    public Known<string> Name { get; init; }

    public Known<string> Address { get; init; }

    public Known<UnitCode> Unit { get; init; }

    public Known<string> Class { get; init; }

    public Known<string> Kind { get; init; }

    /// <summary>What it is for, as a code of the house's list.</summary>
    public Known<string> Purpose { get; init; }

    /// <summary>What it is tagged with, in the words of the sources.</summary>
    /// <seealso cref="TagWords"/>
    public Known<string> Tags { get; init; }

    /// <summary>What sources say of facts that more than the host speaks of.</summary>
    public IReadOnlyList<Statement> Said { get; init; } = [];

    public Known<Stage> Stage { get; init; }

    public Known<DateTimeOffset> Created { get; init; }

    public Known<DateTimeOffset> LastEdit { get; init; }

    public Known<DateTimeOffset> LastVisit { get; init; }

    /// <summary>Visits in the last seven days, as the host measured them.</summary>
    public Known<int> Visits { get; init; }

    public Known<Sharing> Sharing { get; init; }

    public Content Content { get; init; } = new();

    public Existence Existence { get; init; }

    /// <summary>Since when existence and address are known to be so: a read that began earlier does not change them.</summary>
    public DateTimeOffset StandsAt { get; init; }

    /// <summary>The host's bin, while the site lies in it.</summary>
    public Bin? Bin { get; init; }

    /// <summary>Orders that are under way, oldest first: what we asked for and the host has not confirmed.</summary>
    public IReadOnlyList<UnderWay> UnderWay { get; init; } = [];

    /// <summary>The excuses that nobody has ended, those too whose day is over.</summary>
    public IReadOnlyList<Excuse> Excuses { get; init; } = [];

    /// <summary>When a source last spoke of the site.</summary>
    public DateTimeOffset SeenAt { get; init; }

    /// <summary>The last complete read no longer listed it. Vanished is not deleted.</summary>
    public bool Vanished { get; init; }

    /// <summary>The line that its site is now, where somebody said that it moved.</summary>
    public SiteId? MovedTo { get; init; }

    public string Title => Name.Has(out var name) ? name : Address.Or(HostKey);

    /// <summary>The grants as they will be once the host has confirmed all that is under way.</summary>
    public Known<IReadOnlyList<Grant>> Expected =>
        Sharing.Select(sharing => UnderWay.Aggregate(sharing.Grants, (grants, order) => grants.With(order.Wish.Grants)));

    public SiteFacts WithGrants(IReadOnlyList<Grant> grants) =>
        this with
        {
            Sharing = Sharing.Select(sharing => sharing with { Grants = grants }),
            UnderWay = [],
        };

    /// <summary>What is left of a site that nothing can be computed of: which it is and whose; all else is unknown.</summary>
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
            Vanished = Vanished,
            StandsAt = StandsAt,
            Fault = why,
        };
}
