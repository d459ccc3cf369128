using System.Diagnostics;
using System.IO.Compression;
using System.Text;
using AtticLedger.Formats.Tables;
using CsCheck;

namespace AtticLedger.Server.Tests;

/// <summary>Reading and writing tables: files of other programs are read, our own files survive a round trip, and hostile files
/// are refused at the place of the error.</summary>
public sealed class TableFacts : IDisposable
{
    private static readonly string[] Heads = ["name", "visits", "tags"];
    private static readonly IReadOnlyList<IReadOnlyList<string>> Rows =
    [
        ["Seal watch", "640", "a; b"],
        ["=HYPERLINK(\"x\")", "", "'quoted"],
        ["+44 20", "-3", "'t was"],
        ["Café, \"Küste\"\nsecond line", "0", "\u202egnp.exe\u200b"],
        ["@home", "12345678901", "東京 🚢"],
    ];

    private readonly DirectoryInfo folder = Directory.CreateTempSubdirectory("attic-tables");

    public void Dispose() => folder.Delete(recursive: true);

    [Fact]
    public async Task What_is_written_as_a_workbook_or_as_CSV_is_read_back_as_it_was()
    {
        Same(Read(await Xlsx(Heads, Rows)));
        Same(Read(await Csv(Rows)));

        // A text that already begins with a quote.
        Assert.Equal(
            ["'=1", "''=1", "'"],
            Read(
                await Csv([
                    ["'=1", "''=1", "'"],
                ])
            )
                .Rows.First()
                .Cells
        );
    }

    [Fact]
    public void Any_text_is_inert_in_CSV_and_comes_back() =>
        Gen.String[Gen.Char["'=+-@\t\rab\uFF1D"], 0, 8]
            .Sample(text =>
            {
                var cell = InertCell.Of(text);
                Assert.Equal(text, InertCell.Restore(cell));
                Assert.False(cell.Length > 0 && "=+-@\t\r\uFF1D".Contains(cell[0], StringComparison.Ordinal));
            });

    [Fact]
    public async Task An_office_opens_our_workbook_and_what_it_saves_in_any_encoding_is_read_equal()
    {
        await File.WriteAllBytesAsync(Path.Combine(folder.FullName, "ours.xlsx"), await Xlsx(Heads, Rows));
        Same(Read(await Office("ours.xlsx", "xlsx:Calc MS Excel 2007 XML", "again", "xlsx")));

        // Separator, quote and encoding in LibreOffice's numbers: 76 is UTF-8, 65535 UTF-16, 1 Windows-1252.
        Same(Read(await Office("ours.xlsx", "csv:Text - txt - csv (StarCalc):44,34,76,1", "utf8", "csv")));
        Same(Read(await Office("ours.xlsx", "csv:Text - txt - csv (StarCalc):59,34,65535,1", "utf16", "csv")));
        Same(Read(await Office("ours.xlsx", "csv:Text - txt - csv (StarCalc):9,34,76,1", "tabs", "csv")));

        IReadOnlyList<IReadOnlyList<string>> western =
        [
            ["Café Küste – “x”", "7", "a|b"],
        ];
        await File.WriteAllBytesAsync(Path.Combine(folder.FullName, "western.xlsx"), await Xlsx(Heads, western));
        var read = Read(await Office("western.xlsx", "csv:Text - txt - csv (StarCalc):59,34,1,1", "western", "csv"));
        Assert.Equal(western[0], read.Rows.First().Cells);
        Assert.Equal("Windows-1252, separated by semicolons", read.ReadAs);
    }

    [Fact]
    public async Task Days_and_instants_of_an_office_are_read_as_such_and_numbers_are_numbers()
    {
        await File.WriteAllTextAsync(
            Path.Combine(folder.FullName, "days.csv"),
            "day,at,count\n2026-11-24,2026-11-24 07:02:03,12\n"
        );
        var read = Read(await Office("days.csv", "xlsx:Calc MS Excel 2007 XML", "days", "xlsx"));
        Assert.Equal(["2026-11-24", "2026-11-24 07:02:03", "12"], read.Rows.First().Cells);
    }

    [Fact]
    public async Task A_file_that_is_hostile_or_no_table_is_refused_with_its_place_and_the_remedy()
    {
        Refused("The file begins as a workbook and is damaged", [0x50, 0x4B, 0x03, 0x04, 1, 2, 3]);
        Refused(
            "The workbook has macros. Save it as .xlsx, without them.",
            Repacked(await Xlsx(Heads, Rows), ("xl/vbaProject.bin", "x"u8.ToArray()))
        );
        Refused(
            "The workbook inflates to more than 200 MB, in xl/bomb.xml.",
            Repacked(await Xlsx(Heads, Rows), ("xl/bomb.xml", new byte[210 * 1024 * 1024]))
        );
        Refused(
            "The workbook cannot be read: ",
            Repacked(
                await Xlsx(Heads, Rows),
                (
                    "xl/worksheets/sheet1.xml",
                    "<!DOCTYPE x [<!ENTITY a \"aaaa\"><!ENTITY b \"&a;&a;\">]><worksheet xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><sheetData><row><c t=\"inlineStr\"><is><t>&b;</t></is></c></row></sheetData></worksheet>"u8.ToArray()
                )
            )
        );
        Refused(
            "xl/worksheets/sheet1.xml of the workbook nests more than 64 deep",
            Repacked(
                await Xlsx(Heads, Rows),
                (
                    "xl/worksheets/sheet1.xml",
                    Encoding.UTF8.GetBytes(
                        "<worksheet>"
                            + string.Concat(Enumerable.Repeat("<a>", 200_000))
                            + string.Concat(Enumerable.Repeat("</a>", 200_000))
                            + "</worksheet>"
                    )
                )
            )
        );
        Refused(
            "Cell B2 holds a formula. Copy the column and paste its values",
            Sheet(
                "<row r=\"1\"><c r=\"A1\"><v>1</v></c></row><row r=\"2\"><c r=\"B2\"><f>1+1</f><v>2</v></c></row>",
                "",
                await Xlsx(Heads, Rows)
            )
        );
        Refused(
            "The cells A2:B2 are merged. Unmerge them",
            Sheet(
                "<row r=\"1\"><c r=\"A1\"><v>1</v></c></row>",
                "<mergeCells><mergeCell ref=\"A2:B2\"/></mergeCells>",
                await Xlsx(Heads, Rows)
            )
        );
        Refused(
            "Line 1 has 10001 columns; the maximum is 200.",
            Encoding.UTF8.GetBytes(string.Join(',', Enumerable.Range(0, 10_001)))
        );
        Refused(
            "Line 1 has 10001 columns; the maximum is 200.",
            Sheet("<row r=\"1\"><c r=\"NTQ1\"><v>1</v></c></row>", "", await Xlsx(Heads, Rows))
        );
        Refused("Line 2, name: there is a NUL character.", "name\na\0b\n"u8.ToArray());
        Refused("Line 2", Encoding.UTF8.GetBytes("name\n\"" + new string('x', 100_000)));
        Refused("The list is empty.", []);
        Refused("The list is empty.", Sheet("", "", await Xlsx(Heads, Rows)));
        Refused(
            "Cell A2 holds the error #REF!.",
            Sheet(
                "<row r=\"1\"><c r=\"A1\"><v>1</v></c></row><row r=\"2\"><c r=\"A2\" t=\"e\"><v>#REF!</v></c></row>",
                "",
                await Xlsx(Heads, Rows)
            )
        );
    }

    [Theory]
    [InlineData("UTF-8", "UTF-8, separated by commas")]
    [InlineData("utf-16", "UTF-16, separated by commas")]
    [InlineData("windows-1252", "Windows-1252, separated by commas")]
    public void A_file_larger_than_any_buffer_is_read_row_by_row_in_its_encoding(string encoding, string readAs)
    {
        // Characters of several bytes at every position of a buffer; the only one that reveals the encoding is at the end.
        var to =
            encoding == "windows-1252" ? CodePagesEncodingProvider.Instance.GetEncoding(1252)! : Encoding.GetEncoding(encoding);
        var text = new StringBuilder("name,note\n");
        for (var row = 0; row < 4000; row++)
        {
            text.Append("n")
                .Append(row)
                .Append(",\"")
                .Append(encoding == "windows-1252" ? new string('x', 50 + (row % 7)) : new string('é', 50 + (row % 7)))
                .Append("\"\n");
        }

        byte[] bytes = [.. to.GetPreamble(), .. to.GetBytes(text.Append("last,Küste\n").ToString())];
        var opened = 0;
        var table = ListTable.Read(() =>
        {
            opened++;
            return new MemoryStream(bytes);
        });
        Assert.Equal((readAs, "name"), (table.ReadAs, table.Heads[0]));
        var before = opened;
        Assert.Equal(["n0", "n1"], table.Rows.Take(2).Select(row => row.Cells[0]));
        Assert.Equal("Küste", table.Rows.Last().Cells[1]);
        Assert.Equal((before + 2, 4002), (opened, table.Rows.Last().Line));
        Assert.Equal(4001, table.Rows.Count());
    }

    [Fact]
    public void A_byte_that_is_no_letter_is_found_in_its_line_however_far_down()
    {
        byte[] bytes = [.. Encoding.ASCII.GetBytes(string.Concat(Enumerable.Repeat("a line of a list\n", 9000))), 0x81];
        Refused("Line 9001: this is neither UTF-8 nor Windows-1252.", bytes);
    }

    [Fact]
    public async Task A_million_empty_rows_are_passed_over()
    {
        var empty = new StringBuilder("<row r=\"1\"><c r=\"A1\" t=\"inlineStr\"><is><t>key</t></is></c></row>");
        for (var row = 2; row < 1_000_000; row++)
        {
            empty.Append("<row r=\"").Append(row).Append("\"/>");
        }

        empty.Append("<row r=\"1000000\"><c r=\"A1000000\" t=\"inlineStr\"><is><t>f1</t></is></c></row>");
        var table = Read(Sheet(empty.ToString(), "", await Xlsx(Heads, Rows)));
        Assert.Equal((1_000_000, "f1"), (table.Rows.Single().Line, table.Rows.First().Cells[0]));
    }

    private static ListTable Read(byte[] bytes) => ListTable.Read(() => new MemoryStream(bytes));

    private static void Refused(string words, byte[] bytes) =>
        Assert.StartsWith(words, Assert.Throws<FormatException>(() => Read(bytes)).Message);

    private static void Same(ListTable table)
    {
        Assert.Equal(Heads, table.Heads);
        Assert.Equal(Rows.Select(row => string.Join('¦', row)), table.Rows.Select(row => string.Join('¦', row.Cells)));
    }

    private static async Task<byte[]> Csv(IReadOnlyList<IReadOnlyList<string>> rows)
    {
        using var bytes = new MemoryStream();
        await CsvList.Write(bytes, Heads, rows, default);
        return bytes.ToArray();
    }

    private static async Task<byte[]> Xlsx(IReadOnlyList<string> heads, IReadOnlyList<IReadOnlyList<string>> rows)
    {
        using var bytes = new MemoryStream();
        await XlsxList.Write(bytes, "Register", heads, new HashSet<int> { 1 }, rows, default);
        return bytes.ToArray();
    }

    private static byte[] Sheet(string rows, string behind, byte[] workbook) =>
        Repacked(
            workbook,
            (
                "xl/worksheets/sheet1.xml",
                Encoding.UTF8.GetBytes(
                    $"<worksheet xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><sheetData>{rows}</sheetData>{behind}</worksheet>"
                )
            )
        );

    private static byte[] Repacked(byte[] workbook, (string Name, byte[] Bytes) part)
    {
        using var bytes = new MemoryStream();
        bytes.Write(workbook);
        using (var zip = new ZipArchive(bytes, ZipArchiveMode.Update, leaveOpen: true))
        {
            zip.GetEntry(part.Name)?.Delete();
            using var stream = zip.CreateEntry(part.Name, CompressionLevel.Fastest).Open();
            stream.Write(part.Bytes);
        }

        return bytes.ToArray();
    }

    // LibreOffice without a window, with its own profile.
    private async Task<byte[]> Office(string file, string filter, string into, string extension)
    {
        var to = folder.CreateSubdirectory(into);
        var start = new ProcessStartInfo("soffice") { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (
            var argument in new[]
            {
                $"-env:UserInstallation=file://{folder.FullName}/profile",
                "--headless",
                "--convert-to",
                filter,
                "--outdir",
                to.FullName,
                Path.Combine(folder.FullName, file),
            }
        )
        {
            start.ArgumentList.Add(argument);
        }

        using var office = Process.Start(start)!;
        var said = await office.StandardOutput.ReadToEndAsync() + await office.StandardError.ReadToEndAsync();
        await office.WaitForExitAsync();
        var result = Path.Combine(to.FullName, Path.ChangeExtension(file, extension));
        Assert.True(File.Exists(result), said);
        return await File.ReadAllBytesAsync(result);
    }
}
