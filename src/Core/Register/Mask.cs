using System.Numerics;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>A verdict per row in two bits: true, false, or cannot tell.</summary>
public sealed class Mask
{
    private readonly ulong[] yes;
    private readonly ulong[] no;

    internal Mask(int length, ulong[] yes, ulong[] no)
    {
        Length = length;
        this.yes = yes;
        this.no = no;
    }

    public int Length { get; }

    public int CountYes => Count(yes);

    public int CountUnknown => Length - CountYes - Count(no);

    public Truth this[int line] =>
        (yes[line >> 6] >> (line & 63) & 1) != 0 ? Truth.Yes
        : (no[line >> 6] >> (line & 63) & 1) != 0 ? Truth.No
        : Truth.Unknown;

    public bool IsYes(int line) => (yes[line >> 6] >> (line & 63) & 1) != 0;

    public static Mask All(int length, Truth truth)
    {
        var (all, none) = (new ulong[(length + 63) >> 6], new ulong[(length + 63) >> 6]);
        Array.Fill(all, ulong.MaxValue);
        if ((length & 63) != 0)
        {
            all[^1] = (1UL << (length & 63)) - 1;
        }

        return new Mask(length, truth == Truth.Yes ? all : none, truth == Truth.No ? all : none);
    }

    public Mask And(Mask other)
    {
        var (both, either) = (new ulong[yes.Length], new ulong[no.Length]);
        for (var i = 0; i < both.Length; i++)
        {
            both[i] = yes[i] & other.yes[i];
            either[i] = no[i] | other.no[i];
        }

        return new Mask(Length, both, either);
    }

    public Mask Or(Mask other) => Not().And(other.Not()).Not();

    public Mask Not() => new(Length, no, yes);

    /// <summary>"Cannot tell" counts as false.</summary>
    public Mask Certainly()
    {
        var all = All(Length, Truth.Yes);
        var not = new ulong[no.Length];
        for (var i = 0; i < not.Length; i++)
        {
            not[i] = all.yes[i] & ~yes[i];
        }

        return new Mask(Length, yes, not);
    }

    /// <summary>The rows that cannot be told, as true.</summary>
    public Mask Untold()
    {
        var untold = new ulong[yes.Length];
        var told = new ulong[yes.Length];
        for (var i = 0; i < untold.Length; i++)
        {
            told[i] = yes[i] | no[i];
            untold[i] = ~told[i] & Tail(i);
        }

        return new Mask(Length, untold, told);
    }

    /// <summary>The number of rows that are true in another mask and cannot be told in this one.</summary>
    public int CountUnknownOf(Mask others) => Untold().And(others).CountYes;

    /// <summary>The rows with a verdict, in sequence.</summary>
    public IEnumerable<int> Lines(Truth truth = Truth.Yes)
    {
        for (var at = 0; at < yes.Length; at++)
        {
            var word = truth switch
            {
                Truth.Yes => yes[at],
                Truth.No => no[at],
                _ => ~(yes[at] | no[at]) & Tail(at),
            };
            for (; word != 0; word &= word - 1)
            {
                yield return (at << 6) + BitOperations.TrailingZeroCount(word);
            }
        }
    }

    /// <summary>Counts the codes of the rows that are true, in the block that begins at a row.</summary>
    internal void CountInto(Span<int> counts, int start, ReadOnlySpan<int> codes)
    {
        for (var at = 0; at < codes.Length; at += 64)
        {
            var word = yes[(start + at) >> 6];
            if (word == ulong.MaxValue)
            {
                foreach (var code in codes.Slice(at, 64))
                {
                    counts[code]++;
                }
            }
            else
            {
                for (; word != 0; word &= word - 1)
                {
                    counts[codes[at + BitOperations.TrailingZeroCount(word)]]++;
                }
            }
        }
    }

    private static int Count(ulong[] words)
    {
        var count = 0;
        foreach (var word in words)
        {
            count += BitOperations.PopCount(word);
        }

        return count;
    }

    private ulong Tail(int at) => at < Length >> 6 ? ulong.MaxValue : (1UL << (Length & 63)) - 1;
}

/// <summary>Fills a mask block by block.</summary>
internal readonly struct MaskBuilder(int length)
{
    private readonly ulong[] yes = new ulong[(length + 63) >> 6];
    private readonly ulong[] no = new ulong[(length + 63) >> 6];

    /// <summary>Fills a block from a code per row and a verdict per code: the inner loop of every comparison.</summary>
    public void Judge(int start, ReadOnlySpan<int> codes, ReadOnlySpan<Truth> verdicts)
    {
        for (var at = 0; at < codes.Length; at += 64)
        {
            var word = codes[at..Math.Min(at + 64, codes.Length)];
            var (lowYes, lowNo) = Half(word[..Math.Min(32, word.Length)], verdicts);
            var (highYes, highNo) = word.Length > 32 ? Half(word[32..], verdicts) : (0, 0);
            yes[(start + at) >> 6] = lowYes | highYes << 32;
            no[(start + at) >> 6] = lowNo | highNo << 32;
        }
    }

    // The verdicts of up to 32 rows. They are collected as they are stored, two bits each (No is 0, Unknown 1 and Yes 2), and
    // only then parted, so that a row costs as little as possible.
    private static (ulong Yes, ulong No) Half(ReadOnlySpan<int> codes, ReadOnlySpan<Truth> verdicts)
    {
        ulong pairs = 0;
        for (var i = codes.Length - 1; i >= 0; i--)
        {
            pairs = pairs << 2 | (ulong)verdicts[codes[i]];
        }

        var rows = codes.Length == 32 ? uint.MaxValue : (1UL << codes.Length) - 1;
        return (EvenBits(pairs >> 1), EvenBits(~(pairs | pairs >> 1)) & rows);
    }

    private static ulong EvenBits(ulong bits)
    {
        bits &= 0x5555555555555555;
        bits = (bits | bits >> 1) & 0x3333333333333333;
        bits = (bits | bits >> 2) & 0x0f0f0f0f0f0f0f0f;
        bits = (bits | bits >> 4) & 0x00ff00ff00ff00ff;
        bits = (bits | bits >> 8) & 0x0000ffff0000ffff;
        return (bits | bits >> 16) & 0x00000000ffffffff;
    }

    public Mask Build() => new(length, yes, no);
}
