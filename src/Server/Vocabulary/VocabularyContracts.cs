using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Vocabulary;

/// <summary>A classification, purpose or tag of the organisation.</summary>
/// <param name="Words">The other spellings that mean it, besides its code and name.</param>
/// <param name="Count">The number of sites in use in the viewer's scope that have it.</param>
public sealed record TermResponse(ClaimedFact Fact, string Code, string Name, IReadOnlyList<string> Words, int Count);

/// <summary>A value from a source that is not mapped to a term.</summary>
public sealed record UnmappedTag(ClaimedFact Fact, string Word, int Count);

public sealed record VocabularyResponse(IReadOnlyList<TermResponse> Terms, IReadOnlyList<UnmappedTag> Loose);

/// <summary>A site whose facts change with it.</summary>
/// <param name="Before">The current value; null for none.</param>
public sealed record RereadSite(long Id, string Title, string? Before, string? After);

/// <summary>The plan of a change of the vocabulary.</summary>
/// <param name="Count">The number of sites whose facts change with it.</param>
/// <param name="Sites">The first of them.</param>
/// <param name="Settled">The number of them on which every rule can be decided then.</param>
/// <param name="Refused">Why it is refused.</param>
public sealed record VocabularyPlanResponse(
    string Fingerprint,
    int Count,
    IReadOnlyList<RereadSite> Sites,
    int Settled,
    IReadOnlyList<RuleMove> Rules,
    RemarkResponse? Refused
);

public sealed record ChangeVocabularyRequest(VocabularyRequest Request, string Fingerprint);

public sealed record UndoVocabularyRequest(long Entry);
