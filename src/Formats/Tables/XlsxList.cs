using System.Globalization;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace AtticLedger.Formats.Tables;

/// <summary>A list as a workbook of one sheet (ECMA-376, SpreadsheetML), written row by row. Texts stay texts, whatever they
/// begin with; integers in numeric columns are numbers, so that a spreadsheet can sum them.
/// </summary>
public static class XlsxList
{
    public const string ContentType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    /// <param name="numbers">The numeric columns.</param>
    public static async Task Write(
        Stream to,
        string title,
        IReadOnlyList<string> heads,
        IReadOnlySet<int> numbers,
        IEnumerable<IReadOnlyList<string>> rows,
        CancellationToken stop
    )
    {
        // A package needs random access, so it is written to a file that is deleted with its handle, and sent from there.
        await using var file = new FileStream(
            Path.GetTempFileName(),
            FileMode.Create,
            FileAccess.ReadWrite,
            FileShare.None,
            81_920,
            FileOptions.DeleteOnClose | FileOptions.Asynchronous
        );
        using (var document = SpreadsheetDocument.Create(file, SpreadsheetDocumentType.Workbook))
        {
            var workbook = document.AddWorkbookPart();
            var sheet = workbook.AddNewPart<WorksheetPart>();
            using (var writer = OpenXmlWriter.Create(sheet))
            {
                writer.WriteStartElement(new Worksheet());
                writer.WriteElement(
                    new SheetViews(
                        new SheetView(
                            new Pane
                            {
                                VerticalSplit = 1,
                                TopLeftCell = "A2",
                                ActivePane = PaneValues.BottomLeft,
                                State = PaneStateValues.Frozen,
                            }
                        )
                        {
                            WorkbookViewId = 0,
                        }
                    )
                );
                writer.WriteStartElement(new SheetData());
                Row(writer, heads, null);
                foreach (var row in rows)
                {
                    stop.ThrowIfCancellationRequested();
                    Row(writer, row, numbers);
                }

                writer.WriteEndElement();
                writer.WriteEndElement();
            }

            workbook.Workbook = new Workbook(
                new Sheets(
                    new Sheet
                    {
                        Id = workbook.GetIdOfPart(sheet),
                        SheetId = 1,
                        Name = title,
                    }
                )
            );
        }

        file.Position = 0;
        await file.CopyToAsync(to, stop);
    }

    private static void Row(OpenXmlWriter writer, IReadOnlyList<string> cells, IReadOnlySet<int>? numbers)
    {
        writer.WriteStartElement(new Row());
        for (var place = 0; place < cells.Count; place++)
        {
            writer.WriteElement(
                numbers?.Contains(place) == true
                && long.TryParse(cells[place], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out _)
                    ? new Cell { CellValue = new CellValue(cells[place]), DataType = CellValues.Number }
                    : new Cell
                    {
                        InlineString = new InlineString(
                            new Text(Writable(cells[place])) { Space = SpaceProcessingModeValues.Preserve }
                        ),
                        DataType = CellValues.InlineString,
                    }
            );
        }

        writer.WriteEndElement();
    }

    // XML 1.0 does not allow most control characters and lone surrogates.
    private static string Writable(string text) =>
        string.Concat(
            text.EnumerateRunes()
                .Select(rune =>
                    rune.Value is '\t' or '\n' or '\r' || (rune.Value >= 0x20 && rune.Value is not (0xFFFE or 0xFFFF))
                        ? rune.ToString()
                        : "\uFFFD"
                )
        );
}
