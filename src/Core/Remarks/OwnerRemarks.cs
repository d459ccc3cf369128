using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Remarks;

/// <summary>What is said against offering, accepting and assigning a site.</summary>
public abstract record OwnerRemark : Remark;

public sealed record HandoverByGroup(string Host, string? Group) : OwnerRemark;

public sealed record NewOwnerByGroup(string Host, string? Group) : OwnerRemark;

/// <summary>A demand about owners that no single action is known to meet.</summary>
public sealed record OwnersMeetDemand : OwnerRemark;

public sealed record OfferOpen(string To, DateOnly Through) : OwnerRemark;

public sealed record OwnerIsActive : OwnerRemark;

public sealed record OwnerByGroup(string Person, string Host) : OwnerRemark;

public sealed record OwnerOffersOnlyTheirs : OwnerRemark;

public sealed record OwnerCanOffer(string Person) : OwnerRemark;

public sealed record AssigningNeedsReason : OwnerRemark;

public sealed record NewOwnerUnknown : OwnerRemark;

public sealed record NewOwnerIneligible(string Person, Ineligibility Because, DateOnly? Day) : OwnerRemark;

public sealed record NoLongerOwner(string Person) : OwnerRemark;

public sealed record CurrentOwnerKeeps(string Person, Power Power, string Who) : OwnerRemark;

public sealed record OfferOfAnother : OwnerRemark;

public sealed record OfferNotTheirs : OwnerRemark;

public sealed record OfferLapsed(DateOnly Through) : OwnerRemark;

public sealed record OfferWithdrawn : OwnerRemark;

public sealed record OfferDeclined : OwnerRemark;

public sealed record OfferVoid : OwnerRemark;

public sealed record OfferAccepted : OwnerRemark;

public sealed record OfferAnswered : OwnerRemark;

public sealed record OwnersAskNobody : OwnerRemark;

public sealed record NobodyLeaves : OwnerRemark;

public sealed record OwnersWanted(int Count) : OwnerRemark;

public sealed record FormerOwnerLeft(string Person) : OwnerRemark;

public sealed record AssigningNeedsSecond : OwnerRemark;

public sealed record PasswordWrong : OwnerRemark;

/// <summary>The finding has ended, or the rule asks nobody any more.</summary>
public sealed record QuestionOver(string Rule) : OwnerRemark;

/// <summary>Somebody who does not own the site answers.</summary>
public sealed record QuestionForOwners : OwnerRemark;

public sealed record QuestionNeedsWords : OwnerRemark;

/// <summary>There is nobody to ask.</summary>
public sealed record NobodyToAsk : OwnerRemark;

/// <summary>The owners have been asked, and can still answer.</summary>
public sealed record QuestionStillOpen(DateOnly Through) : OwnerRemark;

/// <summary>Restricting access was requested already.</summary>
public sealed record QuestionRestricted : OwnerRemark;
