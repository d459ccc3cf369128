using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>The level of a rule, the highest first.</summary>
public enum Level : byte
{
    Critical,
    Warning,
    Note,
}

/// <summary>A version of a rule. It judges the sites in its scope from its first day on, until a later version begins.</summary>
/// <param name="Short">A few words for a finding in a list.</param>
public sealed record Rule(RuleId Id, string Title, string Short, Level Level, string Scope, Demand Demand, DateOnly From)
{
    /// <summary>Counts up from 1: the greatest that has begun is in force.</summary>
    public int Version { get; init; } = 1;

    /// <summary>True if the rule judges nothing from this version's first day on.</summary>
    public bool IsOff { get; init; }

    public Enforcement Enforcement { get; init; } = Enforcement.Report;

    public RuleExpression Expression => new(Scope, Demand.Expression);

    /// <summary>True if its verdicts change as days pass, while the facts stay.</summary>
    public bool CountsDays => Filters.Filter.CountsDays(Scope) || Filters.Filter.CountsDays(Demand.Expression);

    /// <summary>True if an exception covers the current facts: the site is no worse than it was then. A demand that cannot be
    /// measured must be unchanged; for others a tighter demand is a greater distance.
    /// </summary>
    /// <param name="isUntold">True if the rule cannot tell about the current facts: an exception that was granted for that covers
    /// the same demand.</param>
    public bool IsCovered(RuleException exception, ComputedSite line, bool isUntold) =>
        exception.Rule == Id
        && exception.IsUntold == isUntold
        && ((Demand is not Demand.General && !isUntold) || Demand.Expression == exception.Demand)
        && Demand.Distance(line) is var now
        && now.Count == exception.Distance.Count
        && now.Zip(exception.Distance).All(step => step.First <= step.Second);
}

public enum Verdict : byte
{
    Holds,
    CannotTell,
    Excepted,
    Breaks,
}

/// <summary>A site that breaks a rule, has an exception from it, or for which the rule cannot tell.</summary>
public sealed record Finding(SiteId Site, Rule Rule, Verdict Verdict)
{
    /// <summary>True if the rule cannot tell, with or without an exception.</summary>
    public bool IsUntold { get; init; }
}
