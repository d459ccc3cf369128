namespace AtticLedger.Core.Remarks;

/// <summary>What is said against an exception from a rule.</summary>
public abstract record ExceptionRemark : Remark;

public sealed record ExceptionNotByOwners : ExceptionRemark;

public sealed record ExceptionNeedsReason : ExceptionRemark;

public sealed record ExceptionEndNeedsReason : ExceptionRemark;

public sealed record ExceptionEnded : ExceptionRemark;

public sealed record ExceptionTooLong(int Days) : ExceptionRemark;

public sealed record ExceptionStillInForce(string Rule, DateOnly Through) : ExceptionRemark;

public sealed record RuleNotBroken(string Rule) : ExceptionRemark;

public sealed record LastDayPassed(DateOnly Last) : ExceptionRemark;

public sealed record PutOffNeedsReason : ExceptionRemark;

public sealed record PutOffTooLong(int MostDays) : ExceptionRemark;
