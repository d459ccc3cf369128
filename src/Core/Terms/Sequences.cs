namespace AtticLedger.Core.Terms;

/// <summary>Lists as values.</summary>
public static class Sequences
{
    /// <summary>True if both have the same elements in the same order.</summary>
    public static bool Same<T>(IReadOnlyList<T> one, IReadOnlyList<T> other) => one.SequenceEqual(other);
}
