using System.Reflection;
using DbUp;
using DbUp.Engine;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>The schema and its migrations, which only the owner's role runs.</summary>
public static class Schema
{
    // Any number that every migrating process uses: DbUp has no reliable lock of its own.
    private const long MigrationLock = 7_420_001;
    private static readonly Assembly Here = typeof(Schema).Assembly;

    public static IReadOnlyList<string> Scripts { get; } =
    [
        .. Here.GetManifestResourceNames()
            .Where(name => name.EndsWith(".sql", StringComparison.Ordinal))
            .Order(StringComparer.Ordinal),
    ];

    /// <returns>The names of the scripts that were run.</returns>
    public static async Task<IReadOnlyList<string>> Migrate(string ownerConnection, CancellationToken stop = default)
    {
        await using var source = NpgsqlDataSource.Create(ownerConnection);
        await using var connection = await source.OpenConnectionAsync(stop);
        await connection.Run("select pg_advisory_lock($1)", MigrationLock);
        var upgrade = DeployChanges
            .To.PostgresqlDatabase(ownerConnection)
            .WithScriptsEmbeddedInAssembly(Here)
            .WithTransactionPerScript()
            .WithVariablesDisabled()
            .LogToNowhere()
            .Build();
        DatabaseUpgradeResult result = upgrade.PerformUpgrade();
        return result.Successful
            ? [.. result.Scripts.Select(script => script.Name)]
            : throw new InvalidOperationException(
                $"Migration {result.ErrorScript?.Name} failed: {result.Error.Message}",
                result.Error
            );
    }

    /// <summary>A server refuses to work on an unknown schema.</summary>
    /// <exception cref="InvalidOperationException">The database is older or newer; the message says what to do.</exception>
    public static async Task Check(Database database)
    {
        var present = await database.Read(connection =>
            connection.Rows("select scriptname from schemaversions", row => row.GetString(0))
        );
        var missing = Scripts.Except(present).ToList();
        var strange = present.Except(Scripts).ToList();
        if (missing.Count > 0 || strange.Count > 0)
        {
            throw new InvalidOperationException(
                missing.Count > 0
                    ? $"The database lacks {string.Join(", ", missing)}. Run ./attic migrate."
                    : $"The database has {string.Join(", ", strange)}, which this version does not know. Start a newer version."
            );
        }
    }
}
