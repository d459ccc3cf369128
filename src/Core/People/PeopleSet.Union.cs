using System.Numerics;

namespace AtticLedger.Core.People;

/// <content>The union of several sets, or its count, in a reused bit array.</content>
public sealed partial class PeopleSet
{
    public PeopleSet Union(PeopleSet other) =>
        other.IsEmpty ? this
        : IsEmpty ? other
        : UnionOf([this, other]);

    /// <summary>The union of many sets in one pass.</summary>
    public static PeopleSet UnionOf(IReadOnlyList<PeopleSet> sets)
    {
        var largest = Empty;
        var (distinctSets, listedPlaces) = (0, 0);
        foreach (var set in sets)
        {
            listedPlaces += set.listed?.Length ?? 0;
            if (!set.IsEmpty && !ReferenceEquals(set, largest))
            {
                distinctSets++;
                largest = set.Count > largest.Count ? set : largest;
            }
        }

        return distinctSets <= 1 ? largest : Marked(largest, sets, listedPlaces);
    }

    /// <summary>The number of people in the union of several sets, without building it.</summary>
    public static int CountOfUnion<T>(T[] of, Func<T, PeopleSet> setOf)
    {
        PeopleSet? only = null;
        var (several, length) = (false, 0);
        foreach (var one in of)
        {
            var set = setOf(one);
            if (!set.IsEmpty)
            {
                several |= only is not null && !ReferenceEquals(only, set);
                only = set;
                length = Math.Max(length, set.Words);
            }
        }

        if (!several)
        {
            return only?.Count ?? 0;
        }

        var marked = Scratch(length);
        foreach (var one in of)
        {
            setOf(one).MarkIn(marked);
        }

        var count = 0;
        for (var i = 0; i < length; i++)
        {
            count += BitOperations.PopCount(marked[i]);
        }

        Array.Clear(marked, 0, length);
        return count;
    }

    // Sets the bit of every index; for many lists this is faster than sorting their union.
    private static PeopleSet Marked(PeopleSet largest, IReadOnlyList<PeopleSet> sets, int listedPlaces)
    {
        // Often all are staff, with the set of all staff among them.
        if (AreAllIn(largest, sets))
        {
            return largest;
        }

        var length = sets.Max(set => set.Words);

        var isSmall = largest.listed is not null && listedPlaces <= MostListed;
        var united = isSmall ? Scratch(length) : new ulong[length];
        foreach (var set in sets)
        {
            set.MarkIn(united);
        }

        return isSmall ? Gathered(united, length, listedPlaces) : OfBits(united, largest);
    }

    // The number of words of bits it needs.
    private int Words => bits?.Length ?? (IsEmpty ? 0 : (listed![^1] >> 6) + 1);

    private void MarkIn(ulong[] united)
    {
        if (listed is not null)
        {
            Mark(united, listed);
            return;
        }

        for (var i = 0; i < bits!.Length; i++)
        {
            united[i] |= bits[i];
        }
    }

    private static bool AreAllIn(PeopleSet largest, IReadOnlyList<PeopleSet> sets)
    {
        foreach (var set in sets)
        {
            if (!largest.Includes(set))
            {
                return false;
            }
        }

        return true;
    }

    [ThreadStatic]
    private static ulong[]? scratch;

    private static ulong[] Scratch(int length)
    {
        if (scratch is null || scratch.Length < length)
        {
            scratch = new ulong[length + 64];
        }

        return scratch;
    }

    // The marked indexes in sequence; clears the scratch.
    private static PeopleSet Gathered(ulong[] marked, int length, int most)
    {
        var places = new int[most];
        var count = 0;
        for (var i = 0; i < length; i++)
        {
            for (var word = marked[i]; word != 0; word &= word - 1)
            {
                places[count++] = (i << 6) + BitOperations.TrailingZeroCount(word);
            }

            marked[i] = 0;
        }

        Array.Resize(ref places, count);
        return new PeopleSet(places);
    }
}
