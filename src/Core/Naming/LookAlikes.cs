using AnyAscii;

namespace AtticLedger.Core.Naming;

/// <summary>
/// Names that say the same once case, accents, punctuation and words that say nothing are dropped: what somebody who is
/// about to put away one of two sites has to be shown.
/// </summary>
public static class LookAlikes
{
    private static readonly HashSet<string> Noise = ["copy", "old", "new", "final", "test"];

    public static bool LookAlike(string one, string other) => Bare(one) is { Length: > 0 } bare && bare == Bare(other);

    /// <summary>What a name says; empty where it says nothing.</summary>
    public static string Bare(string name) => string.Join(' ', Words(name).Where(word => !Noise.Contains(word)));

    /// <summary>The words of a name without case, accents and punctuation.</summary>
    public static List<string> Words(string name)
    {
        // To ASCII by a library, so that accents and other scripts fold without the machine's own tables.
        var letters = name.Transliterate().ToLowerInvariant().Select(letter => char.IsAsciiLetterOrDigit(letter) ? letter : ' ');
        return [.. string.Concat(letters).Split(' ', StringSplitOptions.RemoveEmptyEntries)];
    }
}
