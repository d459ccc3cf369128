using AtticLedger.Core.Filters;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>
/// One attribute of all lines: a code for each line and a dictionary of the distinct values. A comparison judges each
/// distinct value once and then only copies verdicts.
/// </summary>
public abstract class Column
{
    private protected Column(int[] codes) => Codes = codes;

    private protected int[] Codes { get; }

    public abstract Mask IsPresent();

    /// <summary>For each line the place of its value in the order of values; none after all values, unknown last.</summary>
    public abstract int[] Ranks();
}

public sealed class Column<TValue> : Column
    where TValue : notnull
{
    private readonly Known<TValue>[] distinct;
    private readonly IComparer<TValue> order;

    private Column(int[] codes, Known<TValue>[] distinct, IComparer<TValue> order)
        : base(codes)
    {
        this.distinct = distinct;
        this.order = order;
    }

    public static Column<TValue> Of<TLine>(IReadOnlyList<TLine> lines, Func<TLine, Known<TValue>> read, IComparer<TValue>? order = null)
    {
        var codes = new int[lines.Count];
        var codeOf = new Dictionary<Known<TValue>, int>();
        var distinct = new List<Known<TValue>>();
        for (var line = 0; line < codes.Length; line++)
        {
            var value = read(lines[line]);
            if (!codeOf.TryGetValue(value, out var code))
            {
                code = distinct.Count;
                codeOf.Add(value, code);
                distinct.Add(value);
            }

            codes[line] = code;
        }

        return new Column<TValue>(codes, [.. distinct], order ?? Comparer<TValue>.Default);
    }

    public Known<TValue> this[int line] => distinct[Codes[line]];

    /// <summary>Judges the values; comparing none is false, and "ne" true.</summary>
    public Mask Where(Comparison comparison, Func<TValue, Truth> holds) =>
        Judge(value =>
            value.Has(out var known) ? holds(known)
            : value.IsNone ? Truths.Of(comparison == Comparison.Ne)
            : Truth.Unknown);

    public override Mask IsPresent() =>
        Judge(value => value.IsUnknown ? Truth.Unknown : Truths.Of(!value.IsNone));

    public override int[] Ranks()
    {
        var sorted = Enumerable.Range(0, distinct.Length)
            .OrderBy(code => distinct[code].IsUnknown ? 2 : distinct[code].IsNone ? 1 : 0)
            .ThenBy(code => distinct[code].Or(default!), Comparer<TValue>.Create((a, b) => a is null || b is null ? 0 : order.Compare(a, b)))
            .ToArray();
        var rankOf = new int[distinct.Length];
        for (var rank = 0; rank < sorted.Length; rank++)
        {
            rankOf[sorted[rank]] = rank;
        }

        return Array.ConvertAll(Codes, code => rankOf[code]);
    }

    private Mask Judge(Func<Known<TValue>, Truth> verdict) => Mask.Of(Codes, Array.ConvertAll(distinct, value => verdict(value)));
}
