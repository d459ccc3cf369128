using AtticLedger.Core.Access;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;

namespace AtticLedger.Server.Access;

/// <summary>A kind of person who asks to get in.</summary>
public enum VisitorKind : byte
{
    /// <summary>Somebody from outside whom nobody has invited yet.</summary>
    NewGuest,

    /// <summary>Somebody of an organisation on the partner list.</summary>
    Partner,
    NotSignedIn,
}

/// <summary>One thing that can stop somebody on the way in.</summary>
/// <param name="Layer">The kind of the layer; null for existence and publication.</param>
/// <param name="Enforcer">Null for existence and publication, which always stop people.</param>
/// <param name="Says">What it allows, or the state of the site.</param>
public sealed record GateResponse(GateKind Kind, LayerKind? Layer, string Name, Enforcer? Enforcer, string Says, Truth Lets);

/// <summary>A group in a chain.</summary>
public sealed record ChainedGroup(long Id, string Name);

/// <summary>One grant that admits somebody if nothing stops them.</summary>
/// <param name="Chain">The groups through which it is, from the granted one to the one that names the person.</param>
/// <param name="Includes">True if it is certainly a grant to them.</param>
public sealed record WayInResponse(
    string Through,
    Power Power,
    Truth Includes,
    IReadOnlyList<ChainedGroup> Chain,
    Truth Lets,
    IReadOnlyList<GateResponse> Gates
);

public enum AccessChangeKind : byte
{
    LoosenLimit,
    LoosenSite,
    Grant,
    InviteGuest,
    JoinGroup,
    Publish,
    Restore,
}

/// <summary>A limit in the register.</summary>
/// <param name="Code">Of what it is: of a host its name, of a unit its code; empty for the organisation.</param>
public sealed record LimitName(LayerKind Kind, string Code, Enforcer Enforcer);

/// <summary>One change of a set that lets somebody in.</summary>
/// <param name="By">Who can make it.</param>
/// <param name="Limit">The limit that is raised, and <paramref name="To"/> what it then is; null for other changes.</param>
/// <param name="OtherSites">The number of other sites in use that a group opens to its new member; null for other changes.</param>
public sealed record AccessChangeResponse(
    AccessChangeKind Kind,
    string Words,
    string By,
    LimitName? Limit,
    Limits? To,
    int? OtherSites
);

/// <summary>A set of changes that lets somebody in; none can be left out.</summary>
/// <param name="IsCertain">False if an unknown fact still decides.</param>
/// <param name="AgainstPolicy">The limits that are policy only and do not allow it.</param>
/// <param name="OtherPeople">The number of other people who get into this site by it, by name or group.</param>
/// <param name="OtherDoors">Who else from outside gets in by it.</param>
public sealed record LetInResponse(
    IReadOnlyList<AccessChangeResponse> Changes,
    bool IsCertain,
    IReadOnlyList<string> AgainstPolicy,
    int OtherPeople,
    IReadOnlyList<string> OtherDoors
);

/// <summary>Whether somebody has a power at a site, why, and what would change it.</summary>
/// <param name="Who">In words.</param>
/// <param name="Kind">The kind of person; or <paramref name="Person"/>, one of the two.</param>
/// <param name="HasLeft">True if the person has left.</param>
/// <param name="Allowed">True if policy allows it.</param>
/// <param name="Expected">The same once the host has confirmed the changes under way; null if there are none.</param>
/// <param name="Ways">The grants to them, those that admit them first; 10 at the most.</param>
/// <param name="MoreWays">The number of others.</param>
/// <param name="NewGrant">What a grant to them would meet; null if there is one.</param>
/// <param name="Unknown">The facts that are not reported and on which the answer depends.</param>
/// <param name="Smallest">The smallest set of changes that lets them in; null if they get in, or if none does.</param>
public sealed record WhyResponse(
    SiteNameResponse Site,
    string Host,
    Power Power,
    string Who,
    VisitorKind? Kind,
    PersonResponse? Person,
    bool HasLeft,
    Truth GetsIn,
    Truth Allowed,
    Truth? Expected,
    IReadOnlyList<WayInResponse> Ways,
    int MoreWays,
    WayInResponse? NewGrant,
    IReadOnlyList<string> Unknown,
    LetInResponse? Smallest,
    IReadOnlyList<LetInResponse> Others
);
