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

/// <summary>An order that the host has not confirmed yet, as the end state it names.</summary>
public sealed record UnderWay(OrderId Order, IReadOnlyList<GrantChange> Wish);

/// <summary>One line of the register: what the sources said of a site, unknown marked unknown.</summary>
public sealed record SiteFacts
{
    public required SiteId Id { get; init; }

    public required string Host { get; init; }

    /// <summary>The host's own key of the site.</summary>
    public required string HostKey { get; init; }

    public Known<string> Name { get; init; }

    public Known<string> Address { get; init; }

    public Known<UnitCode> Unit { get; init; }

    public Known<string> Class { get; init; }

    public Known<string> Kind { get; init; }

    public Known<Stage> Stage { get; init; }

    public Known<DateTimeOffset> Created { get; init; }

    public Known<DateTimeOffset> LastEdit { get; init; }

    public Known<DateTimeOffset> LastVisit { get; init; }

    /// <summary>Visits in the last seven days, as the host measured them.</summary>
    public Known<int> Visits { get; init; }

    public Known<Sharing> Sharing { get; init; }

    /// <summary>Orders that are under way, oldest first: what we asked for and the host has not confirmed.</summary>
    public IReadOnlyList<UnderWay> UnderWay { get; init; } = [];

    /// <summary>When a source last spoke of the site.</summary>
    public DateTimeOffset SeenAt { get; init; }

    /// <summary>The last complete read no longer listed it. Vanished is not deleted.</summary>
    public bool Vanished { get; init; }

    public string Title => Name.Has(out var name) ? name : Address.Or(HostKey);

    /// <summary>The grants as they will be once the host has confirmed all that is under way.</summary>
    public Known<IReadOnlyList<Grant>> Expected =>
        Sharing.Select(sharing => UnderWay.Aggregate(sharing.Grants, (grants, order) => grants.With(order.Wish)));

    public SiteFacts WithGrants(IReadOnlyList<Grant> grants) =>
        this with { Sharing = Sharing.Select(sharing => sharing with { Grants = grants }), UnderWay = [] };
}
