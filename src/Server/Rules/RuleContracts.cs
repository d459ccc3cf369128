using AtticLedger.Server.Contracts;

namespace AtticLedger.Server.Rules;

/// <summary>A rule of the book with its numbers, which count sites in the viewer's scope.</summary>
/// <param name="Scope">The sites that it judges, as an expression; empty for all.</param>
/// <param name="Demand">What it demands of them, as an expression.</param>
/// <param name="From">Its first day.</param>
/// <param name="IsInForce">False before its first day; then the numbers are those of a try-out.</param>
/// <param name="Covers">The sites that are certainly in its scope.</param>
/// <param name="Breaks">Those that break it without an exception.</param>
/// <param name="Excepted">Those that break it and have an exception.</param>
/// <param name="CannotTell">Those where a fact is missing that decides it.</param>
public sealed record RuleOfBook(
    RuleResponse Rule,
    string Scope,
    string Demand,
    DateOnly From,
    bool IsInForce,
    int Covers,
    int Breaks,
    int Excepted,
    int CannotTell
);

public sealed record RuleBookResponse(IReadOnlyList<RuleOfBook> Rules);

/// <param name="Scope">Empty for all sites.</param>
/// <param name="Rule">The rule to compare with, if there is one.</param>
public sealed record TryRuleRequest(string Scope, string Demand, string? Rule = null);

/// <param name="Key">The code of a unit or the name of a host; null for none and for unknown.</param>
public sealed record CountedPart(string? Key, string Name, int Count);

/// <param name="Attribute">The name in expressions.</param>
/// <param name="Value">In words.</param>
public sealed record Evidence(string Attribute, string Label, string Value);

/// <summary>A site that would break it, with the values that decide.</summary>
public sealed record RuleExample(long Id, string Title, IReadOnlyList<Evidence> Evidence);

/// <param name="Sites">Of the sites where the rule cannot tell, those where this is unknown.</param>
public sealed record MissingForRule(string Attribute, string Label, int Sites);

/// <summary>What a rule would find now; nothing is stored. The numbers count sites in the viewer's scope.</summary>
/// <param name="Added">Those that break it and not the rule compared with.</param>
/// <param name="Cleared">Those that break the rule compared with and not this one.</param>
/// <param name="Examples">The first that would be added; if none would be, the first that break it.</param>
/// <param name="Missing">The facts that would decide most of the others, most first.</param>
/// <param name="Filter">The sites that break it, as a filter of the register.</param>
public sealed record TriedRuleResponse(
    int Covers,
    int Breaks,
    int CannotTell,
    int Added,
    int Cleared,
    IReadOnlyList<CountedPart> Units,
    IReadOnlyList<CountedPart> Hosts,
    IReadOnlyList<RuleExample> Examples,
    IReadOnlyList<MissingForRule> Missing,
    string Filter
);
