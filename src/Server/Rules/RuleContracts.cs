using AtticLedger.Core.Actions;
using AtticLedger.Core.Rules;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Rules;

/// <summary>A version of a rule with its numbers, which count sites in the viewer's scope.</summary>
/// <param name="Version">Counts up from 1.</param>
/// <param name="Scope">The sites that it judges, as an expression; empty for all.</param>
/// <param name="Demand">What it demands of them, as an expression.</param>
/// <param name="From">Its first day.</param>
/// <param name="IsInForce">False before its first day; then the numbers are those of a try-out.</param>
/// <param name="Covers">The sites that are certainly in its scope.</param>
/// <param name="Breaks">Those that break it without an exception.</param>
/// <param name="Excepted">Those that break it and have an exception.</param>
/// <param name="CannotTell">Those where a fact is missing that decides it.</param>
/// <param name="Fault">Why it cannot be read, so that it cannot tell about any site; null if it can.</param>
public sealed record RuleOfBook(
    RuleResponse Rule,
    int Version,
    string Scope,
    string Demand,
    Enforcement Enforcement,
    DateOnly From,
    bool IsInForce,
    int Covers,
    int Breaks,
    int Excepted,
    int CannotTell,
    string? Fault
);

/// <param name="Rules">The versions that are in force or will be, by rule and first day.</param>
/// <param name="SwitchedOff">The rules that judge nothing now and will not.</param>
public sealed record RuleBookResponse(IReadOnlyList<RuleOfBook> Rules, IReadOnlyList<RuleResponse> SwitchedOff, DateOnly Today);

/// <summary>What differs between a version and the one before.</summary>
/// <param name="What">The part of the rule, in words.</param>
public sealed record RuleDifference(string What, string Before, string After);

/// <param name="By">Who wrote it, by name; null for a rule that came with the organisation.</param>
/// <param name="IsInForce">True for the one that judges today.</param>
/// <param name="Differences">From the version before; empty for the first.</param>
public sealed record RuleVersionResponse(
    int Version,
    string Title,
    string Short,
    Level Level,
    string Scope,
    string Demand,
    Enforcement Enforcement,
    DateOnly From,
    bool IsOff,
    bool IsInForce,
    string? Reason,
    string? By,
    DateTimeOffset? At,
    IReadOnlyList<RuleDifference> Differences
);

/// <param name="Versions">The last one first.</param>
/// <param name="Numbers">Of the version in force, or else of the next; null for a rule that is switched off.</param>
public sealed record RuleHistoryResponse(
    RuleResponse Rule,
    RuleOfBook? Numbers,
    IReadOnlyList<RuleVersionResponse> Versions,
    DateOnly Today
);

/// <summary>What a change of the rule book would do; nothing is stored.</summary>
/// <param name="Fingerprint">Sent back with the change: the rule book is as it was shown.</param>
/// <param name="Rule">The id that the rule has or gets.</param>
/// <param name="Tried">What it would find now; null for a rule that is switched off or cannot be read.</param>
/// <param name="Ended">The findings that end when it is switched off.</param>
/// <param name="Voided">The exceptions that are void under it, so that their sites have findings again.</param>
/// <param name="Look">What to look at again before it is confirmed.</param>
/// <param name="Refused">Why it is refused, with every reason.</param>
public sealed record RulePlanResponse(
    string Fingerprint,
    string? Rule,
    int Version,
    IReadOnlyList<RuleDifference> Differences,
    TriedRuleResponse? Tried,
    int Ended,
    int Voided,
    RemarkResponse? Look,
    IReadOnlyList<RemarkResponse> Refused
);

/// <param name="Looked">True if the person has looked again, where the plan asks for it.</param>
public sealed record WriteRuleRequest(RuleRequest Request, bool Looked, string Fingerprint);

/// <param name="Version">Its last version, which is undone.</param>
public sealed record UndoRuleRequest(string Rule, int Version);

/// <param name="Rule">The id that the rule has.</param>
public sealed record RuleDone(long Place, string Rule, int Version);

/// <param name="Scope">Empty for all sites.</param>
/// <param name="Rule">The rule to compare with, if there is one.</param>
public sealed record TryRuleRequest(string Scope, string Demand, string? Rule = null);

/// <param name="Key">The code of a unit or the name of a host; null for none and for unknown.</param>
public sealed record CountedPart(string? Key, string Name, int Count);

/// <summary>A site that would break it, with the values that decide.</summary>
public sealed record RuleExample(long Id, string Title, IReadOnlyList<Evidence> Evidence);

/// <param name="Sites">Of the sites where the rule cannot tell, those where this is unknown, or known only within bounds or in part.</param>
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
