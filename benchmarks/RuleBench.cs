using System.Diagnostics;
using System.Text.Json;
using AtticLedger.Cli.Demo;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Bench;

/// <summary>The rules of the demo on every site, from the index and from SQL over the same values; both have to give the same verdicts.
/// </summary>
internal sealed class RuleBench(
    BenchRegister register,
    Organisation organisation,
    PeopleDirectory directory,
    RegisterIndex index,
    Today today,
    string sqlFolder
) : IAsyncDisposable
{
    private static readonly TimeSpan WarmUp = TimeSpan.FromSeconds(2);
    private static readonly string[] Texts = ["name", "unit", "classification", "purpose", "description", "plan"];
    private static readonly string[] Bounds =
    [
        "status",
        "joining",
        "logo",
        "storage",
        "visits",
        "view.outside",
        "preview.inside",
        "edit.inside",
        "edit.outside",
        "editors.count",
        "owners.active.count",
    ];
    private static readonly HashSet<string> Numbers = ["storage", "visits", "editors.count", "owners.active.count"];
    private static readonly string[] Truths = ["exceeds", "search.hidden", "plan.renews"];
    private static readonly string[] Moments = ["edited", "created", "visited", "plan.ends"];
    private static readonly string[] Lists = ["name.drift", "unmapped", "ajar", "signals"];

    private readonly VisibleRegister all = index.Seen(new Scope.Everything());
    private readonly IReadOnlyList<(string Id, RuleExpression Expression, Filter<JudgedSite> Breaks)> rules = [.. Demo(today)];
    private NpgsqlConnection database = null!;
    private string sql = "";

    public async Task Run(Report report, bool isPromised)
    {
        await Prepare();
        await Compare();
        Report.Table($"{rules.Count} rules on {index.Count:N0} sites, the same verdicts from both");
        await using var whole = Command(EveryCount);
        await whole.PrepareAsync();

        // Until its code is compiled for good, as in a server that has run for a while.
        for (var watch = Stopwatch.StartNew(); watch.Elapsed < WarmUp; )
        {
            Judge();
        }

        var (full, fullSql) = await Timing.Beside(() => Task.FromResult(Judge()), () => whole.ExecuteScalarAsync());
        report.Faster("all rules, the number that break each", full, "SQL", fullSql, isPromised ? 20 : 1);

        var judge = new SiteJudge(organisation, directory, Book());
        var site = await register.Database.Read(connection =>
            connection.Sites(new Scope.Everything(), [all.IdAt(index.Count / 2)])
        );
        var (put, again) = await Timing.Beside(
            () => Task.FromResult(judge.Put(index, judge.Of(site))),
            () => whole.ExecuteScalarAsync()
        );
        report.Faster("one site changed, judged and in the index", put, "SQL, all sites again", again, isPromised ? 100 : 1);

        var (ours, theirs) = (new List<double>(), new List<double>());
        foreach (var (id, _, breaks) in rules)
        {
            await using var one = Command(CountOf(id));
            await one.PrepareAsync();
            var (index, sql) = await Timing.Beside(
                () => Task.FromResult(all.Where(breaks).CountYes),
                () => one.ExecuteScalarAsync()
            );
            ours.Add(index);
            theirs.Add(sql);
        }

        var slowest = ours.IndexOf(ours.Max());
        report.Faster($"the slowest rule, {rules[slowest].Id}", ours[slowest], "SQL", theirs[slowest], 1);
        report.Faster("one rule tried out, p95", Timing.At(ours, 0.95), "SQL", Timing.At(theirs, 0.95), 1);
    }

    public ValueTask DisposeAsync() => database.DisposeAsync();

    private string EveryCount => string.Join(", ", rules.Select(rule => CountOf(rule.Id)));

    private static string CountOf(string rule) => $"count(*) filter (where {Column(rule)})";

    // R-07 is r07.
    private static string Column(string rule) => rule.Replace("-", "", StringComparison.Ordinal).ToLowerInvariant();

    private int Judge() => rules.Sum(rule => all.Where(rule.Breaks).CountYes);

    private NpgsqlCommand Command(string select, long? site = null)
    {
        var command = new NpgsqlCommand(sql.Replace("{select}", select, StringComparison.Ordinal), database);
        foreach (var days in new[] { -60, -180, -365, 30 })
        {
            command.Parameters.Add(new NpgsqlParameter { Value = today.Plus(days).UtcDateTime });
        }

        command.Parameters.Add(
            new NpgsqlParameter { NpgsqlDbType = NpgsqlDbType.Bigint, Value = site is { } id ? id : DBNull.Value }
        );
        return command;
    }

    /// <exception cref="InvalidOperationException">A verdict differs.</exception>
    private async Task Compare()
    {
        foreach (var (id, _, breaks) in rules)
        {
            var verdicts = all.Where(breaks);
            foreach (var (truth, where) in new[] { (Truth.Yes, Column(id)), (Truth.Unknown, $"{Column(id)} is null") })
            {
                var expected = verdicts.Lines(truth).Select(place => all.IdAt(place).Value).ToHashSet();
                await using var command = Command($"array_agg(id) filter (where {where})");
                var found = ((await command.ExecuteScalarAsync()) as long[] ?? []).ToHashSet();
                if (!expected.SetEquals(found))
                {
                    throw new InvalidOperationException(
                        $"{id}, {truth}: {expected.Count} sites from the index and {found.Count} from SQL; only the index has {string.Join(' ', expected.Except(found).Take(3))}, only SQL {string.Join(' ', found.Except(expected).Take(3))}."
                    );
                }
            }
        }
    }

    private async Task Prepare()
    {
        database = await register.Database.Source.OpenConnectionAsync();
        await Execute(await Text("rule_facts.sql"));
        await using (var copy = await database.BeginBinaryImportAsync("copy rule_fact from stdin (format binary)"))
        {
            foreach (var line in all.Lines(all.All))
            {
                await Write(copy, line);
            }

            await copy.CompleteAsync();
        }

        await Execute("analyze rule_fact");
        await Execute(await Text("settings.sql"));
        sql = await Text("rules.sql");
    }

    private static async Task Write(NpgsqlBinaryImporter row, RegisterRow line)
    {
        Known<T> Of<T>(string name)
            where T : notnull => line.Columns.Of<T>(name)[line.Place];
        async Task Value<T>(Known<T> value, NpgsqlDbType type)
            where T : notnull
        {
            await (value.Has(out var known) ? row.WriteAsync(known, type) : row.WriteNullAsync());
            await row.WriteAsync(
                (short)(
                    value.IsUnknown ? 2
                    : value.IsNone ? 1
                    : 0
                )
            );
        }

        await row.StartRowAsync();
        await row.WriteAsync(line.Id.Value);
        await row.WriteAsync((short)line.Existence);
        await row.WriteAsync(line.Host);
        foreach (var name in Texts)
        {
            await Value(Of<string>(name), NpgsqlDbType.Text);
        }

        foreach (var name in Bounds)
        {
            var bounds = Of<Span>(name);
            foreach (var bound in new[] { bounds.Select(span => span.AtLeast), bounds.Select(span => span.AtMost) })
            {
                await (
                    !bound.Has(out var number) ? row.WriteNullAsync()
                    : Numbers.Contains(name) ? row.WriteAsync(number, NpgsqlDbType.Bigint)
                    : row.WriteAsync((short)number, NpgsqlDbType.Smallint)
                );
            }

            await row.WriteAsync(
                (short)(
                    bounds.IsUnknown ? 2
                    : bounds.IsNone ? 1
                    : 0
                )
            );
        }

        foreach (var name in Truths)
        {
            await Value(Of<bool>(name), NpgsqlDbType.Boolean);
        }

        foreach (var name in Moments)
        {
            await Value(Of<DateTimeOffset>(name).Select(at => at.UtcDateTime), NpgsqlDbType.TimestampTz);
        }

        foreach (var name in Lists)
        {
            var list = ((ListColumn<string>)line.Columns.Of(name))[line.Place];
            await row.WriteAsync(list.Items.ToArray());
            await row.WriteAsync(list.Complete);
        }

        var units = ((ListColumn<UnitCode>)line.Columns.Of("units"))[line.Place];
        await row.WriteAsync(units.Items.Select(unit => unit.Value).ToArray());
        await row.WriteAsync(units.Complete);
        var owners = line.Owners;
        await row.WriteAsync(
            owners
                .Holders.Select(holder => holder.Person.Mail[(holder.Person.Mail.LastIndexOf('@') + 1)..].ToLowerInvariant())
                .ToArray()
        );
        await row.WriteAsync(
            owners
                .Holders.Select(holder =>
                    holder.Person.Unit is var unit && unit.Has(out var code) ? code.Value
                    : unit.IsNone ? ""
                    : null
                )
                .ToArray(),
            NpgsqlDbType.Array | NpgsqlDbType.Text
        );
        await row.WriteAsync(owners.Holders.Select(holder => holder.Person.IsOutside).ToArray());
        await row.WriteAsync(owners.Complete);
    }

    private RuleBook Book() =>
        new(
            rules.Select(rule => new Rule(
                new RuleId(rule.Id),
                rule.Id,
                rule.Id,
                Level.Note,
                rule.Expression.Scope,
                Demand.Of(rule.Expression.Demand),
                default
            )),
            today
        );

    private static IEnumerable<(string Id, RuleExpression Expression, Filter<JudgedSite> Breaks)> Demo(Today today)
    {
        using var stream = typeof(MerrowbyOrganisation).Assembly.GetManifestResourceStream("AtticLedger.Cli.Demo.merrowby.json")!;
        using var json = JsonDocument.Parse(stream);
        foreach (
            var rule in json
                .RootElement.GetProperty("rules")
                .EnumerateArray()
                .Concat(json.RootElement.GetProperty("moreRules").EnumerateArray())
        )
        {
            var expression = new RuleExpression(rule.GetProperty("scope").GetString()!, rule.GetProperty("demand").GetString()!);
            yield return (rule.GetProperty("id").GetString()!, expression, expression.Breaks(JudgedSite.Attributes, today));
        }
    }

    private async Task Execute(string text)
    {
        await using var command = new NpgsqlCommand(text, database);
        await command.ExecuteNonQueryAsync();
    }

    private Task<string> Text(string file) => File.ReadAllTextAsync(Path.Combine(sqlFolder, file));
}
