using System.Text;
using System.Text.RegularExpressions;
using AnyAscii;

namespace AtticLedger.Core.Naming;

/// <summary>Names that are equal without case, accents, punctuation and filler words: shown to a person who is about to move one
/// of two such sites to the attic.
/// </summary>
public static partial class LookAlikes
{
    private static readonly HashSet<string> Noise = ["copy", "old", "new", "final", "test"];
    private static readonly HashSet<string> Versions = ["v", "ver", "version"];

    public static bool LookAlike(string one, string other) => Bare(one) is { Length: > 0 } bare && bare == Bare(other);

    /// <summary>The meaning of a name: its words without filler words and versions (v2, ver 2, 1.2), never without a bare number;
    /// empty if it has none.</summary>
    public static string Bare(string name)
    {
        var words = Words(Version().Replace(name, " "));
        int before;
        do
        {
            // What is dropped can leave a version behind: "ver old 2".
            before = words.Count;
            words = [.. words.Where((word, at) => !Noise.Contains(word) && !IsVersion(words, at))];
        } while (words.Count < before);

        return string.Join(' ', words);
    }

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

    // "v2", "ver 2": the word, or the word and the number after it.
    private static bool IsVersion(List<string> words, int at) =>
        words[at] is ['v', .. var rest] && IsNumber(rest)
        || Versions.Contains(words[at]) && at + 1 < words.Count && IsNumber(words[at + 1])
        || at > 0 && IsNumber(words[at]) && Versions.Contains(words[at - 1]);

    private static bool IsNumber(string word) => word.Length > 0 && word.All(char.IsAsciiDigit);

    // Two numbers with a stop between them; more are a date or an address.
    [GeneratedRegex(@"(?<![\w.])[0-9]{1,2}\.[0-9]{1,2}(?![\w.])")]
    private static partial Regex Version();
}
