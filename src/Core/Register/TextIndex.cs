using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>Finds the values that can contain a text: for every three adjacent characters, case folded, the codes of the values
/// that contain them. Immutable except for values added at the end, which are in a list of their own until there are too many.
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

    /// <summary>True if a text is long enough for the index.</summary>
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

    /// <summary>The index for at least this number of values: values are only added, unless the column was rebuilt.</summary>
    public TextIndex Upto(ArraySegment<Known<string>> values) =>
        IsOf(values)
            ? (
                values.Count <= upto ? this
                : values.Count - first.Count <= MostLoose ? new TextIndex(first, grams, starts, codes, values.Count)
                : Of(values)
            )
            : Of(values);

    /// <summary>The codes of the values that can contain a text.</summary>
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

    // The number of codes below a code: a search that widens from the start, because the next is usually near.
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

    // A growing list keeps its first values in the same or a larger array; an older version has fewer.
    private bool IsOf(ArraySegment<Known<string>> values)
    {
        var shared = Math.Min(values.Count, first.Count);
        return ReferenceEquals(values.Array, first.Array) || values.AsSpan(0, shared).SequenceEqual(first.AsSpan(0, shared));
    }

    private static IEnumerable<ulong> Grams(string text)
    {
        // The case folding of a comparison; it keeps the length.
        var folded = text.ToUpperInvariant();
        for (var at = 0; at + Gram <= folded.Length; at++)
        {
            yield return ((ulong)folded[at] << 32) | ((ulong)folded[at + 1] << 16) | folded[at + 2];
        }
    }
}
