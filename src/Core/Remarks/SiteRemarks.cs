using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Remarks;

/// <summary>What a site's state, or a change of it, says against an action.</summary>
public abstract record SiteRemark : Remark;

public sealed record ReasonTooLong(int Length, int Maximum) : SiteRemark;

public sealed record SiteUnreadable(string Fault) : SiteRemark;

public sealed record SiteNotReported(string Host) : SiteRemark;

public sealed record SiteMovesToAttic(string Host) : SiteRemark;

public sealed record SiteIsInAttic : SiteRemark;

public sealed record SiteErased(string Host) : SiteRemark;

public sealed record SiteGone : SiteRemark;

public sealed record AccessNotReported(string Host, AccessStep Step) : SiteRemark;

public sealed record UnderWayAlready : SiteRemark;

public sealed record WithinAlready : SiteRemark;

public sealed record OwnerNotRestricted(string Who) : SiteRemark;

public sealed record GroupNotRestricted(string Who, string Host) : SiteRemark;

public sealed record LimitUnknown : SiteRemark;

public sealed record AccessNotByName(string Who) : SiteRemark;

public sealed record AccessThrough(string Who, Power Power, string Through, string Host) : SiteRemark;

public sealed record AccessOfLastOwner(string Who) : SiteRemark;

public sealed record AccessOfOtherOwner(string Who) : SiteRemark;

public sealed record RemovingOwnerNeedsSecond(string Who) : SiteRemark;

public sealed record AccessOfNobody : SiteRemark;

public sealed record GrantedAlready(string Who, Power Power) : SiteRemark;

public sealed record GrantToLeaver(string Who) : SiteRemark;

public sealed record OwnershipNotGranted : SiteRemark;

public sealed record PowerNotGranted(string Host, Power Power, IReadOnlyList<string> Powers) : SiteRemark;

public sealed record NobodyNamed(string Host) : SiteRemark;

public sealed record GroupElsewhere(string Group, string Host) : SiteRemark;

public sealed record NoMailAddress(string Mail) : SiteRemark;

public sealed record GuestIsStaff(string Who) : SiteRemark;

public sealed record GuestHasLeft(string Who) : SiteRemark;

/// <summary>The address is easily taken for one that the register has, or for one of the organisation.</summary>
public sealed record GuestLooksLike(string Mail, string Like) : SiteRemark;

public sealed record GuestsNotInvitedFromHere(string Host) : SiteRemark;

public sealed record InvitationEndsWrong(DateOnly From, DateOnly Through) : SiteRemark;

public sealed record SponsorNotStaff : SiteRemark;

public sealed record InvitedAlready(string Mail) : SiteRemark;

public sealed record InvitingLeftToStewards(IReadOnlyList<string> Layers) : SiteRemark;

/// <summary>Whom the address belongs to: said before anything is sent.</summary>
public sealed record InvitesKnownGuest(string Who, string Mail) : SiteRemark;

public sealed record InvitesNewGuest(string Mail) : SiteRemark;

public sealed record InvitationWaits(string Mail, IReadOnlyList<string> Layers) : SiteRemark;

/// <summary>Whether something stops the guest cannot be told.</summary>
public sealed record InvitationMayWait(string Mail, IReadOnlyList<string> Layers) : SiteRemark;

public sealed record InvitationNotOpen(string Mail, bool WasAccepted) : SiteRemark;

public sealed record OpeningNeedsReason : SiteRemark;

public sealed record GrantBeyondPolicy(string Who, IReadOnlyList<string> Layers) : SiteRemark;

public sealed record GrantBreaksNeedsSecond(IReadOnlyList<string> Rules) : SiteRemark;

public sealed record GrantWaits(string Who, IReadOnlyList<string> Layers) : SiteRemark;

/// <summary>Whether policy allows it cannot be told.</summary>
public sealed record GrantMayExceed(string Who, IReadOnlyList<string> Layers) : SiteRemark;

public sealed record GrantWaitsForPublication(string Who) : SiteRemark;

public sealed record LeaversThrough(IReadOnlyList<string> People, string Through, string Host) : SiteRemark;

public sealed record GroupHoldsUnit(string Group, string Host) : SiteRemark;

public sealed record AnybodyMayJoin(string Host) : SiteRemark;

public sealed record NoRemedyKnown : SiteRemark;

/// <summary>Nobody is proposed as an owner: nobody edits it by name, and nobody of its unit can own it.</summary>
public sealed record NoOwnerProposed : SiteRemark;

/// <summary>A rule judges what a host reports, so only there it can be changed.</summary>
public sealed record ChangedAtHost(string Host) : SiteRemark;

public sealed record ChangeUnderWay(string Host) : SiteRemark;

public sealed record ChangeUnanswered : SiteRemark;

public sealed record ChangeIsTask : SiteRemark;

public sealed record ChangeHadNoEffect : SiteRemark;

public sealed record ChangeNotSent : SiteRemark;

public sealed record UndoneAlready : SiteRemark;

public sealed record AccessChangedLater : SiteRemark;

public sealed record HandoverNotUndone : SiteRemark;

public sealed record AtticNotUndone : SiteRemark;

public sealed record StillReported(string Host, string Title) : SiteRemark;

public sealed record MoveConfirmed : SiteRemark;

public sealed record MoveNotConfirmed : SiteRemark;

public sealed record TargetGone(string Title) : SiteRemark;

public sealed record TargetMissing : SiteRemark;
