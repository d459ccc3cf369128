using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>All lines of a sheet in an order. A page of what a filter leaves is a walk along it.</summary>
public sealed class SheetOrder
{
    // Where fewer than one line in so many is wanted, sorting those is quicker than walking past the others.
    private const int Few = 16;

    private readonly int[] places;
    private readonly int[] rankOf;

    private SheetOrder(int[] places)
    {
        this.places = places;
        rankOf = new int[places.Length];
        for (var rank = 0; rank < places.Length; rank++)
        {
            rankOf[places[rank]] = rank;
        }
    }

    /// <summary>Sorts by counting, from the last key to the first: each pass keeps the order of the one before.</summary>
    internal static SheetOrder Of(IReadOnlyList<SortKey> keys, KeptColumns<JudgedLine> columns, ArraySegment<SiteId> ids)
    {
        var places = Enumerable.Range(0, ids.Count).ToArray();
        Array.Sort(places, (a, b) => ids[a].Value.CompareTo(ids[b].Value));
        foreach (var key in keys.Reverse())
        {
            places = Sorted(places, columns.Of(key.Attribute), key.Down);
        }

        return new SheetOrder(places);
    }

    /// <summary>The places of the lines of a mask, in this order.</summary>
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
