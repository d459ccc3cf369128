using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Rules;

/// <summary>What importing a rule of a file does.</summary>
public enum RuleOfFileState
{
    Added,
    Changed,
    Unchanged,
    Refused,
}

/// <param name="Before">The sites that break the rule now; 0 for a new one.</param>
/// <param name="After">The sites that would break it now.</param>
/// <param name="Look">What to look at again before it is imported.</param>
public sealed record RuleOfFilePlan(
    string Id,
    string Title,
    RuleOfFileState State,
    IReadOnlyList<RuleDifference> Differences,
    int Before,
    int After,
    RemarkResponse? Look,
    IReadOnlyList<RemarkResponse> Refused
);

/// <summary>What importing a rule book would do; nothing is stored.</summary>
/// <param name="Fault">Why the file cannot be read, with its place; then there are no rules.</param>
/// <param name="Rules">Those that are added, changed or refused first.</param>
public sealed record RuleFilePlanResponse(
    string Fingerprint,
    RuleFileFault? Fault,
    int Added,
    int Changed,
    int Unchanged,
    int Refused,
    IReadOnlyList<RuleOfFilePlan> Rules
);

/// <param name="Place">A JSON path, such as <c>$.rules[3].level</c>; empty for the file as a whole.</param>
public sealed record RuleFileFault(string Place, string Message);

/// <param name="Book">The text of the file.</param>
public sealed record RuleFileRequest(string Book);

/// <param name="Looked">True if the person has looked again, where the plan asks for it.</param>
public sealed record ImportRulesRequest(string Book, string Reason, bool Looked, string Fingerprint);

public sealed record RulesImported(long Place, int Added, int Changed);
