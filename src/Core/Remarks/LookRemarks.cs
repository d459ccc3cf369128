using AtticLedger.Core.Sites;

namespace AtticLedger.Core.Remarks;

/// <summary>What is said about a change of a site's name, description, logo or address.</summary>
public abstract record LookRemark : Remark;

public sealed record LookFixed(string Host, LookField Field) : LookRemark;

public sealed record LogoSourceFixed(string Host, LogoSource Source) : LookRemark;

public sealed record LookIsSo : LookRemark;

/// <param name="Name">What visitors go on reading.</param>
/// <param name="IsHome">True for the title of the home page, false for the name that every page shows.</param>
public sealed record NameStaysElsewhere(string Name, bool IsHome, string Host) : LookRemark;

public sealed record NameUsedToo(IReadOnlyList<string> Sites) : LookRemark;

public sealed record AddressStays(string Address) : LookRemark;

public sealed record LenderMissing(string Host) : LookRemark;

public sealed record LenderWithoutLogo(string Title) : LookRemark;

public sealed record LogoDependsOnSite(string Title) : LookRemark;

public sealed record LogoDependsOnLink(string Server) : LookRemark;

public sealed record LogoLinkMalformed : LookRemark;

public sealed record PictureGone : LookRemark;

public sealed record PictureRefused(string Fault) : LookRemark;

public sealed record FormerLogoNotKept : LookRemark;

public sealed record LookChangedLater : LookRemark;

public sealed record FormerLookUnknown(string Host) : LookRemark;

public sealed record LogoBorrowedBy(IReadOnlyList<string> Sites) : LookRemark;

/// <summary>A demand about the name that no name known here meets.</summary>
public sealed record NameMeetsDemand : LookRemark;

/// <summary>A demand about near names, which concern two sites.</summary>
public sealed record NearNamesDecide : LookRemark;

/// <summary>Of many sites, none gets another name.</summary>
public sealed record NoNameProposed : LookRemark;

public sealed record AddressIsSo(string Address) : LookRemark;

public sealed record AddressFormUnknown(string Host) : LookRemark;

public sealed record ForwardNotOffered(string Host) : LookRemark;

public sealed record ForwardDaysOutOfRange(string Host, int Maximum) : LookRemark;

public sealed record SwapNotOffered(string Host) : LookRemark;

public sealed record SwapPartnerMissing(string Address) : LookRemark;

public sealed record SwapForwardsNothing : LookRemark;

public sealed record DomainsStay(IReadOnlyList<string> Domains) : LookRemark;

public sealed record AddressNotForwarded(string Address) : LookRemark;
