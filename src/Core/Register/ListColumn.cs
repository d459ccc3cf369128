using System.Runtime.InteropServices;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>How the elements of lists are stored, by type.</summary>
public interface IElementCodecs
{
    SnapshotCodec<TElement> Of<TElement>()
        where TElement : notnull;
}

/// <summary>A list as the codes of its elements, and whether it is complete.</summary>
internal readonly record struct CodedList(int[] Elements, bool Complete)
{
    public bool Equals(CodedList other) => Complete == other.Complete && Elements.AsSpan().SequenceEqual(other.Elements);

    public override int GetHashCode()
    {
        var hash = new HashCode();
        hash.Add(Complete);
        hash.AddBytes(MemoryMarshal.AsBytes(Elements.AsSpan()));
        return hash.ToHashCode();
    }
}

/// <summary>A list per row. Equal elements are stored once with their attributes, and so are equal lists: most sites of a unit
/// have the same parent units, many the same owners.
/// </summary>
public sealed class ListColumn<TElement> : Column
    where TElement : notnull
{
    private readonly Distinct<TElement> values;
    private readonly Distinct<CodedList> lists;
    private readonly ArraySegment<TElement> elements;
    private readonly ArraySegment<CodedList> distinct;
    private ListIndex index;

    private ListColumn(
        Codes codes,
        Distinct<TElement> values,
        Distinct<CodedList> lists,
        KeptColumns<TElement> parts,
        ListIndex index
    )
        : base(codes)
    {
        this.index = index;
        this.values = values;
        this.lists = lists;
        Parts = parts;
        elements = values.Part;
        distinct = lists.Part;
    }

    public static ListColumn<TElement> Empty(AttributeList<TElement> parts) =>
        new(Codes.None, new(), new(), KeptColumns<TElement>.Empty(parts), ListIndex.None);

    /// <summary>The distinct elements as columns of their own.</summary>
    public KeptColumns<TElement> Parts { get; }

    internal static ListColumn<TElement> Read(ISnapshotReader from, SnapshotCodec<TElement> codec, AttributeList<TElement> parts)
    {
        var values = new Distinct<TElement>(codec.Read(from));
        var (ends, complete, elements) = (from.Numbers(), from.Numbers(), from.Numbers());
        if (
            ends.Length != complete.Length
            || (ends.Length > 0 && ends[^1] != elements.Length)
            || Array.Exists(elements, element => (uint)element >= (uint)values.Count)
        )
        {
            throw new SnapshotError("A list of elements is not whole.");
        }

        var lists = new CodedList[ends.Length];
        for (var at = 0; at < lists.Length; at++)
        {
            lists[at] = new CodedList(elements[(at == 0 ? 0 : ends[at - 1])..ends[at]], complete[at] != 0);
        }

        var empty = Empty(parts);
        return new ListColumn<TElement>(
            Codes.Of(from.Numbers(), lists.Length),
            values,
            new Distinct<CodedList>(lists),
            new ListColumn<TElement>(Codes.None, values, new(), empty.Parts, ListIndex.None).WithParts(),
            ListIndex.None
        );
    }

    internal override void Write(ISnapshotWriter to, IElementCodecs elements)
    {
        // Elements and lists that no row has any more are omitted.
        var (row, used) = Codes.Compacted(distinct.Count);
        var renamed = new Dictionary<int, int>();
        foreach (var element in used.SelectMany(code => distinct[code].Elements))
        {
            renamed.TryAdd(element, renamed.Count);
        }

        elements.Of<TElement>().Write(to, [.. renamed.Keys.Select(element => this.elements[element])]);
        var ends = new int[used.Count];
        for (var at = 0; at < ends.Length; at++)
        {
            ends[at] = (at == 0 ? 0 : ends[at - 1]) + distinct[used[at]].Elements.Length;
        }

        to.Numbers(ends);
        to.Numbers([.. used.Select(code => distinct[code].Complete ? 1 : 0)]);
        to.Numbers([.. used.SelectMany(code => distinct[code].Elements).Select(element => renamed[element])]);
        to.Numbers(row);
    }

    public override int DistinctCount => distinct.Count;

    public Listed<TElement> this[int line] =>
        new([.. distinct[Codes[line]].Elements.Select(code => elements[code])], distinct[Codes[line]].Complete);

    /// <summary>A new version of the column, with the lists read from some rows.</summary>
    internal ColumnChange<TLine> Changing<TLine>(Func<TLine, Listed<TElement>> read) => new Change<TLine>(this, read);

    /// <summary>An incomplete list is true if the element is found, otherwise it cannot tell.</summary>
    public Mask Any(Mask ofElements)
    {
        var known = Volatile.Read(ref index).Upto(distinct, elements.Count);
        Volatile.Write(ref index, known);
        return Judged(known.Any(distinct, ofElements));
    }

    public Mask Any(Func<TElement, bool> holds) => Any(Parts.Judge(place => Truths.Of(holds(elements[place]))));

    public override Mask IsCertain()
    {
        var verdicts = new Truth[distinct.Count];
        for (var code = 0; code < verdicts.Length; code++)
        {
            verdicts[code] = Truths.Of(distinct[code].Complete);
        }

        return Judged(verdicts);
    }

    public override Mask IsPresent() => Any(Mask.All(Parts.Count, Truth.Yes));

    /// <summary>The number of rows of a mask that contain each element.</summary>
    public IEnumerable<(TElement Element, int Count)> Counts(Mask over)
    {
        var counts = new int[elements.Count];
        var byList = CountsByCode(over);
        for (var code = 0; code < byList.Length; code++)
        {
            if (byList[code] > 0)
            {
                // An element that occurs twice in a list counts once.
                foreach (var element in distinct[code].Elements.Distinct())
                {
                    counts[element] += byList[code];
                }
            }
        }

        return Enumerable.Range(0, counts.Length).Where(code => counts[code] > 0).Select(code => (elements[code], counts[code]));
    }

    /// <summary>The number of rows of a mask per key of their elements; a row counts once for a key.</summary>
    public IEnumerable<(string Key, int Count)> CountsBy(Func<int, string?> keyOfElement, Mask over)
    {
        var keys = Enumerable.Range(0, elements.Count).Select(keyOfElement).ToArray();
        var counts = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        var byList = CountsByCode(over);
        for (var code = 0; code < byList.Length; code++)
        {
            if (byList[code] > 0)
            {
                foreach (
                    var key in distinct[code]
                        .Elements.Select(element => keys[element])
                        .OfType<string>()
                        .Distinct(StringComparer.OrdinalIgnoreCase)
                )
                {
                    counts[key] = counts.GetValueOrDefault(key) + byList[code];
                }
            }
        }

        return counts.Select(pair => (pair.Key, pair.Value));
    }

    internal override int CodeAt(int line) => Codes[line];

    internal override int[] SortRanks(bool down) => throw new InvalidOperationException("A list has no order.");

    private sealed class Change<TLine>(ListColumn<TElement> before, Func<TLine, Listed<TElement>> read) : ColumnChange<TLine>
    {
        private readonly Codes.Change codes = before.Codes.Changing();

        public override void Add(ReadOnlySpan<(int Place, TLine Line)> lines)
        {
            foreach (var (place, line) in lines)
            {
                codes[place] = before.lists.CodeOf(Coded(read(line)));
            }
        }

        public override Column End()
        {
            var after = codes.End();
            return HasTooManyUnused(before.lists.Count, after)
                ? before.Rebuilt(after)
                : new ListColumn<TElement>(
                    after,
                    before.values,
                    before.lists,
                    before.WithParts(),
                    Volatile.Read(ref before.index)
                );
        }

        private CodedList Coded(Listed<TElement> listed)
        {
            int[] elements = listed.Items.Count == 0 ? [] : new int[listed.Items.Count];
            for (var at = 0; at < elements.Length; at++)
            {
                elements[at] = before.values.CodeOf(listed.Items[at]);
            }

            return new CodedList(elements, listed.Complete);
        }
    }

    private KeptColumns<TElement> WithParts()
    {
        var known = Parts.Count;
        var part = values.Part;
        return part.Count == known
            ? Parts
            : Parts.With([.. Enumerable.Range(known, part.Count - known).Select(place => (place, part[place]))]);
    }

    private ListColumn<TElement> Rebuilt(Codes codes)
    {
        var fresh = Empty(Parts.Attributes);
        var (old, oldElements) = (lists.Part, values.Part);
        var renamed = codes.Select(code =>
            fresh.lists.CodeOf(
                new CodedList(
                    [.. old[code].Elements.Select(element => fresh.values.CodeOf(oldElements[element]))],
                    old[code].Complete
                )
            )
        );
        return new ListColumn<TElement>(renamed, fresh.values, fresh.lists, fresh.WithParts(), ListIndex.None);
    }
}
