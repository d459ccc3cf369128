using AtticLedger.Core.Filters;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>One attribute of all rows: a code per row and the distinct values by code, including none and unknown. A comparison
/// judges each distinct value once and then only copies verdicts. Immutable; a change returns a new version.
/// </summary>
public abstract class Column
{
    // The number of unused values that are kept before the column is rebuilt.
    private const int SpareValues = 4096;

    private protected Column(Codes codes) => Codes = codes;

    private protected Codes Codes { get; }

    public int Count => Codes.Count;

    /// <summary>The number of distinct values, including those that no row has any more.</summary>
    public abstract int DistinctCount { get; }

    public abstract Mask IsPresent();

    /// <summary>The rows whose value is known for certain: no bounds between which it lies, no list that lacks elements.</summary>
    public abstract Mask IsCertain();

    /// <summary>For each code the rank of its value, equal values sharing one; none after all values, unknown last, in both
    /// directions.
    /// </summary>
    internal abstract int[] SortRanks(bool down);

    internal abstract int CodeAt(int line);

    /// <summary>The values in use, and the position of each row's value among them.</summary>
    internal abstract void Write(ISnapshotWriter to, IElementCodecs elements);

    private protected static bool HasTooManyUnused(int distinct, Codes codes) => distinct > SpareValues + (2 * codes.Count);

    /// <summary>The number of rows of a mask per code.</summary>
    private protected int[] CountsByCode(Mask over)
    {
        var counts = new int[DistinctCount];
        for (var start = 0; start < Codes.Count; start += Codes.BlockLength)
        {
            over.CountInto(counts, start, Codes.BlockAt(start));
        }

        return counts;
    }

    private protected Mask Judged(ReadOnlySpan<Truth> verdicts)
    {
        var mask = new MaskBuilder(Codes.Count);
        for (var start = 0; start < Codes.Count; start += Codes.BlockLength)
        {
            mask.Judge(start, Codes.BlockAt(start), verdicts);
        }

        return mask.Build();
    }
}

/// <summary>A new version of a column under construction: a few rows at a time, new rows in sequence.</summary>
internal abstract class ColumnChange<TLine>
{
    public abstract void Add(ReadOnlySpan<(int Place, TLine Line)> lines);

    public abstract Column End();
}

public sealed class Column<TValue> : Column
    where TValue : notnull
{
    private const int NotLooked = -2;

    private readonly Distinct<Known<TValue>> values;
    private readonly ArraySegment<Known<TValue>> distinct;
    private readonly IComparer<TValue> order;
    private readonly SnapshotCodec<Known<TValue>> codec;
    private Ranking ranking;

    // The code of "unknown", -1 if there is none; found on first use.
    private int unknown = NotLooked;

    private Column(
        Codes codes,
        Distinct<Known<TValue>> values,
        IComparer<TValue> order,
        Ranking ranking,
        SnapshotCodec<Known<TValue>> codec
    )
        : base(codes)
    {
        this.codec = codec;
        this.values = values;
        this.order = order;
        this.ranking = ranking;
        distinct = values.Part;
    }

    public static Column<TValue> Empty(SnapshotCodec<TValue> codec, IComparer<TValue>? order = null) =>
        new(
            Codes.None,
            new Distinct<Known<TValue>>(),
            order ?? Comparer<TValue>.Default,
            Ranking.None,
            SnapshotCodecs.Facts(codec)
        );

    public override int DistinctCount => distinct.Count;

    public Known<TValue> this[int line] => distinct[Codes[line]];

    /// <summary>A new version of the column, with the values read from some rows.</summary>
    internal ColumnChange<TLine> Changing<TLine>(Func<TLine, Known<TValue>> read) => new Change<TLine>(this, read);

    /// <summary>Judges the values; a comparison with none is false, "ne" true.</summary>
    public Mask Where(Comparison comparison, Func<TValue, Truth> holds) =>
        Judge(value =>
            value.Has(out var known) ? holds(known)
            : value.IsNone ? Truths.Of(comparison == Comparison.Ne)
            : Truth.Unknown
        );

    public override Mask IsPresent() => Judge(value => value.IsUnknown ? Truth.Unknown : Truths.Of(!value.IsNone));

    public override Mask IsCertain() =>
        Judge(value =>
            Truths.Of(
                !value.IsUnknown
                    && !(value.Has(out var known) && known is Span { AtLeast: var least, AtMost: var most } && least != most)
            )
        );

    /// <summary>The number of rows of a mask per value; values without rows are omitted.</summary>
    public IEnumerable<(Known<TValue> Value, int Count)> Counts(Mask over)
    {
        var counts = CountsByCode(over);
        return Enumerable.Range(0, counts.Length).Where(code => counts[code] > 0).Select(code => (distinct[code], counts[code]));
    }

    /// <summary>Judges only the values with the given codes; all others are false, except none and unknown.</summary>
    internal Mask WhereAmong(IEnumerable<int> codes, Func<TValue, bool> holds)
    {
        var verdicts = new Truth[distinct.Count];
        if (CodeOfUnknown is >= 0 and var unsaid)
        {
            verdicts[unsaid] = Truth.Unknown;
        }

        foreach (var code in codes)
        {
            if (code < verdicts.Length && distinct[code].Has(out var value) && holds(value))
            {
                verdicts[code] = Truth.Yes;
            }
        }

        return Judged(verdicts);
    }

    /// <summary>Compares by rank: the rank of the literal is looked up once, then only ranks are compared.</summary>
    internal Mask WhereInOrder(Comparison comparison, TValue literal)
    {
        var ranked = Ranked();
        var ranks = ranked.Ranks;
        var equals = ranked.First(code => !distinct[code].Has(out var value) || order.Compare(value, literal) >= 0);
        var greaters = ranked.First(code => !distinct[code].Has(out var value) || order.Compare(value, literal) > 0);
        var noValues = ranked.First(code => !distinct[code].Has(out _));
        var less = Truths.Of(comparison is Comparison.Lt or Comparison.Le or Comparison.Ne);
        var equal = Truths.Of(comparison is Comparison.Eq or Comparison.Le or Comparison.Ge);
        var greater = Truths.Of(comparison is Comparison.Gt or Comparison.Ge or Comparison.Ne);
        var none = Truths.Of(comparison == Comparison.Ne);
        var verdicts = new Truth[distinct.Count];
        for (var code = 0; code < verdicts.Length; code++)
        {
            var rank = ranks[code];
            verdicts[code] =
                rank < equals ? less
                : rank < greaters ? equal
                : rank < noValues ? greater
                : distinct[code].IsNone ? none
                : Truth.Unknown;
        }

        return Judged(verdicts);
    }

    /// <param name="empty">A column of the same kind.</param>
    internal static Column<TValue> Read(ISnapshotReader from, Column<TValue> empty)
    {
        var values = empty.codec.Read(from);
        return new Column<TValue>(
            Codes.Of(from.Numbers(), values.Length),
            new Distinct<Known<TValue>>(values),
            empty.order,
            Ranking.None,
            empty.codec
        );
    }

    internal override void Write(ISnapshotWriter to, IElementCodecs elements)
    {
        var (row, used) = Codes.Compacted(distinct.Count);
        codec.Write(to, [.. used.Select(code => distinct[code])]);
        to.Numbers(row);
    }

    internal ArraySegment<Known<TValue>> Distinct => distinct;

    internal override int CodeAt(int line) => Codes[line];

    internal override int[] SortRanks(bool down)
    {
        var ranks = Ranked().Ranks.ToArray();
        if (down)
        {
            var last = distinct.Select((value, code) => value.Has(out _) ? ranks[code] : -1).DefaultIfEmpty(-1).Max();
            for (var code = 0; code < ranks.Length; code++)
            {
                ranks[code] = ranks[code] <= last ? last - ranks[code] : ranks[code];
            }
        }

        return ranks;
    }

    private sealed class Change<TLine>(Column<TValue> before, Func<TLine, Known<TValue>> read) : ColumnChange<TLine>
    {
        private readonly Codes.Change codes = before.Codes.Changing();

        public override void Add(ReadOnlySpan<(int Place, TLine Line)> lines)
        {
            foreach (var (place, line) in lines)
            {
                codes[place] = before.values.CodeOf(read(line));
            }
        }

        public override Column End()
        {
            var after = codes.End();
            return HasTooManyUnused(before.values.Count, after)
                ? before.Rebuilt(after)
                : new Column<TValue>(after, before.values, before.order, before.ranking, before.codec);
        }
    }

    private Column<TValue> Rebuilt(Codes codes)
    {
        var fresh = new Distinct<Known<TValue>>();
        var old = values.Part;
        return new Column<TValue>(codes.Select(code => fresh.CodeOf(old[code])), fresh, order, Ranking.None, codec);
    }

    private int CodeOfUnknown
    {
        get
        {
            var code = Volatile.Read(ref unknown);
            if (code == NotLooked)
            {
                code = distinct.AsSpan().IndexOf(Known<TValue>.Unknown);
                Volatile.Write(ref unknown, code);
            }

            return code;
        }
    }

    private Ranking Ranked()
    {
        var known = Volatile.Read(ref ranking);
        if (known.Count != distinct.Count)
        {
            known = known.With(distinct, Comparer<Known<TValue>>.Create(InOrder));
            Volatile.Write(ref ranking, known);
        }

        return known;
    }

    private int InOrder(Known<TValue> a, Known<TValue> b) =>
        a.Has(out var one) && b.Has(out var other) ? order.Compare(one, other) : Classification(a).CompareTo(Classification(b));

    private static int Classification(Known<TValue> value) =>
        value.IsUnknown ? 2
        : value.IsNone ? 1
        : 0;

    private Mask Judge(Func<Known<TValue>, Truth> verdict)
    {
        var verdicts = new Truth[distinct.Count];
        for (var code = 0; code < verdicts.Length; code++)
        {
            verdicts[code] = verdict(distinct[code]);
        }

        return Judged(verdicts);
    }
}
