using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Access;

/// <summary>A row of the book of limits.</summary>
/// <param name="Name">Of what it is a limit: "Classification Guarded".</param>
/// <param name="Limits">Null if it is not known.</param>
/// <param name="Sites">The number of sites in use, in the viewer's scope, to which it applies; null where that depends on facts
/// that are not kept by site, such as the classification of owners.</param>
/// <param name="Reason">Why it was set here; null if it came from a host or with the set-up.</param>
public sealed record LimitRow(
    LayerKind Kind,
    string Code,
    Enforcer Enforcer,
    string Name,
    Limits? Limits,
    int? Sites,
    string? Reason,
    DateTimeOffset? SetAt,
    PersonResponse? SetBy
);

/// <summary>Something that can get a limit and has none.</summary>
public sealed record LimitTarget(LayerKind Kind, string Code, string Name);

public sealed record LimitBookResponse(IReadOnlyList<LimitRow> Limits, IReadOnlyList<LimitTarget> Without);

/// <param name="Limits">The new value; null to remove the limit.</param>
public sealed record LimitPlanRequest(
    LayerKind Kind,
    string Code,
    Enforcer Enforcer,
    Limits? Limits = null,
    string? Reason = null
);

/// <param name="Fingerprint">The fingerprint of the limits that were tried out.</param>
public sealed record SetLimitRequest(
    LayerKind Kind,
    string Code,
    Enforcer Enforcer,
    string Fingerprint,
    Limits? Limits = null,
    string? Reason = null
);

/// <summary>A site on which a limit changes something.</summary>
public sealed record TriedSite(
    long Id,
    string Title,
    UnitResponse? Unit,
    IReadOnlyList<PowerChangeOfSite> Powers,
    Truth Exceeded,
    Truth Exceeds,
    IReadOnlyList<string> Cleared,
    IReadOnlyList<string> Opened
);

/// <param name="Gain">The number of people who gain it by name or group; <paramref name="Opened"/>: who else from outside.</param>
public sealed record PowerChangeOfSite(Power Power, int Gain, int Lose, IReadOnlyList<string> Opened, IReadOnlyList<string> Shut);

/// <param name="Cleared">The number of sites that then no longer break it; <paramref name="Opened"/>: that break it then.</param>
public sealed record TriedRuleCount(RuleResponse Rule, int Cleared, int Opened);

public sealed record TriedUnit(string Unit, int Sites);

/// <summary>A limit tried out: what would change if it were set, and nothing is.</summary>
/// <param name="Compared">The number of sites in use to which it can apply.</param>
/// <param name="Changed">The number of them on which something changes.</param>
/// <param name="Waking">The number on which access that was set and waited takes effect.</param>
/// <param name="Shutting">The number on which partners or anonymous visitors lose access.</param>
/// <param name="Gaining">The number of people who gain something; <paramref name="FirstGaining"/> the first 50 of them.</param>
/// <param name="GuestsLosing">The guests among those who lose.</param>
/// <param name="Sites">The first 100 of the changed sites.</param>
/// <param name="IsOfHost">True if it is a setting of the host and can only be tried out here.</param>
/// <param name="Asks">Why it cannot be set; the reason is asked for only when it is set.</param>
public sealed record LimitTryOutResponse(
    string Fingerprint,
    int Compared,
    int Changed,
    int Waking,
    int Shutting,
    int NewlyExceeding,
    int NoLongerExceeding,
    int Gaining,
    IReadOnlyList<PersonResponse> FirstGaining,
    int Losing,
    IReadOnlyList<PersonResponse> FirstLosing,
    int GuestsLosing,
    IReadOnlyList<TriedRuleCount> Rules,
    IReadOnlyList<TriedUnit> Units,
    IReadOnlyList<TriedSite> Sites,
    bool IsOfHost,
    IReadOnlyList<RemarkResponse> Asks
);
