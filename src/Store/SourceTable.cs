using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>A source as it was last read: how far, how completely, and what it refused.</summary>
public sealed record SourceRow(
    string Name, DateTimeOffset? Began, DateTimeOffset? Ended, bool? Complete, int Read, int? Expected, IReadOnlyList<string> Refused, string? Error, bool IsReading, bool Wanted);

public static class SourceTable
{
    public static Task<List<SourceRow>> Sources(this NpgsqlConnection connection, DateTimeOffset now) =>
        connection.Rows(
            "select name, began, ended, complete, read, expected, refused, error, coalesce(lease_until > $1, false), wanted from source order by name",
            row => new SourceRow(
                row.GetString(0), row.OrNull<DateTimeOffset>(1), row.OrNull<DateTimeOffset>(2), row.OrNull<bool>(3), row.GetInt32(4), row.OrNull<int>(5),
                System.Text.Json.JsonSerializer.Deserialize<string[]>(row.GetString(6))!, row.TextOrNull(7), row.GetBoolean(8), row.GetBoolean(9)),
            now);

    public static Task Declare(this Change change, string source, bool wanted = true) =>
        change.Connection.Run("insert into source (name, wanted) values ($1, $2) on conflict (name) do nothing", source, wanted);

    /// <summary>Takes a source for reading; false where another worker reads it now.</summary>
    public static async Task<bool> Lease(this Change change, string source, string worker, TimeSpan time) =>
        await change.Connection.Run(
            "update source set lease = $2, lease_until = $3, began = $4, ended = null, read = 0, expected = null, refused = '[]', error = null, wanted = false where name = $1 and (lease_until is null or lease_until < $4)",
            source, worker, change.Now + time, change.Now) > 0;

    /// <summary>How far a read has come; extends the lease. False where the lease was lost.</summary>
    public static async Task<bool> Progress(this Change change, string source, string worker, int read, int? expected, TimeSpan time) =>
        await change.Connection.Run(
            "update source set read = $3, expected = $4, lease_until = $5 where name = $1 and lease = $2",
            source, worker, read, new NpgsqlParameter { Value = (object?)expected ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Integer }, change.Now + time) > 0;

    public static Task End(this Change change, string source, string worker, bool complete, IReadOnlyList<string> refused, string? error) =>
        change.Connection.Run(
            "update source set ended = $3, complete = $4, refused = $5, error = $6, lease = null, lease_until = null where name = $1 and lease = $2",
            source, worker, change.Now, complete, Sql.Json(System.Text.Json.JsonSerializer.Serialize(refused)), error);

    /// <summary>Asks for a read at the next chance, whichever server comes by first.</summary>
    public static Task Want(this Change change, string source) => change.Connection.Run("update source set wanted = true where name = $1", source);
}
