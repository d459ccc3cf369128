using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.FirstWeek;

/// <summary>
/// Sites that lack a fact, for which nothing is surely proposed, and that have something in common by which a person can say it of all
/// of them at once.
/// </summary>
/// <param name="Word">What the names of all of them have.</param>
/// <param name="Decides">For how many of them a rule can be told once just this fact is known.</param>
public sealed record NextFact(SaidFact Fact, string Word, IReadOnlyList<Traits> Sites, int Decides);

/// <summary>Which fact to say next: the one that decides most sites.</summary>
public static class NextFacts
{
    private const int LeastSites = 3;
    private const double PairIsNarrow = 0.8;

    /// <param name="proposed">Sites of which it is surely proposed: these are confirmed, not asked about.</param>
    /// <param name="most">How many to name; each is counted without the sites of those before it.</param>
    public static IReadOnlyList<NextFact> Of(IReadOnlyList<Traits> sites, SaidFact fact, IReadOnlySet<SiteId> proposed, int most)
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

    /// <summary>
    /// Whether a rule can be told of a site once a fact is known: nothing else that rules stand on is lacking. Layers hang
    /// on unit and class; on a purpose hangs none.
    /// </summary>
    public static bool Decides(Traits site, SaidFact fact) =>
        site.IsUnsure
        && fact != SaidFact.Purpose
        && site.Lacks(fact)
        && !site.OwnersUnknown
        && (fact == SaidFact.Unit || !site.Lacks(SaidFact.Unit))
        && (fact == SaidFact.Class || !site.Lacks(SaidFact.Class));

    // A word beside which always the same other stands says what a site is about; one that stands beside anything ("old")
    // does not. The share of the sites with it that have the most frequent of its companions too.
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

    private static IEnumerable<NextFact> Groups(List<Traits> open, SaidFact fact)
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
