using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What can be done to the house's own list of classes, purposes and tags.</summary>
public enum WordDeed : byte
{
    /// <summary>A new term, by its name.</summary>
    Add,

    /// <summary>A word means a term from now on.</summary>
    Mean,

    /// <summary>A word no longer does.</summary>
    Part,

    /// <summary>A term is called otherwise; its code stays, and its old name still means it.</summary>
    Rename,

    /// <summary>A term and all its words mean another from now on.</summary>
    Merge,

    /// <summary>There is no such term any more; its words mean nothing.</summary>
    Drop,
}

/// <param name="Code">Of the term; null for a new one.</param>
/// <param name="Word">The word, or the new name.</param>
/// <param name="Into">The term that it is merged into.</param>
public sealed record WordWish(WordDeed Deed, SaidFact Fact, string? Code = null, string? Word = null, string? Into = null);

/// <summary>The list as it would be, or why it cannot be so.</summary>
public sealed record WordPlan(IReadOnlyList<Term> Terms, string? Refused = null);

/// <summary>
/// Changes of the house's list of words. What sources say of sites stays as they said it, so every change can be taken back
/// without a trace: only how it is read becomes another.
/// </summary>
public static class WordDeeds
{
    public const string Deed = "words.changed";
    private const int Longest = 60;

    public static WordPlan Plan(WordWish wish, House house, IEnumerable<Rule> rules)
    {
        var terms = house.Terms;
        WordPlan Refuse(string why) => new(terms, why);
        if (wish.Fact is not (SaidFact.Class or SaidFact.Purpose or SaidFact.Tags))
        {
            return Refuse(
                wish.Fact == SaidFact.Unit
                    ? "Units come from the staff list: they are named and merged there."
                    : $"There is no list of words for the {Word(wish.Fact)} of a site."
            );
        }

        // A class that only limits name is one all the same.
        var its = terms.FirstOrDefault(term => term.Fact == wish.Fact && term.Code == wish.Code)
            ?? (
                wish.Fact == SaidFact.Class && house.Limits.Any(limit => limit.Kind == LayerKind.Class && limit.Code == wish.Code)
                    ? new Term(wish.Fact, wish.Code!, wish.Code!, [])
                    : null
            );
        if (wish.Deed != WordDeed.Add && its is null)
        {
            return Refuse($"There is no {Word(wish.Fact)} \"{wish.Code}\". Somebody has changed the list meanwhile.");
        }

        var word = (wish.Word ?? "").Trim();
        if (wish.Deed is WordDeed.Add or WordDeed.Mean or WordDeed.Rename)
        {
            if (NotWritten(word, wish.Fact) is { } fault)
            {
                return Refuse(fault);
            }

            if (house.Words.Meant(wish.Fact, word) is { } taken && (wish.Deed != WordDeed.Rename || taken != its))
            {
                return Refuse(
                    taken == its
                        ? $"\"{word}\" means {its!.Name} already."
                        : $"\"{word}\" means {taken.Name} already. Take it away from there first, or merge the two."
                );
            }
        }

        if (wish.Deed is WordDeed.Merge or WordDeed.Drop && Bound(its!, house, rules) is { } bound)
        {
            return Refuse(bound);
        }

        IReadOnlyList<Term> With(Term changed) =>
            terms.Contains(its!) ? [.. terms.Select(term => ReferenceEquals(term, its) ? changed : term)] : [.. terms, changed];
        switch (wish.Deed)
        {
            case WordDeed.Add:
                return new WordPlan([.. terms, new Term(wish.Fact, CodeOf(word), word, [])]);
            case WordDeed.Mean:
                return new WordPlan(With(its! with { Words = [.. its.Words, word.ToLowerInvariant()] }));
            case WordDeed.Part:
                return its!.Words.Contains(word, StringComparer.Ordinal)
                    ? new WordPlan(With(its with { Words = [.. its.Words.Where(one => one != word)] }))
                    : Refuse($"\"{word}\" is no word beside for {its.Name}: its code and its name always mean it.");
            case WordDeed.Rename:
                return new WordPlan(
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
            case WordDeed.Merge:
                if (terms.FirstOrDefault(term => term.Fact == wish.Fact && term.Code == wish.Into && term != its) is not { } into)
                {
                    return Refuse($"There is no other {Word(wish.Fact)} \"{wish.Into}\" to merge it into.");
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
                return new WordPlan([
                    .. terms
                        .Where(term => !ReferenceEquals(term, its))
                        .Select(term => ReferenceEquals(term, into) ? joined : term),
                ]);
            default:
                return new WordPlan([.. terms.Where(term => !ReferenceEquals(term, its))]);
        }
    }

    /// <summary>What is written down of it: the terms that are others, before and after.</summary>
    public static Draft Entry(IReadOnlyList<Term> before, IReadOnlyList<Term> after, PersonId by, long? undoOf = null) =>
        new(Deed, $"person:{by.Value}", "house")
        {
            Before = Of(before.Except(after)),
            After = Of(after.Except(before)),
            UndoOf = undoOf,
        };

    /// <summary>The list with a change taken back; null where what it changed is another by now.</summary>
    /// <param name="was">The terms as they were before that change, and as they were after it.</param>
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

    private static string? NotWritten(string word, SaidFact fact) =>
        !word.Any(char.IsLetterOrDigit) ? "Write a word: at least one letter or digit."
        : word.Length > Longest ? $"Write at most {Longest} characters: \"{word[..Longest]}…\" is longer."
        : word.Any(char.IsControl) ? "Write it without line breaks and other control characters."
        : fact == SaidFact.Tags && TagWords.Split(word).Count != 1
            ? $"\"{word}\" is more than one word: commas, semicolons and bars stand between tags."
        : null;

    // What limits, keeping and rules name by its code would be lost without a word.
    private static string? Bound(Term term, House house, IEnumerable<Rule> rules) =>
        term.Fact == SaidFact.Class && house.Limits.Any(limit => limit.Kind == LayerKind.Class && limit.Code == term.Code)
            ? $"The house has limits for {term.Name}: sites of that class would lose them. Its limits come first."
        : term.Fact == SaidFact.Class && house.Keeping.Any(keep => keep.Class == term.Code)
            ? $"The house keeps put-away sites of {term.Name} for a time of its own, which would be lost. That comes first."
        : rules.FirstOrDefault(rule =>
            $"{rule.Scope} {rule.Demand.Expression}".Contains($"\"{term.Code}\"", StringComparison.OrdinalIgnoreCase)
        )
            is { } rule
            ? $"The rule {rule.Id.Value} ({rule.Title}) speaks of \"{term.Code}\". The rule comes first."
        : null;

    // A name of marks and foreign letters alone may leave nothing over: then it is its own code.
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

    private static string Word(SaidFact fact) => fact == SaidFact.Tags ? "tag" : fact.ToString().ToLowerInvariant();

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
