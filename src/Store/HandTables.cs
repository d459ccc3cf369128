using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Orders by hand, beside the orders themselves.</summary>
public static class HandTables
{
    private const string Columns =
        "id, to_person, given_at, through, steps, account, support, done_by, proof, picture_type is not null, checked_by, returned";

    public static async Task<HandOrder?> HandOrder(this NpgsqlConnection connection, OrderId id) =>
        (await connection.Rows($"select {Columns} from hand_order where id = $1", Read, id.Value)).SingleOrDefault();

    /// <summary>Those of some orders.</summary>
    public static async Task<Dictionary<OrderId, HandOrder>> HandOrders(
        this NpgsqlConnection connection,
        IReadOnlyCollection<OrderId> orders
    ) =>
        orders.Count == 0
            ? []
            : (
                await connection.Rows(
                    $"select {Columns} from hand_order where id = any($1)",
                    Read,
                    (object)orders.Select(order => order.Value).ToArray()
                )
            ).ToDictionary(hand => hand.Order);

    /// <summary>Orders by hand that are still to be done or to be seen, and those that ended since an instant; oldest first.</summary>
    public static async Task<IReadOnlyList<(Order Order, HandOrder Hand)>> HandOrdersSince(
        this NpgsqlConnection connection,
        DateTimeOffset since
    )
    {
        var hands = await connection.Rows(
            $"select {Columns} from hand_order h where exists (select from host_order o where o.id = h.id and (o.state in (1, 2) or coalesce(o.seen_at, o.confirmed_at, o.sent_at) >= $1))",
            Read,
            since
        );
        var orders = (await connection.Orders([.. hands.Select(hand => hand.Order)])).ToDictionary(order => order.Id);
        return [.. hands.Select(hand => (orders[hand.Order], hand)).OrderBy(pair => pair.Item1.Place)];
    }

    public static async Task<ProofPicture?> Picture(this NpgsqlConnection connection, OrderId id) =>
        (
            await connection.Rows(
                "select picture_type, picture from hand_order where id = $1 and picture is not null",
                row => new ProofPicture(row.GetString(0), row.GetFieldValue<byte[]>(1)),
                id.Value
            )
        ).SingleOrDefault();

    public static Task SetPicture(this Change change, OrderId id, ProofPicture picture) =>
        change.Connection.Run(
            "update hand_order set picture_type = $2, picture = $3 where id = $1",
            id.Value,
            picture.Type,
            picture.Bytes
        );

    public static Task Put(this Change change, HandOrder hand) =>
        change.Connection.Run(
            """
            insert into hand_order (id, to_person, given_at, through, steps, account, support, done_by, proof, checked_by, returned) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)
            on conflict (id) do update set to_person = excluded.to_person, given_at = excluded.given_at, through = excluded.through,
                done_by = excluded.done_by, proof = excluded.proof, checked_by = excluded.checked_by, returned = excluded.returned
            """,
            hand.Order.Value,
            hand.To.Value,
            hand.GivenAt,
            Sql.Day(hand.Through),
            Sql.Json(JsonSerializer.Serialize(hand.Steps)),
            hand.Account,
            hand.Support,
            Sql.Id(hand.DoneBy?.Value),
            hand.Proof,
            Sql.Id(hand.CheckedBy?.Value),
            hand.Returned
        );

    private static HandOrder Read(NpgsqlDataReader row) =>
        new()
        {
            Order = new OrderId(row.GetGuid(0)),
            To = new PersonId(row.GetInt64(1)),
            GivenAt = row.GetFieldValue<DateTimeOffset>(2),
            Through = row.GetFieldValue<DateOnly>(3),
            Steps = JsonSerializer.Deserialize<string[]>(row.GetString(4))!,
            Account = row.GetString(5),
            Support = row.GetString(6),
            DoneBy = row.OrNull<long>(7) is { } doer ? new PersonId(doer) : null,
            Proof = row.TextOrNull(8),
            HasPicture = row.GetBoolean(9),
            CheckedBy = row.OrNull<long>(10) is { } other ? new PersonId(other) : null,
            Returned = row.GetInt32(11),
        };
}
