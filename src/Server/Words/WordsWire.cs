using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Server.FirstWeek;

namespace AtticLedger.Server.Words;

/// <summary>A class, purpose or tag of the house.</summary>
/// <param name="Words">What means it beside its code and its name.</param>
/// <param name="Count">How many sites in use have it, of those that the viewer may see.</param>
public sealed record TermWire(SaidFact Fact, string Code, string Name, IReadOnlyList<string> Words, int Count);

/// <summary>A word that sources say and that means no term.</summary>
public sealed record LooseWordWire(SaidFact Fact, string Word, int Count);

public sealed record WordsWire(IReadOnlyList<TermWire> Terms, IReadOnlyList<LooseWordWire> Loose);

/// <summary>A site that reads otherwise then.</summary>
/// <param name="Before">What is read of it now; null for nothing.</param>
public sealed record RereadWire(long Id, string Title, string? Before, string? After);

/// <summary>What a change of the list would come to.</summary>
/// <param name="Count">How many sites read otherwise then.</param>
/// <param name="Sites">The first of them.</param>
/// <param name="Told">How many of them have no rule left that cannot be told.</param>
/// <param name="Refused">Why it cannot be done.</param>
public sealed record WordPlanWire(
    string Fingerprint,
    int Count,
    IReadOnlyList<RereadWire> Sites,
    int Told,
    IReadOnlyList<RuleMoveWire> Rules,
    string? Refused
);

public sealed record WordDoneWishWire(WordWish Wish, string Fingerprint);

/// <param name="Place">The place in the feed: whoever sends it back sees the change.</param>
/// <param name="Entry">Its entry in the journal: by it, it can be taken back.</param>
public sealed record WordsChangedWire(long Place, long Entry);

public sealed record WordsBackWire(long Entry);
