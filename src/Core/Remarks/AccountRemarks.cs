namespace AtticLedger.Core.Remarks;

/// <summary>What is said against a change of an account, an approval or a view.</summary>
public abstract record AccountRemark : Remark;

public sealed record PersonMissing(string Mail) : AccountRemark;

public sealed record LastAdministrator(string Person) : AccountRemark;

public sealed record AccountMissing(string Person) : AccountRemark;

public sealed record AccountOfViewer : AccountRemark;

public sealed record AccountHolderLeft(string Person) : AccountRemark;

public sealed record RoleMissing : AccountRemark;

public sealed record RoleNeedsUnit : AccountRemark;

public sealed record RoleHasNoUnit : AccountRemark;

public sealed record RoleHeldAlready(string Person) : AccountRemark;

public sealed record UnitMissing(string Unit) : AccountRemark;

public sealed record ApprovalOfViewer : AccountRemark;

public sealed record ApprovalToWithdraw : AccountRemark;

public sealed record ApprovalOfAnother : AccountRemark;

public sealed record ApprovalRequesterMayNot(string? Person) : AccountRemark;

public sealed record ApprovalGiven : AccountRemark;

public sealed record ApprovalDeclined : AccountRemark;

public sealed record ApprovalWithdrawn : AccountRemark;

public sealed record ApprovalLapsed : AccountRemark;

public sealed record ApprovalVoid : AccountRemark;

public sealed record ViewNameInvalid(int Maximum) : AccountRemark;

public sealed record ViewTooLong(int Length, int Maximum) : AccountRemark;

public sealed record ViewsTooMany(int Maximum) : AccountRemark;

public sealed record ClockHoursOutOfRange(int Maximum) : AccountRemark;
