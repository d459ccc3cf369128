using AtticLedger.Core.Classification;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Classification;

public sealed record ChoiceOfFact(string Code, string Name);

/// <summary>The values that can be set for a fact.</summary>
public sealed record ChoicesOfFact(ClaimedFact Fact, IReadOnlyList<ChoiceOfFact> Choices);

/// <param name="Missing">The number of sites in use for which it is not set.</param>
/// <param name="Proposed">The number of these with a proposal.</param>
public sealed record MissingFact(ClaimedFact Fact, int Missing, int Proposed);

/// <summary>Proposals that are confirmed together: equally certain, with the same kinds of evidence and one value (for units:
/// each site its own).</summary>
/// <param name="Key">Names the group in other requests.</param>
/// <param name="Values">The values in the group, the most frequent first, with the number of sites for each.</param>
/// <param name="Decides">The number of sites for which a rule can be decided then.</param>
public sealed record ProposalGroup(
    string Key,
    IReadOnlyList<ProposedValue> Values,
    Strength Strength,
    IReadOnlyList<EvidenceKind> Kinds,
    int Count,
    int Decides,
    IReadOnlyList<SiteNameResponse> First
);

public sealed record ProposedValue(string Value, string Name, int Count);

/// <summary>Sites without a proposal that have a word in common: the fact can be set for all of them at once.</summary>
public sealed record NextFactResponse(string Key, string Word, int Count, int Decides, IReadOnlyList<SiteNameResponse> First);

/// <param name="Unsure">The number of sites in use with a rule that cannot tell.</param>
/// <param name="Disputed">The number of sites in use for which sources disagree.</param>
public sealed record ClassificationResponse(
    int Sites,
    int Unsure,
    int Disputed,
    IReadOnlyList<MissingFact> Lacks,
    ClaimedFact Fact,
    IReadOnlyList<ProposalGroup> Proposals,
    IReadOnlyList<NextFactResponse> Next,
    IReadOnlyList<ChoiceOfFact> Choices
);

/// <param name="Value">The name of the proposed value; <paramref name="Code"/>: its code.</param>
/// <param name="Evidence">The reasons, one sentence each, without full stop.</param>
public sealed record ProposedSite(
    long Id,
    string Title,
    string? Address,
    string Host,
    string? Value,
    string? Code,
    IReadOnlyList<string> Evidence
);

/// <param name="Count">The number of sites for which it is set.</param>
/// <param name="Settled">The number of them on which every rule can be decided then.</param>
/// <param name="Refused">Why it cannot be set.</param>
/// <param name="Sites">The first of them, each with its evidence.</param>
public sealed record SetFactsPlan(
    string Fingerprint,
    int Count,
    int Settled,
    IReadOnlyList<RuleMove> Rules,
    IReadOnlyList<ProposedSite> Sites,
    RemarkResponse? Refused
);

/// <param name="Group">A group of proposals, or of sites with a word in common; otherwise <paramref name="Sites"/>
/// applies.</param>
/// <param name="Value">The value; null for "there is none". Proposals bring their own values.</param>
public sealed record SetFactsPlanRequest(
    ClaimedFact Fact,
    string? Group = null,
    IReadOnlyList<long>? Sites = null,
    string? Value = null
);

/// <param name="Fingerprint">The fingerprint of the plan's sites and values.</param>
public sealed record SetFactsRequest(SetFactsPlanRequest Request, string Fingerprint);

/// <param name="Together">The instant at which all were set together; it identifies them for undo.</param>
public sealed record FactsSet(long Place, int Count, DateTimeOffset Together);

public sealed record UndoFactsRequest(ClaimedFact Fact, DateTimeOffset? Together = null, IReadOnlyList<long>? Sites = null);
