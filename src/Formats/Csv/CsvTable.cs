using System.Text;
using CsvHelper;

namespace AtticLedger.Formats.Csv;

/// <param name="Line">Of the file, the first being 1.</param>
public sealed record CsvRow(int Line, IReadOnlyList<string> Cells);

/// <summary>
/// A table read from CSV (RFC 4180), UTF-8 with or without a byte order mark, a head line first. Fields are separated by
/// commas, semicolons or tabs, whichever the head line has most of: spreadsheets write what their country writes.
/// </summary>
public sealed record CsvTable(IReadOnlyList<string> Heads, IReadOnlyList<CsvRow> Rows)
{
    public const int MostRows = 200_000;
    private static readonly UTF8Encoding Strict = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    /// <exception cref="FormatException">It is no such table; the message names the place and what to do.</exception>
    public static CsvTable Read(byte[] bytes)
    {
        string text;
        try
        {
            text = Strict.GetString(bytes).TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException fault)
        {
            var line = 1 + bytes.AsSpan(0, Math.Clamp(fault.Index, 0, bytes.Length)).Count((byte)'\n');
            throw new FormatException($"Line {line}: this is not UTF-8. Save the list as \"CSV UTF-8\".", fault);
        }

        var rows = new List<CsvRow>();
        try
        {
            using var csv = CsvReader.Create(new StringReader(text), new CsvReaderOptions { Separator = Separator(text), HasHeader = false, TrackLineNumbers = true, MalformedData = CsvMalformedDataHandling.Throw, IncludeValuesInExceptions = false });
            while (csv.Read())
            {
                if (rows.Count > MostRows)
                {
                    throw new FormatException($"The list has more than {MostRows} lines. Split it, and take it in as parts.");
                }

                string[] cells = [.. Enumerable.Range(0, csv.FieldCount).Select(place => csv.GetString(place).Trim())];
                if (cells.Any(cell => cell.Length > 0))
                {
                    rows.Add(new CsvRow((int)csv.LineNumber, cells));
                }
            }
        }
        catch (CsvFormatException fault)
        {
            throw new FormatException($"Line {fault.LineNumber}: {fault.Message}", fault);
        }

        return rows.Count == 0 ? throw new FormatException("The list is empty. Its first line is to name the columns.") : new CsvTable(rows[0].Cells, rows[1..]);
    }

    private static char Separator(string text)
    {
        var end = text.IndexOf('\n', StringComparison.Ordinal);
        var head = end < 0 ? text : text[..end];
        return new[] { ',', ';', '\t' }.MaxBy(separator => head.Count(letter => letter == separator));
    }
}
