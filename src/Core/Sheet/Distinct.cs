namespace AtticLedger.Core.Sheet;

/// <summary>
/// Values by their codes. It only grows, so all versions of a column share it: each sees the values up to its own count.
/// One writer at a time; readers hold a <see cref="Part"/>.
/// </summary>
internal sealed class Distinct<TValue>
    where TValue : notnull
{
    private readonly Dictionary<TValue, int> codeOf = [];
    private TValue[] values = new TValue[16];

    public int Count { get; private set; }

    /// <summary>The values there are now; those that come later do not show in it.</summary>
    public ArraySegment<TValue> Part => new(values, 0, Count);

    public int CodeOf(TValue value)
    {
        if (codeOf.TryGetValue(value, out var code))
        {
            return code;
        }

        if (Count == values.Length)
        {
            Array.Resize(ref values, Count * 2);
        }

        values[Count] = value;
        codeOf.Add(value, Count);
        return Count++;
    }
}
