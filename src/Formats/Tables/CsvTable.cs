using System.Text;
using CsvHelper;

namespace AtticLedger.Formats.Tables;

/// <summary>A table read from CSV (RFC 4180) with a head line. UTF-8 and UTF-16 are recognised by their byte order mark, UTF-8
/// without one by being valid; otherwise it is Windows-1252. The separator is the comma, semicolon, tab or bar that is most
/// frequent in the head line, because spreadsheets use their country's one.
/// </summary>
public static class CsvTable
{
    // An unclosed quote would swallow the rest of the file.
    private const int LongestRow = 2_000_000;
    private const int LongestHead = 64 * 1024;
    private static readonly (char Separator, string Words)[] Separators =
    [
        (',', "commas"),
        (';', "semicolons"),
        ('\t', "tabs"),
        ('|', "bars"),
    ];
    private static readonly UTF8Encoding Strict = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    /// <param name="open">Opens the file from its start, each time.</param>
    /// <exception cref="FormatException">The file is not such a table; the message names the place and the remedy.</exception>
    public static ListTable Read(Func<Stream> open, CancellationToken stop = default)
    {
        var (encoding, name) = EncodingOf(open);
        var (separator, words) = Separator(open, encoding);
        IReadOnlyList<string>? heads = null;
        var rows = 0;
        foreach (var row in Rows(open, encoding, separator))
        {
            stop.ThrowIfCancellationRequested();
            heads ??= row.Cells;
            ListTable.CheckRows(++rows);
        }

        return new ListTable(
            heads ?? throw ListTable.Empty(),
            Rows(open, encoding, separator).Skip(1),
            $"{name}, separated by {words}"
        );
    }

    private static IEnumerable<TableRow> Rows(Func<Stream> open, Encoding encoding, char separator)
    {
        using var text = new StreamReader(open(), encoding);
        using var csv = CsvReader.Create(
            text,
            new CsvReaderOptions
            {
                Separator = separator,
                HasHeader = false,
                TrackLineNumbers = true,
                MalformedData = CsvMalformedDataHandling.Throw,
                IncludeValuesInExceptions = false,
                MaxRecordSize = LongestRow,
            }
        );
        IReadOnlyList<string>? heads = null;
        while (Next(csv))
        {
            var line = (int)csv.LineNumber;
            ListTable.CheckWidth(csv.FieldCount, line);
            string[] cells =
            [
                .. Enumerable.Range(0, csv.FieldCount).Select(place => InertCell.Restore(csv.GetString(place).Trim())),
            ];
            for (var place = 0; place < cells.Length; place++)
            {
                ListTable.CheckCell(
                    cells[place],
                    line,
                    heads is not null && place < heads.Count ? heads[place] : $"column {place + 1}"
                );
            }

            if (Array.Exists(cells, cell => cell.Length > 0))
            {
                heads ??= cells;
                yield return new TableRow(line, cells);
            }
        }
    }

    private static bool Next(CsvReader csv)
    {
        try
        {
            return csv.Read();
        }
        catch (CsvFormatException fault)
        {
            throw new FormatException($"Line {fault.LineNumber}: {fault.Message}", fault);
        }
    }

    private static (char Separator, string Words) Separator(Func<Stream> open, Encoding encoding)
    {
        using var text = new StreamReader(open(), encoding);
        var read = new char[LongestHead];
        var head = read.AsSpan(0, text.ReadBlock(read));
        var line = (head.IndexOf('\n') is >= 0 and var end ? head[..end] : head).ToString();
        return Separators.MaxBy(one => line.Count(letter => letter == one.Separator));
    }

    private static (Encoding Encoding, string Name) EncodingOf(Func<Stream> open)
    {
        using (var bytes = open())
        {
            Span<byte> mark = stackalloc byte[2];
            if (
                bytes.ReadAtLeast(mark, mark.Length, throwOnEndOfStream: false) == mark.Length
                && mark is [0xFF, 0xFE] or [0xFE, 0xFF]
            )
            {
                return (mark[0] == 0xFF ? Encoding.Unicode : Encoding.BigEndianUnicode, "UTF-16");
            }
        }

        return IsUtf8(open) ? (Strict, "UTF-8")
            : FirstThatIsNoLetter(open) is { } line
                ? throw new FormatException(
                    $"Line {line}: this is neither UTF-8 nor Windows-1252. Save the list as \"CSV UTF-8\"."
                )
            : (CodePagesEncodingProvider.Instance.GetEncoding(1252)!, "Windows-1252");
    }

    private static bool IsUtf8(Func<Stream> open)
    {
        using var text = new StreamReader(open(), Strict);
        var some = new char[LongestHead];
        try
        {
            while (text.ReadBlock(some) > 0) { }

            return true;
        }
        catch (DecoderFallbackException)
        {
            return false;
        }
    }

    /// <returns>The line of the first byte that is undefined in Windows-1252 (five are).</returns>
    private static int? FirstThatIsNoLetter(Func<Stream> open)
    {
        using var bytes = open();
        var some = new byte[LongestHead];
        var line = 1;
        while (bytes.Read(some) is > 0 and var count)
        {
            var read = some.AsSpan(0, count);
            if (read.IndexOfAny<byte>([0x81, 0x8D, 0x8F, 0x90, 0x9D]) is >= 0 and var wrong)
            {
                return line + read[..wrong].Count((byte)'\n');
            }

            line += read.Count((byte)'\n');
        }

        return null;
    }
}
