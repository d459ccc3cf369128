namespace AtticLedger.Formats.Tables;

/// <param name="Line">The line in the file, from 1.</param>
public sealed record TableRow(int Line, IReadOnlyList<string> Cells);

/// <summary>A table with a head line, from a file. The whole file is checked when it is opened, and its rows are read again on
/// each enumeration, one row in memory at a time.
/// </summary>
/// <param name="ReadAs">How the file was read, in words: "UTF-8, separated by commas".</param>
public sealed record ListTable(IReadOnlyList<string> Heads, IEnumerable<TableRow> Rows, string ReadAs)
{
    private const int MostTitleLines = 10;
    private static readonly string[] Totals = ["total", "totals", "grand total", "sum"];
    public const int MostRows = 200_000;
    public const int MostColumns = 200;
    public const int LongestCell = 32_767;
    public const long LargestWorkbook = 16 * 1024 * 1024;

    /// <summary>A table from CSV or from a workbook, whichever the file is.</summary>
    /// <param name="open">Opens the file from its start, each time; the file has to exist as long as rows are read.</param>
    /// <exception cref="FormatException">The file is not such a table; the message names the place and the remedy.</exception>
    public static ListTable Read(Func<Stream> open, CancellationToken stop = default) => WithoutTitle(Whole(open, stop));

    private static ListTable Whole(Func<Stream> open, CancellationToken stop)
    {
        using var file = open();
        if (!XlsxTable.IsZip(file))
        {
            return CsvTable.Read(open, stop);
        }

        if (file.Length > LargestWorkbook)
        {
            throw new FormatException(
                $"The workbook has {file.Length >> 20} MB; the maximum is {LargestWorkbook >> 20} MB. Save the list as CSV, which may be larger."
            );
        }

        var bytes = new byte[file.Length];
        file.Position = 0;
        file.ReadExactly(bytes);
        return XlsxTable.Read(bytes, stop);
    }

    // Offices write a title above the headings and totals below the last row.
    private static ListTable WithoutTitle(ListTable table)
    {
        var list = table with { Rows = table.Rows.Where(row => !IsTotal(row.Cells)) };
        if (Filled(table.Heads) != 1)
        {
            return list;
        }

        return table.Rows.Take(MostTitleLines).FirstOrDefault(row => Filled(row.Cells) > 1) is { } heads
            ? list with
            {
                Heads = heads.Cells,
                Rows = list.Rows.Where(row => row.Line > heads.Line),
                ReadAs = $"{table.ReadAs}, with the headings in line {heads.Line}",
            }
            : list;
    }

    private static int Filled(IReadOnlyList<string> cells) => cells.Count(cell => !string.IsNullOrWhiteSpace(cell));

    // A row of totals names nothing that could be an address or a person.
    private static bool IsTotal(IReadOnlyList<string> cells) =>
        cells.FirstOrDefault(cell => !string.IsNullOrWhiteSpace(cell)) is { } first
        && Totals.Any(total =>
            first.Trim().StartsWith(total, StringComparison.OrdinalIgnoreCase) && !first.Trim()[total.Length..].Any(char.IsLetter)
        )
        && !cells.Any(cell => cell.Contains('@', StringComparison.Ordinal) || cell.Contains('/', StringComparison.Ordinal));

    internal static ListTable Of(IReadOnlyList<TableRow> rows, string readAs) =>
        rows.Count == 0 ? throw Empty() : new ListTable(rows[0].Cells, [.. rows.Skip(1)], readAs);

    internal static FormatException Empty() => new("The list is empty. Its first line has to name the columns.");

    internal static void CheckWidth(int columns, int line)
    {
        if (columns > MostColumns)
        {
            throw new FormatException(
                $"Line {line} has {columns} columns; the maximum is {MostColumns}. Keep the columns that are needed."
            );
        }
    }

    internal static void CheckCell(string cell, int line, string column)
    {
        if (cell.Length > LongestCell)
        {
            throw new FormatException(
                $"Line {line}, {column}: the cell has {cell.Length} characters; the maximum is {LongestCell}. Is a quote not closed?"
            );
        }

        if (cell.Contains('\0', StringComparison.Ordinal))
        {
            throw new FormatException(
                $"Line {line}, {column}: there is a NUL character. Save the list again from a spreadsheet."
            );
        }
    }

    internal static void CheckRows(int rows)
    {
        if (rows > MostRows + 1)
        {
            throw new FormatException(
                $"The list has more than {MostRows} lines. Split it and import the parts as incomplete lists."
            );
        }
    }
}
