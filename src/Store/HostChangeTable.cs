using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

public static class HostChangeTable
{
    private const string Columns =
        "id, site, place, wanted, before, state, by_person, reason, undo_of, requested_at, due_at, attempts, next_try, lease, lease_until, sent_at, confirmed_at, seen_at, message, purpose, former";

    public static Task<List<HostChange>> HostChangesOf(this NpgsqlConnection connection, SiteId site) =>
        connection.Rows($"select {Columns} from host_change where site = $1 order by place", Read, site.Value);

    /// <summary>The change queues of some sites, the oldest change first.</summary>
    public static async Task<ILookup<SiteId, HostChange>> ChangeQueues(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows($"select {Columns} from host_change where site = any($1) order by place", Read, Sql.Ids(sites))
        ).ToLookup(hostChange => hostChange.Site);

    public static async Task<HostChange?> HostChange(this NpgsqlConnection connection, ChangeId id) =>
        (await connection.Rows($"select {Columns} from host_change where id = $1", Read, id.Value)).SingleOrDefault();

    public static Task<List<HostChange>> HostChanges(this NpgsqlConnection connection, IReadOnlyCollection<ChangeId> ids) =>
        connection.Rows(
            $"select {Columns} from host_change where id = any($1)",
            Read,
            (object)ids.Select(id => id.Value).ToArray()
        );

    /// <summary>Open changes and those that wait for verification, of all queues of all hosts.</summary>
    public static Task<List<HostChange>> ChangesUnderWay(this NpgsqlConnection connection) =>
        connection.Rows($"select {Columns} from host_change where state in (0, 1, 2) order by place", Read);

    /// <summary>The changes since an instant that did not become so, where nothing was asked of the site since.</summary>
    public static Task<List<HostChange>> ChangesNotDone(this NpgsqlConnection connection, DateTimeOffset since) =>
        connection.Rows(
            $"""
            select {Columns} from host_change c
            where state in ({(short)ChangeState.Refused}, {(short)ChangeState.GivenUp}, {(short)
                ChangeState.Contradicted}) and requested_at > $1
                and not exists (select from host_change l where l.site = c.site and l.place > c.place)
            order by place desc
            """,
            Read,
            since
        );

    /// <summary>The changes that still have to be sent to a host.</summary>
    public static Task<List<HostChange>> OpenHostChanges(this NpgsqlConnection connection, string host) =>
        connection.Rows(
            $"select {Columns} from host_change where state in (0, 1) and site in (select id from site where host = $1) order by place",
            Read,
            host
        );

    /// <summary>The hosts with changes to be sent.</summary>
    public static Task<List<string>> HostsWithChanges(this NpgsqlConnection connection) =>
        connection.Rows("select distinct s.host from host_change o join site s on s.id = o.site where o.state in (0, 1)", row =>
            row.GetString(0)
        );

    /// <summary>Writes a change: a new row, or its new state.</summary>
    public static Task Put(this Change change, HostChange hostChange) =>
        change.Connection.Run(
            $"""
            insert into host_change ({Columns}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21)
            on conflict (id) do update set state = excluded.state, due_at = excluded.due_at, attempts = excluded.attempts, next_try = excluded.next_try, lease = excluded.lease,
                lease_until = excluded.lease_until, sent_at = excluded.sent_at, confirmed_at = excluded.confirmed_at, seen_at = excluded.seen_at, message = excluded.message
            """,
            hostChange.Id.Value,
            hostChange.Site.Value,
            hostChange.Place,
            Sql.Json(Json.Of(hostChange.WantedState)),
            Sql.Json(Json.Of(hostChange.Before)),
            (short)hostChange.State,
            hostChange.By.Value,
            hostChange.Reason,
            new NpgsqlParameter { Value = (object?)hostChange.UndoOf?.Value ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Uuid },
            hostChange.RequestedAt,
            hostChange.DueAt,
            hostChange.Attempts,
            hostChange.NextTry,
            hostChange.Lease,
            Sql.Moment(hostChange.LeaseUntil),
            Sql.Moment(hostChange.SentAt),
            Sql.Moment(hostChange.ConfirmedAt),
            Sql.Moment(hostChange.SeenAt),
            hostChange.Words,
            (short)hostChange.Purpose,
            Sql.Json(hostChange.Former is { } former ? Json.Of(former) : null)
        );

    private static HostChange Read(NpgsqlDataReader row) =>
        new()
        {
            Id = new ChangeId(row.GetGuid(0)),
            Site = new SiteId(row.GetInt64(1)),
            Place = row.GetInt64(2),
            WantedState = Json.WantedState(row.GetString(3)),
            Before = Json.Changes(row.GetString(4)),
            State = (ChangeState)row.GetInt16(5),
            By = new PersonId(row.GetInt64(6)),
            Reason = row.TextOrNull(7),
            UndoOf = row.OrNull<Guid>(8) is { } undone ? new ChangeId(undone) : null,
            RequestedAt = row.GetFieldValue<DateTimeOffset>(9),
            DueAt = row.GetFieldValue<DateTimeOffset>(10),
            Attempts = row.GetInt32(11),
            NextTry = row.GetFieldValue<DateTimeOffset>(12),
            Lease = row.TextOrNull(13),
            LeaseUntil = row.OrNull<DateTimeOffset>(14),
            SentAt = row.OrNull<DateTimeOffset>(15),
            ConfirmedAt = row.OrNull<DateTimeOffset>(16),
            SeenAt = row.OrNull<DateTimeOffset>(17),
            Words = row.TextOrNull(18),
            Purpose = (ChangePurpose)row.GetInt16(19),
            Former = row.TextOrNull(20) is { } former ? Json.WantedState(former) : null,
        };
}
