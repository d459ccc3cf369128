using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Where a limit is set; the values are in display sequence.</summary>
public enum LayerKind : byte
{
    Organisation,
    Host,
    Place,
    Unit,
    Classification,
    Kind,
    OwnersClassification,
    Site,
}

/// <summary>Who enforces a limit: the host technically, or policy only.</summary>
public enum Enforcer : byte
{
    Host,
    Policy,
}

/// <summary>A limit that the organisation or a host has set: on everything, or on the sites with one host, place, unit,
/// classification, kind or classification of owners.</summary>
public sealed record LimitSetting(LayerKind Kind, string Code, Enforcer Enforcer, Known<PowerLimits> Limits);

/// <summary>A kind of site with a minimum: all staff can always view it.</summary>
public sealed record SiteKind(string Code, string Name, bool AlwaysAllStaff);

/// <summary>The organisation's policy: its limits and its kinds of site.</summary>
public sealed record Organisation
{
    public IReadOnlyList<LimitSetting> Limits { get; init; } = [];

    public IReadOnlyList<SiteKind> Kinds { get; init; } = [];

    /// <summary>The retention rules, including former ones, because all rules since the move to the attic count.</summary>
    public IReadOnlyList<RetentionRule> RetentionRules { get; init; } = [];

    /// <summary>The classifications, purposes and tags that can be chosen.</summary>
    public IReadOnlyList<Term> Terms
    {
        get;
        init
        {
            field = value;
            Words = new Vocabulary(value);
        }
    } = [];

    /// <summary>The same, indexed.</summary>
    public Vocabulary Words { get; private init; } = Vocabulary.Empty;

    /// <summary>The capabilities of the synced hosts.</summary>
    public IReadOnlyDictionary<string, HostCapabilities> Hosts { get; init; } = new Dictionary<string, HostCapabilities>();

    /// <summary>How long owners can stop their own deletion of a site that others use.</summary>
    public TimeSpan StopTime { get; init; } = TimeSpan.FromHours(1);

    /// <summary>The number of days after the day of the offer in which it can be answered.</summary>
    public int OfferDays { get; init; } = 14;

    /// <summary>The same for a request for approval.</summary>
    public int ApprovalDays { get; init; } = 7;

    /// <summary>An owner who leaves within this number of days is not active.</summary>
    public int ActiveDays { get; init; } = 14;

    /// <summary>The same for a request to start a site.</summary>
    public int RequestDays { get; init; } = 14;

    /// <summary>The kinds of site that can be started here, in the sequence in which they are shown.</summary>
    public IReadOnlyList<KindToStart> KindsToStart { get; init; } = [];

    public IReadOnlyList<ExpectedReach> ExpectedReaches { get; init; } = [];

    /// <summary>Words that no new site gets as its address.</summary>
    public IReadOnlyList<string> ReservedAddresses { get; init; } = [];

    public HostCapabilities CapabilitiesOf(string host) => Hosts.GetValueOrDefault(host, HostCapabilities.Unheard);
}
