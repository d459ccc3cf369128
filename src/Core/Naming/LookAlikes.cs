using System.Text;
using AnyAscii;

namespace AtticLedger.Core.Naming;

/// <summary>Names that are equal without case, accents, punctuation and filler words: shown to a person who is about to move one
/// of two such sites to the attic.
/// </summary>
public static class LookAlikes
{
    private static readonly HashSet<string> Noise = ["copy", "old", "new", "final", "test"];

    public static bool LookAlike(string one, string other) => Bare(one) is { Length: > 0 } bare && bare == Bare(other);

    /// <summary>The meaning of a name; empty if it has none.</summary>
    public static string Bare(string name) => string.Join(' ', Words(name).Where(word => !Noise.Contains(word)));

    /// <summary>The words of a name without case, accents and punctuation.</summary>
    public static List<string> Words(string name)
    {
        // Converted to ASCII by a library, so that accents and other scripts fold independently of the machine.
        var ascii = Ascii.IsValid(name) ? name : name.Transliterate();
        var words = new List<string>();
        for (int at = 0, from = 0; at <= ascii.Length; at++)
        {
            if (at < ascii.Length && char.IsAsciiLetterOrDigit(ascii[at]))
            {
                continue;
            }

            if (at > from)
            {
                words.Add(ascii[from..at].ToLowerInvariant());
            }

            from = at + 1;
        }

        return words;
    }
}
