using AtticLedger.Cli.Bundle;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Bench;

/// <summary>A generated register in a database of its own.</summary>
internal sealed class BenchRegister(Database database, string connection)
{
    // In the order of their foreign keys.
    private static readonly string[] Tables =
    [
        "unit",
        "person",
        "person_name",
        "people_group",
        "group_member",
        "site",
        "site_grant",
    ];

    public Database Database => database;

    /// <summary>How long reading the bundle took.</summary>
    public double Imported { get; private set; }

    public static async Task<BenchRegister> Of(string server, int sites, DirectoryInfo bundle)
    {
        await GeneratedRegister.Write(bundle, sites, seed: 7, new DateOnly(2026, 11, 24));
        var register = await Empty(server, $"bench_{sites}");
        register.Imported = await Timing.Once(() => BundleImport.Read(register.Database, bundle));
        await using var analyze = register.Database.Source.CreateCommand("analyze");
        await analyze.ExecuteNonQueryAsync();
        return register;
    }

    public static async Task<BenchRegister> Empty(string server, string name)
    {
        await using var source = NpgsqlDataSource.Create(server);
        await using var create = source.CreateCommand($"create database {name}");
        await create.ExecuteNonQueryAsync();
        var connection = new NpgsqlConnectionStringBuilder(server) { Database = name, CommandTimeout = 0 }.ConnectionString;
        await Schema.Migrate(connection);
        return new BenchRegister(Database.Open(connection, TimeProvider.System), connection);
    }

    /// <summary>Everything that the index is computed from, and the index.</summary>
    public Task<(PeopleDirectory PeopleDirectory, Organisation Organisation, RuleBook Rules, RegisterIndex Index)> ReadAll() =>
        database.Read(async open =>
        {
            await using var rows = await IndexFromRows.Begin(database, open);
            var time = await open.OrganisationTime();
            var (directory, organisation, rules) = (
                await open.PeopleDirectory(database.Now, time),
                await open.Organisation(),
                await open.Rules(Core.Terms.Today.At(database.Now, time))
            );
            return (directory, organisation, rules, await rows.Made(new SiteJudge(organisation, directory, rules)));
        });

    /// <summary>Only COPY TO of the tables, with the output discarded.</summary>
    public async Task CopyTo()
    {
        foreach (var table in Tables)
        {
            await Copy(table, Stream.Null);
        }
    }

    /// <summary>How long COPY FROM of the same rows takes, into tables with the same keys and indexes.</summary>
    public async Task<double> CopyInto(BenchRegister other, DirectoryInfo folder)
    {
        foreach (var table in Tables)
        {
            await using var file = File.Create(Path.Combine(folder.FullName, table));
            await Copy(table, file);
        }

        return await Timing.Once(async () =>
        {
            await using var open = new NpgsqlConnection(other.Connection);
            await open.OpenAsync();
            await using var transaction = await open.BeginTransactionAsync();
            foreach (var table in Tables)
            {
                await using var file = File.OpenRead(Path.Combine(folder.FullName, table));
                await using var copy = await open.BeginRawBinaryCopyAsync($"copy {table} from stdin (format binary)");
                await file.CopyToAsync(copy);
            }

            await transaction.CommitAsync();
        });
    }

    private string Connection => connection;

    private async Task Copy(string table, Stream to)
    {
        await using var open = await database.Source.OpenConnectionAsync();
        await using var copy = await open.BeginRawBinaryCopyAsync($"copy {table} to stdout (format binary)");
        await copy.CopyToAsync(to);
    }
}
