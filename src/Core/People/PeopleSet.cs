using System.Numerics;

namespace AtticLedger.Core.People;

/// <summary>A set of people as one bit for each place on a <see cref="Roll"/>. Immutable; sets of one roll only are combined.</summary>
public sealed class PeopleSet : IEquatable<PeopleSet>
{
    private readonly ulong[] bits;

    private PeopleSet(ulong[] bits) => this.bits = bits;

    public static PeopleSet Empty { get; } = new([]);

    public static PeopleSet Of(IEnumerable<int> places)
    {
        var bits = new List<ulong>();
        foreach (var place in places)
        {
            while (bits.Count <= place >> 6)
            {
                bits.Add(0);
            }

            bits[place >> 6] |= 1UL << (place & 63);
        }

        return bits.Count == 0 ? Empty : new PeopleSet([.. bits]);
    }

    public bool IsEmpty => Array.TrueForAll(bits, word => word == 0);

    public int Count => bits.Sum(BitOperations.PopCount);

    public bool Contains(int place) => place >> 6 < bits.Length && (bits[place >> 6] >> (place & 63) & 1) != 0;

    public PeopleSet Union(PeopleSet other)
    {
        if (other.bits.Length == 0 || ReferenceEquals(this, other))
        {
            return this;
        }

        if (bits.Length == 0)
        {
            return other;
        }

        var (longer, shorter) = bits.Length >= other.bits.Length ? (bits, other.bits) : (other.bits, bits);
        var united = (ulong[])longer.Clone();
        for (var i = 0; i < shorter.Length; i++)
        {
            united[i] |= shorter[i];
        }

        return new PeopleSet(united);
    }

    public PeopleSet Intersect(PeopleSet other)
    {
        if (bits.Length == 0 || other.bits.Length == 0)
        {
            return Empty;
        }

        var shared = new ulong[Math.Min(bits.Length, other.bits.Length)];
        for (var i = 0; i < shared.Length; i++)
        {
            shared[i] = bits[i] & other.bits[i];
        }

        return new PeopleSet(shared);
    }

    public PeopleSet Except(PeopleSet other)
    {
        if (bits.Length == 0 || other.bits.Length == 0)
        {
            return this;
        }

        var rest = (ulong[])bits.Clone();
        for (var i = 0; i < Math.Min(rest.Length, other.bits.Length); i++)
        {
            rest[i] &= ~other.bits[i];
        }

        return new PeopleSet(rest);
    }

    public bool Includes(PeopleSet other)
    {
        if (ReferenceEquals(this, other))
        {
            return true;
        }

        for (var i = 0; i < other.bits.Length; i++)
        {
            if ((other.bits[i] & ~(i < bits.Length ? bits[i] : 0)) != 0)
            {
                return false;
            }
        }

        return true;
    }

    public IEnumerable<int> Places()
    {
        for (var i = 0; i < bits.Length; i++)
        {
            for (var word = bits[i]; word != 0; word &= word - 1)
            {
                yield return (i << 6) + BitOperations.TrailingZeroCount(word);
            }
        }
    }

    public bool Equals(PeopleSet? other) => other is not null && Includes(other) && other.Includes(this);

    public override bool Equals(object? obj) => Equals(obj as PeopleSet);

    public override int GetHashCode() => Places().Aggregate(17, (hash, place) => unchecked((hash * 31) + place));
}
