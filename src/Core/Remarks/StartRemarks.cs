using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Remarks;

/// <summary>What is said about a site that somebody wants to start.</summary>
public abstract record StartRemark : Remark;

public sealed record KindNotStarted(IReadOnlyList<string> Kinds) : StartRemark;

public sealed record KindByAdministrators(string Kind) : StartRemark;

public sealed record KindByRequest(string Kind) : StartRemark;

public sealed record KindAlwaysAllStaff(string Kind, IReadOnlyList<string> Others) : StartRemark;

public sealed record StarterNotStaff : StartRemark;

public sealed record NameMissing : StartRemark;

public sealed record NameTooLong(int Length, int Maximum) : StartRemark;

public sealed record NameIsLong(int Length) : StartRemark;

public sealed record AddressMissing : StartRemark;

public sealed record AddressMalformed(string Fault) : StartRemark;

/// <param name="Holder">The name of the site that has it; null for a viewer who does not see it, and for a request.</param>
public sealed record AddressHeld(string Address, string? Holder, HeldAs By, DateOnly? Until) : StartRemark;

public sealed record AddressReserved(string Word) : StartRemark;

public sealed record AddressLikeReserved(string Word) : StartRemark;

public sealed record AddressLike(string Address, string? Holder) : StartRemark;

public sealed record AddressIsLong(int Length) : StartRemark;

public sealed record AddressHardToSay(string Part) : StartRemark;

public sealed record AliasMalformed(string Fault) : StartRemark;

public sealed record AliasHeld(string Alias) : StartRemark;

public sealed record NewSiteWithoutUnit : StartRemark;

public sealed record UnitUnknown(string Unit) : StartRemark;

public sealed record PurposeMissing : StartRemark;

public sealed record WordNotApproved(string Word) : StartRemark;

public sealed record LanguageMalformed(string Language) : StartRemark;

public sealed record FieldTooLong(int Length, int Maximum) : StartRemark;

public sealed record EndIsPast(DateOnly Ends) : StartRemark;

public sealed record NewSiteWithoutOwner : StartRemark;

public sealed record PeopleTooMany(int Count, int Maximum) : StartRemark;

public sealed record EditorIneligible(string Person, Ineligibility Because) : StartRemark;

public sealed record PersonNotInRegister : StartRemark;

public sealed record StartsForOthers : StartRemark;

/// <param name="Limits">What limits it: the names of the layers.</param>
public sealed record ReachNarrowed(IReadOnlyList<string> Limits) : StartRemark;

public sealed record ReachLimitUnknown : StartRemark;

public sealed record ReachBeyondPurpose(string Purpose) : StartRemark;

/// <param name="IsCritical">True if an administrator has to decide.</param>
public sealed record WouldBreak(string Rule, string Title, bool IsCritical) : StartRemark;

public sealed record WouldNotTell(string Rule, string Title) : StartRemark;

public sealed record MadeByHand(string Host) : StartRemark;

public sealed record RequestAnswered : StartRemark;

public sealed record RequestNotStopped : StartRemark;

public sealed record RequestNotByHand : StartRemark;

public sealed record RefusalNeedsReason : StartRemark;

public sealed record OnlyRequesterWithdraws : StartRemark;

public sealed record MessageMissing(int Maximum) : StartRemark;

public sealed record MessageSentToday : StartRemark;
