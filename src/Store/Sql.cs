using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>Helpers for statements; the SQL itself is at the call.</summary>
internal static class Sql
{
    public static async Task<List<T>> Rows<T>(
        this NpgsqlConnection connection,
        string sql,
        Func<NpgsqlDataReader, T> row,
        params object?[] values
    )
    {
        var rows = new List<T>();
        await connection.Each(sql, reader => rows.Add(row(reader)), values);
        return rows;
    }

    public static async Task Each(
        this NpgsqlConnection connection,
        string sql,
        Action<NpgsqlDataReader> row,
        params object?[] values
    )
    {
        await using var command = connection.With(sql, values);
        await using var reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            row(reader);
        }
    }

    public static async Task<int> Run(this NpgsqlConnection connection, string sql, params object?[] values)
    {
        await using var command = connection.With(sql, values);
        return await command.ExecuteNonQueryAsync();
    }

    public static async Task<T> One<T>(this NpgsqlConnection connection, string sql, params object?[] values)
    {
        await using var command = connection.With(sql, values);
        return (T)(await command.ExecuteScalarAsync() ?? throw new InvalidOperationException("The statement gave no row."));
    }

    public static T? OrNull<T>(this NpgsqlDataReader row, int column)
        where T : struct => row.IsDBNull(column) ? null : row.GetFieldValue<T>(column);

    public static string? TextOrNull(this NpgsqlDataReader row, int column) =>
        row.IsDBNull(column) ? null : row.GetString(column);

    /// <summary>JSON as a parameter.</summary>
    public static NpgsqlParameter Json(string? text) =>
        new() { Value = (object?)text ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Jsonb };

    /// <summary>A text as a parameter that may be null; the same applies to the ones below.</summary>
    public static NpgsqlParameter Words(string? text) =>
        new() { Value = (object?)text ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Text };

    public static NpgsqlParameter Moment(DateTimeOffset? instant) =>
        new() { Value = (object?)instant?.ToUniversalTime() ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.TimestampTz };

    public static NpgsqlParameter Id(long? id) =>
        new() { Value = (object?)id ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Bigint };

    public static NpgsqlParameter Id(Guid? id) => new() { Value = (object?)id ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Uuid };

    /// <summary>The ids of some sites, or null for all.</summary>
    public static NpgsqlParameter Ids(IReadOnlyCollection<SiteId>? only) =>
        new()
        {
            Value = (object?)only?.Select(id => id.Value).ToArray() ?? DBNull.Value,
            NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Bigint,
        };

    public static NpgsqlParameter Day(DateOnly? day) =>
        new() { Value = (object?)day ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Date };

    /// <summary>A fact from a column: null is none, unless its name is among the unknown.</summary>
    public static Known<T> Fact<T>(this NpgsqlDataReader row, int column, string name, IReadOnlyCollection<string> unknowns)
        where T : notnull =>
        unknowns.Contains(name) ? Known<T>.Unknown
        : row.IsDBNull(column) ? Known<T>.None
        : Known.Of(row.GetFieldValue<T>(column));

    private static NpgsqlCommand With(this NpgsqlConnection connection, string sql, object?[] values)
    {
        var command = new NpgsqlCommand(sql, connection);
        foreach (var value in values)
        {
            command.Parameters.Add(
                value switch
                {
                    NpgsqlParameter parameter => parameter,
                    DateTimeOffset instant => new NpgsqlParameter { Value = instant.ToUniversalTime() },
                    null => new NpgsqlParameter { Value = DBNull.Value },
                    _ => new NpgsqlParameter { Value = value },
                }
            );
        }

        return command;
    }
}
