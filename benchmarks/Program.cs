using System.Diagnostics;
using System.Globalization;
using AtticLedger.Bench;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;
using Npgsql;

const int Sites = 100_000;
const int Times = 7;

var connection = Environment.GetEnvironmentVariable("ATTIC_BENCH_DATABASE") ?? throw new InvalidOperationException("Run ./bench: it starts the database.");
var sqlFolder = args[0];
var register = GeneratedRegister.Of(Sites, seed: 7);

var clock = Stopwatch.StartNew();
var lines = register.Sites.Select(site => new SiteLine(site, register.House, register.Roll)).ToList();
Say($"{Sites:N0} sites, {register.Roll.People.Count:N0} people, {register.Roll.Groups.Count:N0} groups, {register.Sites.Sum(site => site.Sharing.Has(out var sharing) ? sharing.Grants.Count : 0):N0} grants");
Say($"reach and keys of all sites computed in {clock.Elapsed.TotalSeconds:F1} s (once; then only of those that change)");

// The attributes that the three rules speak of, in a table with the same facts: bounds as two columns, none as null.
await using var source = NpgsqlDataSource.Create(connection);
await using var database = await source.OpenConnectionAsync();
await Run("schema.sql");
await using (var copy = await database.BeginBinaryImportAsync("copy line (id, unit, edit_inside_least, edit_inside_most, edit_outside_least, edit_outside_most, beyond, fit_least, fit_most) from stdin (format binary)"))
{
    for (var i = 0; i < lines.Count; i++)
    {
        var line = lines[i];
        await copy.StartRowAsync();
        await copy.WriteAsync(i);
        await (line.Site.Unit.Has(out var unit) ? copy.WriteAsync(unit.Value) : copy.WriteNullAsync());
        foreach (var span in new[] { line.Inside(Power.Edit), line.Outside(Power.Edit) })
        {
            await copy.WriteAsync((short)span.Or(default).AtLeast);
            await copy.WriteAsync((short)span.Or(default).AtMost);
        }

        await (line.Beyond == Truth.Unknown ? copy.WriteNullAsync() : copy.WriteAsync(line.Beyond == Truth.Yes));
        await copy.WriteAsync(line.Keys.FitAtLeast);
        await copy.WriteAsync(line.Keys.FitAtMost ?? int.MaxValue);
    }

    await copy.CompleteAsync();
}

await Run("indexes.sql");
await Run("settings.sql");
var judge = await File.ReadAllTextAsync(Path.Combine(sqlFolder, "judge.sql"));
await using var prepared = new NpgsqlCommand(judge, database);
await prepared.PrepareAsync();

var rules = register.Rules;
var warm = new ColumnsOfLines<SiteLine>(lines);
var bySheet = Verdicts(rules.Judge(warm));
var bySql = await FromSql();
if (!bySheet.SequenceEqual(bySql))
{
    Say($"DIFFERENT RESULTS: the sheet has {bySheet.Count}, SQL {bySql.Count}; first difference {bySheet.Zip(bySql).FirstOrDefault(pair => pair.First != pair.Second)}");
    return 1;
}

Say($"both find the same {bySheet.Count:N0} verdicts (breaks, or cannot tell)");
var cold = Median(() => { Verdicts(rules.Judge(new ColumnsOfLines<SiteLine>(lines))); return Task.CompletedTask; });
var hot = Median(() => { Verdicts(rules.Judge(warm)); return Task.CompletedTask; });
var masks = Median(() => { rules.Judge(warm); return Task.CompletedTask; });
var sql = Median(FromSql);
Say("");
Say("| what | median of 7 | times faster than SQL |");
Say("|---|---|---|");
Row("SQL, prepared, with indexes, all verdicts fetched", sql);
Row("sheet, columns made anew, all verdicts listed", cold);
Row("sheet, columns kept, all verdicts listed", hot);
Row("sheet, columns kept, verdicts left as masks", masks);
return 0;

void Row(string what, double milliseconds) => Say(string.Create(CultureInfo.InvariantCulture, $"| {what} | {milliseconds:F1} ms | {sql / milliseconds:F1} |"));

double Median(Func<Task> what)
{
    var times = new List<double>();
    for (var i = 0; i < Times; i++)
    {
        GC.Collect();
        var watch = Stopwatch.StartNew();
        what().GetAwaiter().GetResult();
        times.Add(watch.Elapsed.TotalMilliseconds);
    }

    times.Sort();
    return times[Times / 2];
}

List<(int Site, string Rule, bool CannotTell)> Verdicts(IReadOnlyList<(Rule Rule, Mask Breaks)> judged) =>
    [.. judged.SelectMany(pair =>
        pair.Breaks.Lines().Select(line => (line, pair.Rule.Id.Value, false))
            .Concat(pair.Breaks.Lines(Truth.Unknown).Select(line => (line, pair.Rule.Id.Value, true))))];

async Task<List<(int Site, string Rule, bool CannotTell)>> FromSql()
{
    var verdicts = new List<(int, string, bool)>();
    await using var reader = await prepared.ExecuteReaderAsync();
    while (await reader.ReadAsync())
    {
        verdicts.Add((reader.GetInt32(0), reader.GetString(1), reader.GetBoolean(2)));
    }

    return verdicts;
}

async Task Run(string file)
{
    await using var command = new NpgsqlCommand(await File.ReadAllTextAsync(Path.Combine(sqlFolder, file)), database);
    await command.ExecuteNonQueryAsync();
}

static void Say(string text) => Console.WriteLine(text);
