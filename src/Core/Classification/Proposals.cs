using System.Globalization;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Classification;

/// <summary>The evidence for a proposal.</summary>
public enum EvidenceKind : byte
{
    /// <summary>Its owners, or most of them, are in one unit.</summary>
    Owners,

    /// <summary>Its parent site has this value.</summary>
    Parent,

    /// <summary>Most sites with a word of its name or address have this value.</summary>
    Word,

    /// <summary>Most sites of the same unit and kind have this value.</summary>
    Neighbours,

    /// <summary>A word of its name is mapped to this value.</summary>
    Meaning,
}

/// <param name="Words">The reason, in a sentence without full stop.</param>
public sealed record Evidence(EvidenceKind Kind, string Value, string Words);

public enum Strength : byte
{
    /// <summary>Several kinds of evidence or several owners agree, without counter-evidence.</summary>
    Sure,

    /// <summary>One kind of evidence, without counter-evidence.</summary>
    Likely,

    /// <summary>Evidence for different values: a person has to decide.</summary>
    Split,
}

/// <summary>The proposed value of a site, with the evidence.</summary>
public sealed record Proposal(Traits Site, ClaimedFact Fact, string Value, Strength Strength, IReadOnlyList<Evidence> Evidence);

/// <summary>Proposes values for facts that are not set, from known facts of other sites. The same register gives the same
/// proposals; confirmed values become evidence for the rest.
/// </summary>
public sealed class Proposals
{
    /// <summary>The facts for which values are proposed: a site has one value of each.</summary>
    public static readonly IReadOnlyList<ClaimedFact> Facts = [ClaimedFact.Unit, ClaimedFact.Classification, ClaimedFact.Purpose];

    // The minimum number of known sites, and the minimum share with the same value, before they are evidence for others. Half of
    // all sites with the common trait have to be known: sites that a person has just set are no sample.
    private const int LeastKnown = 8;
    private const double LeastShare = 0.9;
    private const double LeastPart = 0.5;
    private const double OwnersAgree = 0.6;

    private readonly ClaimedFact fact;
    private readonly IReadOnlyList<Term> terms;
    private readonly Dictionary<string, Tally> byWord = new(StringComparer.Ordinal);
    private readonly Dictionary<(string Unit, string Kind), Tally> byNeighbours = [];
    private readonly Dictionary<(string Host, string Key), Traits> byKey = [];

    private Proposals(IReadOnlyList<Traits> sites, ClaimedFact fact, IReadOnlyList<Term> terms)
    {
        this.fact = fact;
        this.terms = [.. terms.Where(term => term.Fact == fact)];
        foreach (var site in sites)
        {
            if (site.Key is { } key)
            {
                byKey[(site.Host, key)] = site;
            }

            var value = site.Fact(fact).Has(out var known) ? known : null;
            foreach (var word in site.Words)
            {
                Count(byWord, word, value);
            }

            if (fact != ClaimedFact.Unit && site.Unit.Has(out var unit) && site.Kind.Has(out var kind))
            {
                Count(byNeighbours, (unit, kind), value);
            }
        }
    }

    /// <summary>A proposal for each site that lacks the fact and has evidence.</summary>
    /// <param name="terms">The vocabulary: spellings that mean a classification or a purpose.</param>
    public static IReadOnlyList<Proposal> Of(IReadOnlyList<Traits> sites, ClaimedFact fact, IReadOnlyList<Term> terms)
    {
        var known = new Proposals(sites, fact, terms);
        return [.. sites.Where(site => site.Lacks(fact)).Select(known.For).OfType<Proposal>()];
    }

    /// <summary>The key by which proposals are confirmed together: one value, one strength, the same kinds of evidence. Units
    /// are many with evidence of the same kind, so they are confirmed together, each site with its own.
    /// </summary>
    public static string GroupOf(Proposal proposal) =>
        $"{(proposal.Fact == ClaimedFact.Unit ? "each" : proposal.Value)}:{proposal.Strength.ToString().ToLowerInvariant()}:{string.Join('+', proposal.Evidence.Select(one => one.Kind.ToString().ToLowerInvariant()).Distinct().Order(StringComparer.Ordinal))}";

    private Proposal? For(Traits site)
    {
        List<Evidence> evidence = [.. EvidenceFor(site)];
        if (evidence.Count == 0)
        {
            return null;
        }

        var most = evidence
            .GroupBy(one => one.Value)
            .OrderByDescending(same => same.Count())
            .ThenBy(same => same.Min(one => one.Kind))
            .ThenBy(same => same.Key, StringComparer.Ordinal)
            .First();
        var strength =
            most.Count() < evidence.Count ? Strength.Split
            : evidence.Count > 1
            || (evidence[0].Kind == EvidenceKind.Owners && site.OwnerUnits.Count > 1 && site.OwnerUnits.Distinct().Count() == 1)
                ? Strength.Sure
            : Strength.Likely;
        return new Proposal(site, fact, most.Key, strength, evidence);
    }

    private IEnumerable<Evidence> EvidenceFor(Traits site)
    {
        if (
            fact == ClaimedFact.Unit
            && site
                .OwnerUnits.GroupBy(unit => unit, StringComparer.Ordinal)
                .OrderByDescending(same => same.Count())
                .ThenBy(same => same.Key, StringComparer.Ordinal)
                .FirstOrDefault()
                is { } most
            && most.Count() >= OwnersAgree * site.OwnerUnits.Count
        )
        {
            yield return new Evidence(
                EvidenceKind.Owners,
                most.Key,
                site.OwnerUnits.Count == 1
                    ? $"its owner is in {most.Key}"
                    : Sentence(
                        $"{(most.Count() < site.OwnerUnits.Count ? $"{most.Count()} of {site.OwnerUnits.Count}" : most.Count() == 2 ? "both" : $"all {most.Count()}")} owners who have a unit are in {most.Key}"
                    )
            );
        }

        if (
            site.Parent.Has(out var parent)
            && byKey.TryGetValue((site.Host, parent), out var above)
            && above.Fact(fact).Has(out var its)
        )
        {
            yield return new Evidence(EvidenceKind.Parent, its, $"the site above it, {above.Title}, is {its}");
        }

        var word = site
            .Words.Select(word => (Word: word, Tally: byWord.GetValueOrDefault(word)))
            .Where(pair => pair.Tally is { Speaks: true })
            .OrderByDescending(pair => pair.Tally!.Share)
            .ThenByDescending(pair => pair.Tally!.All)
            .ThenBy(pair => pair.Word, StringComparer.Ordinal)
            .FirstOrDefault();
        if (word.Tally is { } tally)
        {
            yield return new Evidence(
                EvidenceKind.Word,
                tally.Top,
                Sentence($"{tally.Most} of {tally.All} classified sites with \"{word.Word}\" are {tally.Top}")
            );
        }

        if (
            site.Unit.Has(out var unit)
            && site.Kind.Has(out var kind)
            && byNeighbours.TryGetValue((unit, kind), out var near)
            && near.Speaks
        )
        {
            yield return new Evidence(
                EvidenceKind.Neighbours,
                near.Top,
                Sentence($"{near.Most} of {near.All} known sites of {unit} that are of kind {kind} are {near.Top}")
            );
        }

        foreach (var term in terms.Where(term => term.Words.Any(site.Words.Contains)))
        {
            yield return new Evidence(
                EvidenceKind.Meaning,
                term.Code,
                $"\"{term.Words.First(site.Words.Contains)}\" means {term.Name}"
            );
        }
    }

    private static string Sentence(FormattableString words) => words.ToString(CultureInfo.InvariantCulture);

    private static void Count<TKey>(Dictionary<TKey, Tally> tallies, TKey key, string? value)
        where TKey : notnull
    {
        if (!tallies.TryGetValue(key, out var tally))
        {
            tallies[key] = tally = new Tally();
        }

        tally.Add(value);
    }

    /// <summary>The number of known sites per value.</summary>
    private sealed class Tally
    {
        private readonly Dictionary<string, int> counts = new(StringComparer.Ordinal);

        private int there;

        /// <summary>The number of known sites.</summary>
        public int All { get; private set; }

        public int Most { get; private set; }

        public string Top { get; private set; } = "";

        public double Share => (double)Most / All;

        public bool Speaks => All >= LeastKnown && Share >= LeastShare && All >= LeastPart * there;

        public void Add(string? value)
        {
            there++;
            if (value is null)
            {
                return;
            }

            All++;
            var count = counts[value] = counts.GetValueOrDefault(value) + 1;
            if (count > Most || (count == Most && string.CompareOrdinal(value, Top) < 0))
            {
                (Most, Top) = (count, value);
            }
        }
    }
}
