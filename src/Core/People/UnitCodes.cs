using AnyAscii;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>The codes of new units: short, to be read aloud and to stand in filters and addresses.</summary>
public static class UnitCodes
{
    private const int Longest = 12;
    private const int Letters = 3;

    /// <summary>Why a new unit cannot have this code; null if it can.</summary>
    public static string? Fault(string code) =>
        code.Length is > 0 and <= Longest
        && char.IsAsciiLetterUpper(code[0])
        && code.All(letter => char.IsAsciiLetterUpper(letter) || char.IsAsciiDigit(letter))
            ? null
            : $"\"{code}\" cannot be the code of a unit: use 1 to {Longest} capital letters and digits, beginning with a letter";

    /// <summary>A free code for a unit of this name: its first letters, with a number where they are taken.</summary>
    public static UnitCode Propose(string name, Func<UnitCode, bool> isTaken)
    {
        var letters = string.Concat(name.Transliterate().ToUpperInvariant().Where(char.IsAsciiLetterUpper).Take(Letters));
        var stem = letters.Length > 0 ? letters : "U";
        return Enumerable
            .Range(1, int.MaxValue)
            .Select(number => new UnitCode(number == 1 ? stem : $"{stem}{number}"))
            .First(code => !isTaken(code));
    }
}
