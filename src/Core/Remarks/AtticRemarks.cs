using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Remarks;

/// <summary>What is said against moving to the attic, restoring and holding.</summary>
public abstract record AtticRemark : Remark;

public sealed record NameTypedWrong(string Name) : AtticRemark;

public sealed record OwnersMoveSingly : AtticRemark;

public sealed record MoveSent(string Host) : AtticRemark;

public sealed record NothingToStop : AtticRemark;

public sealed record MoveAnnounced(DateTimeOffset At) : AtticRemark;

public sealed record HeldFromAttic(DateOnly? Through, string Reason, string Host) : AtticRemark;

public sealed record ObligationOpen(int Count, string What, DateOnly? Through, string Host) : AtticRemark;

public sealed record DomainShowsSite(string Domain, string Host) : AtticRemark;

public sealed record SiteBelow(string Name) : AtticRemark;

public sealed record HiddenSiteBelow : AtticRemark;

public sealed record BeingEdited(string? Person) : AtticRemark;

/// <param name="Certain">False if that cannot be told.</param>
public sealed record AnonymousNeedSecond(Power Power, bool Certain) : AtticRemark;

/// <param name="Certain">False if that cannot be told.</param>
public sealed record StaffNeedSecond(Power Power, bool Certain) : AtticRemark;

/// <param name="Visits">In the last seven days; null if not measured.</param>
public sealed record ManyUseNeedSecond(int Owners, int Editors, int Members, int? Visits) : AtticRemark;

public sealed record SectionStaysOpen(string Section, string Host) : AtticRemark;

public sealed record OnlyFromCopy(string Host) : AtticRemark;

public sealed record RestoringAlready : AtticRemark;

public sealed record NotInAttic : AtticRemark;

public sealed record RecoveryPassed(string Host, DateTimeOffset Until) : AtticRemark;

public sealed record RestoredAccessUnknown(string Host) : AtticRemark;

public sealed record OwnerNoLongerActive(string Person) : AtticRemark;

public sealed record OwnerMissing : AtticRemark;

public sealed record AddressTakenNow(string Address, string? Holder) : AtticRemark;

public sealed record AddressTaken(string Address, string? Holder) : AtticRemark;

public sealed record AddressPrefix(string Prefix) : AtticRemark;

public sealed record AddressCharacter(string Character) : AtticRemark;

public sealed record AddressHyphens : AtticRemark;

public sealed record HoldNotByOwners : AtticRemark;

public sealed record HoldNeedsReason : AtticRemark;

public sealed record HoldReleaseNeedsReason : AtticRemark;

public sealed record HoldEnded : AtticRemark;

public sealed record ErasedNotHeld(string Host) : AtticRemark;

public sealed record BinEmptiesFirst(string Host, DateOnly On) : AtticRemark;
