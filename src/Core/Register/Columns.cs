using AtticLedger.Core.Filters;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>Rows as columns, one per attribute: the only evaluator of filters. "Just one site" is an index of one row. Safe for
/// concurrent use.
/// </summary>
public abstract class Columns<TLine>
{
    public abstract int Count { get; }

    /// <summary>The column of an attribute.</summary>
    public abstract Column Of(Attribute<TLine> attribute);

    public Mask Evaluate(Filter<TLine> filter) =>
        filter switch
        {
            Filter<TLine>.And(var left, var right) => Evaluate(left).And(Evaluate(right)),
            Filter<TLine>.Or(var left, var right) => Evaluate(left).Or(Evaluate(right)),
            Filter<TLine>.Not(var inner) => Evaluate(inner).Not(),
            Filter<TLine>.Present(var attribute) => Of(attribute).IsPresent(),
            Filter<TLine>.AnyElement any => any.Accept(new AnySuch(this)),
            Filter<TLine>.Text(var text, var comparison, var literal) => Texts(text, comparison, literal),
            Filter<TLine>.Word(var word, var comparison, var rank) => As<Span>(word)
                .Where(comparison, span => rank is { } known ? Compared(span, comparison, known) : Truth.Unknown),
            Filter<TLine>.Number(var number, var comparison, var literal) => As<Span>(number)
                .Where(comparison, span => Compared(span, comparison, literal)),
            Filter<TLine>.Moment(var moment, var comparison, var literal) => As<DateTimeOffset>(moment)
                .WhereInOrder(comparison, literal),
            Filter<TLine>.Flag(var flag, var comparison, var literal) => As<bool>(flag)
                .Where(comparison, value => Truths.Of((value == literal) == (comparison == Comparison.Eq))),
            _ => throw new InvalidOperationException("Every kind of filter is evaluated above."),
        };

    /// <summary>A verdict for each row by its position.</summary>
    public Mask Judge(Func<int, Truth> verdict)
    {
        var mask = new MaskBuilder(Count);
        ReadOnlySpan<Truth> words = [Truth.No, Truth.Unknown, Truth.Yes];
        Span<int> block = stackalloc int[Codes.BlockLength];
        for (var start = 0; start < Count; start += Codes.BlockLength)
        {
            var length = Math.Min(Codes.BlockLength, Count - start);
            for (var i = 0; i < length; i++)
            {
                block[i] = (int)verdict(start + i);
            }

            mask.Judge(start, block[..length], words);
        }

        return mask.Build();
    }

    /// <summary>A comparison with a value known as bounds is true if true for all values between them, and false if true for
    /// none.</summary>
    public static Truth Compared(Span span, Comparison comparison, decimal literal) =>
        comparison switch
        {
            Comparison.Eq => Truths.Between(
                span.AtLeast == literal && span.AtMost == literal,
                span.AtLeast <= literal && span.AtMost >= literal && literal == decimal.Truncate(literal)
            ),
            Comparison.Ne => Compared(span, Comparison.Eq, literal).Not(),
            Comparison.Gt => Truths.Between(span.AtLeast > literal, span.AtMost > literal),
            Comparison.Ge => Truths.Between(span.AtLeast >= literal, span.AtMost >= literal),
            Comparison.Lt => Compared(span, Comparison.Ge, literal).Not(),
            _ => Compared(span, Comparison.Gt, literal).Not(),
        };

    internal Column<TValue> As<TValue>(Attribute<TLine> attribute)
        where TValue : notnull => (Column<TValue>)Of(attribute);

    /// <summary>A column without rows, to which <see cref="Changing"/> adds.</summary>
    internal static Column Empty(Attribute<TLine> attribute) =>
        attribute switch
        {
            TextAttribute<TLine> => Column<string>.Empty(SnapshotCodecs.Text, StringComparer.OrdinalIgnoreCase),
            WordAttribute<TLine> or NumberAttribute<TLine> => Column<Span>.Empty(
                Spans,
                Comparer<Span>.Create((a, b) => (a.AtLeast, a.AtMost).CompareTo((b.AtLeast, b.AtMost)))
            ),
            MomentAttribute<TLine> => Column<DateTimeOffset>.Empty(SnapshotCodecs.Moment),
            TruthAttribute<TLine> => Column<bool>.Empty(SnapshotCodecs.Flag),
            ListAttribute<TLine> list => list.Accept(new Emptied()),
            _ => throw new InvalidOperationException("Every kind of attribute has a column above."),
        };

    /// <summary>A column as it was stored.</summary>
    internal static Column Read(Attribute<TLine> attribute, ISnapshotReader from, IElementCodecs elements) =>
        Empty(attribute) switch
        {
            Column<string> column => Column<string>.Read(from, column),
            Column<Span> column => Column<Span>.Read(from, column),
            Column<DateTimeOffset> column => Column<DateTimeOffset>.Read(from, column),
            Column<bool> column => Column<bool>.Read(from, column),
            _ => ((ListAttribute<TLine>)attribute).Accept(new WasWritten(from, elements)),
        };

    /// <summary>A column of an attribute, with the values read from some rows.</summary>
    internal static ColumnChange<TLine> Changing(Attribute<TLine> attribute, Column column) =>
        attribute switch
        {
            TextAttribute<TLine> text => ((Column<string>)column).Changing<TLine>(text.TextOf),
            WordAttribute<TLine> word => ((Column<Span>)column).Changing(word.Read),
            NumberAttribute<TLine> number => ((Column<Span>)column).Changing(number.Read),
            MomentAttribute<TLine> moment => ((Column<DateTimeOffset>)column).Changing(moment.Read),
            TruthAttribute<TLine> flag => ((Column<bool>)column).Changing<TLine>(line =>
                flag.IsNone?.Invoke(line) == true ? Known<bool>.None
                : flag.Read(line) is var truth && truth == Truth.Unknown ? Known<bool>.Unknown
                : Known.Of(truth == Truth.Yes)
            ),
            ListAttribute<TLine> list => list.Accept(new Changed(column)),
            _ => throw new InvalidOperationException("Every kind of attribute has a column above."),
        };

    /// <summary>Text that can be in an index is looked up there; otherwise each distinct value is judged.</summary>
    private protected virtual Mask Texts(TextAttribute<TLine> text, Comparison comparison, string literal)
    {
        var test = Folding.Test(comparison, literal, text.IsExact);
        return As<string>(text).Where(comparison, value => Truths.Of(test(value)));
    }

    private sealed class AnySuch(Columns<TLine> columns) : IAnyElementVisitor<TLine, Mask>
    {
        public Mask Visit<TElement>(Filter<TLine>.AnyElement<TElement> any)
            where TElement : notnull
        {
            var list = (ListColumn<TElement>)columns.Of(any.List);
            return list.Any(list.Parts.Evaluate(any.Inner));
        }
    }

    private static SnapshotCodec<Span> Spans { get; } =
        SnapshotCodec<Span>.Of(
            (to, spans) =>
            {
                to.Longs([.. spans.Select(span => span.AtLeast)]);
                to.Longs([.. spans.Select(span => span.AtMost)]);
            },
            from => [.. from.Longs().Zip(from.Longs(), (least, most) => new Span(least, most))]
        );

    private sealed class WasWritten(ISnapshotReader from, IElementCodecs elements) : IListVisitor<TLine, Column>
    {
        public Column Visit<TElement>(ListAttribute<TLine, TElement> list)
            where TElement : notnull => ListColumn<TElement>.Read(from, elements.Of<TElement>(), list.Elements);
    }

    private sealed class Emptied : IListVisitor<TLine, Column>
    {
        public Column Visit<TElement>(ListAttribute<TLine, TElement> list)
            where TElement : notnull => ListColumn<TElement>.Empty(list.Elements);
    }

    private sealed class Changed(Column column) : IListVisitor<TLine, ColumnChange<TLine>>
    {
        public ColumnChange<TLine> Visit<TElement>(ListAttribute<TLine, TElement> list)
            where TElement : notnull => ((ListColumn<TElement>)column).Changing(list.Read);
    }
}
