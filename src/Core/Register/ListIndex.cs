using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>The distinct lists of a column by element. Immutable; later lists are searched one by one until there are too many.
/// </summary>
internal sealed class ListIndex
{
    private const int MostLoose = 2048;

    private readonly int count;
    private readonly int[] starts;
    private readonly int[] listsOf;
    private readonly int[] incomplete;

    private ListIndex(int count, int[] starts, int[] listsOf, int[] incomplete)
    {
        this.count = count;
        this.starts = starts;
        this.listsOf = listsOf;
        this.incomplete = incomplete;
    }

    public static ListIndex None { get; } = new(0, [0], [], []);

    /// <summary>The index for at least this number of lists: lists are only added.</summary>
    public ListIndex Upto(ArraySegment<CodedList> lists, int elements) =>
        lists.Count - count <= MostLoose ? this : Of(lists, elements);

    /// <summary>The verdict per list: true if an element holds; an incomplete list without one cannot tell.</summary>
    public Truth[] Any(ArraySegment<CodedList> lists, Mask ofElements)
    {
        var isSparse = IsSparse(ofElements);
        var verdicts = new Truth[lists.Count];
        if (isSparse)
        {
            foreach (var list in incomplete)
            {
                verdicts[list] = Truth.Unknown;
            }

            foreach (var truth in (ReadOnlySpan<Truth>)[Truth.Unknown, Truth.Yes])
            {
                foreach (var element in ofElements.Lines(truth))
                {
                    foreach (var list in ListsOf(element))
                    {
                        verdicts[list] = truth;
                    }
                }
            }
        }

        for (var code = isSparse ? count : 0; code < verdicts.Length; code++)
        {
            var (elements, complete) = lists[code];
            var found = complete ? Truth.No : Truth.Unknown;
            foreach (var element in elements)
            {
                if (ofElements.IsYes(element))
                {
                    found = Truth.Yes;
                    break;
                }

                found = found.Or(ofElements[element]);
            }

            verdicts[code] = found;
        }

        return verdicts;
    }

    // If much is found, scanning all lists is faster than random access.
    private bool IsSparse(Mask ofElements)
    {
        var found = 0;
        foreach (var element in ofElements.Lines(Truth.Yes).Concat(ofElements.Lines(Truth.Unknown)))
        {
            found += ListsOf(element).Length;
            if (found >= count / 4)
            {
                return false;
            }
        }

        return true;
    }

    private static ListIndex Of(ArraySegment<CodedList> lists, int elements)
    {
        var starts = new int[elements + 1];
        foreach (var element in lists.SelectMany(list => list.Elements))
        {
            starts[element + 1]++;
        }

        for (var element = 0; element < elements; element++)
        {
            starts[element + 1] += starts[element];
        }

        var listsOf = new int[starts[^1]];
        var next = starts[..^1];
        for (var code = 0; code < lists.Count; code++)
        {
            foreach (var element in lists[code].Elements)
            {
                listsOf[next[element]++] = code;
            }
        }

        return new ListIndex(
            lists.Count,
            starts,
            listsOf,
            [.. Enumerable.Range(0, lists.Count).Where(code => !lists[code].Complete)]
        );
    }

    // Elements newer than the index occur only in lists newer than the index.
    private ReadOnlySpan<int> ListsOf(int element) =>
        element + 1 < starts.Length ? listsOf.AsSpan(starts[element]..starts[element + 1]) : [];
}
