using System.Collections.Concurrent;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>Every attribute of all rows; the rows themselves are not kept. Immutable: a change makes a new version, which shares
/// what it did not change. One writer at a time.
/// </summary>
public sealed class KeptColumns<TLine> : Columns<TLine>
{
    private const int LinesAtHand = 256;
    private const int ColumnsTogether = 8;

    private readonly IReadOnlyDictionary<string, Column> columns;
    private readonly ConcurrentDictionary<string, TextIndex> indexes;

    private KeptColumns(
        AttributeList<TLine> attributes,
        int count,
        IReadOnlyDictionary<string, Column> columns,
        ConcurrentDictionary<string, TextIndex> indexes
    )
    {
        Attributes = attributes;
        Count = count;
        this.columns = columns;
        this.indexes = indexes;
    }

    public AttributeList<TLine> Attributes { get; }

    public override int Count { get; }

    public static KeptColumns<TLine> Empty(AttributeList<TLine> attributes) =>
        new(
            attributes,
            0,
            attributes.All.ToDictionary(attribute => attribute.Name, Columns<TLine>.Empty, StringComparer.OrdinalIgnoreCase),
            new(StringComparer.OrdinalIgnoreCase)
        );

    /// <summary>The columns as they were stored, in the sequence of the attributes.</summary>
    /// <exception cref="SnapshotError">They are incomplete.</exception>
    public static KeptColumns<TLine> Read(AttributeList<TLine> attributes, ISnapshotReader from, IElementCodecs elements)
    {
        var columns = attributes.All.ToDictionary(
            attribute => attribute.Name,
            attribute => Read(attribute, from, elements),
            StringComparer.OrdinalIgnoreCase
        );
        var count = columns.Values.First().Count;
        return columns.Values.All(column => column.Count == count)
            ? new(attributes, count, columns, new(StringComparer.OrdinalIgnoreCase))
            : throw new SnapshotError("The columns are not of one length.");
    }

    public void Write(ISnapshotWriter to, IElementCodecs elements)
    {
        foreach (var attribute in Attributes.All)
        {
            columns[attribute.Name].Write(to, elements);
        }
    }

    public override Column Of(Attribute<TLine> attribute) => columns[attribute.Name];

    public Column Of(string name) => columns[name];

    public Column<TValue> Of<TValue>(string name)
        where TValue : notnull => (Column<TValue>)columns[name];

    /// <summary>Other rows at some positions; positions after the last one are new, in sequence.</summary>
    public KeptColumns<TLine> With((int Place, TLine Line)[] changes) =>
        new(
            Attributes,
            changes.Aggregate(Count, (count, change) => Math.Max(count, change.Place + 1)),
            Changed(Attributes, changes).ToDictionary(StringComparer.OrdinalIgnoreCase),
            indexes
        );

    /// <summary>Other values of some attributes at some positions; all others stay.</summary>
    /// <param name="part">Attributes of the same names and types.</param>
    public KeptColumns<TLine> With<TPart>(AttributeList<TPart> part, (int Place, TPart Line)[] changes)
    {
        var changed = new Dictionary<string, Column>(columns, StringComparer.OrdinalIgnoreCase);
        foreach (var (name, column) in Changed(part, changes))
        {
            changed[name] = column;
        }

        return new(Attributes, Count, changed, indexes);
    }

    private IEnumerable<KeyValuePair<string, Column>> Changed<TPart>(
        AttributeList<TPart> attributes,
        (int Place, TPart Line)[] changes
    )
    {
        // Columns are independent, so large work runs in parallel. A row is a large object of which each column reads little:
        // several columns together process a few rows at a time, while these are in the cache.
        var changed = new Column[attributes.All.Count];
        Parallel.For(
            0,
            (changed.Length + ColumnsTogether - 1) / ColumnsTogether,
            new ParallelOptions { MaxDegreeOfParallelism = changes.Length <= LinesAtHand ? 1 : -1 },
            part =>
            {
                var first = part * ColumnsTogether;
                var together = attributes
                    .All.Skip(first)
                    .Take(ColumnsTogether)
                    .Select(attribute => Columns<TPart>.Changing(attribute, columns[attribute.Name]))
                    .ToArray();
                for (var from = 0; from < changes.Length; from += LinesAtHand)
                {
                    var few = changes.AsSpan(from, Math.Min(LinesAtHand, changes.Length - from));
                    foreach (var change in together)
                    {
                        change.Add(few);
                    }
                }

                for (var at = 0; at < together.Length; at++)
                {
                    changed[first + at] = together[at].End();
                }
            }
        );
        return attributes.All.Index().Select(pair => KeyValuePair.Create(pair.Item.Name, changed[pair.Index]));
    }

    private protected override Mask Texts(TextAttribute<TLine> text, Filters.Comparison comparison, string literal)
    {
        var column = As<string>(text);
        if (
            comparison is not (Filters.Comparison.Co or Filters.Comparison.Sw or Filters.Comparison.Ew or Filters.Comparison.Eq)
            || !TextIndex.Knows(literal)
        )
        {
            return base.Texts(text, comparison, literal);
        }

        // The index only narrows the candidates; it is made on first use and grows with the values.
        var index = indexes.AddOrUpdate(text.Name, _ => TextIndex.Of(column.Distinct), (_, known) => known.Upto(column.Distinct));
        return column.WhereAmong(index.Candidates(literal), Folding.Test(comparison, literal, text.IsExact));
    }
}
