using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>Stays in the attic and holds on sites.</summary>
public static class AtticTables
{
    private const string StayColumns =
        "id, site, place, state, by_person, at_host, by_owner, reason, asked_at, stoppable_until, put_away_at, went, classes, order_id, return_wish, came, ended_at, words";

    private const string HoldColumns = "id, site, reason, by_person, from_at, through, released_at";

    public static Task<List<Stay>> OpenStays(this NpgsqlConnection connection) =>
        connection.Rows($"select {StayColumns} from stay where state <= 4 order by id", ReadStay);

    /// <summary>The latest stay of each of some sites, open or over.</summary>
    public static async Task<Dictionary<SiteId, Stay>> LatestStays(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows(
                $"select distinct on (site) {StayColumns} from stay where site = any($1) order by site, id desc",
                ReadStay,
                (object)sites.Select(site => site.Value).ToArray()
            )
        ).ToDictionary(stay => stay.Site);

    /// <summary>The stay that is open, of each of some sites that has one.</summary>
    public static async Task<Dictionary<SiteId, Stay>> OpenStays(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows($"select {StayColumns} from stay where site = any($1) and state <= 4", ReadStay, Sql.Ids(sites))
        ).ToDictionary(stay => stay.Site);

    public static Task<List<Stay>> StaysOf(this NpgsqlConnection connection, SiteId site) =>
        connection.Rows($"select {StayColumns} from stay where site = $1 order by id desc", ReadStay, site.Value);

    /// <summary>Every stay that there was, the latest first.</summary>
    public static Task<List<Stay>> AllStays(this NpgsqlConnection connection) =>
        connection.Rows($"select {StayColumns} from stay order by id desc", ReadStay);

    /// <summary>Stays that ended since an instant, the latest first.</summary>
    public static Task<List<Stay>> StaysEndedSince(this NpgsqlConnection connection, DateTimeOffset since) =>
        connection.Rows($"select {StayColumns} from stay where ended_at >= $1 order by ended_at desc", ReadStay, since);

    /// <summary>Writes a stay as it is now: a new row where its id is 0.</summary>
    public static Task Put(this Change change, Stay stay) =>
        stay.Id == 0
            ? change.Connection.Run(
                $"insert into stay ({StayColumns["id, ".Length..]}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)",
                Values(stay)
            )
            : change.Connection.Run(
                """
                update stay set site = $1, place = $2, state = $3, by_person = $4, at_host = $5, by_owner = $6, reason = $7, asked_at = $8, stoppable_until = $9, put_away_at = $10,
                    went = $11, classes = $12, order_id = $13, return_wish = $14, came = $15, ended_at = $16, words = $17
                where id = $18
                """,
                [.. Values(stay), stay.Id]
            );

    public static async Task<ILookup<SiteId, Hold>> Holds(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId>? only = null
    ) =>
        (
            await connection.Rows(
                $"select {HoldColumns} from hold where $1::bigint[] is null or site = any($1) order by id",
                row =>
                    (
                        Site: new SiteId(row.GetInt64(1)),
                        Hold: new Hold(
                            row.GetInt64(0),
                            row.GetString(2),
                            new PersonId(row.GetInt64(3)),
                            row.GetFieldValue<DateTimeOffset>(4),
                            row.OrNull<DateOnly>(5),
                            row.OrNull<DateTimeOffset>(6)
                        )
                    ),
                Sql.Ids(only)
            )
        ).ToLookup(pair => pair.Site, pair => pair.Hold);

    public static Task Put(this Change change, SiteId site, Hold hold) =>
        hold.Id == 0
            ? change.Connection.Run(
                "insert into hold (site, reason, by_person, from_at, through, released_at) values ($1, $2, $3, $4, $5, $6)",
                site.Value,
                hold.Reason,
                hold.By.Value,
                hold.From,
                Sql.Day(hold.Through),
                Sql.Moment(hold.Released)
            )
            : change.Connection.Run("update hold set released_at = $2 where id = $1", hold.Id, Sql.Moment(hold.Released));

    /// <summary>What stands around each of some sites: children, sites that its own group opens, and where they are wanted all in use on its host.</summary>
    public static async Task<Dictionary<SiteId, Surroundings>> Around(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteFacts> sites,
        Sight sight,
        bool withNeighbours
    )
    {
        var ids = (object)sites.Select(site => site.Id.Value).ToArray();
        var children = (
            await connection.Rows(
                "select p.id, c.id from site p join site c on c.host = p.host and c.parent = p.host_key where p.id = any($1) and c.existence = 0 and not c.vanished order by c.id",
                Pair,
                ids
            )
        ).ToLookup(pair => pair.Of, pair => pair.Site);
        var opened = (
            await connection.Rows(
                """
                select distinct o.id, s.id from site o join site_grant g on g.people_group = o.own_group join site s on s.id = g.site
                where o.id = any($1) and s.id <> o.id and s.existence = 0 order by s.id
                """,
                Pair,
                ids
            )
        ).ToLookup(pair => pair.Of, pair => pair.Site);
        var named = await connection.Sites(
            new Sight.Everything(),
            [.. children.Concat(opened).SelectMany(around => around).Distinct()]
        );
        var facts = named.ToDictionary(site => site.Id);
        var hosts = new Dictionary<string, Neighbours>();
        foreach (var host in withNeighbours ? sites.Select(site => site.Host).Distinct() : [])
        {
            var seen = await connection.SeenOn(host, sight);
            hosts[host] = new Neighbours(
                await connection.Rows(
                    "select id, coalesce(name, ''), coalesce(address, '') from site where host = $1 and existence = 0 and not vanished order by id",
                    row => new Neighbour(
                        new SiteId(row.GetInt64(0)),
                        row.GetString(1),
                        row.GetString(2),
                        seen?.Contains(new SiteId(row.GetInt64(0))) != false
                    ),
                    host
                )
            );
        }

        return sites.ToDictionary(
            site => site.Id,
            site => new Surroundings
            {
                Children = [.. children[site.Id].Select(id => facts[id])],
                OpenedByGroup = [.. opened[site.Id].Select(id => facts[id])],
                OnHost = hosts.GetValueOrDefault(site.Host, Neighbours.NotRead),
                Sight = sight,
            }
        );
    }

    private static (SiteId Of, SiteId Site) Pair(NpgsqlDataReader row) =>
        (new SiteId(row.GetInt64(0)), new SiteId(row.GetInt64(1)));

    private static object?[] Values(Stay stay) =>
        [
            stay.Site.Value,
            stay.Place,
            (short)stay.State,
            Sql.Id(stay.By?.Value),
            stay.AtHost,
            stay.ByOwner,
            stay.Reason,
            stay.AskedAt,
            Sql.Moment(stay.StoppableUntil),
            Sql.Moment(stay.PutAwayAt),
            Sql.Json(Json.Of(stay.Went)),
            Sql.Json(Json.Of(stay.Classes)),
            Sql.Id(stay.Order?.Value),
            Sql.Json(stay.Return is { } wish ? Json.Of(wish) : null),
            Sql.Json(stay.Came is { } came ? Json.Of(came) : null),
            Sql.Moment(stay.EndedAt),
            stay.Words,
        ];

    private static Stay ReadStay(NpgsqlDataReader row) =>
        new()
        {
            Id = row.GetInt64(0),
            Site = new SiteId(row.GetInt64(1)),
            Place = row.GetInt64(2),
            State = (StayState)row.GetInt16(3),
            By = row.PersonOrNull(4),
            AtHost = row.GetBoolean(5),
            ByOwner = row.GetBoolean(6),
            Reason = row.TextOrNull(7),
            AskedAt = row.GetFieldValue<DateTimeOffset>(8),
            StoppableUntil = row.OrNull<DateTimeOffset>(9),
            PutAwayAt = row.OrNull<DateTimeOffset>(10),
            Went = Json.Snapshot(row.GetString(11)),
            Classes = Json.Classes(row.GetString(12)),
            Order = row.OrNull<Guid>(13) is { } order ? new OrderId(order) : null,
            Return = row.TextOrNull(14) is { } wish ? Json.Wish(wish) : null,
            Came = row.TextOrNull(15) is { } came ? Json.Snapshot(came) : null,
            EndedAt = row.OrNull<DateTimeOffset>(16),
            Words = row.TextOrNull(17),
        };
}
