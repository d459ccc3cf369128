using CsvHelper;

namespace AtticLedger.Formats.Csv;

/// <summary>
/// A list as CSV (RFC 4180), UTF-8. A cell that a spreadsheet would take for a formula is written with an apostrophe
/// before it, for whoever names a site chooses what stands there.
/// </summary>
public static class CsvList
{
    public const string ContentType = "text/csv; charset=utf-8; header=present";

    public static async Task Write(Stream to, IReadOnlyList<string> heads, IEnumerable<IReadOnlyList<string>> rows, CancellationToken stop)
    {
        await using var csv = CsvWriter.Create(to, new CsvWriterOptions { Injection = CsvInjection.Escape }, leaveOpen: true);
        await csv.WriteRecordAsync([.. heads], stop);
        foreach (var row in rows)
        {
            await csv.WriteRecordAsync([.. row], stop);
        }
    }
}
