namespace AtticLedger.Formats.Tables;

/// <param name="Line">Of the file, the first being 1.</param>
public sealed record TableRow(int Line, IReadOnlyList<string> Cells);

/// <summary>
/// A table with a head line, as somebody's file has it. The file is checked as a whole when it is opened, and its rows are
/// read off it each time they are asked for: of a large one, only a row at a time is held.
/// </summary>
/// <param name="ReadAs">How the file was understood, in words: "UTF-8, separated by commas".</param>
public sealed record ListTable(IReadOnlyList<string> Heads, IEnumerable<TableRow> Rows, string ReadAs)
{
    public const int MostRows = 200_000;
    public const int MostColumns = 200;
    public const int LongestCell = 32_767;
    public const long LargestWorkbook = 16 * 1024 * 1024;

    /// <summary>A table from CSV or from a workbook, whichever the file is.</summary>
    /// <param name="open">The file, from its start each time; it has to stay for as long as rows are read.</param>
    /// <exception cref="FormatException">It is no such table; the message names the place and what to do.</exception>
    public static ListTable Read(Func<Stream> open, CancellationToken stop = default)
    {
        using var file = open();
        if (!XlsxTable.IsZip(file))
        {
            return CsvTable.Read(open, stop);
        }

        if (file.Length > LargestWorkbook)
        {
            throw new FormatException(
                $"The workbook has {file.Length >> 20} MB; {LargestWorkbook >> 20} MB are the most. Save the list as CSV, which may be larger."
            );
        }

        var bytes = new byte[file.Length];
        file.Position = 0;
        file.ReadExactly(bytes);
        return XlsxTable.Read(bytes, stop);
    }

    internal static ListTable Of(IReadOnlyList<TableRow> rows, string readAs) =>
        rows.Count == 0 ? throw Empty() : new ListTable(rows[0].Cells, [.. rows.Skip(1)], readAs);

    internal static FormatException Empty() => new("The list is empty. Its first line is to name the columns.");

    internal static void CheckWidth(int columns, int line)
    {
        if (columns > MostColumns)
        {
            throw new FormatException(
                $"Line {line} has {columns} columns; at most {MostColumns} are read. Keep those that the list is about."
            );
        }
    }

    internal static void CheckCell(string cell, int line, string column)
    {
        if (cell.Length > LongestCell)
        {
            throw new FormatException(
                $"Line {line}, {column}: the cell has {cell.Length} characters; at most {LongestCell} are read. Is a quote never closed?"
            );
        }

        if (cell.Contains('\0', StringComparison.Ordinal))
        {
            throw new FormatException(
                $"Line {line}, {column}: there is a NUL character. This is no text; save the list anew from a spreadsheet."
            );
        }
    }

    internal static void CheckRows(int rows)
    {
        if (rows > MostRows + 1)
        {
            throw new FormatException($"The list has more than {MostRows} lines. Split it, and take it in as parts.");
        }
    }
}
