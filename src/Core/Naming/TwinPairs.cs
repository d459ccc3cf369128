namespace AtticLedger.Core.Naming;

/// <summary>Two names that are the same or near, by their places; the lower place first.</summary>
public readonly record struct TwinPair(int One, int Other, Nearness Nearness);

/// <summary>All pairs of near names of a register, followed as names change: a changed name is compared with all others, and two
/// unchanged ones are not compared again. Immutable.</summary>
public sealed class TwinPairs
{
    // With more changed names, finding all pairs again is faster.
    private const int MostChanged = 1000;

    private readonly string?[] names;
    private readonly string[] meanings;

    private TwinPairs(string?[] names, string[] meanings, IReadOnlyList<TwinPair> all)
    {
        this.names = names;
        this.meanings = meanings;
        All = all;
    }

    public static TwinPairs None { get; } = new([], [], []);

    /// <summary>Every pair, by place.</summary>
    public IReadOnlyList<TwinPair> All { get; }

    /// <summary>The meaning of the name at a place; empty if it has none.</summary>
    public string MeaningAt(int place) => meanings[place];

    /// <param name="next">The names by place; null where there is none to compare. Later names are added at the end.</param>
    public TwinPairs Following(string?[] next)
    {
        var changed = Enumerable
            .Range(0, next.Length)
            .Where(place => place >= names.Length || names[place] != next[place])
            .ToHashSet();
        if (changed.Count == 0 && next.Length == names.Length)
        {
            return this;
        }

        var after = new string[next.Length];
        Array.Copy(meanings, after, Math.Min(meanings.Length, after.Length));
        foreach (var place in changed)
        {
            after[place] = next[place] is { } name ? LookAlikes.Bare(name) : "";
        }

        var search = new TwinSearch(after);
        return new TwinPairs(
            next,
            after,
            changed.Count > MostChanged
                ? search.Pairs()
                :
                [
                    .. All.Where(pair => pair.Other < next.Length && !changed.Contains(pair.One) && !changed.Contains(pair.Other))
                        .Concat(changed.SelectMany(place => PairsOf(place, search, after, changed)))
                        .OrderBy(pair => (pair.One, pair.Other)),
                ]
        );
    }

    // Of two changed names the lower one finds the pair.
    private static IEnumerable<TwinPair> PairsOf(int place, TwinSearch search, string[] meanings, HashSet<int> changed) =>
        search
            .Near(meanings[place])
            .Where(near => near.Place != place && (near.Place > place || !changed.Contains(near.Place)))
            .Select(near => new TwinPair(Math.Min(place, near.Place), Math.Max(place, near.Place), near.Nearness));
}
