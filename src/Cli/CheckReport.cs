using System.CommandLine;
using AtticLedger.Cli.Bundle;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Cli;

/// <summary>Checks rules on sites that are not in the register yet: the organisation's rules on a list, or a bundle's own rules
/// on its sites. Reports findings, and where a rule cannot tell. Nothing is written.
/// </summary>
internal static class CheckReport
{
    private const int Together = 1024;
    private static readonly string[] Heads = ["site", "address", "rule", "level", "verdict", "what", "why"];

    public static Command Command()
    {
        var path = new Argument<string>("path")
        {
            Description = "A list of sites, as CSV or as a workbook, or the folder of a bundle.",
        };
        var host = new Option<string>("--host")
        {
            Description = "The host whose sites the list names.",
            DefaultValueFactory = _ => "a list",
        };
        var form = Listing.Option();
        var command = new Command(
            "check",
            "Checks a list of sites with the organisation's rules, or a bundle with its own rules. Exit code 1: a critical rule is broken; 2: the file is neither."
        )
        {
            path,
            host,
            form,
        };
        command.SetAction(
            (parsed, stop) =>
                Listing.WithErrors(async () =>
                {
                    var from = parsed.GetRequiredValue(path);
                    return Directory.Exists(from)
                        ? await Write(
                            Checked.OfBundle(new DirectoryInfo(from), TimeProvider.System.GetUtcNow()),
                            parsed.GetValue(form),
                            stop
                        )
                        : await WriteList(new FileInfo(from), parsed.GetRequiredValue(host), parsed.GetValue(form), stop);
                })
        );
        return command;
    }

    private static async Task<int> WriteList(FileInfo file, string host, ListingForm form, CancellationToken stop)
    {
        await using var database = Database.Open(Program.Setting("ATTIC_DATABASE"), TimeProvider.System);
        return await Write(
            await database.Read(connection => OfList(connection, database.Now, ListTable.Read(file.OpenRead), host), stop),
            form,
            stop
        );
    }

    private static async Task<Checked> OfList(NpgsqlConnection connection, DateTimeOffset now, ListTable table, string host)
    {
        var time = await connection.OrganisationTime();
        var (directory, organisation) = (await connection.PeopleDirectory(now, time), await connection.Organisation());
        var units = directory.Units.Select(unit => unit.Code.Value).ToHashSet();
        var rows = table.Rows.Select(row => new ListedRow(row.Line, row.Cells));
        var heads = ListMapping.Heads(
            ListKind.Sites,
            ListMapping.Columns(
                ListKind.Sites,
                table.Heads,
                rows,
                new Dictionary<string, string?>(),
                new Dictionary<string, string?>()
            )
        );
        List<ListedLine> lines =
        [
            .. ManualList.Read(
                host,
                heads,
                rows,
                ListWords.Of(directory),
                time,
                ListMapping.Days(ListKind.Sites, heads, rows, null).Order
            ),
        ];
        foreach (var fault in lines.SelectMany(line => line.Faults))
        {
            await Console.Error.WriteLineAsync(fault.Words);
        }

        var resolution = new Resolution(directory.ByMail, await connection.GroupKeys(), units);
        return new Checked(
            lines
                .Select(line => line.Site)
                .OfType<HostSite>()
                .Index()
                .Select(pair => resolution.Site(host, pair.Item, now) with { Id = new SiteId(pair.Index + 1) }),
            organisation,
            directory,
            await connection.AllRules()
        );
    }

    private static async Task<int> Write(Checked these, ListingForm form, CancellationToken stop)
    {
        var (sites, rules) = (0, these.Book(these.Rules));
        List<(SiteFacts Site, Finding Finding, Explanation Explanation)> found = [];
        foreach (var few in these.Sites.Chunk(Together))
        {
            sites += few.Length;
            foreach (
                var judged in rules.Judge(
                    Array.ConvertAll(few, site => new ComputedSite(site, these.Organisation, these.PeopleDirectory))
                )
            )
            {
                found.AddRange(
                    judged
                        .Findings.OrderBy(finding => finding.Rule.Level)
                        .Select(finding =>
                            (judged.Line.Site, finding, Explanation.Of(finding, judged.Line, these.PeopleDirectory))
                        )
                );
            }
        }

        await Listing.Write(
            form,
            Heads,
            found.Select(one =>
                (IReadOnlyList<string>)
                    [
                        one.Site.Title,
                        one.Site.Address.Or(""),
                        one.Finding.Rule.Id.Value,
                        Word(one.Finding.Rule.Level),
                        one.Finding.Verdict == Verdict.Breaks ? "breaks" : "cannot tell",
                        one.Explanation.Headline,
                        one.Explanation.Detail,
                    ]
            ),
            [
                .. found.Select(one =>
                    $"{one.Site.Title}: {one.Finding.Rule.Id.Value} ({Word(one.Finding.Rule.Level)}) {one.Explanation.Headline}. {one.Explanation.Detail}"
                ),
                $"{sites} sites, {found.Count(one => one.Finding.Verdict == Verdict.Breaks)} broken rules, {found.Count(one => one.Finding.Verdict == Verdict.CannotTell)} that cannot tell.",
            ],
            stop
        );
        return found.Exists(one => one.Finding is { Verdict: Verdict.Breaks, Rule.Level: Level.Critical }) ? 1 : 0;
    }

    private static string Word(Level level) => level.ToString().ToLowerInvariant();
}
