namespace AtticLedger.Core.Remarks;

/// <summary>What is said against a step of a manual task.</summary>
public abstract record TaskRemark : Remark;

public sealed record TaskNotDone : TaskRemark;

public sealed record TaskDoneByViewer : TaskRemark;

public sealed record TaskNotChecked : TaskRemark;

public sealed record TaskNotOpen : TaskRemark;

public sealed record TaskOfAnother(string? Person) : TaskRemark;

public sealed record PictureNotByViewer : TaskRemark;

public sealed record PictureUnreadable : TaskRemark;

public sealed record TextTooLong(int Length, int Maximum) : TaskRemark;

public sealed record ReportMissing : TaskRemark;

public sealed record ReportMissingSince : TaskRemark;

public sealed record FailureMissing : TaskRemark;

public sealed record FindingMissing : TaskRemark;

public sealed record StaffMissing(string Mail) : TaskRemark;

public sealed record TaskHasAssignee : TaskRemark;

public sealed record TaskNotCancelled : TaskRemark;
