namespace AtticLedger.Core.Sheet;

/// <summary>
/// Values by their codes. It only grows, so all versions of a column share it: each sees the values up to its own count.
/// One writer at a time; readers hold a <see cref="Part"/>.
/// </summary>
internal sealed class Distinct<TValue>
    where TValue : notnull
{
    // Made when the first value is added: whoever only reads needs none.
    private Dictionary<TValue, int>? codeOf;
    private TValue[] values;
    private int last;

    public Distinct(TValue[]? values = null)
    {
        this.values = values is { Length: > 0 } ? values : new TValue[16];
        Count = values?.Length ?? 0;
    }

    public int Count { get; private set; }

    /// <summary>The values there are now; those that come later do not show in it.</summary>
    public ArraySegment<TValue> Part => new(values, 0, Count);

    public int CodeOf(TValue value)
    {
        // Neighbours are often alike: most sites are of one host, in use, seen by the same.
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
