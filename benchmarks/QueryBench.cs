using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Bench;

/// <summary>Queries that have an index that fits, beside the plain form of the same question. Both have to answer the same.
/// </summary>
internal sealed class QueryBench(BenchRegister register, Report report)
{
    private const int Names = 500;
    private const int Entries = 300_000;
    private const int Changes = 100_000;

    public async Task Run()
    {
        await Prepare();
        Report.Table($"questions to the database: {Entries:N0} entries, {Changes:N0} changes, of which 100 are under way");
        var names = await Sample();
        await Beside(
            $"{Names} sites named by key or address",
            "one join with or",
            async connection => (await connection.SitesNamed(names)).Values.Select(site => site.Id.Value),
            """
            select s.id from unnest($1::text[], $2::text[]) as n(host, named)
            join site s on s.host = n.host and (s.host_key = n.named or s.address = n.named)
            """,
            [names.Select(name => name.Host).ToArray(), names.Select(name => name.Named).ToArray()],
            atLeast: 3
        );
        await Beside(
            "the last 100 entries of an actor who did little",
            "without its index",
            async connection =>
                (await connection.Journal(new JournalQuery(null, null, null, 100) { Actor = EntryActor.Of(Rare).Text })).Select(
                    row => row.Number
                ),
            "select number from journal where actor || '' = $1 order by number desc limit 100",
            [EntryActor.Of(Rare).Text],
            atLeast: 10
        );
        await Beside(
            "what people did on a day",
            "without its index",
            async connection =>
                (await connection.ActionsOfPeople(Day, Day.AddDays(1), null, 1_000_000)).Select(row => row.Number),
            "select number from journal where at + interval '0' >= $1 and at + interval '0' < $2 and actor like 'person:%' order by number limit 1000000",
            [Day, Day.AddDays(1)],
            atLeast: 5
        );
        await Beside(
            "the changes under way",
            "without their index",
            async connection => (await connection.ChangesUnderWay()).Select(change => change.Place),
            "select place from host_change where state + 0 in (0, 1, 2) order by place",
            [],
            atLeast: 5
        );
    }

    private static readonly PersonId Rare = new(999);

    private static DateTimeOffset Day => new(2026, 3, 1, 0, 0, 0, TimeSpan.Zero);

    // A year of entries, of fifty people and a source, and changes of which most are settled.
    private async Task Prepare()
    {
        await Execute(
            $"""
            insert into journal (number, at, actor, action, subject, text, hash)
            select n, timestamptz '2025-11-24 07:00Z' + (n - 1000000) * interval '105 seconds',
                case when n <= 1000100 then 'person:999' when n % 2 = 0 then 'source:Bench' else 'person:' || (n / 2) % 50 end, 'site.synced', 'site:' || n % 1000, '', 'bench-' || n
            from generate_series(1000001, {1_000_000 + Entries}) as n
            """
        );
        await Execute(
            $"""
            insert into host_change (id, site, place, wanted, before, state, by_person, requested_at, due_at, attempts, next_try)
            select gen_random_uuid(), s.id, 1000000 + n, wanted, before, case when n % {Changes
                / 100} = 0 then 1 else 4 end, p.id, now(), now(), 1, now()
            from generate_series(1, {Changes}) as n,
                (select min(id) as id from site) as s, (select min(id) as id from person) as p,
                (select '{Empty}'::jsonb as wanted, '[]'::jsonb as before) as empty
            """
        );
        await Execute("analyze journal");
        await Execute("analyze host_change");
    }

    private const string Empty = """{"grants":[]}""";

    private async Task<IReadOnlyCollection<(string Host, string Named)>> Sample()
    {
        await using var command = register.Database.Source.CreateCommand(
            $"select host, case when id % 2 = 0 and address is not null then address else host_key end from site order by md5(id::text) limit {Names}"
        );
        await using var rows = await command.ExecuteReaderAsync();
        var names = new HashSet<(string, string)>();
        while (await rows.ReadAsync())
        {
            names.Add((rows.GetString(0), rows.GetString(1)));
        }

        return names;
    }

    private async Task Beside(
        string what,
        string than,
        Func<NpgsqlConnection, Task<IEnumerable<long>>> ours,
        string plain,
        object[] parameters,
        double atLeast
    )
    {
        long[] one = [];
        long[] other = [];
        var (fast, slow) = await Timing.Beside(
            async () => one = [.. (await register.Database.Read(ours)).Distinct().Order()],
            async () => other = [.. (await Numbers(plain, parameters)).Distinct().Order()]
        );
        if (!one.SequenceEqual(other))
        {
            throw new InvalidOperationException(
                $"{what}: the two forms do not answer the same, {one.Length} and {other.Length} rows."
            );
        }

        report.Faster($"{what} ({one.Length} rows)", fast, than, slow, atLeast);
    }

    private async Task<List<long>> Numbers(string sql, object[] parameters)
    {
        await using var command = register.Database.Source.CreateCommand(sql);
        foreach (var parameter in parameters)
        {
            command.Parameters.AddWithValue(parameter);
        }

        await using var rows = await command.ExecuteReaderAsync();
        var numbers = new List<long>();
        while (await rows.ReadAsync())
        {
            numbers.Add(rows.GetInt64(0));
        }

        return numbers;
    }

    private async Task Execute(string sql)
    {
        await using var command = register.Database.Source.CreateCommand(sql);
        command.CommandTimeout = 0;
        await command.ExecuteNonQueryAsync();
    }
}
