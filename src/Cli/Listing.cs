using System.CommandLine;
using AtticLedger.Formats.Tables;

namespace AtticLedger.Cli;

/// <summary>The format of a report.</summary>
internal enum ListingForm
{
    Text,
    Csv,
    Jsonl,
}

/// <summary>The result of a command, for people or for programs.</summary>
internal static class Listing
{
    public static Option<ListingForm> Option() =>
        new("--as") { Description = "text, csv or jsonl.", DefaultValueFactory = _ => ListingForm.Text };

    /// <param name="lines">The text for people instead of the cells.</param>
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

    /// <returns>The result of the work; 2, with the message printed, if its input cannot be read.</returns>
    public static async Task<int> WithErrors(Func<Task<int>> work)
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
