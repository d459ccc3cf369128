using System.Text;
using AnyAscii;

namespace AtticLedger.Core.Naming;

/// <summary>
/// What an address is: the part of a site's whole address that is its own. It has the letters a to z, digits, and single
/// hyphens between them.
/// </summary>
public static class Addresses
{
    public const int Longest = 40;

    /// <summary>What an address has to have room for at the least: a letter, a hyphen and a number.</summary>
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

    /// <summary>The address that a name suggests; null where nothing of the name is left. An address suggests itself.</summary>
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

    /// <summary>An address with a word behind it; the word stays whole.</summary>
    public static string With(string address, string word, int longest = Longest) =>
        $"{Cut(address, Math.Max(1, longest - word.Length - 1))}-{word}";

    /// <summary>What is wrong with an address, and where; null where it is one.</summary>
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
            : address.Length > longest ? $"it has {address.Length} characters; {longest} is the most"
            : null;
    }

    /// <summary>What two words have in common that are taken for each other: case, accents and hyphens go, and so do letters that look like others.</summary>
    public static string Folded(string word) =>
        LooksLike.Aggregate(
            string.Concat(word.Transliterate().ToLowerInvariant().Where(char.IsAsciiLetterOrDigit)),
            (folded, pair) => folded.Replace(pair.Seen, pair.As, StringComparison.Ordinal)
        );

    // At a hyphen; within the first word where that alone is too long.
    private static string Cut(string address, int longest) =>
        address.Length <= longest ? address
        : address.LastIndexOf('-', longest) is > 0 and var hyphen ? address[..hyphen]
        : address[..longest];
}
