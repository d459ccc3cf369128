using System.Globalization;
using System.Text;

namespace AtticLedger.Core.Naming;

/// <summary>
/// Names that say the same once case, accents, punctuation and words that say nothing are dropped: what somebody who is
/// about to put away one of two sites has to be shown.
/// </summary>
public static class LookAlikes
{
    private static readonly HashSet<string> Noise = ["copy", "old", "new", "final", "test"];

    public static bool LookAlike(string one, string other) => Bare(one) is { Length: > 0 } bare && bare == Bare(other);

    private static string Bare(string name)
    {
        var letters = new StringBuilder();
        foreach (var rune in name.Normalize(NormalizationForm.FormD).EnumerateRunes())
        {
            if (Rune.IsLetterOrDigit(rune))
            {
                letters.Append(Rune.ToLowerInvariant(rune));
            }
            else if (Rune.GetUnicodeCategory(rune) != UnicodeCategory.NonSpacingMark)
            {
                letters.Append(' ');
            }
        }

        return string.Join(' ', letters.ToString().Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(word => !Noise.Contains(word)));
    }
}
