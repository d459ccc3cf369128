using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>
/// Which values may hold a text: for every three characters in a row, case folded, the codes of the values that have
/// them. Immutable but for values added at the end, which stand in a list of their own until there are too many.
/// </summary>
internal sealed class TextIndex
{
    private const int Gram = 3;
    private const int MostLoose = 2048;

    private readonly ArraySegment<Known<string>> first;
    private readonly ulong[] grams;
    private readonly int[] starts;
    private readonly int[] codes;
    private readonly int upto;

    private TextIndex(ArraySegment<Known<string>> values, ulong[] grams, int[] starts, int[] codes, int upto)
    {
        first = values;
        this.grams = grams;
        this.starts = starts;
        this.codes = codes;
        this.upto = upto;
    }

    /// <summary>Whether a text is long enough to be looked up.</summary>
    public static bool Knows(string text) => text.Length >= Gram;

    public static TextIndex Of(ArraySegment<Known<string>> values)
    {
        var pairs = new List<(ulong Gram, int Code)>(values.Count * 16);
        for (var code = 0; code < values.Count; code++)
        {
            if (values[code].Has(out var value))
            {
                foreach (var gram in Grams(value))
                {
                    pairs.Add((gram, code));
                }
            }
        }

        pairs.Sort();
        var grams = new List<ulong>();
        var starts = new List<int>();
        var codes = new List<int>(pairs.Count);
        for (var i = 0; i < pairs.Count; i++)
        {
            if (i > 0 && pairs[i] == pairs[i - 1])
            {
                continue;
            }

            if (i == 0 || pairs[i].Gram != pairs[i - 1].Gram)
            {
                grams.Add(pairs[i].Gram);
                starts.Add(codes.Count);
            }

            codes.Add(pairs[i].Code);
        }

        starts.Add(codes.Count);
        return new TextIndex(values, [.. grams], [.. starts], [.. codes], values.Count);
    }

    /// <summary>The index for as many values and perhaps more: values are only ever added, unless the column was made anew.</summary>
    public TextIndex Upto(ArraySegment<Known<string>> values) =>
        IsOf(values)
            ? (
                values.Count <= upto ? this
                : values.Count - first.Count <= MostLoose ? new TextIndex(first, grams, starts, codes, values.Count)
                : Of(values)
            )
            : Of(values);

    /// <summary>The codes of the values that may hold a text; those that surely do not are left out.</summary>
    public IEnumerable<int> Candidates(string text)
    {
        var postings = new List<ArraySegment<int>>();
        foreach (var gram in Grams(text).Distinct())
        {
            var at = Array.BinarySearch(grams, gram);
            postings.Add(
                at < 0 ? ArraySegment<int>.Empty : new ArraySegment<int>(codes, starts[at], starts[at + 1] - starts[at])
            );
        }

        postings.Sort((a, b) => a.Count.CompareTo(b.Count));
        var shared = postings[0];
        foreach (var posting in postings.Skip(1).Take(2))
        {
            shared = Shared(shared, posting);
        }

        return shared.Concat(Enumerable.Range(first.Count, upto - first.Count));
    }

    private static int[] Shared(ReadOnlySpan<int> few, ReadOnlySpan<int> many)
    {
        var shared = new List<int>(few.Length);
        foreach (var code in few)
        {
            many = many[Before(many, code)..];
            if (many.Length > 0 && many[0] == code)
            {
                shared.Add(code);
            }
        }

        return [.. shared];
    }

    // How many codes are less than one: a search that widens from the start, for the next is mostly near.
    private static int Before(ReadOnlySpan<int> sorted, int code)
    {
        var reach = 1;
        while (reach < sorted.Length && sorted[reach] < code)
        {
            reach *= 2;
        }

        var at = sorted[..Math.Min(reach + 1, sorted.Length)].BinarySearch(code);
        return at < 0 ? ~at : at;
    }

    // One growing list has the same first values in the same or a grown array; an older version of it has fewer.
    private bool IsOf(ArraySegment<Known<string>> values)
    {
        var shared = Math.Min(values.Count, first.Count);
        return ReferenceEquals(values.Array, first.Array) || values.AsSpan(0, shared).SequenceEqual(first.AsSpan(0, shared));
    }

    private static IEnumerable<ulong> Grams(string text)
    {
        // The fold of a comparison without case; it keeps the length.
        var folded = text.ToUpperInvariant();
        for (var at = 0; at + Gram <= folded.Length; at++)
        {
            yield return ((ulong)folded[at] << 32) | ((ulong)folded[at + 1] << 16) | folded[at + 2];
        }
    }
}
