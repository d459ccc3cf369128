using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Classification;

/// <summary>Sites that lack a fact without a certain proposal, and that have a word in common, so that a person can set the fact
/// for all of them at once.
/// </summary>
/// <param name="Word">The word that all their names contain.</param>
/// <param name="Decides">The number of sites for which a rule can be decided once this fact alone is known.</param>
public sealed record NextFact(ClaimedFact Fact, string Word, IReadOnlyList<Traits> Sites, int Decides);

/// <summary>The fact to set next: the one that decides most sites.</summary>
public static class NextFacts
{
    private const int LeastSites = 3;
    private const double PairIsNarrow = 0.8;

    /// <param name="proposed">Sites with a certain proposal: they are confirmed, not asked about.</param>
    /// <param name="most">The number of groups to return; each is counted without the sites of the groups before it.</param>
    public static IReadOnlyList<NextFact> Of(
        IReadOnlyList<Traits> sites,
        ClaimedFact fact,
        IReadOnlySet<SiteId> proposed,
        int most
    )
    {
        var open = sites.Where(site => site.Lacks(fact) && !proposed.Contains(site.Id)).ToList();
        var named = new List<NextFact>();
        while (
            named.Count < most
            && Groups(open, fact)
                .OrderByDescending(group => group.Decides * Narrowness(group))
                .ThenByDescending(group => group.Sites.Count)
                .ThenBy(group => group.Word, StringComparer.Ordinal)
                .FirstOrDefault()
                is { } next
        )
        {
            named.Add(next);
            var taken = next.Sites.Select(site => site.Id).ToHashSet();
            open.RemoveAll(site => taken.Contains(site.Id));
        }

        return named;
    }

    /// <summary>True if a rule can be decided for a site once a fact is known, because no other fact that rules need is missing.
    /// Layers depend on unit and classification, none on a purpose.
    /// </summary>
    public static bool Decides(Traits site, ClaimedFact fact) =>
        site.IsUnsure
        && fact != ClaimedFact.Purpose
        && site.Lacks(fact)
        && !site.OwnersUnknown
        && (fact == ClaimedFact.Unit || !site.Lacks(ClaimedFact.Unit))
        && (fact == ClaimedFact.Classification || !site.Lacks(ClaimedFact.Classification));

    // A word that always occurs with the same other word describes a site; one that occurs with anything ("old") does not.
    // Returns the share of its sites that also have its most frequent companion.
    private static double Narrowness(NextFact group)
    {
        var beside = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (
            var word in group
                .Sites.SelectMany(site => site.Words)
                .Where(word => word != group.Word && !group.Word.Contains(word, StringComparison.Ordinal))
        )
        {
            beside[word] = beside.GetValueOrDefault(word) + 1;
        }

        var most = beside.Count == 0 ? 0 : (double)beside.Values.Max() / group.Sites.Count;
        return group.Word.Contains(' ', StringComparison.Ordinal) ? Math.Max(most, PairIsNarrow) : most;
    }

    private static IEnumerable<NextFact> Groups(List<Traits> open, ClaimedFact fact)
    {
        var groups = new Dictionary<string, List<Traits>>(StringComparer.Ordinal);
        foreach (var site in open)
        {
            foreach (var word in site.Words)
            {
                if (!groups.TryGetValue(word, out var group))
                {
                    groups[word] = group = [];
                }

                group.Add(site);
            }
        }

        return groups
            .Where(group => group.Value.Count >= LeastSites)
            .Select(group => new NextFact(fact, group.Key, group.Value, group.Value.Count(site => Decides(site, fact))));
    }
}
