using System.Globalization;
using System.IO.Compression;
using System.Xml;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace AtticLedger.Formats.Tables;

/// <summary>A table read from the first sheet of a workbook (ECMA-376, SpreadsheetML). Workbooks come from anywhere: their
/// inflated size is counted before anything is read, entities are not resolved, and macros, formulas and merged cells are
/// refused with their place.
/// </summary>
public static class XlsxTable
{
    private const long LargestInflated = 200 * 1024 * 1024;
    private const int MostParts = 500;
    private const int MostTexts = 2_000_000;

    // The parts of a workbook nest about a dozen deep; reading deeper ones would take quadratic time.
    private const int DeepestNesting = 64;
    private const int MostAttributes = 256;

    // Built-in formats of dates and times (ECMA-376, part 1, section 18.8.30).
    private static readonly HashSet<uint> DateFormats = [14, 15, 16, 17, 18, 19, 20, 21, 22, 45, 46, 47];

    public static bool IsZip(Stream bytes)
    {
        Span<byte> first = stackalloc byte[4];
        return bytes.ReadAtLeast(first, first.Length, throwOnEndOfStream: false) == first.Length
            && first is [0x50, 0x4B, 0x03, 0x04];
    }

    /// <exception cref="FormatException">The file is not such a table; the message names the place and the remedy.</exception>
    public static ListTable Read(byte[] bytes, CancellationToken stop)
    {
        CheckPackage(bytes, stop);
        try
        {
            using var document = SpreadsheetDocument.Open(
                new MemoryStream(bytes, writable: false),
                isEditable: false,
                new OpenSettings { AutoSave = false, MaxCharactersInPart = LargestInflated }
            );
            var workbook = document.WorkbookPart
                ?? throw new FormatException("The file is not a workbook. Save the list as .xlsx or as CSV.");
            var first = workbook.Workbook?.Sheets?.Elements<Sheet>().FirstOrDefault()?.Id?.Value
                ?? throw new FormatException("The workbook has no sheet.");
            if (workbook.GetPartById(first) is not WorksheetPart sheet)
            {
                throw new FormatException("The first sheet of the workbook has no table. Move the table to the first sheet.");
            }

            return ListTable.Of(Rows(sheet, Texts(workbook, stop), Dates(workbook), stop), "a workbook's first sheet");
        }
        catch (Exception fault)
            when (fault
                    is OpenXmlPackageException
                        or XmlException
                        or InvalidDataException
                        or FileFormatException
                        or ArgumentOutOfRangeException
                        or InvalidOperationException
            )
        {
            throw new FormatException(
                $"The workbook cannot be read: {fault.Message} Save the list again as .xlsx or as CSV.",
                fault
            );
        }
    }

    // Read once without storing anything: declared sizes are not trusted.
    private static void CheckPackage(byte[] bytes, CancellationToken stop)
    {
        try
        {
            using var zip = new ZipArchive(new MemoryStream(bytes, writable: false), ZipArchiveMode.Read);
            if (zip.Entries.Count > MostParts)
            {
                throw new FormatException($"The workbook has {zip.Entries.Count} parts; the maximum is {MostParts}.");
            }

            var inflated = 0L;
            var buffer = new byte[81_920];
            foreach (var entry in zip.Entries)
            {
                if (entry.Name.Equals("vbaProject.bin", StringComparison.OrdinalIgnoreCase))
                {
                    throw new FormatException("The workbook has macros. Save it as .xlsx, without them.");
                }

                using var stream = entry.Open();
                for (int read; (read = stream.Read(buffer)) > 0; )
                {
                    stop.ThrowIfCancellationRequested();
                    if ((inflated += read) > LargestInflated)
                    {
                        throw new FormatException(
                            $"The workbook inflates to more than {LargestInflated / 1024 / 1024} MB, in {entry.FullName}. Save the list as CSV."
                        );
                    }
                }

                if (Path.GetExtension(entry.Name).ToLowerInvariant() is ".xml" or ".rels")
                {
                    CheckNesting(entry, stop);
                }
            }
        }
        catch (InvalidDataException fault)
        {
            throw new FormatException($"The file begins as a workbook and is damaged: {fault.Message}", fault);
        }
    }

    private static void CheckNesting(ZipArchiveEntry entry, CancellationToken stop)
    {
        using var stream = entry.Open();
        using var reader = XmlReader.Create(
            stream,
            new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Prohibit,
                XmlResolver = null,
                MaxCharactersInDocument = LargestInflated,
            }
        );
        try
        {
            while (reader.Read())
            {
                stop.ThrowIfCancellationRequested();
                if (reader.Depth > DeepestNesting || reader.AttributeCount > MostAttributes)
                {
                    throw new FormatException(
                        $"{entry.FullName} of the workbook nests more than {DeepestNesting} deep or has more than {MostAttributes} attributes in one place. Save the list again as .xlsx or as CSV."
                    );
                }
            }
        }
        catch (XmlException fault)
        {
            throw new FormatException(
                $"The workbook cannot be read: {entry.FullName}: {fault.Message} Save the list again as .xlsx or as CSV.",
                fault
            );
        }
    }

    private static List<string> Texts(WorkbookPart workbook, CancellationToken stop)
    {
        var texts = new List<string>();
        if (workbook.SharedStringTablePart is { } part)
        {
            using var reader = OpenXmlReader.Create(part);
            while (reader.Read())
            {
                stop.ThrowIfCancellationRequested();
                if (reader.ElementType == typeof(SharedStringItem) && reader.IsStartElement)
                {
                    texts.Add(TextOf(reader.LoadCurrentElement()!));
                    if (texts.Count > MostTexts)
                    {
                        throw new FormatException($"The workbook has more than {MostTexts} different texts.");
                    }
                }
            }
        }

        return texts;
    }

    // Phonetic readings accompany a text and are not part of it.
    private static string TextOf(OpenXmlElement item) =>
        string.Concat(item.Descendants<Text>().Where(text => text.Parent is not PhoneticRun).Select(text => text.Text));

    // The cell styles that show a number as a day or an instant.
    private static HashSet<uint> Dates(WorkbookPart workbook)
    {
        var styles = workbook.WorkbookStylesPart?.Stylesheet;
        var own = styles
            ?.NumberingFormats?.Elements<NumberingFormat>()
            .Where(format =>
                format.FormatCode?.Value is { } code && Unquoted(code).Any(letter => letter is 'y' or 'Y' or 'd' or 'D')
            )
            .Select(format => format.NumberFormatId?.Value ?? 0)
            .ToHashSet()
            ?? [];
        return
        [
            .. (styles?.CellFormats?.Elements<CellFormat>() ?? [])
                .Index()
                .Where(pair => pair.Item.NumberFormatId?.Value is { } id && (DateFormats.Contains(id) || own.Contains(id)))
                .Select(pair => (uint)pair.Index),
        ];
    }

    private static string Unquoted(string code) =>
        string.Concat(code.Split('"').Where((_, place) => place % 2 == 0)).Split('[')[0];

    private static List<TableRow> Rows(WorksheetPart sheet, List<string> texts, HashSet<uint> dates, CancellationToken stop)
    {
        var rows = new List<TableRow>();
        using var reader = OpenXmlReader.Create(sheet);
        var line = 0;
        while (reader.Read())
        {
            stop.ThrowIfCancellationRequested();
            if (reader.ElementType == typeof(MergeCell) && reader.IsStartElement)
            {
                throw new FormatException(
                    $"The cells {reader.Attributes.FirstOrDefault(one => one.LocalName == "ref").Value} are merged. Unmerge them, so that each line has its own."
                );
            }

            if (reader.ElementType != typeof(Row) || !reader.IsStartElement)
            {
                continue;
            }

            line = int.TryParse(
                reader.Attributes.FirstOrDefault(one => one.LocalName == "r").Value,
                NumberStyles.None,
                CultureInfo.InvariantCulture,
                out var told
            )
                ? told
                : line + 1;
            if (!reader.ReadFirstChild())
            {
                continue;
            }

            var cells = new List<string>();
            do
            {
                if (reader.ElementType == typeof(Cell))
                {
                    var cell = (Cell)reader.LoadCurrentElement()!;
                    var place = cell.CellReference?.Value is { } reference ? ColumnOf(reference) : cells.Count;
                    ListTable.CheckWidth(place + 1, line);
                    while (cells.Count <= place)
                    {
                        cells.Add("");
                    }

                    cells[place] = Value(cell, $"{cell.CellReference?.Value ?? $"line {line}, column {place + 1}"}", texts, dates)
                        .Trim();
                    ListTable.CheckCell(
                        cells[place],
                        line,
                        rows.Count > 0 && place < rows[0].Cells.Count ? rows[0].Cells[place] : $"column {place + 1}"
                    );
                }
            } while (reader.ReadNextSibling());

            if (cells.Exists(cell => cell.Length > 0))
            {
                rows.Add(new TableRow(line, cells));
                ListTable.CheckRows(rows.Count);
            }
        }

        return rows;
    }

    private static string Value(Cell cell, string place, List<string> texts, HashSet<uint> dates)
    {
        if (cell.CellFormula is not null)
        {
            throw new FormatException($"Cell {place} holds a formula. Copy the column and paste its values.");
        }

        var text = cell.CellValue?.Text ?? "";
        if (cell.DataType?.Value is not { } type || type == CellValues.Number)
        {
            return text.Length > 0 && cell.StyleIndex?.Value is { } style && dates.Contains(style) ? Day(text, place) : text;
        }

        return type == CellValues.SharedString
            ? int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var at) && at < texts.Count
                ? texts[at]
                : throw new FormatException($"Cell {place} names a text that the workbook does not have.")
            : type == CellValues.InlineString
                ? cell.InlineString is { } inline
                    ? TextOf(inline)
                    : ""
                : type == CellValues.Boolean
                    ? text == "1"
                        ? "true"
                        : "false"
                    : type == CellValues.Error
                        ? throw new FormatException($"Cell {place} holds the error {text}. Correct it, or empty it.")
                        : text;
    }

    // Days since 30 December 1899, with the part of the day as the fraction.
    private static string Day(string number, string place)
    {
        if (
            !double.TryParse(number, NumberStyles.Float, CultureInfo.InvariantCulture, out var days)
            || days is < 1 or >= 2_958_466
        )
        {
            throw new FormatException($"Cell {place} should be a date, but {number} is not one.");
        }

        var at = DateTime.FromOADate(days);
        return at.TimeOfDay == TimeSpan.Zero
            ? at.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
            : at.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture);
    }

    // "AB12" is the 28th column, the first being 0.
    private static int ColumnOf(string reference)
    {
        var column = 0;
        foreach (var letter in reference.TakeWhile(char.IsAsciiLetterUpper).Take(4))
        {
            column = (column * 26) + (letter - 'A' + 1);
        }

        return column - 1;
    }
}
