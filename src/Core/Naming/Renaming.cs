using System.Text.RegularExpressions;

namespace AtticLedger.Core.Naming;

/// <summary>A way to derive a new name for each of many sites from the one that it has.</summary>
public abstract partial record Renaming
{
    private Renaming() { }

    /// <summary>What stands for the code of a site's unit.</summary>
    public const string Unit = "{unit}";

    // A name that nobody could read is left alone, and takes no time.
    private const int Longest = 1000;

    /// <summary>The new name: one line with single spaces; null if the site keeps its name.</summary>
    /// <param name="unit">The code of its unit; null if it has none or it is unknown.</param>
    public string? Of(string name, string? unit) =>
        name.Length <= Longest
        && Derived(name, unit) is { } derived
        && derived != name
        && OneLine(derived) is { Length: > 0 } line
        && line != name
            ? line
            : null;

    private protected abstract string? Derived(string name, string? unit);

    /// <summary>Other words in the place of some, wherever they stand as whole words; without regard to case.</summary>
    public sealed record Replacing(string Find, string With) : Renaming
    {
        private protected override string? Derived(string name, string? unit) =>
            Find.Length == 0
                ? null
                : Regex.Replace(
                    name,
                    $"{(IsWord(Find[0]) ? @"(?<!\w)" : "")}{Regex.Escape(Find)}{(IsWord(Find[^1]) ? @"(?!\w)" : "")}",
                    _ => With,
                    RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
                );

        private static bool IsWord(char letter) => char.IsLetterOrDigit(letter) || letter == '_';
    }

    /// <summary>Words before a name that does not begin with them yet. A site without a unit keeps its name if they name the
    /// unit.</summary>
    public sealed record Beginning(string Words) : Renaming
    {
        private protected override string? Derived(string name, string? unit)
        {
            if (Words.Contains(Unit, StringComparison.Ordinal) && unit is null)
            {
                return null;
            }

            var words = OneLine(Words.Replace(Unit, unit, StringComparison.Ordinal));
            if (words.Length == 0)
            {
                return null;
            }

            var has =
                name.StartsWith(words, StringComparison.OrdinalIgnoreCase)
                && (name.Length == words.Length || !char.IsLetterOrDigit(words[^1]) || !char.IsLetterOrDigit(name[words.Length]));
            return has ? null : $"{words} {name}";
        }
    }

    /// <summary>The name without what <see cref="LookAlikes.Bare"/> drops: filler words and versions; and without the marks that
    /// they leave behind.</summary>
    public sealed record Tidied : Renaming
    {
        private protected override string? Derived(string name, string? unit)
        {
            string before;
            var tidy = CopyOf().Replace(name, "copy");
            do
            {
                // What is dropped can leave a version behind: "ver old 2".
                before = tidy;
                tidy = Word().Replace(tidy, match => IsFiller(match.Value) ? " " : match.Value);
            } while (tidy != before);

            if (LookAlikes.Words(tidy).Count == LookAlikes.Words(name).Count || LookAlikes.Bare(tidy).Length == 0)
            {
                return null;
            }

            tidy = Ends().Replace(Doubled().Replace(OneLine(Hollow().Replace(tidy, " ")), "$1 "), "");
            return char.IsUpper(name[0]) ? $"{char.ToUpperInvariant(tidy[0])}{tidy[1..]}" : tidy;
        }

        private static bool IsFiller(string words) => LookAlikes.Words(words).Count > 0 && LookAlikes.Bare(words).Length == 0;
    }

    /// <summary>A text on one line with single spaces.</summary>
    public static string OneLine(string text) =>
        string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    [GeneratedRegex(@"(?<!\w)copy\s+of(?!\w)", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex CopyOf();

    // A word, or what is a version only as a whole.
    [GeneratedRegex(
        @"(?<!\w)v?[0-9]+(?:\.[0-9]+)+(?!\w)|(?<![\p{L}\p{N}])(?:v|ver|version)[^\p{L}\p{N}]+[0-9]+(?!\.[0-9]|[\p{L}\p{N}])|[\p{L}\p{M}\p{N}]+",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Word();

    [GeneratedRegex(@"\(\W*\)|\[\W*\]|\{\W*\}")]
    private static partial Regex Hollow();

    [GeneratedRegex(@"(\s[-–—:,;/|_]+)(?:\s[-–—:,;/|_]+)+\s")]
    private static partial Regex Doubled();

    [GeneratedRegex(@"^[\s\-–—:,;.!/|_]+|[\s\-–—:,;/|_]+$")]
    private static partial Regex Ends();
}
