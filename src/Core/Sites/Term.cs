using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>A term of the vocabulary: a classification, a purpose or a tag that can be chosen. Values from sources with one of
/// its spellings are read as this term; in names of sites they are evidence for it.
/// </summary>
/// <param name="Words">In lower case.</param>
public sealed record Term(ClaimedFact Fact, string Code, string Name, ValueList<string> Words);
