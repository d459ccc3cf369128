namespace AtticLedger.Core.Remarks;

/// <summary>What is said against a change of the rule book.</summary>
public abstract record RuleRemark : Remark;

public sealed record RuleMissing(string Rule) : RuleRemark;

/// <summary>A text of a rule that is missing.</summary>
public sealed record RuleTextMissing(RuleField Field) : RuleRemark;

public sealed record RuleTextTooLong(RuleField Field, int Maximum) : RuleRemark;

public sealed record RuleTextUnprintable(RuleField Field) : RuleRemark;

/// <param name="Part">"scope" or "demand".</param>
/// <param name="Place">The column, from 1.</param>
public sealed record RuleUnreadable(string Part, int Place, string Fault) : RuleRemark;

public sealed record RuleBeginsBefore(DateOnly Today) : RuleRemark;

public sealed record RuleUnchanged(string Rule) : RuleRemark;

public sealed record RuleIsOff(string Rule) : RuleRemark;

public sealed record RuleBookFull(int Maximum) : RuleRemark;

public sealed record RuleIdInvalid(string Id) : RuleRemark;

/// <param name="Added">The sites that would newly break it.</param>
/// <param name="Sites">All sites in use.</param>
public sealed record RuleTouchesMost(int Added, int Sites) : RuleRemark;

public sealed record RuleChangedSince(string Rule) : RuleRemark;

/// <summary>The days to answer that an enforcement has.</summary>
public sealed record RuleDaysToAnswer(int Fewest, int Most) : RuleRemark;

/// <summary>Restricting access cannot meet its demand.</summary>
public sealed record RuleNotByRestricting : RuleRemark;

/// <summary>A text that somebody writes about a rule.</summary>
public enum RuleField : byte
{
    Title,
    Short,
    Demand,
    Reason,
}
