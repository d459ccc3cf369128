using System.Numerics;

namespace AtticLedger.Core.People;

/// <summary>A set of people by their indexes in a <see cref="PeopleDirectory"/>: a sorted list if few, a bit array if many.
/// Immutable; only sets of one directory are combined. An operation without effect returns the same set.
/// </summary>
public sealed partial class PeopleSet : IEquatable<PeopleSet>
{
    /// <summary>Above this number of people, bits take less room and time than indexes.</summary>
    private const int MostListed = 1024;

    // Exactly one of the two is present, decided by the count, so equal sets have equal forms.
    private readonly int[]? listed;
    private readonly ulong[]? bits;

    private PeopleSet(int[] listed)
    {
        this.listed = listed;
        Count = listed.Length;
    }

    private PeopleSet(ulong[] bits, int count)
    {
        this.bits = bits;
        Count = count;
    }

    public static PeopleSet Empty { get; } = new([]);

    public int Count { get; }

    public bool IsEmpty => Count == 0;

    public static PeopleSet Of(IEnumerable<int> places)
    {
        int[] sorted = [.. places];
        Array.Sort(sorted);
        return OfSorted(sorted);
    }

    public bool Contains(int place) =>
        listed is not null
            ? Array.BinarySearch(listed, place) >= 0
            : place >> 6 < bits!.Length && (bits[place >> 6] >> (place & 63) & 1) != 0;

    public PeopleSet Intersect(PeopleSet other)
    {
        if (ReferenceEquals(this, other) || IsEmpty)
        {
            return this;
        }

        if (!Overlaps(other))
        {
            return Empty;
        }

        if (listed is not null)
        {
            return Kept(listed, other.Contains);
        }

        if (other.listed is not null)
        {
            return Kept(other.listed, Contains) is var kept && kept.Count == other.Count ? other : kept;
        }

        var shared = new ulong[Math.Min(bits!.Length, other.bits!.Length)];
        for (var i = 0; i < shared.Length; i++)
        {
            shared[i] = bits[i] & other.bits[i];
        }

        return OfBits(shared, this);
    }

    public PeopleSet Except(PeopleSet other)
    {
        if (IsEmpty || other.IsEmpty)
        {
            return this;
        }

        if (!Overlaps(other))
        {
            return this;
        }

        if (listed is not null)
        {
            return Kept(listed, place => !other.Contains(place));
        }

        var rest = (ulong[])bits!.Clone();
        if (other.listed is not null)
        {
            foreach (var place in other.listed)
            {
                if (place >> 6 < rest.Length)
                {
                    rest[place >> 6] &= ~(1UL << (place & 63));
                }
            }
        }
        else
        {
            for (var i = 0; i < Math.Min(rest.Length, other.bits!.Length); i++)
            {
                rest[i] &= ~other.bits[i];
            }
        }

        return OfBits(rest, this);
    }

    /// <summary>True if the sets have a common member.</summary>
    public bool Overlaps(PeopleSet other)
    {
        if (listed is not null || other.listed is not null)
        {
            var (few, many) = Count <= other.Count ? (listed!, other) : (other.listed!, this);
            foreach (var place in few)
            {
                if (many.Contains(place))
                {
                    return true;
                }
            }

            return false;
        }

        for (var i = 0; i < Math.Min(bits!.Length, other.bits!.Length); i++)
        {
            if ((bits[i] & other.bits[i]) != 0)
            {
                return true;
            }
        }

        return false;
    }

    public bool Includes(PeopleSet other)
    {
        if (ReferenceEquals(this, other) || other.IsEmpty)
        {
            return true;
        }

        if (other.Count > Count)
        {
            return false;
        }

        if (other.listed is not null)
        {
            return Array.TrueForAll(other.listed, Contains);
        }

        // A set with too many people for a list has bits, and so does one that contains it.
        for (var i = 0; i < other.bits!.Length; i++)
        {
            if ((other.bits[i] & ~(i < bits!.Length ? bits[i] : 0)) != 0)
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>True if a condition holds for every member.</summary>
    public bool All(Predicate<int> holds)
    {
        if (listed is not null)
        {
            return Array.TrueForAll(listed, holds);
        }

        foreach (var place in PlacesOfBits())
        {
            if (!holds(place))
            {
                return false;
            }
        }

        return true;
    }

    public IEnumerable<int> Places() => listed ?? PlacesOfBits();

    public bool Equals(PeopleSet? other) => other is not null && other.Count == Count && Includes(other);

    public override bool Equals(object? obj) => Equals(obj as PeopleSet);

    public override int GetHashCode() => Places().Aggregate(17, (hash, place) => unchecked((hash * 31) + place));

    private static PeopleSet OfSorted(int[] sorted)
    {
        var distinct = Distinct(sorted);
        if (distinct == 0)
        {
            return Empty;
        }

        if (distinct <= MostListed)
        {
            return new PeopleSet(distinct == sorted.Length ? sorted : sorted[..distinct]);
        }

        var bits = new ulong[(sorted[distinct - 1] >> 6) + 1];
        Mark(bits, sorted.AsSpan(0, distinct));
        return new PeopleSet(bits, distinct);
    }

    private static PeopleSet OfBits(ulong[] bits, PeopleSet before)
    {
        var count = 0;
        foreach (var word in bits)
        {
            count += BitOperations.PopCount(word);
        }

        if (count == before.Count)
        {
            return before;
        }

        var set = new PeopleSet(bits, count);
        return count > MostListed ? set
            : count == 0 ? Empty
            : new PeopleSet([.. set.PlacesOfBits()]);
    }

    private static void Mark(ulong[] bits, ReadOnlySpan<int> places)
    {
        foreach (var place in places)
        {
            bits[place >> 6] |= 1UL << (place & 63);
        }
    }

    // Moves the distinct values of a sorted list to the front and returns their number.
    private static int Distinct(Span<int> sorted)
    {
        var kept = 0;
        for (var i = 0; i < sorted.Length; i++)
        {
            if (i == 0 || sorted[i] != sorted[i - 1])
            {
                sorted[kept++] = sorted[i];
            }
        }

        return kept;
    }

    [ThreadStatic]
    private static int[]? keptPlaces;

    private PeopleSet Kept(int[] of, Predicate<int> holds)
    {
        var kept = keptPlaces ??= new int[MostListed];
        var count = 0;
        foreach (var place in of)
        {
            if (holds(place))
            {
                kept[count++] = place;
            }
        }

        return count == Count ? this
            : count == 0 ? Empty
            : new PeopleSet(kept[..count]);
    }

    private IEnumerable<int> PlacesOfBits()
    {
        for (var i = 0; i < bits!.Length; i++)
        {
            for (var word = bits[i]; word != 0; word &= word - 1)
            {
                yield return (i << 6) + BitOperations.TrailingZeroCount(word);
            }
        }
    }
}
