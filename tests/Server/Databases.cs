using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>Separate databases for tests, on the cluster that ./test started; each is a copy of a migrated one.</summary>
internal static class Databases
{
    private static readonly Lazy<Task<string>> Template = new(async () =>
    {
        var name = await Make(null);
        await Schema.Migrate(Owner(name));
        NpgsqlConnection.ClearAllPools();
        return name;
    });

    private static readonly SemaphoreSlim Copying = new(1, 1);

    public static string Owner(string database) => Connection("ATTIC_TEST_OWNER", database);

    public static string Server(string database) => Connection("ATTIC_TEST_SERVER", database);

    public static async Task<string> Migrated()
    {
        // PostgreSQL copies a template only while nobody else is connected to it.
        await Copying.WaitAsync();
        try
        {
            return await Make(await Template.Value);
        }
        finally
        {
            Copying.Release();
        }
    }

    /// <summary>A copy of a database that nobody is connected to any more.</summary>
    public static async Task<string> Copy(string name)
    {
        await Copying.WaitAsync();
        try
        {
            NpgsqlConnection.ClearAllPools();
            return await Make(name);
        }
        finally
        {
            Copying.Release();
        }
    }

    private static async Task<string> Make(string? template)
    {
        var name = $"test_{Guid.NewGuid():N}";
        await using var source = NpgsqlDataSource.Create(Owner("postgres"));
        await using var create = source.CreateCommand(
            $"create database {name}{(template is null ? "" : $" template {template}")}"
        );
        await create.ExecuteNonQueryAsync();
        return name;
    }

    private static string Connection(string variable, string database) =>
        new NpgsqlConnectionStringBuilder(
            Environment.GetEnvironmentVariable(variable)
                ?? throw new InvalidOperationException("Run these tests through ./test: it starts their database.")
        )
        {
            Database = database,
            IncludeErrorDetail = true,
        }.ToString();
}
