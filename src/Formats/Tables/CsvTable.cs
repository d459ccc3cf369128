using System.Text;
using CsvHelper;

namespace AtticLedger.Formats.Tables;

/// <summary>
/// A table read from CSV (RFC 4180), a head line first. UTF-8 and UTF-16 are told by their byte order mark, UTF-8 without
/// one by being valid; what is neither is Windows-1252. Fields are separated by commas, semicolons, tabs or bars, whichever
/// the head line has most of: spreadsheets write what their country writes.
/// </summary>
public static class CsvTable
{
    private static readonly (char Separator, string Words)[] Separators = [(',', "commas"), (';', "semicolons"), ('\t', "tabs"), ('|', "bars")];
    private static readonly UTF8Encoding Strict = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    /// <exception cref="FormatException">It is no such table; the message names the place and what to do.</exception>
    public static ListTable Read(byte[] bytes)
    {
        var (text, encoding) = Text(bytes);
        var (separator, words) = Separators.MaxBy(one => Head(text).Count(letter => letter == one.Separator));
        var rows = new List<TableRow>();
        try
        {
            using var csv = CsvReader.Create(new StringReader(text), new CsvReaderOptions { Separator = separator, HasHeader = false, TrackLineNumbers = true, MalformedData = CsvMalformedDataHandling.Throw, IncludeValuesInExceptions = false });
            while (csv.Read())
            {
                var line = (int)csv.LineNumber;
                ListTable.CheckWidth(csv.FieldCount, line);
                string[] cells = [.. Enumerable.Range(0, csv.FieldCount).Select(place => InertCell.Restore(csv.GetString(place).Trim()))];
                for (var place = 0; place < cells.Length; place++)
                {
                    ListTable.CheckCell(cells[place], line, rows.Count > 0 && place < rows[0].Cells.Count ? rows[0].Cells[place] : $"column {place + 1}");
                }

                if (Array.Exists(cells, cell => cell.Length > 0))
                {
                    rows.Add(new TableRow(line, cells));
                    ListTable.CheckRows(rows.Count);
                }
            }
        }
        catch (CsvFormatException fault)
        {
            throw new FormatException($"Line {fault.LineNumber}: {fault.Message}", fault);
        }

        return ListTable.Of(rows, $"{encoding}, separated by {words}");
    }

    private static string Head(string text) => text.IndexOf('\n', StringComparison.Ordinal) is >= 0 and var end ? text[..end] : text;

    private static (string Text, string Encoding) Text(byte[] bytes)
    {
        if (bytes is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
        {
            return ((bytes[0] == 0xFF ? Encoding.Unicode : Encoding.BigEndianUnicode).GetString(bytes.AsSpan(2)), "UTF-16");
        }

        try
        {
            return (Strict.GetString(bytes).TrimStart('\uFEFF'), "UTF-8");
        }
        catch (DecoderFallbackException)
        {
            // These five stand for no letter there.
            var wrong = bytes.AsSpan().IndexOfAny<byte>([0x81, 0x8D, 0x8F, 0x90, 0x9D]);
            return wrong < 0
                ? (CodePagesEncodingProvider.Instance.GetEncoding(1252)!.GetString(bytes), "Windows-1252")
                : throw new FormatException($"Line {1 + bytes.AsSpan(0, wrong).Count((byte)'\n')}: this is neither UTF-8 nor Windows-1252. Save the list as \"CSV UTF-8\".");
        }
    }
}
