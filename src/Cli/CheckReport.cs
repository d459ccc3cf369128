using System.CommandLine;
using AtticLedger.Cli.Bundle;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Cli;

/// <summary>
/// Rules over sites that are on no register yet: the house's over a list that somebody keeps, a bundle's own over its sites.
/// What would break, and what cannot be told. Nothing is written anywhere.
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
            Description = "The host that a list tells of.",
            DefaultValueFactory = _ => "a list",
        };
        var form = Listing.Option();
        var command = new Command(
            "check",
            "The house's rules over a list of sites, or a bundle's own over its sites. Ends with 1 where a rule that must be kept is broken, with 2 where it is neither."
        )
        {
            path,
            host,
            form,
        };
        command.SetAction(
            (parsed, stop) =>
                Listing.Told(async () =>
                {
                    var from = parsed.GetRequiredValue(path);
                    return Directory.Exists(from)
                        ? await Write(
                            OfBundle(new DirectoryInfo(from), TimeProvider.System.GetUtcNow()),
                            parsed.GetValue(form),
                            stop
                        )
                        : await WriteList(new FileInfo(from), parsed.GetRequiredValue(host), parsed.GetValue(form), stop);
                })
        );
        return command;
    }

    private sealed record Checked(IEnumerable<SiteFacts> Sites, House House, Roll Roll, RuleBook Rules);

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
        var time = await connection.HouseTime();
        var (roll, house, rules) = (
            await connection.Roll(now, time),
            await connection.House(),
            await connection.Rules(time.DayOf(now))
        );
        var units = roll.Units.Select(unit => unit.Code.Value).ToHashSet();
        var rows = table.Rows.Select(row => new ListedRow(row.Line, row.Cells));
        var heads = ListReading.Heads(
            ListKind.Sites,
            ListReading.Columns(
                ListKind.Sites,
                table.Heads,
                rows,
                new Dictionary<string, string?>(),
                new Dictionary<string, string?>()
            )
        );
        List<ListedLine> lines =
        [
            .. HandList.Read(
                host,
                heads,
                rows,
                mail => roll.ByMail.ContainsKey(mail.ToLowerInvariant()),
                units.Contains,
                time,
                ListReading.Days(ListKind.Sites, heads, rows, null).Order
            ),
        ];
        foreach (var fault in lines.SelectMany(line => line.Faults))
        {
            await Console.Error.WriteLineAsync(fault.Words);
        }

        var resolution = new Resolution(roll.ByMail, await connection.GroupKeys(), units);
        return new Checked(
            lines
                .Select(line => line.Site)
                .OfType<HostSite>()
                .Index()
                .Select(pair => resolution.Site(host, pair.Item, now) with { Id = new SiteId(pair.Index + 1) }),
            house,
            roll,
            rules
        );
    }

    private static Checked OfBundle(DirectoryInfo folder, DateTimeOffset now)
    {
        var register = new BundleRegister(BundleFolder.Open(folder));
        List<Unit> units = [.. register.Units()];
        List<Person> people = [.. register.People().Select(pair => pair.Person)];
        List<Group> groups = [.. register.Groups().Select(named => named.Group)];
        List<(string, string)> settings = [.. register.Settings()];
        var time = HouseTables.TimeOf(settings);
        List<SiteKind> kinds = [.. register.Kinds()];
        var house = HouseTables.HouseOf([.. register.Limits()], kinds, [.. register.Keeping()], settings);
        return new Checked(
            register.Sites(),
            house,
            new Roll(people, units, groups, now, time),
            new RuleBook(register.Rules(), time.DayOf(now))
        );
    }

    private static async Task<int> Write(Checked these, ListingForm form, CancellationToken stop)
    {
        var sites = 0;
        List<(SiteFacts Site, Finding Finding, Explanation Said)> found = [];
        foreach (var few in these.Sites.Chunk(Together))
        {
            sites += few.Length;
            foreach (var judged in these.Rules.Judge(Array.ConvertAll(few, site => new SiteLine(site, these.House, these.Roll))))
            {
                found.AddRange(
                    judged
                        .Findings.OrderBy(finding => finding.Rule.Level)
                        .Select(finding => (judged.Line.Site, finding, Explanation.Of(finding, judged.Line, these.Roll)))
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
                        one.Said.Headline,
                        one.Said.Detail,
                    ]
            ),
            [
                .. found.Select(one =>
                    $"{one.Site.Title}: {one.Finding.Rule.Id.Value} ({Word(one.Finding.Rule.Level)}) {one.Said.Headline}. {one.Said.Detail}"
                ),
                $"{sites} sites, {found.Count(one => one.Finding.Verdict == Verdict.Breaks)} broken rules, {found.Count(one => one.Finding.Verdict == Verdict.CannotTell)} that cannot be told.",
            ],
            stop
        );
        return found.Exists(one => one.Finding is { Verdict: Verdict.Breaks, Rule.Level: Level.Must }) ? 1 : 0;
    }

    private static string Word(Level level) => level.ToString().ToLowerInvariant();
}
