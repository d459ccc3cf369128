namespace AtticLedger.Core.Terms;

/// <summary>A value known only between two bounds, both included; a value that is known has equal bounds.</summary>
public readonly record struct Span(long AtLeast, long AtMost)
{
    public static Span Exactly(long value) => new(value, value);

    /// <summary>The narrowest span that has both in it.</summary>
    public static Span Hull(Span one, Span other) =>
        new(Math.Min(one.AtLeast, other.AtLeast), Math.Max(one.AtMost, other.AtMost));
}
