using System.Globalization;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Bench;

/// <summary>A page of a hundred rows and eight counts for a filter, from the index and from SQL over the same values.</summary>
internal sealed class FilterBench(BenchRegister register, RegisterIndex index, string sqlFolder) : IAsyncDisposable
{
    private const int Page = 100;
    private static readonly string[] Counted = ["unit", "classification", "kind", "status", "host", "existence", "exceeds"];
    private readonly VisibleRegister all = index.Seen(new Scope.Everything());
    private NpgsqlConnection database = null!;
    private string counts = "";
    private string page = "";

    /// <summary>Writes the values of the index into a table with every index that helps.</summary>
    public async Task Prepare()
    {
        database = await register.Database.Source.OpenConnectionAsync();
        await Run("schema.sql");
        await using (var copy = await database.BeginBinaryImportAsync("copy line from stdin (format binary)"))
        {
            foreach (var line in all.Lines(all.All))
            {
                await Write(copy, line);
            }

            await copy.CompleteAsync();
        }

        await Run("indexes.sql");
        await Run("settings.sql");
        counts = await Text("counts.sql");
        page = await Text("page.sql");
    }

    /// <returns>Milliseconds for each filter, from the index and from SQL.</returns>
    /// <exception cref="InvalidOperationException">The two results differ.</exception>
    public async Task<IReadOnlyList<(BenchFilter Filter, double Index, double Sql)>> Run(IReadOnlyList<BenchFilter> filters)
    {
        var results = new List<(BenchFilter, double, double)>();
        foreach (var filter in filters)
        {
            await using var pageOf = new NpgsqlCommand(
                page.Replace("{where}", filter.Where, StringComparison.Ordinal)
                    .Replace("{order}", filter.Order, StringComparison.Ordinal),
                database
            );
            await using var countsOf = new NpgsqlCommand(
                counts.Replace("{where}", filter.Where, StringComparison.Ordinal),
                database
            );
            await pageOf.PrepareAsync();
            await countsOf.PrepareAsync();
            Compare(filter, FromIndex(filter), await FromSql(pageOf, countsOf));
            var byIndex = new List<double>();
            var bySql = new List<double>();
            for (var i = 0; i < Timing.Times; i++)
            {
                byIndex.Add(await Timing.Once(() => Task.FromResult(FromIndex(filter))));
                bySql.Add(await Timing.Once(() => FromSql(pageOf, countsOf)));
            }

            results.Add((filter, Timing.At(byIndex, 0.5), Timing.At(bySql, 0.5)));
        }

        return results;
    }

    public ValueTask DisposeAsync() => database.DisposeAsync();

    private (List<long> Page, HashSet<(string, string?, long)> Counts) FromIndex(BenchFilter filter)
    {
        var found =
            filter.Filter.Length == 0 ? all.All : all.Where(Filter.Parse(filter.Filter, JudgedSite.Attributes)).Certainly();
        List<long> lines =
        [
            .. all.Lines(found, [new Core.Rules.SortKey(filter.Sort.TrimStart('-'), filter.Sort[0] == '-')])
                .Take(Page)
                .Select(line => line.Id.Value),
        ];
        var counted = new HashSet<(string, string?, long)>();
        foreach (var name in Counted)
        {
            var byValue = index.Columns.Of(name) switch
            {
                Column<string> texts => texts
                    .Counts(found)
                    .Select(pair => (pair.Value.Has(out var text) ? text : null, (long)pair.Count)),
                Column<Span> words => words
                    .Counts(found)
                    .Select(pair =>
                        (
                            pair.Value.Has(out var span) ? span.AtLeast.ToString(CultureInfo.InvariantCulture) : null,
                            (long)pair.Count
                        )
                    ),
                Column<bool> flags => flags
                    .Counts(found)
                    .Select(pair => (pair.Value.Has(out var flag) ? (flag ? "true" : "false") : null, (long)pair.Count)),
                _ => throw new InvalidOperationException($"{name} is not counted."),
            };

            // None and unknown are both null in the table.
            counted.UnionWith(byValue.GroupBy(pair => pair.Item1).Select(same => (name, same.Key, same.Sum(pair => pair.Item2))));
        }

        counted.UnionWith(
            ((ListColumn<Rule>)index.Columns.Of("breaks"))
                .Counts(found)
                .Select(pair => ("breaks", (string?)pair.Element.Id.Value, (long)pair.Count))
        );
        return (lines, counted);
    }

    private static async Task<(List<long> Page, HashSet<(string, string?, long)> Counts)> FromSql(
        NpgsqlCommand page,
        NpgsqlCommand counts
    )
    {
        var lines = new List<long>(Page);
        await using (var rows = await page.ExecuteReaderAsync())
        {
            while (await rows.ReadAsync())
            {
                lines.Add(rows.GetInt64(0));
            }
        }

        var counted = new HashSet<(string, string?, long)>();
        await using var groups = await counts.ExecuteReaderAsync();
        while (await groups.ReadAsync())
        {
            counted.Add((groups.GetString(0), groups.IsDBNull(1) ? null : groups.GetString(1), groups.GetInt64(2)));
        }

        return (lines, counted);
    }

    private static void Compare(
        BenchFilter filter,
        (List<long> Page, HashSet<(string, string?, long)> Counts) index,
        (List<long> Page, HashSet<(string, string?, long)> Counts) sql
    )
    {
        if (!index.Page.SequenceEqual(sql.Page))
        {
            var at = index.Page.Zip(sql.Page).TakeWhile(pair => pair.First == pair.Second).Count();
            throw new InvalidOperationException(
                $"\"{filter.Filter}\" by {filter.Sort}: the pages differ from row {at} on ({index.Page.Count} and {sql.Page.Count} rows)."
            );
        }

        if (!index.Counts.SetEquals(sql.Counts))
        {
            throw new InvalidOperationException(
                $"\"{filter.Filter}\": the counts differ: {string.Join("; ", index.Counts.Except(sql.Counts).Take(3))} is not {string.Join("; ", sql.Counts.Except(index.Counts).Take(3))}."
            );
        }
    }

    private static async Task Write(NpgsqlBinaryImporter row, RegisterRow line)
    {
        Known<T> Of<T>(string name)
            where T : notnull => line.Columns.Of<T>(name)[line.Place];
        async Task Value<T>(Known<T> value, NpgsqlDbType type)
            where T : notnull => await (value.Has(out var known) ? row.WriteAsync(known, type) : row.WriteNullAsync());
        short Classification<T>(Known<T> value)
            where T : notnull =>
            (short)(
                value.IsUnknown ? 2
                : value.IsNone ? 1
                : 0
            );
        await row.StartRowAsync();
        await row.WriteAsync(line.Id.Value);
        await row.WriteAsync(line.Title);
        await row.WriteAsync(line.Title.ToUpperInvariant());
        await row.WriteAsync(line.Host);
        await Value(Of<string>("unit"), NpgsqlDbType.Text);
        await row.WriteAsync(line.UnitChain.Select(unit => unit.Value).ToArray());
        await Value(Of<string>("classification"), NpgsqlDbType.Text);
        await Value(Of<string>("kind"), NpgsqlDbType.Text);
        await Value(Of<Span>("status").Select(span => (short)span.AtLeast), NpgsqlDbType.Smallint);
        await row.WriteAsync((short)line.Existence);
        await Value(line.LastEdit.Select(at => at.ToUniversalTime()), NpgsqlDbType.TimestampTz);
        await row.WriteAsync(Classification(line.LastEdit));
        await Value(line.Visits, NpgsqlDbType.Integer);
        await row.WriteAsync(Classification(line.Visits));
        await Value(line.Outside(Power.View).Select(span => (short)span.AtLeast), NpgsqlDbType.Smallint);
        await Value(line.Inside(Power.Edit).Select(span => (short)span.AtMost), NpgsqlDbType.Smallint);
        await Value(Of<bool>("exceeds"), NpgsqlDbType.Boolean);
        var active = Of<Span>("owners.active.count").Or(default);
        await row.WriteAsync((int)active.AtLeast);
        await row.WriteAsync((int)active.AtMost);
        await row.WriteAsync((int)Of<Span>("editors.count").Or(default).AtLeast);
        await row.WriteAsync(line.Breaks.Select(rule => rule.Id.Value).ToArray());
        await row.WriteAsync(line.Owners.Holders.Select(holder => holder.Person.Mail).ToArray());
        await row.WriteAsync((int)Of<Span>("gravity").Or(default).AtLeast);
    }

    private async Task Run(string file)
    {
        await using var command = new NpgsqlCommand(await Text(file), database);
        await command.ExecuteNonQueryAsync();
    }

    private Task<string> Text(string file) => File.ReadAllTextAsync(Path.Combine(sqlFolder, file));
}
