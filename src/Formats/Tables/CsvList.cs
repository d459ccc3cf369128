using CsvHelper;

namespace AtticLedger.Formats.Tables;

/// <summary>A list as CSV (RFC 4180), UTF-8. Cells that a spreadsheet would read as formulas are made inert.</summary>
/// <seealso cref="InertCell"/>
public static class CsvList
{
    public const string ContentType = "text/csv; charset=utf-8; header=present";

    public static async Task Write(
        Stream to,
        IReadOnlyList<string> heads,
        IEnumerable<IReadOnlyList<string>> rows,
        CancellationToken stop
    )
    {
        await using var csv = CsvWriter.Create(to, new CsvWriterOptions(), leaveOpen: true);
        await csv.WriteRecordAsync([.. heads], stop);
        foreach (var row in rows)
        {
            await csv.WriteRecordAsync([.. row.Select(InertCell.Of)], stop);
        }
    }
}
