using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>The latest sync of a source: its position, its completeness, and its refusals.</summary>
/// <param name="WholeAt">When its last complete sync ended.</param>
/// <param name="Mark">The bookmark for changes since then.</param>
/// <param name="RequestedAt">When its changes were last requested, and how many were reported.</param>
/// <param name="Resume">The bookmark of an interrupted sync.</param>
/// <param name="HeldBack">The number of sites missing from its last complete sync, if so many that a person has to confirm that
/// they are gone; otherwise 0.</param>
public sealed record SourceRow(
    string Name,
    DateTimeOffset? Began,
    DateTimeOffset? Ended,
    bool? Complete,
    int Read,
    int? Expected,
    IReadOnlyList<string> Refused,
    string? Error,
    bool IsSyncing,
    bool Wanted,
    DateTimeOffset? WholeAt,
    string? Mark,
    DateTimeOffset? RequestedAt,
    int Changes,
    string? Resume,
    int? RequestsAllowed,
    int? RequestsLeft,
    int HeldBack
);

/// <summary>A sync that can run now.</summary>
/// <param name="Began">When it began; earlier than now if it is resumed.</param>
/// <param name="Resume">The bookmark from which it resumes; null for a new one.</param>
/// <param name="Seen">The keys seen before the interruption.</param>
public sealed record SourceLease(DateTimeOffset Began, string? Resume, IReadOnlyList<string> Refused, IReadOnlyList<string> Seen);

public static class SourceTable
{
    public static Task<List<SourceRow>> Sources(this NpgsqlConnection connection, DateTimeOffset now) =>
        connection.Rows(
            "select name, began, ended, complete, read, expected, refused, error, coalesce(lease_until > $1, false), wanted, whole_at, mark, requested_at, changes, resume, requests_allowed, requests_left, held_back from source order by name",
            row => new SourceRow(
                row.GetString(0),
                row.OrNull<DateTimeOffset>(1),
                row.OrNull<DateTimeOffset>(2),
                row.OrNull<bool>(3),
                row.GetInt32(4),
                row.OrNull<int>(5),
                Texts(row.GetString(6)),
                row.TextOrNull(7),
                row.GetBoolean(8),
                row.GetBoolean(9),
                row.OrNull<DateTimeOffset>(10),
                row.TextOrNull(11),
                row.OrNull<DateTimeOffset>(12),
                row.GetInt32(13),
                row.TextOrNull(14),
                row.OrNull<int>(15),
                row.OrNull<int>(16),
                row.GetInt32(17)
            ),
            now
        );

    public static Task Declare(this Change change, string source, bool wanted = true) =>
        change.Connection.Run("insert into source (name, wanted) values ($1, $2) on conflict (name) do nothing", source, wanted);

    /// <summary>Takes a source for a sync; null if another worker syncs it. A recently interrupted sync is resumed and keeps its
    /// beginning.
    /// </summary>
    public static async Task<SourceLease?> Lease(
        this Change change,
        string source,
        string worker,
        TimeSpan time,
        TimeSpan goOnWithin
    )
    {
        const string GoesOn = "resume is not null and began > $5";
        var lease = (
            await change.Connection.Rows(
                $"""
                update source set lease = $2, lease_until = $3, ended = null, expected = null, error = null, wanted = false,
                    began = case when {GoesOn} then began else $4 end,
                    read = case when {GoesOn} then read else 0 end,
                    refused = case when {GoesOn} then refused else '[]' end,
                    resume = case when {GoesOn} then resume end
                where name = $1 and (lease_until is null or lease_until < $4)
                returning began, resume, refused
                """,
                row => new SourceLease(row.GetFieldValue<DateTimeOffset>(0), row.TextOrNull(1), Texts(row.GetString(2)), []),
                source,
                worker,
                change.Now + time,
                change.Now,
                change.Now - goOnWithin
            )
        ).SingleOrDefault();
        if (lease is { Resume: not null })
        {
            return lease with
            {
                Seen = await change.Connection.Rows(
                    "select key from source_seen where source = $1",
                    row => row.GetString(0),
                    source
                ),
            };
        }

        if (lease is not null)
        {
            await change.Connection.Run("delete from source_seen where source = $1", source);
        }

        return lease;
    }

    /// <summary>Takes a source to request its changes; the data of its last sync stays. False if another worker syncs
    /// it.</summary>
    public static async Task<bool> LeaseToAsk(this Change change, string source, string worker, TimeSpan time) =>
        await change.Connection.Run(
            "update source set lease = $2, lease_until = $3 where name = $1 and (lease_until is null or lease_until < $4)",
            source,
            worker,
            change.Now + time,
            change.Now
        ) > 0;

    /// <summary>How many sites of a source wait for the confirmation that they are gone.</summary>
    public static async Task<int> HeldBack(this NpgsqlConnection connection, string source) =>
        (
            await connection.Rows("select held_back from source where name = $1", row => row.OrNull<int>(0) ?? 0, source)
        ).SingleOrDefault();

    /// <summary>True while a server reads this source or imports a list of it.</summary>
    public static Task<bool> IsWorkedOn(this NpgsqlConnection connection, string source, DateTimeOffset now) =>
        connection.One<bool>("select exists (select from source where name = $1 and lease_until > $2)", source, now);

    /// <summary>Records a stored page: the progress, and the bookmark for an interruption. Extends the lease; false if it was
    /// lost.</summary>
    /// <param name="seen">The keys of the page.</param>
    public static async Task<bool> Progress(
        this Change change,
        string source,
        string worker,
        int read,
        int? expected,
        string? resume,
        IReadOnlyList<string> refused,
        IReadOnlyList<string> seen,
        TimeSpan time
    )
    {
        if (resume is not null)
        {
            await change.Connection.Run(
                "insert into source_seen (source, key) select $1, unnest($2::text[])",
                source,
                seen.ToArray()
            );
        }

        return await change.Connection.Run(
                "update source set read = $3, expected = $4, lease_until = $5, resume = $6, refused = $7 where name = $1 and lease = $2",
                source,
                worker,
                read,
                new NpgsqlParameter { Value = (object?)expected ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Integer },
                change.Now + time,
                resume,
                Sql.Json(System.Text.Json.JsonSerializer.Serialize(refused))
            ) > 0;
    }

    /// <summary>The bookmark from which changes can be requested after the complete sync that begins now.</summary>
    public static Task Mark(this Change change, string source, string? mark) =>
        change.Connection.Run("update source set mark = $2, whole_at = null where name = $1", source, mark);

    public static Task End(
        this Change change,
        string source,
        string worker,
        bool complete,
        IReadOnlyList<string> refused,
        string? error
    ) =>
        change.Connection.Run(
            """
            update source set ended = $3, complete = $4, refused = $5, error = $6, lease = null, lease_until = null, requested_at = null, changes = 0,
                whole_at = case when $4 then $3 else whole_at end, resume = case when $4 then null else resume end
            where name = $1 and lease = $2
            """,
            source,
            worker,
            change.Now,
            complete,
            Sql.Json(System.Text.Json.JsonSerializer.Serialize(refused)),
            error
        );

    /// <summary>Records a request for changes: stored up to a bookmark, or failed.</summary>
    /// <param name="mark">Null keeps the bookmark; with <paramref name="isSpent"/> it is removed.</param>
    /// <param name="refused">What it did not report or reported incomprehensibly, in addition to the omissions of its last
    /// complete sync.</param>
    public static Task Asked(
        this Change change,
        string source,
        string worker,
        string? mark,
        int changes,
        IReadOnlyList<string> refused,
        string? error,
        bool isSpent
    ) =>
        change.Connection.Run(
            """
            update source set lease = null, lease_until = null, requested_at = $3, changes = case when $7 then 0 else changes + $5 end, error = $6,
                mark = case when $7 then null else coalesce($4, mark) end,
                refused = (select coalesce(jsonb_agg(distinct word), '[]') from jsonb_array_elements(refused || $8) as word)
            where name = $1 and lease = $2
            """,
            source,
            worker,
            change.Now,
            mark,
            changes,
            error,
            isSpent,
            Sql.Json(System.Text.Json.JsonSerializer.Serialize(refused))
        );

    /// <summary>Records how many requests the host allows, and how many are left.</summary>
    public static Task Budget(this Change change, string source, int allowed, int left) =>
        change.Connection.Run(
            "update source set requests_allowed = $2, requests_left = $3 where name = $1",
            source,
            allowed,
            left
        );

    /// <summary>Records how many sites are missing at once, until a person confirms that they are gone.</summary>
    public static Task HoldBack(this Change change, string source, int sites) =>
        change.Connection.Run("update source set held_back = $2, release_held_back = false where name = $1", source, sites);

    /// <summary>A person confirms that they are gone: the next complete sync marks that many as no longer reported.</summary>
    /// <returns>The number of sites held back; 0 if none.</returns>
    public static async Task<int> ConfirmMissing(this Change change, string source) =>
        (
            await change.Connection.Rows(
                "update source set release_held_back = true, wanted = true, mark = null where name = $1 and held_back > 0 returning held_back",
                row => row.GetInt32(0),
                source
            )
        ).SingleOrDefault();

    /// <summary>How many can become "no longer reported" at once because a person confirmed it; otherwise 0.</summary>
    public static async Task<int> UnconfirmedMissing(this NpgsqlConnection connection, string source) =>
        (
            await connection.Rows(
                "select held_back from source where name = $1 and release_held_back",
                row => row.GetInt32(0),
                source
            )
        ).SingleOrDefault();

    /// <summary>Requests a sync as soon as a server is free.</summary>
    public static Task Want(this Change change, string source) =>
        change.Connection.Run("update source set wanted = true where name = $1", source);

    private static string[] Texts(string json) => System.Text.Json.JsonSerializer.Deserialize<string[]>(json)!;
}
