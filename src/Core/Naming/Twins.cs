using System.Buffers;
using System.Text.RegularExpressions;

namespace AtticLedger.Core.Naming;

/// <summary>How near two names are to each other.</summary>
public enum Nearness : byte
{
    Far,

    /// <summary>The same without regard to case, accents, punctuation, filler words and versions.</summary>
    Same,

    /// <summary>A slip of the pen apart.</summary>
    Near,

    /// <summary>They differ by numbers alone: years, "Dock 1" and "Dock 2".</summary>
    Series,
}

/// <summary>Two sites whose names are the same or nearly so may be one site made twice.</summary>
public static partial class Twins
{
    private const int Alphabet = 128;

    /// <summary>The slips that are allowed between two names, by the length of the shorter one.</summary>
    public static int Reach(int shorter) =>
        shorter <= 3 ? 0
        : shorter <= 8 ? 1
        : 2;

    /// <param name="one">The meaning of a name, as <see cref="LookAlikes.Bare"/> gives it.</param>
    /// <param name="other">That of another.</param>
    public static Nearness Between(string one, string other) =>
        one.Length == 0 || other.Length == 0 ? Nearness.Far
        : one == other ? Nearness.Same
        : DifferByNumbers(one, other) ? Nearness.Series
        : IsNear(one, other) ? Nearness.Near
        : Nearness.Far;

    /// <summary>Of two meanings that are neither equal nor a series.</summary>
    internal static bool IsNear(string one, string other) =>
        Reach(Math.Min(one.Length, other.Length)) is > 0 and var reach && Distance(one, other, reach) <= reach;

    /// <summary>A meaning with one sign for each number in it: equal for names that differ by numbers alone.</summary>
    internal static string WithoutNumbers(string meaning) => Number().Replace(meaning, "#");

    /// <summary>The least number of letters to insert, drop, replace, or swap with their neighbour, also where something is
    /// inserted or dropped between the two (the unrestricted distance of Damerau and Levenshtein; Lowrance and Wagner 1975).
    /// Any number above the greatest that is asked for stands for all of them.</summary>
    internal static int Distance(ReadOnlySpan<char> one, ReadOnlySpan<char> other, int greatest)
    {
        var begin = one.CommonPrefixLength(other);
        one = one[begin..];
        other = other[begin..];
        while (one.Length > 0 && other.Length > 0 && one[^1] == other[^1])
        {
            one = one[..^1];
            other = other[..^1];
        }

        if (Math.Abs(one.Length - other.Length) > greatest)
        {
            return greatest + 1;
        }

        if (one.Length == 0 || other.Length == 0)
        {
            return Math.Max(one.Length, other.Length);
        }

        // Cells further from the diagonal than the greatest distance cannot be within it.
        var width = other.Length + 1;
        var cells = ArrayPool<int>.Shared.Rent((one.Length + 1) * width);
        Array.Fill(cells, greatest + 1, 0, (one.Length + 1) * width);
        Span<int> rowOf = stackalloc int[Alphabet];
        rowOf.Clear();
        for (var column = 0; column <= Math.Min(other.Length, greatest); column++)
        {
            cells[column] = column;
        }

        var least = 0;
        for (var row = 1; row <= one.Length && least <= greatest; row++)
        {
            var columnOf = 0;
            least = cells[row * width] = row <= greatest ? row : greatest + 1;
            for (var column = 1; column <= Math.Min(other.Length, row + greatest); column++)
            {
                var (rowBefore, columnBefore) = (rowOf[other[column - 1]], columnOf);
                var isSame = one[row - 1] == other[column - 1];
                if (isSame)
                {
                    columnOf = column;
                }

                if (column < row - greatest)
                {
                    continue;
                }

                var above = (row - 1) * width;
                var cell = Math.Min(
                    cells[above + column - 1] + (isSame ? 0 : 1),
                    Math.Min(cells[above + column], cells[(row * width) + column - 1]) + 1
                );
                if (rowBefore > 0 && columnBefore > 0)
                {
                    cell = Math.Min(
                        cell,
                        cells[((rowBefore - 1) * width) + columnBefore - 1]
                            + (row - rowBefore - 1)
                            + 1
                            + (column - columnBefore - 1)
                    );
                }

                cells[(row * width) + column] = cell;
                least = Math.Min(least, cell);
            }

            rowOf[one[row - 1]] = row;
        }

        var distance = least <= greatest ? cells[(one.Length * width) + other.Length] : greatest + 1;
        ArrayPool<int>.Shared.Return(cells);
        return Math.Min(distance, greatest + 1);
    }

    private static bool DifferByNumbers(ReadOnlySpan<char> one, ReadOnlySpan<char> other)
    {
        while (one.Length > 0 && other.Length > 0)
        {
            var digits = Digits(one);
            var others = Digits(other);
            if (digits > 0 && others > 0)
            {
                one = one[digits..];
                other = other[others..];
            }
            else if (digits == 0 && others == 0 && one[0] == other[0])
            {
                one = one[1..];
                other = other[1..];
            }
            else
            {
                return false;
            }
        }

        return one.Length == 0 && other.Length == 0;
    }

    private static int Digits(ReadOnlySpan<char> text) =>
        text.IndexOfAnyExceptInRange('0', '9') is var end && end < 0 ? text.Length : end;

    [GeneratedRegex("[0-9]+")]
    private static partial Regex Number();
}
