using System.CommandLine;
using AtticLedger.Formats.Tables;

namespace AtticLedger.Cli;

/// <summary>The form in which a report is written.</summary>
internal enum ListingForm
{
    Text,
    Csv,
    Jsonl,
}

/// <summary>What a command found, for people or for programs.</summary>
internal static class Listing
{
    public static Option<ListingForm> Option() =>
        new("--as") { Description = "text, csv or jsonl.", DefaultValueFactory = _ => ListingForm.Text };

    /// <param name="lines">What people read instead of the cells.</param>
    public static async Task Write(
        ListingForm form,
        IReadOnlyList<string> heads,
        IEnumerable<IReadOnlyList<string>> rows,
        IEnumerable<string> lines,
        CancellationToken stop
    )
    {
        await using var to = Console.OpenStandardOutput();
        switch (form)
        {
            case ListingForm.Csv:
                await CsvList.Write(to, heads, rows, stop);
                break;
            case ListingForm.Jsonl:
                await JsonLinesList.Write(to, heads, rows, stop);
                break;
            default:
                await using (var text = new StreamWriter(to, leaveOpen: true) { NewLine = "\n" })
                {
                    foreach (var line in lines)
                    {
                        await text.WriteLineAsync(line.AsMemory(), stop);
                    }
                }

                break;
        }
    }

    /// <returns>What the work returns; 2, with the words written out, where what it was given is not what it reads.</returns>
    public static async Task<int> Told(Func<Task<int>> work)
    {
        try
        {
            return await work();
        }
        catch (Exception fault)
            when (fault is FormatException or Hosts.HostException or IOException or Formats.Bundle.BundleError)
        {
            await Console.Error.WriteLineAsync(fault.Message);
            return 2;
        }
    }
}
