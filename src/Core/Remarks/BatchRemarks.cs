namespace AtticLedger.Core.Remarks;

/// <summary>What is said against planning, starting, stopping or undoing a batch.</summary>
public abstract record BatchRemark : Remark;

public sealed record BatchSitesMissing(int Sites) : BatchRemark;

public sealed record BatchDone : BatchRemark;

public sealed record BatchNotUndone : BatchRemark;

public sealed record BatchToStop : BatchRemark;

public sealed record BatchDidNothing : BatchRemark;

public sealed record BatchNotStarted : BatchRemark;

public sealed record BatchRunning : BatchRemark;

public sealed record BatchStopped : BatchRemark;

public sealed record BatchEnded : BatchRemark;

public sealed record BatchImpossible : BatchRemark;

public sealed record BatchNeedsReason : BatchRemark;

public sealed record BatchNumberTypedWrong(int Sites) : BatchRemark;

/// <summary>A sentence from before remarks were stored as codes.</summary>
public sealed record AsRecorded(string Sentence) : BatchRemark;

/// <summary>A stored remark that this version does not know, by its code.</summary>
public sealed record RecordedByNewerVersion(string Recorded) : BatchRemark;
