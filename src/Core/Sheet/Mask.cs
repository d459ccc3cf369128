using System.Numerics;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>A verdict for every line: two bits each, what surely holds and what surely does not; the rest cannot tell.</summary>
public sealed class Mask
{
    private readonly ulong[] yes;
    private readonly ulong[] no;

    private Mask(int length, ulong[] yes, ulong[] no)
    {
        Length = length;
        this.yes = yes;
        this.no = no;
    }

    public int Length { get; }

    public int CountYes => yes.Sum(BitOperations.PopCount);

    public int CountUnknown => Length - CountYes - no.Sum(BitOperations.PopCount);

    public Truth this[int line] =>
        (yes[line >> 6] >> (line & 63) & 1) != 0 ? Truth.Yes
        : (no[line >> 6] >> (line & 63) & 1) != 0 ? Truth.No
        : Truth.Unknown;

    public static Mask All(int length, Truth truth) => Of(length, _ => truth);

    /// <summary>Fills the mask from a verdict per line.</summary>
    public static Mask Of(int length, Func<int, Truth> verdict)
    {
        var (yes, no) = Words(length);
        for (var line = 0; line < length; line++)
        {
            Set(yes, no, line, verdict(line));
        }

        return new Mask(length, yes, no);
    }

    /// <summary>Fills the mask from a code per line and a verdict per code: the inner loop of every comparison.</summary>
    public static Mask Of(ReadOnlySpan<int> codes, ReadOnlySpan<Truth> verdicts)
    {
        var (yes, no) = Words(codes.Length);
        for (var start = 0; start < codes.Length; start += 64)
        {
            ulong yesWord = 0, noWord = 0;
            var block = codes[start..Math.Min(start + 64, codes.Length)];
            for (var i = 0; i < block.Length; i++)
            {
                // No is 0, Unknown 1 and Yes 2, so the bits come out without a branch.
                var verdict = (ulong)verdicts[block[i]];
                yesWord |= (verdict >> 1) << i;
                noWord |= (((verdict >> 1) | verdict) & 1 ^ 1) << i;
            }

            yes[start >> 6] = yesWord;
            no[start >> 6] = noWord;
        }

        return new Mask(codes.Length, yes, no);
    }

    public Mask And(Mask other) => new(Length, Combine(yes, other.yes, (a, b) => a & b), Combine(no, other.no, (a, b) => a | b));

    public Mask Or(Mask other) => new(Length, Combine(yes, other.yes, (a, b) => a | b), Combine(no, other.no, (a, b) => a & b));

    public Mask Not() => new(Length, no, yes);

    /// <summary>What surely holds counts as held, all else as not: what a list shows.</summary>
    public IEnumerable<int> Lines(Truth truth = Truth.Yes)
    {
        for (var at = 0; at < yes.Length; at++)
        {
            var word = truth switch { Truth.Yes => yes[at], Truth.No => no[at], _ => ~(yes[at] | no[at]) & Tail(at) };
            for (; word != 0; word &= word - 1)
            {
                yield return (at << 6) + BitOperations.TrailingZeroCount(word);
            }
        }
    }

    private ulong Tail(int at) => at < Length >> 6 ? ulong.MaxValue : (1UL << (Length & 63)) - 1;

    private static (ulong[] Yes, ulong[] No) Words(int length) => (new ulong[(length + 63) >> 6], new ulong[(length + 63) >> 6]);

    private static void Set(ulong[] yes, ulong[] no, int line, Truth verdict)
    {
        if (verdict != Truth.Unknown)
        {
            (verdict == Truth.Yes ? yes : no)[line >> 6] |= 1UL << (line & 63);
        }
    }

    private static ulong[] Combine(ulong[] a, ulong[] b, Func<ulong, ulong, ulong> with)
    {
        var combined = new ulong[a.Length];
        for (var i = 0; i < a.Length; i++)
        {
            combined[i] = with(a[i], b[i]);
        }

        return combined;
    }
}
