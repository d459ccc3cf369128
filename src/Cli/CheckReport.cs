using System.CommandLine;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Cli;

/// <summary>The form in which a check is written.</summary>
internal enum CheckForm
{
    Text,
    Csv,
    Jsonl,
}

/// <summary>
/// The house's rules over a list that somebody keeps, before it is taken in anywhere: what it would break, and what cannot
/// be told of it. The register is read, and nothing is written.
/// </summary>
internal static class CheckReport
{
    private static readonly string[] Heads = ["site", "address", "rule", "level", "verdict", "what", "why"];

    public static Command Command()
    {
        var file = new Argument<FileInfo>("file") { Description = "A list of sites, as CSV or as a workbook." };
        var host = new Option<string>("--host") { Description = "The host that it tells of.", DefaultValueFactory = _ => "a list" };
        var form = new Option<CheckForm>("--as") { Description = "text, csv or jsonl.", DefaultValueFactory = _ => CheckForm.Text };
        var command = new Command("check", "The house's rules over a list of sites. Ends with 1 where a rule that must be kept is broken, with 2 where it is no list.") { file, host, form };
        command.SetAction(async (parsed, stop) =>
        {
            await using var database = Database.Open(Program.Setting("ATTIC_DATABASE"), TimeProvider.System);
            try
            {
                var bytes = await File.ReadAllBytesAsync(parsed.GetRequiredValue(file).FullName, stop);
                await using var to = Console.OpenStandardOutput();
                return await database.Read(connection => Write(connection, database.Now, ListTable.Read(bytes), parsed.GetRequiredValue(host), parsed.GetValue(form), to, stop), stop);
            }
            catch (Exception fault) when (fault is FormatException or HostException or IOException)
            {
                await Console.Error.WriteLineAsync(fault.Message);
                return 2;
            }
        });
        return command;
    }

    private static async Task<int> Write(NpgsqlConnection connection, DateTimeOffset now, ListTable table, string host, CheckForm form, Stream to, CancellationToken stop)
    {
        var time = await connection.HouseTime();
        var (roll, house, rules) = (await connection.Roll(now, time), await connection.House(), await connection.Rules(time.DayOf(now)));
        var units = roll.Units.Select(unit => unit.Code.Value).ToHashSet();
        List<ListedRow> rows = [.. table.Rows.Select(row => new ListedRow(row.Line, row.Cells))];
        var heads = ListReading.Heads(ListReading.Columns(table.Heads, rows, new Dictionary<string, string?>(), new Dictionary<string, string?>()));
        var list = HandList.Read(host, heads, rows, mail => roll.ByMail.ContainsKey(mail.ToLowerInvariant()), units.Contains, time, ListReading.Days(heads, rows, null).Order);
        foreach (var fault in list.Faults)
        {
            await Console.Error.WriteLineAsync(fault.Words);
        }

        var resolution = new Resolution(roll.ByMail, await connection.GroupKeys(), units);
        var lines = list.Sites.Index().Select(pair => new SiteLine(resolution.Site(host, pair.Item, now) with { Id = new SiteId(pair.Index + 1) }, house, roll)).ToList();
        var found = lines.SelectMany(line => rules.Judge(line).OrderBy(finding => finding.Rule.Level).Select(finding => (Line: line, Finding: finding, Said: Explanation.Of(finding, line, roll)))).ToList();
        var cells = found.Select(one => (IReadOnlyList<string>)
        [
            one.Line.Site.Title, one.Line.Site.Address.Or(""), one.Finding.Rule.Id.Value, one.Finding.Rule.Level.ToString().ToLowerInvariant(), one.Finding.Verdict == Verdict.Breaks ? "breaks" : "cannot tell", one.Said.Headline, one.Said.Detail,
        ]);
        switch (form)
        {
            case CheckForm.Csv:
                await CsvList.Write(to, Heads, cells, stop);
                break;
            case CheckForm.Jsonl:
                await JsonLinesList.Write(to, Heads, cells, stop);
                break;
            default:
                await using (var text = new StreamWriter(to, leaveOpen: true) { NewLine = "\n" })
                {
                    foreach (var one in found)
                    {
                        await text.WriteLineAsync($"{one.Line.Site.Title}: {one.Finding.Rule.Id.Value} ({one.Finding.Rule.Level.ToString().ToLowerInvariant()}) {one.Said.Headline}. {one.Said.Detail}");
                    }

                    await text.WriteLineAsync($"{lines.Count} sites, {found.Count(one => one.Finding.Verdict == Verdict.Breaks)} broken rules, {found.Count(one => one.Finding.Verdict == Verdict.CannotTell)} that cannot be told.");
                }

                break;
        }

        return found.Exists(one => one.Finding is { Verdict: Verdict.Breaks, Rule.Level: Level.Must }) ? 1 : 0;
    }
}
