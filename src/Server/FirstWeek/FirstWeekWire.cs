using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Desk;

namespace AtticLedger.Server.FirstWeek;

public sealed record ChoiceOfFactWire(string Code, string Name);

/// <param name="Missing">Of how many sites in use nobody has said it.</param>
/// <param name="Proposed">For how many of these something speaks.</param>
public sealed record LackWire(SaidFact Fact, int Missing, int Proposed);

/// <summary>Proposals that are confirmed together: as sure, for the same kinds of reasons, and one value; of units each site its own.</summary>
/// <param name="Key">Names the group in other requests.</param>
/// <param name="Values">The values in it, the most frequent first, with how many sites each.</param>
/// <param name="Decides">For how many of them a rule can be told then.</param>
public sealed record ProposalGroupWire(
    string Key,
    IReadOnlyList<ProposedValueWire> Values,
    Strength Strength,
    IReadOnlyList<EvidenceKind> Kinds,
    int Count,
    int Decides,
    IReadOnlyList<SiteNameWire> First
);

public sealed record ProposedValueWire(string Value, string Name, int Count);

/// <summary>Sites with a word in common of which nothing speaks: somebody can say it of all of them at once.</summary>
public sealed record NextFactWire(string Key, string Word, int Count, int Decides, IReadOnlyList<SiteNameWire> First);

/// <param name="Unsure">Of how many sites in use a rule cannot be told.</param>
/// <param name="Disputed">Of how many sources say different things.</param>
public sealed record FirstWeekWire(
    int Sites,
    int Unsure,
    int Disputed,
    IReadOnlyList<LackWire> Lacks,
    SaidFact Fact,
    IReadOnlyList<ProposalGroupWire> Proposals,
    IReadOnlyList<NextFactWire> Next,
    IReadOnlyList<ChoiceOfFactWire> Choices
);

/// <param name="Value">What is said of it, as it is called.</param>
/// <param name="Evidence">Why, a sentence each without its full stop.</param>
public sealed record ProposedSiteWire(
    long Id,
    string Title,
    string? Address,
    string Host,
    string? Value,
    IReadOnlyList<string> Evidence
);

/// <param name="Before">How many of these sites break it now.</param>
public sealed record RuleMoveWire(RuleWire Rule, int Before, int After);

/// <param name="Count">How many sites it is said of.</param>
/// <param name="Told">How many of them have no rule left that cannot be told.</param>
/// <param name="Refused">Why it cannot be said.</param>
/// <param name="Sites">The first of them, each with its evidence.</param>
public sealed record SayPlanWire(
    string Fingerprint,
    int Count,
    int Told,
    IReadOnlyList<RuleMoveWire> Rules,
    IReadOnlyList<ProposedSiteWire> Sites,
    string? Refused
);

/// <param name="Group">A group of proposals, or of sites with a word in common; or else <paramref name="Sites"/>.</param>
/// <param name="Value">What it is; null for "there is none". Proposals have their own.</param>
public sealed record SayWire(SaidFact Fact, string? Group = null, IReadOnlyList<long>? Sites = null, string? Value = null);

/// <param name="Fingerprint">Of the plan: sites and value.</param>
public sealed record SayDoneWishWire(SayWire Wish, string Fingerprint);

/// <param name="Together">The instant under which it was said of all of them: by it it can be taken back.</param>
public sealed record SaidWire(long Place, int Count, DateTimeOffset Together);

public sealed record TakeBackWire(SaidFact Fact, DateTimeOffset? Together = null, IReadOnlyList<long>? Sites = null);
