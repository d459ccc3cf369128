using System.Collections;
using System.Runtime.CompilerServices;

namespace AtticLedger.Core.Terms;

/// <summary>A list that is a value: two are equal if they have equal elements in the same order. A record that has one needs no
/// equality of its own.
/// </summary>
/// <example><c>ValueList&lt;string&gt; words = ["open", "shut"];</c></example>
[CollectionBuilder(typeof(ValueList), nameof(ValueList.Of))]
public sealed class ValueList<T> : IReadOnlyList<T>, IEquatable<ValueList<T>>
{
    private readonly T[] elements;

    internal ValueList(ReadOnlySpan<T> elements) => this.elements = elements.ToArray();

    public static ValueList<T> Empty { get; } = new([]);

    public int Count => elements.Length;

    public T this[int index] => elements[index];

    public bool Equals(ValueList<T>? other) =>
        ReferenceEquals(this, other) || (other is not null && elements.AsSpan().SequenceEqual(other.elements));

    public override bool Equals(object? obj) => Equals(obj as ValueList<T>);

    public override int GetHashCode()
    {
        var hash = new HashCode();
        foreach (var element in elements)
        {
            hash.Add(element);
        }

        return hash.ToHashCode();
    }

    public IEnumerator<T> GetEnumerator() => ((IEnumerable<T>)elements).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => elements.GetEnumerator();
}

/// <summary>Lists as values.</summary>
public static class ValueList
{
    public static ValueList<T> Of<T>(ReadOnlySpan<T> elements) => elements.Length == 0 ? ValueList<T>.Empty : new(elements);

    /// <summary>True if both have the same elements in the same order.</summary>
    public static bool Same<T>(IReadOnlyList<T> one, IReadOnlyList<T> other) => one.SequenceEqual(other);
}
