using System.Text;
using AnyAscii;

namespace AtticLedger.Core.Naming;

/// <summary>The part of a site's full address that is its own: letters a to z, digits, and single hyphens between them.
/// </summary>
public static class Addresses
{
    public const int Longest = 40;

    /// <summary>The minimum length: a letter, a hyphen and a number.</summary>
    public const int LeastRoom = 8;
    private static readonly (string Seen, string As)[] LooksLike =
    [
        ("rn", "m"),
        ("vv", "w"),
        ("0", "o"),
        ("1", "l"),
        ("i", "l"),
        ("5", "s"),
    ];

    /// <summary>The address that a name suggests; null if nothing of the name is left. An address suggests itself.</summary>
    public static string? Proposed(string name, int longest = Longest)
    {
        var address = new StringBuilder();
        foreach (var letter in name.Transliterate().Replace("&", " and ", StringComparison.Ordinal).ToLowerInvariant())
        {
            if (char.IsAsciiLetterOrDigit(letter))
            {
                address.Append(letter);
            }
            else if (address.Length > 0 && address[^1] != '-')
            {
                address.Append('-');
            }
        }

        return Cut(address.ToString().TrimEnd('-'), longest) is { Length: > 0 } left ? left : null;
    }

    /// <summary>An address with a word appended; the word is never cut.</summary>
    public static string With(string address, string word, int longest = Longest) =>
        $"{Cut(address, Math.Max(1, longest - word.Length - 1))}-{word}";

    /// <summary>What is wrong with an address, and where; null if it is valid.</summary>
    public static string? Fault(string address, int longest = Longest)
    {
        for (var at = 0; at < address.Length; at++)
        {
            var letter = address[at];
            if (char.IsAsciiLetterUpper(letter))
            {
                return $"character {at + 1}, \"{letter}\", is a capital";
            }

            if (
                letter == '-'
                    ? at == 0 || at == address.Length - 1 || address[at - 1] == '-'
                    : !char.IsAsciiLetterLower(letter) && !char.IsAsciiDigit(letter)
            )
            {
                return letter == '-'
                    ? $"character {at + 1} is a hyphen that does not stand between two others"
                    : $"character {at + 1}, \"{(Rune.TryGetRuneAt(address, at, out var rune) ? rune : Rune.ReplacementChar)}\", is none of a to z, 0 to 9 and hyphen";
            }
        }

        return address.Length == 0 ? "it is empty"
            : address.Length > longest ? $"it has {address.Length} characters; {longest} is the maximum"
            : null;
    }

    /// <summary>The common form of words that can be mistaken for each other: without case, accents, hyphens and look-alike
    /// letters.</summary>
    public static string Folded(string word) =>
        LooksLike.Aggregate(
            string.Concat(word.Transliterate().ToLowerInvariant().Where(char.IsAsciiLetterOrDigit)),
            (folded, pair) => folded.Replace(pair.Seen, pair.As, StringComparison.Ordinal)
        );

    // Cuts at a hyphen; within the first word if that alone is too long.
    private static string Cut(string address, int longest) =>
        address.Length <= longest ? address
        : address.LastIndexOf('-', longest) is > 0 and var hyphen ? address[..hyphen]
        : address[..longest];
}
