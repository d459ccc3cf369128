namespace AtticLedger.Core.Register;

/// <summary>Values by code. It only grows, so all versions of a column share it: each sees the values up to its own count. One
/// writer at a time; readers hold a <see cref="Part"/>.
/// </summary>
internal sealed class Distinct<TValue>
    where TValue : notnull
{
    // Created when the first value is added: readers need none.
    private Dictionary<TValue, int>? codeOf;
    private TValue[] values;
    private int last;

    public Distinct(TValue[]? values = null)
    {
        this.values = values is { Length: > 0 } ? values : new TValue[16];
        Count = values?.Length ?? 0;
    }

    public int Count { get; private set; }

    /// <summary>The current values; later ones do not appear in it.</summary>
    public ArraySegment<TValue> Part => new(values, 0, Count);

    public int CodeOf(TValue value)
    {
        // Adjacent rows are often alike: most sites share a host, are in use and have the same readers.
        if (last < Count && EqualityComparer<TValue>.Default.Equals(values[last], value))
        {
            return last;
        }

        codeOf ??= Enumerable.Range(0, Count).ToDictionary(place => values[place]);
        if (codeOf.TryGetValue(value, out var code))
        {
            return last = code;
        }

        if (Count == values.Length)
        {
            Array.Resize(ref values, Count * 2);
        }

        values[Count] = value;
        codeOf.Add(value, Count);
        last = Count;
        return Count++;
    }
}
