using System.Collections.Frozen;
using AnyAscii;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>The vocabulary, indexed: a term is meant by its code, its name and each of its spellings, without regard to case,
/// accents, blanks and punctuation. If two terms share a spelling, the first of the list is meant.
/// </summary>
public sealed class Vocabulary
{
    public static readonly Vocabulary Empty = new([]);
    private readonly FrozenDictionary<(ClaimedFact Fact, string Spelt), Term> terms;

    // Most sites have a code literally: found without normalising the spelling.
    private readonly FrozenDictionary<(ClaimedFact Fact, string Code), Term> codes;

    public Vocabulary(IReadOnlyList<Term> list)
    {
        terms = list.SelectMany(term =>
                new[] { term.Code, term.Name }.Concat(term.Words).Select(word => (Key: (term.Fact, Spelling(word)), Term: term))
            )
            .DistinctBy(pair => pair.Key)
            .ToFrozenDictionary(pair => pair.Key, pair => pair.Term);
        codes = terms.Values.DistinctBy(term => (term.Fact, term.Code)).ToFrozenDictionary(term => (term.Fact, term.Code));
    }

    public Term? Meant(ClaimedFact fact, string word) =>
        terms.Count == 0 ? null
        : codes.TryGetValue((fact, word), out var term) ? term
        : terms.GetValueOrDefault((fact, Spelling(word)));

    /// <summary>The reported values of a site as the codes of the terms that are meant; unmapped values as reported.</summary>
    public string? Read(ClaimedFact fact, string? said) =>
        said is null ? null
        : fact == ClaimedFact.Tags ? TagWords.Of(TagWords.Split(said).Select(word => Meant(fact, word)?.Code ?? word)).Or(said)
        : Meant(fact, said)?.Code ?? said;

    /// <summary>A site in terms of the vocabulary; the register keeps the reported values.</summary>
    public SiteFacts Read(SiteFacts site)
    {
        var (classification, purpose, tags) = (
            Read(ClaimedFact.Classification, site.Classification),
            Read(ClaimedFact.Purpose, site.Purpose),
            Read(ClaimedFact.Tags, site.Tags)
        );
        var said =
            site.Claims.Count > 0
                ? site
                    .Claims.Select(claim =>
                        Read(claim.Fact, claim.Value) is var value && value == claim.Value ? claim : claim with { Value = value }
                    )
                    .ToList()
                : null;
        return
            classification == site.Classification
            && purpose == site.Purpose
            && tags == site.Tags
            && (said is null || said.SequenceEqual(site.Claims))
            ? site
            : site with
            {
                Classification = classification,
                Purpose = purpose,
                Tags = tags,
                Claims = said ?? site.Claims,
            };
    }

    private Known<string> Read(ClaimedFact fact, Known<string> said) =>
        said.Has(out var word) && Read(fact, word) is { } read && read != word ? Known.Of(read) : said;

    /// <summary>The tags that are mapped to a term, by code, and the unmapped ones.</summary>
    public (IReadOnlyList<string> Approved, IReadOnlyList<string> Loose) Tags(Known<string> said)
    {
        if (!said.Has(out var text))
        {
            return ([], []);
        }

        var meant = TagWords.Split(text).Select(word => (Word: word, Term: Meant(ClaimedFact.Tags, word))).ToList();
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

    /// <summary>What two spellings have in common: notifications and digits, in lower case, without accents.</summary>
    public static string Spelling(string word)
    {
        var plain = string.Concat(word.Transliterate().ToLowerInvariant().Where(char.IsAsciiLetterOrDigit));
        return plain.Length > 0 ? plain : word.Trim();
    }
}
