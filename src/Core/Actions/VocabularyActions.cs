using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A change of the vocabulary: the organisation's classifications, purposes and tags.</summary>
public enum VocabularyAction : byte
{
    /// <summary>A new term, by its name.</summary>
    Add,

    /// <summary>Maps a spelling to a term.</summary>
    Mean,

    /// <summary>Removes the mapping of a spelling.</summary>
    Part,

    /// <summary>Renames a term; its code stays, and its old name still means it.</summary>
    Rename,

    /// <summary>Merges a term with all its spellings into another.</summary>
    Merge,

    /// <summary>Removes a term; its spellings are unmapped.</summary>
    Drop,
}

/// <param name="Code">The code of the term; null for a new one.</param>
/// <param name="Word">The spelling, or the new name.</param>
/// <param name="Into">The term into which it is merged.</param>
public sealed record VocabularyRequest(
    VocabularyAction Action,
    ClaimedFact Fact,
    string? Code = null,
    string? Word = null,
    string? Into = null
);

/// <summary>The changed vocabulary, or why the change is refused.</summary>
public sealed record VocabularyPlan(IReadOnlyList<Term> Terms, Remark? Refused = null);

/// <summary>Changes the vocabulary. The values that sources report stay as reported, so every change can be undone completely:
/// only their interpretation changes.
/// </summary>
public static class VocabularyActions
{
    private const int Longest = 60;

    /// <param name="rules">The rules that are in force or will be.</param>
    public static VocabularyPlan Plan(VocabularyRequest request, Organisation organisation, IEnumerable<Rule> rules)
    {
        var terms = organisation.Terms;
        VocabularyPlan Refuse(Remark why) => new(terms, why);
        if (request.Fact is not (ClaimedFact.Classification or ClaimedFact.Purpose or ClaimedFact.Tags))
        {
            return Refuse(request.Fact == ClaimedFact.Unit ? new UnitsElsewhere() : new NoVocabulary(request.Fact));
        }

        // A classification that only limits name counts too.
        var its = terms.FirstOrDefault(term => term.Fact == request.Fact && term.Code == request.Code)
            ?? (
                request.Fact == ClaimedFact.Classification
                && organisation.Limits.Any(limit => limit.Kind == LayerKind.Classification && limit.Code == request.Code)
                    ? new Term(request.Fact, request.Code!, request.Code!, [])
                    : null
            );
        if (request.Action != VocabularyAction.Add && its is null)
        {
            return Refuse(new TermMissing(request.Fact, request.Code));
        }

        var word = (request.Word ?? "").Trim();
        if (request.Action is VocabularyAction.Add or VocabularyAction.Mean or VocabularyAction.Rename)
        {
            if (NotWritten(word, request.Fact) is { } fault)
            {
                return Refuse(fault);
            }

            if (
                organisation.Words.Meant(request.Fact, word) is { } taken
                && (request.Action != VocabularyAction.Rename || taken != its)
            )
            {
                return Refuse(taken == its ? new TermMeansIt(word, its!.Name) : new TermMeansAnother(word, taken.Name));
            }
        }

        if (request.Action is VocabularyAction.Merge or VocabularyAction.Drop && Bound(its!, organisation, rules) is { } bound)
        {
            return Refuse(bound);
        }

        IReadOnlyList<Term> With(Term changed) =>
            terms.Contains(its!) ? [.. terms.Select(term => ReferenceEquals(term, its) ? changed : term)] : [.. terms, changed];
        switch (request.Action)
        {
            case VocabularyAction.Add:
                return new VocabularyPlan([.. terms, new Term(request.Fact, CodeOf(word), word, [])]);
            case VocabularyAction.Mean:
                return new VocabularyPlan(With(its! with { Words = [.. its.Words, word.ToLowerInvariant()] }));
            case VocabularyAction.Part:
                return its!.Words.Contains(word, StringComparer.Ordinal)
                    ? new VocabularyPlan(With(its with { Words = [.. its.Words.Where(one => one != word)] }))
                    : Refuse(new TermMeansAlways(word, its.Name));
            case VocabularyAction.Rename:
                return new VocabularyPlan(
                    With(
                        its! with
                        {
                            Name = word,
                            Words =
                            [
                                .. its
                                    .Words.Append(its.Name.ToLowerInvariant())
                                    .Where(one =>
                                        Vocabulary.Spelling(one) != Vocabulary.Spelling(word)
                                        && Vocabulary.Spelling(one) != Vocabulary.Spelling(its.Code)
                                    )
                                    .Distinct(StringComparer.Ordinal),
                            ],
                        }
                    )
                );
            case VocabularyAction.Merge:
                if (
                    terms.FirstOrDefault(term => term.Fact == request.Fact && term.Code == request.Into && term != its)
                    is not { } into
                )
                {
                    return Refuse(new TermToMergeMissing(request.Fact, request.Into));
                }

                var joined = into with
                {
                    Words =
                    [
                        .. into
                            .Words.Append(its!.Code.ToLowerInvariant())
                            .Append(its.Name.ToLowerInvariant())
                            .Concat(its.Words)
                            .DistinctBy(Vocabulary.Spelling),
                    ],
                };
                return new VocabularyPlan([
                    .. terms
                        .Where(term => !ReferenceEquals(term, its))
                        .Select(term => ReferenceEquals(term, into) ? joined : term),
                ]);
            default:
                return new VocabularyPlan([.. terms.Where(term => !ReferenceEquals(term, its))]);
        }
    }

    /// <summary>The journal entry: the changed terms before and after.</summary>
    public static Draft Entry(IReadOnlyList<Term> before, IReadOnlyList<Term> after, PersonId by, long? undoOf = null) =>
        new(JournalAction.VocabularyChanged, EntryActor.Of(by), EntrySubject.Organisation)
        {
            Before = Of(before.Except(after)),
            After = Of(after.Except(before)),
            UndoOf = undoOf,
        };

    /// <summary>The vocabulary with a change undone; null if its terms have changed since.</summary>
    /// <param name="was">The terms before and after that change.</param>
    public static IReadOnlyList<Term>? Back(IReadOnlyList<Term> terms, IReadOnlyList<Term> was, IReadOnlyList<Term> became)
    {
        var others = terms.Except(became).ToList();
        var vocabulary = new Vocabulary(others);
        return
            became.Except(terms).Any()
            || was.Any(term => Spellings(term).Any(word => vocabulary.Meant(term.Fact, word) is not null))
            ? null
            :
            [
                .. others
                    .Concat(was)
                    .OrderBy(term => term.Fact)
                    .ThenBy(term => Place(terms, term))
                    .ThenBy(term => term.Code, StringComparer.Ordinal),
            ];
    }

    private static IEnumerable<string> Spellings(Term term) => term.Words.Prepend(term.Name).Prepend(term.Code);

    private static int Place(IReadOnlyList<Term> terms, Term term) =>
        terms.Select(one => (one.Fact, one.Code)).ToList().IndexOf((term.Fact, term.Code)) is >= 0 and var place
            ? place
            : int.MaxValue;

    private static Remark? NotWritten(string word, ClaimedFact fact) =>
        !word.Any(char.IsLetterOrDigit) ? new TermEmpty()
        : word.Length > Longest ? new TermTooLong(word[..Longest], Longest)
        : word.Any(char.IsControl) ? new TermUnprintable()
        : fact == ClaimedFact.Tags && TagWords.Split(word).Count != 1 ? new TermSeveral(word)
        : null;

    // A term that limits, retention or rules name by its code would be lost silently.
    private static Remark? Bound(Term term, Organisation organisation, IEnumerable<Rule> rules) =>
        term.Fact == ClaimedFact.Classification
        && organisation.Limits.Any(limit => limit.Kind == LayerKind.Classification && limit.Code == term.Code)
            ? new TermLimits(term.Name)
        : term.Fact == ClaimedFact.Classification && organisation.RetentionRules.Any(keep => keep.Classification == term.Code)
            ? new TermKeeps(term.Name)
        : rules.FirstOrDefault(rule =>
            $"{rule.Scope} {rule.Demand.Expression}".Contains($"\"{term.Code}\"", StringComparison.OrdinalIgnoreCase)
        )
            is { } rule
            ? new TermInRule(rule.Id.Value, rule.Title, term.Code)
        : null;

    // A name without letters or digits of the alphabet leaves nothing for a code: then the name is the code.
    private static string CodeOf(string name) =>
        string.Join(
            '-',
            name.ToLowerInvariant()
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(Vocabulary.Spelling)
                .Where(part => part.Length > 0)
        )
            is { Length: > 0 } code
            ? code
            : name;

    private static JournalValue Of(IEnumerable<Term> terms) =>
        JournalValue.Of(
            terms.Select(term =>
                JournalValue.Of(
                    ("fact", JournalValue.Of(term.Fact.ToString().ToLowerInvariant())),
                    ("code", JournalValue.Of(term.Code)),
                    ("name", JournalValue.Of(term.Name)),
                    ("words", JournalValue.Of(term.Words.Select(word => JournalValue.Of(word))))
                )
            )
        );
}
