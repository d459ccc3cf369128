using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>All rows of an index in a sort sequence. A page of a filtered list is a walk along it.</summary>
public sealed class RegisterOrder
{
    // If fewer than one row in this many is needed, sorting those is faster than skipping the others.
    private const int Few = 16;

    private readonly int[] places;
    private readonly int[] rankOf;

    private RegisterOrder(int[] places)
    {
        this.places = places;
        rankOf = new int[places.Length];
        for (var rank = 0; rank < places.Length; rank++)
        {
            rankOf[places[rank]] = rank;
        }
    }

    /// <summary>Counting sort from the last key to the first: each pass is stable.</summary>
    internal static RegisterOrder Of(IReadOnlyList<SortKey> keys, KeptColumns<JudgedSite> columns, ArraySegment<SiteId> ids)
    {
        var places = Enumerable.Range(0, ids.Count).ToArray();
        Array.Sort(places, (a, b) => ids[a].Value.CompareTo(ids[b].Value));
        foreach (var key in keys.Reverse())
        {
            places = Sorted(places, columns.Of(key.Attribute), key.Down);
        }

        return new RegisterOrder(places);
    }

    /// <summary>The positions of the rows of a mask, in this sequence.</summary>
    public IEnumerable<int> Lines(Mask of)
    {
        if (of.CountYes >= places.Length / Few)
        {
            return places.Where(of.IsYes);
        }

        int[] few = [.. of.Lines()];
        Array.Sort(Array.ConvertAll(few, place => rankOf[place]), few);
        return few;
    }

    private static int[] Sorted(int[] places, Column column, bool down)
    {
        var rankOf = column.SortRanks(down);
        var starts = new int[column.DistinctCount + 1];
        foreach (var place in places)
        {
            starts[rankOf[column.CodeAt(place)] + 1]++;
        }

        for (var rank = 1; rank < starts.Length; rank++)
        {
            starts[rank] += starts[rank - 1];
        }

        var sorted = new int[places.Length];
        foreach (var place in places)
        {
            sorted[starts[rankOf[column.CodeAt(place)]]++] = place;
        }

        return sorted;
    }
}
