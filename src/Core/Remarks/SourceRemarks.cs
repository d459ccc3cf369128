namespace AtticLedger.Core.Remarks;

/// <summary>What is said against an import, its undo, a sync or a manual procedure.</summary>
public abstract record SourceRemark : Remark;

public sealed record ImportUndone : SourceRemark;

public sealed record ImportUnfinished : SourceRemark;

public sealed record ImportChangedNothing : SourceRemark;

public sealed record ImportIsNotLast : SourceRemark;

public sealed record ImportRunning(string Source) : SourceRemark;

/// <summary>A unit that a list should add has the code of another one.</summary>
public sealed record UnitCodeTaken(string Unit, string Name) : SourceRemark;

public sealed record NothingHeldBack(string Source) : SourceRemark;

public sealed record SourceMissing(string Source, IReadOnlyList<string> Sources) : SourceRemark;

public sealed record HostNameInvalid(int Maximum) : SourceRemark;

public sealed record HostNameReserved(string Name) : SourceRemark;

public sealed record HostConnected(string Host) : SourceRemark;

public sealed record TaskDaysOutOfRange(int Maximum) : SourceRemark;

public sealed record ProcedureTextTooLong(ProcedureText Text, int Length, int Maximum) : SourceRemark;

public sealed record ProcedureTextMissing(ProcedureText Text) : SourceRemark;
