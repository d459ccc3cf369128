using AtticLedger.Bench;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Formats.Snapshot;
using AtticLedger.Store;

const int Small = 10_000;
const int Large = 100_000;
const int Filters = 200;

if (args is ["kills", var folder, var kills])
{
    return await AtticLedger.Bench.Kills.Campaign.Run(folder, int.Parse(kills, System.Globalization.CultureInfo.InvariantCulture))
        ? 0
        : 1;
}

if (args is ["writers"])
{
    return await Writers.Run(new Uri(Setting("ATTIC_ADDRESS")), Setting("ATTIC_DEMO_PASSWORD")) ? 0 : 1;
}

var server = Setting("ATTIC_BENCH_DATABASE");
var sqlFolder = args[0];
var work = Directory.CreateTempSubdirectory("attic-bench");
var report = new Report();
try
{
    if (args is [_, "reads", var count])
    {
        await Reads(int.Parse(count, System.Globalization.CultureInfo.InvariantCulture));
        report.End();
        return report.IsKept ? 0 : 1;
    }

    if (args is [_, "rebuild", var rows])
    {
        var sites = int.Parse(rows, System.Globalization.CultureInfo.InvariantCulture);
        var register = await BenchRegister.Of(server, sites, work.CreateSubdirectory("bundle"));
        var (rebuild, copyTo) = await Timing.Beside(async () => await register.ReadAll(), register.CopyTo);
        Report.Table($"the index of {sites:N0} sites");
        report.Within("rebuild from rows", rebuild, "COPY TO", copyTo, 4.5);
        report.End();
        return report.IsKept ? 0 : 1;
    }

    if (args is [_, "rules", var many])
    {
        var register = await BenchRegister.Of(
            server,
            int.Parse(many, System.Globalization.CultureInfo.InvariantCulture),
            work.CreateSubdirectory("bundle")
        );
        await Rules(register, await register.ReadAll());
        report.End();
        return report.IsKept ? 0 : 1;
    }

    if (args is [_, "names", var named])
    {
        var sites = int.Parse(named, System.Globalization.CultureInfo.InvariantCulture);
        var register = await BenchRegister.Of(server, sites, work.CreateSubdirectory("bundle"));
        await new NameBench(await register.ReadAll(), report).Run(isPromised: sites >= Large);
        report.End();
        return report.IsKept ? 0 : 1;
    }

    if (args is [_, "queries", var size])
    {
        var sites = int.Parse(size, System.Globalization.CultureInfo.InvariantCulture);
        await new QueryBench(await BenchRegister.Of(server, sites, work.CreateSubdirectory("bundle")), report).Run();
        report.End();
        return report.IsKept ? 0 : 1;
    }

    var small = await Measured(Small);
    var large = await Measured(Large);
    await Reads(Large);
    Report.Table($"growth from {Small:N0} to {Large:N0} sites");
    report.Within("rebuild from rows", large.Rebuild, "at the small size", small.Rebuild, 12);
    report.Within("start from the snapshot", large.Snapshot, "at the small size", small.Snapshot, 12);
    report.Within("bundle import", large.Import, "at the small size", small.Import, 12);
    report.Within("filters with three conditions, p95", large.Filters, "at the small size", small.Filters, 12);
}
finally
{
    work.Delete(recursive: true);
}

report.End();
return report.IsKept ? 0 : 1;

async Task Rules(
    BenchRegister register,
    (PeopleDirectory PeopleDirectory, AtticLedger.Core.Sites.Organisation Organisation, RuleBook Rules, RegisterIndex Index) read
)
{
    await using var rules = new RuleBench(
        register,
        read.Organisation,
        read.PeopleDirectory,
        read.Index,
        read.Rules.Today,
        sqlFolder
    );
    await rules.Run(report, isPromised: read.Index.Count >= Large);
}

async Task Reads(int sites)
{
    var empty = await BenchRegister.Empty(server, $"reads_{sites}");
    var (first, second, written) = await ReadBench.Of(empty.Database, sites);
    Report.Table($"a host with {sites:N0} sites, synced twice over HTTP");
    report.Within("the second sync", second, "the first", first, 1 / 3.0);
    Report.Line($"| rows and entries that the second sync wrote | {written} | | | 0 |");
}

async Task<(double Rebuild, double Snapshot, double Import, double Filters)> Measured(int sites)
{
    var folder = work.CreateSubdirectory($"{sites}");
    var register = await BenchRegister.Of(server, sites, folder.CreateSubdirectory("bundle"));
    var before = GC.GetTotalMemory(forceFullCollection: true);
    var (directory, organisation, rules, index) = await register.ReadAll();
    var withBoth = GC.GetTotalMemory(forceFullCollection: true);
    Report.Line("");
    Report.Line($"## {sites:N0} sites");
    Report.Line("");
    Report.Line(
        $"{directory.People.Count:N0} people, {directory.Groups.Count:N0} groups, {await Grants(register):N0} grants, {JudgedSite.Attributes.All.Count} attributes, {rules.Rules.Count()} rules."
    );

    var file = Path.Combine(folder.FullName, "snapshot");
    SnapshotFile.Write(file, new SnapshotHead("bench", 1, ""), to =>
    {
        directory.Write(to);
        index.Write(to);
    });
    var time = directory.Time;
    var (rebuild, copyTo) = await Timing.Beside(async () => await register.ReadAll(), register.CopyTo);
    var snapshot = await Timing.Median(() =>
    {
        var (_, rows) = SnapshotFile.Read(file);
        return Task.FromResult(RegisterIndex.Read(rows, DirectorySnapshot.Read(rows, time), rules));
    });
    var other = await BenchRegister.Empty(server, $"copy_{sites}");
    var copyFrom = await register.CopyInto(other, folder.CreateSubdirectory("copy"));

    Report.Table("the index and its rows");
    report.Within("rebuild from rows", rebuild, "COPY TO", copyTo, 4.5);
    report.Faster("start from the snapshot", snapshot, "rebuild", rebuild, 8);
    report.Within("bundle import (once)", register.Imported, "COPY FROM (once)", copyFrom, 4);
    report.Memory("index and directory after a rebuild", withBoth - before);
    var (_, kept) = SnapshotFile.Read(file);
    var directoryAgain = DirectorySnapshot.Read(kept, time);
    var beforeIndex = GC.GetTotalMemory(forceFullCollection: true);
    var indexAgain = RegisterIndex.Read(kept, directoryAgain, rules);
    report.Memory(
        "the index alone, read from its snapshot",
        GC.GetTotalMemory(forceFullCollection: true) - beforeIndex,
        sites == Large ? 150 : 30
    );
    GC.KeepAlive(indexAgain);
    GC.KeepAlive(organisation);

    await using var filters = new FilterBench(register, index, sqlFolder);
    await filters.Prepare();
    var results = await filters.Run(RandomFilters.Of(Filters, seed: 3));
    Report.Table($"{Filters} filters: a page and eight counts, the same from both");
    foreach (var (conditions, atLeast) in new[] { (0, 50), (1, 50), (3, 8) })
    {
        var some = results.Where(one => one.Filter.Conditions == conditions).ToList();
        foreach (var part in new[] { 0.5, 0.95 })
        {
            report.Faster(
                $"{conditions} conditions, p{part * 100:0}",
                Timing.At(some.Select(one => one.Index), part),
                "SQL",
                Timing.At(some.Select(one => one.Sql), part),
                sites == Large ? atLeast : 1
            );
        }
    }

    await Rules(register, (directory, organisation, rules, index));
    await new QueryBench(register, report).Run();
    return (
        rebuild,
        snapshot,
        register.Imported,
        Timing.At(results.Where(one => one.Filter.Conditions == 3).Select(one => one.Index), 0.95)
    );
}

static async Task<long> Grants(BenchRegister register)
{
    await using var count = register.Database.Source.CreateCommand("select count(*) from site_grant");
    return (long)(await count.ExecuteScalarAsync())!;
}

static string Setting(string name) =>
    Environment.GetEnvironmentVariable(name) ?? throw new InvalidOperationException($"Run ./bench: it sets {name}.");
