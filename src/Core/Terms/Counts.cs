using System.Globalization;

namespace AtticLedger.Core.Terms;

/// <summary>Numbers with the noun that they count.</summary>
public static class Counts
{
    /// <summary>"1 site", "2 sites"; <paramref name="many"/> where the plural is not the noun with an s.</summary>
    public static string Counted(this int count, string one, string? many = null) =>
        $"{count.ToString(CultureInfo.InvariantCulture)} {(count == 1 ? one : many ?? $"{one}s")}";
}
