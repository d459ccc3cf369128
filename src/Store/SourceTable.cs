using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>A source as it was last read: how far, how completely, and what it refused.</summary>
/// <param name="WholeAt">When it was last read as a whole and to the end.</param>
/// <param name="Mark">From where it can be asked for what changed since that.</param>
/// <param name="AskedAt">When it was last asked for that, and how much it told.</param>
/// <param name="Resume">Where a read that broke off goes on.</param>
/// <param name="HeldBack">How many sites its last whole read no longer listed, where that is so many that a person has to say whether they are gone; 0 otherwise.</param>
public sealed record SourceRow(
    string Name,
    DateTimeOffset? Began,
    DateTimeOffset? Ended,
    bool? Complete,
    int Read,
    int? Expected,
    IReadOnlyList<string> Refused,
    string? Error,
    bool IsReading,
    bool Wanted,
    DateTimeOffset? WholeAt,
    string? Mark,
    DateTimeOffset? AskedAt,
    int Changes,
    string? Resume,
    int? RequestsAllowed,
    int? RequestsLeft,
    int HeldBack
);

/// <summary>A read that may be done now.</summary>
/// <param name="Began">When it began; earlier than now where it goes on.</param>
/// <param name="Resume">From where it goes on; null for a new one.</param>
/// <param name="Seen">The keys that it has seen before it broke off.</param>
public sealed record SourceLease(DateTimeOffset Began, string? Resume, IReadOnlyList<string> Refused, IReadOnlyList<string> Seen);

public static class SourceTable
{
    public static Task<List<SourceRow>> Sources(this NpgsqlConnection connection, DateTimeOffset now) =>
        connection.Rows(
            "select name, began, ended, complete, read, expected, refused, error, coalesce(lease_until > $1, false), wanted, whole_at, mark, asked_at, changes, resume, requests_allowed, requests_left, held_back from source order by name",
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

    /// <summary>
    /// Takes a source for reading; null where another worker reads it now. A read that broke off a while ago at most is gone
    /// on with: it still began when it began.
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

    /// <summary>Takes a source to ask it for what changed; what is known of its last read stays. False where another worker reads it now.</summary>
    public static async Task<bool> LeaseToAsk(this Change change, string source, string worker, TimeSpan time) =>
        await change.Connection.Run(
            "update source set lease = $2, lease_until = $3 where name = $1 and (lease_until is null or lease_until < $4)",
            source,
            worker,
            change.Now + time,
            change.Now
        ) > 0;

    /// <summary>A page was taken in: how far the read has come, and where it goes on should it break off. Extends the lease; false where it was lost.</summary>
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

    /// <summary>The mark from which a whole read that begins now can be gone on from with questions for what changed.</summary>
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
            update source set ended = $3, complete = $4, refused = $5, error = $6, lease = null, lease_until = null, asked_at = null, changes = 0,
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

    /// <summary>What changed was asked for: taken in up to a mark, or not.</summary>
    /// <param name="mark">Null leaves the mark where it was; with <paramref name="isSpent"/> there is none any more.</param>
    /// <param name="refused">What it did not tell of, or told in a way that is not understood; said beside what its last whole read left out.</param>
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
            update source set lease = null, lease_until = null, asked_at = $3, changes = case when $7 then 0 else changes + $5 end, error = $6,
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

    /// <summary>How many requests the host allows, and how many are left.</summary>
    public static Task Budget(this Change change, string source, int allowed, int left) =>
        change.Connection.Run(
            "update source set requests_allowed = $2, requests_left = $3 where name = $1",
            source,
            allowed,
            left
        );

    /// <summary>Keeps how many sites would vanish at once, until a person says that they are gone.</summary>
    public static Task HoldBack(this Change change, string source, int sites) =>
        change.Connection.Run("update source set held_back = $2, let_vanish = false where name = $1", source, sites);

    /// <summary>A person says that they are gone: the next whole read lets so many vanish.</summary>
    /// <returns>How many were held back; 0 where none are.</returns>
    public static async Task<int> LetVanish(this Change change, string source) =>
        (
            await change.Connection.Rows(
                "update source set let_vanish = true, wanted = true, mark = null where name = $1 and held_back > 0 returning held_back",
                row => row.GetInt32(0),
                source
            )
        ).SingleOrDefault();

    /// <summary>How many may vanish at once because a person said so; 0 where nobody did.</summary>
    public static async Task<int> MayVanish(this NpgsqlConnection connection, string source) =>
        (
            await connection.Rows("select held_back from source where name = $1 and let_vanish", row => row.GetInt32(0), source)
        ).SingleOrDefault();

    /// <summary>Asks for a read at the next chance, whichever server comes by first.</summary>
    public static Task Want(this Change change, string source) =>
        change.Connection.Run("update source set wanted = true where name = $1", source);

    private static string[] Texts(string json) => System.Text.Json.JsonSerializer.Deserialize<string[]>(json)!;
}
