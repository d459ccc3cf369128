using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Where a limit is set, in the order in which layers are shown.</summary>
public enum LayerKind : byte
{
    Organisation,
    Host,
    Place,
    Unit,
    Class,
    Kind,
    OwnersClass,
    Site,
}

/// <summary>Who keeps a limit: a host really stops people, the house keeps it by people and by rules.</summary>
public enum Enforcer : byte
{
    Host,
    House,
}

/// <summary>A limit as the house or a host has set it: on everything, or on the sites with one host, place, unit, class, kind or owners' class.</summary>
public sealed record LimitSetting(LayerKind Kind, string Code, Enforcer Enforcer, Known<PowerLimits> Limits);

/// <summary>A kind of site that has a floor: it always lets all of the staff view it.</summary>
public sealed record SiteKind(string Code, string Name, bool AlwaysAllStaff);

/// <summary>What the organisation has decided: its limits and its kinds of site.</summary>
public sealed record House
{
    public IReadOnlyList<LimitSetting> Limits { get; init; } = [];

    public IReadOnlyList<SiteKind> Kinds { get; init; } = [];

    /// <summary>How long put-away sites are kept: all rules that ever were, for a clock counts those since its site was put away.</summary>
    public IReadOnlyList<KeepRule> Keeping { get; init; } = [];

    /// <summary>The classes, purposes and tags that can be chosen.</summary>
    public IReadOnlyList<Term> Terms
    {
        get;
        init
        {
            field = value;
            Words = new Vocabulary(value);
        }
    } = [];

    /// <summary>The same, to be looked up.</summary>
    public Vocabulary Words { get; private init; } = Vocabulary.Empty;

    /// <summary>How the hosts behave that have been read.</summary>
    public IReadOnlyDictionary<string, HostHabits> Hosts { get; init; } = new Dictionary<string, HostHabits>();

    /// <summary>How long owners can stop their own deletion of a site that others use.</summary>
    public TimeSpan StopTime { get; init; } = TimeSpan.FromHours(1);

    /// <summary>Through how many days after the day it was made an offer of a key can be answered.</summary>
    public int OfferDays { get; init; } = 14;

    /// <summary>Likewise what waits for a second person.</summary>
    public int ApprovalDays { get; init; } = 7;

    /// <summary>A key holder who leaves within these days is not fit.</summary>
    public int FitDays { get; init; } = 14;

    public HostHabits HabitsOf(string host) => Hosts.GetValueOrDefault(host, HostHabits.Unheard);
}
