using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>Attic entries and holds.</summary>
public static class AtticTables
{
    private const string AtticEntryColumns =
        "id, site, place, state, by_person, at_host, by_owner, reason, requested_at, stoppable_until, moved_to_attic_at, content_before, classifications, change_id, wanted_return, content_after, ended_at, message";

    private const string HoldColumns = "id, site, reason, by_person, from_at, through, released_at";

    public static Task<List<AtticEntry>> OpenAtticEntries(this NpgsqlConnection connection) =>
        connection.Rows($"select {AtticEntryColumns} from attic_entry where state <= 4 order by id", ReadAtticEntry);

    /// <summary>The latest attic entry of each of some sites, open or ended.</summary>
    public static async Task<Dictionary<SiteId, AtticEntry>> LatestAtticEntries(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows(
                $"select distinct on (site) {AtticEntryColumns} from attic_entry where site = any($1) order by site, id desc",
                ReadAtticEntry,
                (object)sites.Select(site => site.Value).ToArray()
            )
        ).ToDictionary(atticEntry => atticEntry.Site);

    /// <summary>The open attic entries of some sites.</summary>
    public static async Task<Dictionary<SiteId, AtticEntry>> OpenAtticEntries(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows(
                $"select {AtticEntryColumns} from attic_entry where site = any($1) and state <= 4",
                ReadAtticEntry,
                Sql.Ids(sites)
            )
        ).ToDictionary(atticEntry => atticEntry.Site);

    public static Task<List<AtticEntry>> AtticEntriesOf(this NpgsqlConnection connection, SiteId site) =>
        connection.Rows(
            $"select {AtticEntryColumns} from attic_entry where site = $1 order by id desc",
            ReadAtticEntry,
            site.Value
        );

    /// <summary>All attic entries, the latest first.</summary>
    public static Task<List<AtticEntry>> AllAtticEntries(this NpgsqlConnection connection) =>
        connection.Rows($"select {AtticEntryColumns} from attic_entry order by id desc", ReadAtticEntry);

    /// <summary>Attic entries that ended since an instant, the latest first.</summary>
    public static Task<List<AtticEntry>> AtticEntriesEndedSince(this NpgsqlConnection connection, DateTimeOffset since) =>
        connection.Rows(
            $"select {AtticEntryColumns} from attic_entry where ended_at >= $1 order by ended_at desc",
            ReadAtticEntry,
            since
        );

    /// <summary>Writes an attic entry; a new row if its id is 0.</summary>
    public static Task Put(this Change change, AtticEntry atticEntry) =>
        atticEntry.Id == 0
            ? change.Connection.Run(
                $"insert into attic_entry ({AtticEntryColumns["id, ".Length..]}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)",
                Values(atticEntry)
            )
            : change.Connection.Run(
                """
                update attic_entry set site = $1, place = $2, state = $3, by_person = $4, at_host = $5, by_owner = $6, reason = $7, requested_at = $8, stoppable_until = $9, moved_to_attic_at = $10,
                    content_before = $11, classifications = $12, change_id = $13, wanted_return = $14, content_after = $15, ended_at = $16, message = $17
                where id = $18
                """,
                [.. Values(atticEntry), atticEntry.Id]
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

    /// <summary>The related sites of each of some sites: children, sites of its group and, on request, all sites in use on its
    /// host.</summary>
    public static async Task<Dictionary<SiteId, Surroundings>> Around(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteFacts> sites,
        Scope viewerScope,
        bool withNeighbours
    )
    {
        var ids = (object)sites.Select(site => site.Id.Value).ToArray();
        var children = (
            await connection.Rows(
                "select p.id, c.id from site p join site c on c.host = p.host and c.parent = p.host_key where p.id = any($1) and c.existence = 0 and not c.no_longer_reported order by c.id",
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
        var borrowers = (
            await connection.Rows(
                $"""
                select l.id, b.id from site l
                join site b on b.host = l.host and b.optional ->> 'logoFrom' = l.host_key and b.id <> l.id
                where l.id = any($1) and b.optional ->> 'logo' = '{nameof(LogoSource.Borrowed)}'
                    and b.existence = 0 and not b.no_longer_reported
                order by b.id
                """,
                Pair,
                ids
            )
        ).ToLookup(pair => pair.Of, pair => pair.Site);
        var named = await connection.Sites(
            new Scope.Everything(),
            [.. children.Concat(opened).Concat(borrowers).SelectMany(around => around).Distinct()]
        );
        var facts = named.ToDictionary(site => site.Id);
        var hosts = new Dictionary<string, Neighbours>();
        foreach (var host in withNeighbours ? sites.Select(site => site.Host).Distinct() : [])
        {
            var seen = await connection.SeenOn(host, viewerScope);
            hosts[host] = new Neighbours(
                await connection.Rows(
                    """
                    select id, coalesce(name, ''), coalesce(address, '') from site where host = $1 and existence = 0 and not no_longer_reported
                    union
                    select s.id, coalesce(s.name, ''), h.address from address_holding h join site s on s.id = h.site
                    where h.host = $1 and h.change_id is not null
                    union
                    select 0, r.wanted ->> 'name', h.address from address_holding h join site_request r on r.id = h.request where h.host = $1
                    order by 1
                    """,
                    row => new Neighbour(
                        new SiteId(row.GetInt64(0)),
                        row.GetString(1),
                        row.GetString(2),
                        row.GetInt64(0) != 0 && seen?.Contains(new SiteId(row.GetInt64(0))) != false
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
                Borrowers = [.. borrowers[site.Id].Select(id => facts[id])],
                OnHost = hosts.GetValueOrDefault(site.Host, Neighbours.NotRead),
                Scope = viewerScope,
            }
        );
    }

    private static (SiteId Of, SiteId Site) Pair(NpgsqlDataReader row) =>
        (new SiteId(row.GetInt64(0)), new SiteId(row.GetInt64(1)));

    private static object?[] Values(AtticEntry atticEntry) =>
        [
            atticEntry.Site.Value,
            atticEntry.Place,
            (short)atticEntry.State,
            Sql.Id(atticEntry.By?.Value),
            atticEntry.AtHost,
            atticEntry.ByOwner,
            atticEntry.Reason,
            atticEntry.RequestedAt,
            Sql.Moment(atticEntry.StoppableUntil),
            Sql.Moment(atticEntry.MovedToAtticAt),
            Sql.Json(Json.Of(atticEntry.ContentBefore)),
            Sql.Json(Json.Of(atticEntry.Classifications)),
            Sql.Id(atticEntry.HostChange?.Value),
            Sql.Json(atticEntry.Return is { } wanted ? Json.Of(wanted) : null),
            Sql.Json(atticEntry.ContentAfter is { } came ? Json.Of(came) : null),
            Sql.Moment(atticEntry.EndedAt),
            atticEntry.Words,
        ];

    private static AtticEntry ReadAtticEntry(NpgsqlDataReader row) =>
        new()
        {
            Id = row.GetInt64(0),
            Site = new SiteId(row.GetInt64(1)),
            Place = row.GetInt64(2),
            State = (AtticState)row.GetInt16(3),
            By = row.PersonOrNull(4),
            AtHost = row.GetBoolean(5),
            ByOwner = row.GetBoolean(6),
            Reason = row.TextOrNull(7),
            RequestedAt = row.GetFieldValue<DateTimeOffset>(8),
            StoppableUntil = row.OrNull<DateTimeOffset>(9),
            MovedToAtticAt = row.OrNull<DateTimeOffset>(10),
            ContentBefore = Json.Snapshot(row.GetString(11)),
            Classifications = Json.Classifications(row.GetString(12)),
            HostChange = row.OrNull<Guid>(13) is { } hostChange ? new ChangeId(hostChange) : null,
            Return = row.TextOrNull(14) is { } wanted ? Json.WantedState(wanted) : null,
            ContentAfter = row.TextOrNull(15) is { } came ? Json.Snapshot(came) : null,
            EndedAt = row.OrNull<DateTimeOffset>(16),
            Words = row.TextOrNull(17),
        };
}
