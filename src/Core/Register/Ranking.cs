namespace AtticLedger.Core.Register;

/// <summary>The ranks of distinct values by code, equal for values that compare equal. Later values are merged in, because
/// sorting all again would dominate the cost.
/// </summary>
internal sealed class Ranking
{
    private readonly int[] sorted;
    private int[]? ranks;

    private Ranking(int[] sorted) => this.sorted = sorted;

    public static Ranking None { get; } = new([]);

    public int Count => sorted.Length;

    public Ranking With<TValue>(ArraySegment<TValue> values, IComparer<TValue> order)
    {
        if (values.Count == Count)
        {
            return this;
        }

        var added = Enumerable.Range(Count, values.Count - Count).ToArray();
        Array.Sort(added, (a, b) => order.Compare(values[a], values[b]) is not 0 and var different ? different : a.CompareTo(b));
        var merged = new int[values.Count];
        for (int at = 0, old = 0, fresh = 0; at < merged.Length; at++)
        {
            merged[at] =
                fresh == added.Length || (old < sorted.Length && order.Compare(values[sorted[old]], values[added[fresh]]) <= 0)
                    ? sorted[old++]
                    : added[fresh++];
        }

        var ranks = new int[merged.Length];
        for (int at = 1, rank = 0; at < merged.Length; at++)
        {
            rank += order.Compare(values[merged[at - 1]], values[merged[at]]) == 0 ? 0 : 1;
            ranks[merged[at]] = rank;
        }

        return new Ranking(merged) { ranks = ranks };
    }

    /// <summary>The rank of the first value for which a monotonic condition holds; above all ranks if it holds for
    /// none.</summary>
    public int First(Func<int, bool> holds)
    {
        var (from, to) = (0, sorted.Length);
        while (from < to)
        {
            var middle = (from + to) / 2;
            (from, to) = holds(sorted[middle]) ? (from, middle) : (middle + 1, to);
        }

        return from < sorted.Length ? Ranks[sorted[from]] : int.MaxValue;
    }

    /// <summary>For each code its rank, from 0.</summary>
    public ReadOnlySpan<int> Ranks => ranks;
}
