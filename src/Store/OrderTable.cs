using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

public static class OrderTable
{
    private const string Columns =
        "id, site, place, wish, before, state, by_person, reason, undo_of, asked_at, due_at, attempts, next_try, lease, lease_until, sent_at, confirmed_at, seen_at, words, purpose";

    public static Task<List<Order>> OrdersOf(this NpgsqlConnection connection, SiteId site) =>
        connection.Rows($"select {Columns} from host_order where site = $1 order by place", Read, site.Value);

    /// <summary>The lanes of some sites, oldest order first.</summary>
    public static async Task<ILookup<SiteId, Order>> Lanes(this NpgsqlConnection connection, IReadOnlyCollection<SiteId> sites) =>
        (
            await connection.Rows($"select {Columns} from host_order where site = any($1) order by place", Read, Sql.Ids(sites))
        ).ToLookup(order => order.Site);

    public static async Task<Order?> Order(this NpgsqlConnection connection, OrderId id) =>
        (await connection.Rows($"select {Columns} from host_order where id = $1", Read, id.Value)).SingleOrDefault();

    public static Task<List<Order>> Orders(this NpgsqlConnection connection, IReadOnlyCollection<OrderId> ids) =>
        connection.Rows(
            $"select {Columns} from host_order where id = any($1)",
            Read,
            (object)ids.Select(id => id.Value).ToArray()
        );

    /// <summary>Open orders and those that wait to be seen, of all lanes of all hosts.</summary>
    public static Task<List<Order>> OrdersUnderWay(this NpgsqlConnection connection) =>
        connection.Rows($"select {Columns} from host_order where state in (0, 1, 2) order by place", Read);

    /// <summary>What is still to be brought to a host.</summary>
    public static Task<List<Order>> OpenOrders(this NpgsqlConnection connection, string host) =>
        connection.Rows(
            $"select {Columns} from host_order where state in (0, 1) and site in (select id from site where host = $1) order by place",
            Read,
            host
        );

    /// <summary>The hosts to which something is still to be brought.</summary>
    public static Task<List<string>> HostsWithOrders(this NpgsqlConnection connection) =>
        connection.Rows("select distinct s.host from host_order o join site s on s.id = o.site where o.state in (0, 1)", row =>
            row.GetString(0)
        );

    /// <summary>Writes an order as it is now: a new row, or its new state.</summary>
    public static Task Put(this Change change, Order order) =>
        change.Connection.Run(
            $"""
            insert into host_order ({Columns}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20)
            on conflict (id) do update set state = excluded.state, due_at = excluded.due_at, attempts = excluded.attempts, next_try = excluded.next_try, lease = excluded.lease,
                lease_until = excluded.lease_until, sent_at = excluded.sent_at, confirmed_at = excluded.confirmed_at, seen_at = excluded.seen_at, words = excluded.words
            """,
            order.Id.Value,
            order.Site.Value,
            order.Place,
            Sql.Json(Json.Of(order.Wish)),
            Sql.Json(Json.Of(order.Before)),
            (short)order.State,
            order.By.Value,
            order.Reason,
            new NpgsqlParameter { Value = (object?)order.UndoOf?.Value ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Uuid },
            order.AskedAt,
            order.DueAt,
            order.Attempts,
            order.NextTry,
            order.Lease,
            Sql.Moment(order.LeaseUntil),
            Sql.Moment(order.SentAt),
            Sql.Moment(order.ConfirmedAt),
            Sql.Moment(order.SeenAt),
            order.Words,
            (short)order.Purpose
        );

    private static Order Read(NpgsqlDataReader row) =>
        new()
        {
            Id = new OrderId(row.GetGuid(0)),
            Site = new SiteId(row.GetInt64(1)),
            Place = row.GetInt64(2),
            Wish = Json.Wish(row.GetString(3)),
            Before = Json.Changes(row.GetString(4)),
            State = (OrderState)row.GetInt16(5),
            By = new PersonId(row.GetInt64(6)),
            Reason = row.TextOrNull(7),
            UndoOf = row.OrNull<Guid>(8) is { } undone ? new OrderId(undone) : null,
            AskedAt = row.GetFieldValue<DateTimeOffset>(9),
            DueAt = row.GetFieldValue<DateTimeOffset>(10),
            Attempts = row.GetInt32(11),
            NextTry = row.GetFieldValue<DateTimeOffset>(12),
            Lease = row.TextOrNull(13),
            LeaseUntil = row.OrNull<DateTimeOffset>(14),
            SentAt = row.OrNull<DateTimeOffset>(15),
            ConfirmedAt = row.OrNull<DateTimeOffset>(16),
            SeenAt = row.OrNull<DateTimeOffset>(17),
            Words = row.TextOrNull(18),
            Purpose = (OrderPurpose)row.GetInt16(19),
        };
}
