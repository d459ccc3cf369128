using System.Collections.Concurrent;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>
/// Lines as columns, each made when first asked for and then kept. The one evaluator of filters: "just one site" is a
/// sheet of one line. Safe for concurrent use.
/// </summary>
public sealed class Columns<TLine>(IReadOnlyList<TLine> lines)
{
    private readonly ConcurrentDictionary<string, object> made = new();

    public int Count => lines.Count;

    public Mask Evaluate(Filter<TLine> filter) =>
        filter switch
        {
            Filter<TLine>.And(var left, var right) => Evaluate(left).And(Evaluate(right)),
            Filter<TLine>.Or(var left, var right) => Evaluate(left).Or(Evaluate(right)),
            Filter<TLine>.Not(var inner) => Evaluate(inner).Not(),
            Filter<TLine>.Present(ListAttribute<TLine> list) => list.Accept(new AnyAtAll(this)),
            Filter<TLine>.Present(var attribute) => Of(attribute).IsPresent(),
            Filter<TLine>.AnyElement any => any.Accept(new AnySuch(this)),
            Filter<TLine>.Text(var text, var comparison, var literal) =>
                Texts(text).Where(comparison, value => Truths.Of(Folding.Holds(comparison, value, literal, text.IsExact))),
            Filter<TLine>.Word(var word, var comparison, var rank) =>
                Spans(word.Name, word.Read).Where(comparison, span => rank is { } known ? Compared(span, comparison, known) : Truth.Unknown),
            Filter<TLine>.Number(var number, var comparison, var literal) =>
                Spans(number.Name, number.Read).Where(comparison, span => Compared(span, comparison, literal)),
            Filter<TLine>.Moment(var moment, var comparison, var literal) =>
                Moments(moment).Where(comparison, instant => Truths.Of(Holds(instant.CompareTo(literal), comparison))),
            Filter<TLine>.Flag(var flag, var comparison, var literal) =>
                Flags(flag).Where(comparison, value => Truths.Of((value == literal) == (comparison == Comparison.Eq))),
            _ => throw new InvalidOperationException("Every kind of filter is evaluated above."),
        };

    /// <summary>The column of an attribute that is not a list.</summary>
    public Column Of(Attribute<TLine> attribute) =>
        attribute switch
        {
            TextAttribute<TLine> text => Texts(text),
            WordAttribute<TLine> word => Spans(word.Name, word.Read),
            NumberAttribute<TLine> number => Spans(number.Name, number.Read),
            MomentAttribute<TLine> moment => Moments(moment),
            TruthAttribute<TLine> flag => Flags(flag),
            _ => throw new InvalidOperationException($"\"{attribute.Name}\" is a list and has no column of its own."),
        };

    /// <summary>A comparison with a value known between bounds holds where it holds for all of them, and fails where for none.</summary>
    public static Truth Compared(Span span, Comparison comparison, decimal literal) =>
        comparison switch
        {
            Comparison.Eq => Truths.Between(
                span.AtLeast == literal && span.AtMost == literal,
                span.AtLeast <= literal && span.AtMost >= literal && literal == decimal.Truncate(literal)),
            Comparison.Ne => Compared(span, Comparison.Eq, literal).Not(),
            Comparison.Gt => Truths.Between(span.AtLeast > literal, span.AtMost > literal),
            Comparison.Ge => Truths.Between(span.AtLeast >= literal, span.AtMost >= literal),
            Comparison.Lt => Compared(span, Comparison.Ge, literal).Not(),
            _ => Compared(span, Comparison.Gt, literal).Not(),
        };

    private static bool Holds(int order, Comparison comparison) =>
        comparison switch
        {
            Comparison.Eq => order == 0,
            Comparison.Ne => order != 0,
            Comparison.Gt => order > 0,
            Comparison.Ge => order >= 0,
            Comparison.Lt => order < 0,
            _ => order <= 0,
        };

    private Column<string> Texts(TextAttribute<TLine> text) =>
        Made(text.Name, () => Column<string>.Of(lines, line => text.Read(line) is var said && said.Has(out var value) && value.Length == 0 ? Known<string>.None : said, StringComparer.OrdinalIgnoreCase));

    private Column<Span> Spans(string name, Func<TLine, Known<Span>> read) =>
        Made(name, () => Column<Span>.Of(lines, read, Comparer<Span>.Create((a, b) => (a.AtLeast, a.AtMost).CompareTo((b.AtLeast, b.AtMost)))));

    private Column<DateTimeOffset> Moments(MomentAttribute<TLine> moment) => Made(moment.Name, () => Column<DateTimeOffset>.Of(lines, moment.Read));

    private Column<bool> Flags(TruthAttribute<TLine> flag) =>
        Made(flag.Name, () => Column<bool>.Of(lines, line => flag.Read(line) is var truth && truth == Truth.Unknown ? Known<bool>.Unknown : Known.Of(truth == Truth.Yes)));

    private ListColumn<TElement> Lists<TElement>(ListAttribute<TLine, TElement> list) => Made(list.Name, () => ListColumn<TElement>.Of(lines, list.Read));

    private TColumn Made<TColumn>(string name, Func<TColumn> make)
        where TColumn : class => (TColumn)made.GetOrAdd(name, _ => make());

    private sealed class AnySuch(Columns<TLine> columns) : IAnyElementVisitor<TLine, Mask>
    {
        public Mask Visit<TElement>(Filter<TLine>.AnyElement<TElement> any)
        {
            var list = columns.Lists(any.List);
            return list.Any(list.Elements.Evaluate(any.Inner));
        }
    }

    private sealed class AnyAtAll(Columns<TLine> columns) : IListVisitor<TLine, Mask>
    {
        public Mask Visit<TElement>(ListAttribute<TLine, TElement> list)
        {
            var column = columns.Lists(list);
            return column.Any(Mask.All(column.Elements.Count, Truth.Yes));
        }
    }
}

/// <summary>A list of each line: the elements of all lines one after the other, and where each line's begin.</summary>
internal sealed class ListColumn<TElement>
{
    private readonly int[] starts;
    private readonly bool[] complete;

    private ListColumn(int[] starts, bool[] complete, Columns<TElement> elements)
    {
        this.starts = starts;
        this.complete = complete;
        Elements = elements;
    }

    public Columns<TElement> Elements { get; }

    public static ListColumn<TElement> Of<TLine>(IReadOnlyList<TLine> lines, Func<TLine, Listed<TElement>> read)
    {
        var starts = new int[lines.Count + 1];
        var complete = new bool[lines.Count];
        var elements = new List<TElement>();
        for (var line = 0; line < lines.Count; line++)
        {
            var listed = read(lines[line]);
            elements.AddRange(listed.Items);
            complete[line] = listed.Complete;
            starts[line + 1] = elements.Count;
        }

        return new ListColumn<TElement>(starts, complete, new Columns<TElement>(elements));
    }

    /// <summary>An incomplete list answers yes where the element is found, else cannot tell.</summary>
    public Mask Any(Mask ofElements) =>
        Mask.Of(complete.Length, line =>
        {
            var found = complete[line] ? Truth.No : Truth.Unknown;
            for (var element = starts[line]; element < starts[line + 1] && found != Truth.Yes; element++)
            {
                found = found.Or(ofElements[element]);
            }

            return found;
        });
}
