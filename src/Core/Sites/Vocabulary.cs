using System.Collections.Frozen;
using AnyAscii;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>
/// The house's own words, looked up: a term is meant by its code, by its name and by every word that means it, however they
/// are spelt: case, accents, blanks and marks do not matter. Where two terms are spelt alike, the first of the list is meant.
/// </summary>
public sealed class Vocabulary
{
    public static readonly Vocabulary Empty = new([]);
    private readonly FrozenDictionary<(SaidFact Fact, string Spelt), Term> terms;

    // Most sites say a code as it stands: found without asking how it is spelt.
    private readonly FrozenDictionary<(SaidFact Fact, string Code), Term> codes;

    public Vocabulary(IReadOnlyList<Term> list)
    {
        terms = list.SelectMany(term =>
                new[] { term.Code, term.Name }.Concat(term.Words).Select(word => (Key: (term.Fact, Spelling(word)), Term: term))
            )
            .DistinctBy(pair => pair.Key)
            .ToFrozenDictionary(pair => pair.Key, pair => pair.Term);
        codes = terms.Values.DistinctBy(term => (term.Fact, term.Code)).ToFrozenDictionary(term => (term.Fact, term.Code));
    }

    public Term? Meant(SaidFact fact, string word) =>
        terms.Count == 0 ? null
        : codes.TryGetValue((fact, word), out var term) ? term
        : terms.GetValueOrDefault((fact, Spelling(word)));

    /// <summary>What sources write of a site, by the codes of the terms that are meant; words that mean none as they were said.</summary>
    public string? Read(SaidFact fact, string? said) =>
        said is null ? null
        : fact == SaidFact.Tags ? TagWords.Of(TagWords.Split(said).Select(word => Meant(fact, word)?.Code ?? word)).Or(said)
        : Meant(fact, said)?.Code ?? said;

    /// <summary>A site in the house's words: sources' own words stay in the register as they were said.</summary>
    public SiteFacts Read(SiteFacts site)
    {
        var (@class, purpose, tags) = (
            Read(SaidFact.Class, site.Class),
            Read(SaidFact.Purpose, site.Purpose),
            Read(SaidFact.Tags, site.Tags)
        );
        var said =
            site.Said.Count > 0
                ? site
                    .Said.Select(statement =>
                        Read(statement.Fact, statement.Value) is var value && value == statement.Value
                            ? statement
                            : statement with
                            {
                                Value = value,
                            }
                    )
                    .ToList()
                : null;
        return
            @class == site.Class
            && purpose == site.Purpose
            && tags == site.Tags
            && (said is null || said.SequenceEqual(site.Said))
            ? site
            : site with
            {
                Class = @class,
                Purpose = purpose,
                Tags = tags,
                Said = said ?? site.Said,
            };
    }

    private Known<string> Read(SaidFact fact, Known<string> said) =>
        said.Has(out var word) && Read(fact, word) is { } read && read != word ? Known.Of(read) : said;

    /// <summary>The approved tags among free words, by their codes, and the words that are none.</summary>
    public (IReadOnlyList<string> Approved, IReadOnlyList<string> Loose) Tags(Known<string> said)
    {
        if (!said.Has(out var text))
        {
            return ([], []);
        }

        var meant = TagWords.Split(text).Select(word => (Word: word, Term: Meant(SaidFact.Tags, word))).ToList();
        return (
            [
                .. meant
                    .Select(pair => pair.Term?.Code)
                    .OfType<string>()
                    .Distinct(StringComparer.Ordinal)
                    .Order(StringComparer.Ordinal),
            ],
            [.. meant.Where(pair => pair.Term is null).Select(pair => pair.Word)]
        );
    }

    /// <summary>What two spellings have in common: letters and digits, in lower case, without accents.</summary>
    public static string Spelling(string word)
    {
        var plain = string.Concat(word.Transliterate().ToLowerInvariant().Where(char.IsAsciiLetterOrDigit));
        return plain.Length > 0 ? plain : word.Trim();
    }
}
