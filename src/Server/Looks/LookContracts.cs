using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Starting;

namespace AtticLedger.Server.Looks;

/// <summary>How a site presents itself now, and what of it can be changed from here.</summary>
/// <param name="Name">Null if not reported, or none; <paramref name="Description"/> too.</param>
/// <param name="IsDescriptionKnown">False if the host does not report it.</param>
/// <param name="Changes">What can be changed.</param>
/// <param name="Logos">Where a logo that is set from here can be.</param>
/// <param name="ByHand">True if a person makes the change at the host.</param>
/// <param name="Drift">The names that differ in meaning from the stored one.</param>
/// <param name="Borrowers">Sites in the viewer's scope that show the logo of this one.</param>
/// <param name="HiddenBorrowers">The number of others.</param>
public sealed record SiteLookResponse(
    long Site,
    string Title,
    string Host,
    string? Name,
    string? Description,
    bool IsDescriptionKnown,
    LogoResponse Logo,
    IReadOnlyList<LookField> Changes,
    IReadOnlyList<LogoSource> Logos,
    bool ByHand,
    IReadOnlyList<DriftingName> Drift,
    IReadOnlyList<SiteNameResponse> Borrowers,
    int HiddenBorrowers,
    SiteAddressResponse Address,
    IReadOnlyList<RemarkResponse> Refused
);

public sealed record DriftingName(VisibleName Where, string Name);

/// <param name="Source">Null if it has none, or if not reported.</param>
/// <param name="IsKnown">False if the host does not report it.</param>
/// <param name="Link">The address of a linked logo.</param>
/// <param name="From">The site whose logo is shown, if it is in the viewer's scope.</param>
/// <param name="FromInAttic">True if that site is no longer in use, so that nothing is shown.</param>
/// <param name="Picture">The hash of a picture that is kept here too.</param>
public sealed record LogoResponse(
    LogoSource? Source,
    bool IsKnown,
    string? Link,
    SiteNameResponse? From,
    bool FromInAttic,
    string? Picture
);

/// <param name="Whole">Null if it has none, or if not reported.</param>
/// <param name="Before">The fixed part before the part that is chosen; null where no address can be given from here.</param>
/// <param name="ForwardDays">The greatest number of days for which the old address forwards; 0 if it does not.</param>
/// <param name="Swaps">True if two sites can exchange their addresses.</param>
/// <param name="Impact">What using the address now means, before anything is typed.</param>
public sealed record SiteAddressResponse(
    string? Whole,
    string? Before,
    string? Own,
    string? After,
    int ForwardDays,
    bool Swaps,
    IReadOnlyList<ForwardResponse> Forwards,
    AddressImpactResponse Impact
);

/// <param name="Name">The new name; null to keep it.</param>
/// <param name="Description">The new description, empty for none; null to keep it.</param>
/// <param name="Logo">The new logo; null to keep it.</param>
/// <param name="Reason">The comment on the change, which the owners read.</param>
public record LookPlanRequest(string? Name, string? Description, WantedLogoRequest? Logo, string? Reason);

public sealed record ChangeLookRequest(
    string? Name,
    string? Description,
    WantedLogoRequest? Logo,
    string? Reason,
    string Fingerprint
) : LookPlanRequest(Name, Description, Logo, Reason);

/// <param name="Source">Null for no logo.</param>
/// <param name="Picture">Kept with the site: the hash of a picture that was sent or fetched.</param>
/// <param name="Site">Borrowed: the site that lends it.</param>
/// <param name="Link">Linked: the address of the picture.</param>
public sealed record WantedLogoRequest(LogoSource? Source, string? Picture, long? Site, string? Link);

/// <param name="Own">The chosen part of the new address.</param>
/// <param name="ForwardDays">For how many days after today the old address forwards to the new one; 0 for none.</param>
/// <param name="Swap">True if the site that has the new address gets the old one.</param>
public record AddressPlanRequest(string Own, int ForwardDays, bool Swap, string? Reason);

public sealed record ChangeAddressRequest(string Own, int ForwardDays, bool Swap, string? Reason, string Fingerprint)
    : AddressPlanRequest(Own, ForwardDays, Swap, Reason);

/// <param name="Own">The part that is being typed.</param>
public sealed record AddressCheckRequest(string Own);

/// <param name="Suggested">The address that the name suggests.</param>
/// <param name="IsFree">True if the site can have it.</param>
/// <param name="Faults">Why not, and what it can be mistaken for.</param>
/// <param name="Holders">Who has it.</param>
/// <param name="SwapWith">The site in use with which the address can be exchanged.</param>
/// <param name="Alternatives">At most five free ones.</param>
public sealed record AddressCheckResponse(
    string? Suggested,
    bool IsFree,
    IReadOnlyList<RemarkResponse> Faults,
    IReadOnlyList<AddressHolder> Holders,
    SiteNameResponse? SwapWith,
    IReadOnlyList<string> Alternatives
);

/// <param name="Address">Where the picture is.</param>
public sealed record FetchPictureRequest(string Address);

/// <summary>A picture that is kept here, encoded again as PNG.</summary>
/// <param name="Hash">SHA-256 of it, in lower case.</param>
/// <param name="Width">In pixels.</param>
/// <param name="Height">In pixels.</param>
public sealed record PictureKept(string Hash, int Width, int Height);
