using AtticLedger.Core.Sites;

namespace AtticLedger.Core.Remarks;

/// <summary>What is said against a change of the vocabulary, or a value that is set.</summary>
public abstract record VocabularyRemark : Remark;

public sealed record UnitsElsewhere : VocabularyRemark;

public sealed record NoVocabulary(ClaimedFact Fact) : VocabularyRemark;

public sealed record TermMissing(ClaimedFact Fact, string? Term) : VocabularyRemark;

public sealed record TermToMergeMissing(ClaimedFact Fact, string? Term) : VocabularyRemark;

public sealed record TermMeansIt(string Written, string Term) : VocabularyRemark;

public sealed record TermMeansAnother(string Written, string Term) : VocabularyRemark;

public sealed record TermMeansAlways(string Written, string Term) : VocabularyRemark;

public sealed record TermEmpty : VocabularyRemark;

public sealed record TermTooLong(string Start, int Maximum) : VocabularyRemark;

public sealed record TermUnprintable : VocabularyRemark;

public sealed record TermSeveral(string Written) : VocabularyRemark;

public sealed record TermLimits(string Term) : VocabularyRemark;

public sealed record TermKeeps(string Term) : VocabularyRemark;

public sealed record TermInRule(string Rule, string Title, string Term) : VocabularyRemark;

public sealed record TermsChanged : VocabularyRemark;

public sealed record FactOfHost(ClaimedFact Fact) : VocabularyRemark;

public sealed record NoTerms(ClaimedFact Fact, string Value) : VocabularyRemark;

public sealed record NoSuchTerm(ClaimedFact Fact, string Value, IReadOnlyList<string> Choices, bool More) : VocabularyRemark;
