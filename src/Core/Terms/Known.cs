using System.Diagnostics.CodeAnalysis;

namespace AtticLedger.Core.Terms;

/// <summary>
/// A fact: a <em>value</em>, <em>none</em> (known to be empty) or <em>unknown</em> (no source reported it).
/// <c>default</c> is unknown, so a forgotten fact never reads as empty.
/// </summary>
public readonly record struct Known<T>
    where T : notnull
{
    private enum State : byte
    {
        Unknown,
        None,
        Value,
    }

    private readonly State state;
    private readonly T? value;

    private Known(State state, T? value)
    {
        this.state = state;
        this.value = value;
    }

    public static Known<T> Unknown => default;

    public static Known<T> None => new(State.None, default);

    public static Known<T> Of(T value) => new(State.Value, value);

    public bool IsUnknown => state == State.Unknown;

    public bool IsNone => state == State.None;

    public bool Has([MaybeNullWhen(false)] out T found)
    {
        found = value;
        return state == State.Value;
    }

    /// <summary>The value, or <paramref name="otherwise"/> where the fact is none or unknown.</summary>
    public T Or(T otherwise) => state == State.Value ? value! : otherwise;

    public Known<TOther> Select<TOther>(Func<T, TOther> map)
        where TOther : notnull =>
        state switch
        {
            State.Value => Known<TOther>.Of(map(value!)),
            State.None => Known<TOther>.None,
            _ => Known<TOther>.Unknown,
        };

    public override string ToString() =>
        state switch
        {
            State.Value => value!.ToString() ?? "",
            State.None => "none",
            _ => "unknown",
        };
}

public static class Known
{
    public static Known<T> Of<T>(T value)
        where T : notnull => Known<T>.Of(value);

    /// <summary>The empty text is none: a source that reports "" reports that there is no value.</summary>
    public static Known<string> Text(string? said) =>
        string.IsNullOrWhiteSpace(said) ? Known<string>.None : Known<string>.Of(said);
}
