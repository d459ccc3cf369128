using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>Who has which grant on which site.</summary>
public sealed record SiteGrant(SiteId Site, Power Power, Subject Subject);

public static class SiteTables
{
    private const string GrantColumns =
        "site, key, power, subject, person, people_group, unit, visitor_sign_in, is_link, through";

    /// <summary>The sites in a viewer's scope, or those with the given ids, with grants and changes under way. A site whose row
    /// cannot be read is included with its fault and does not affect the others.
    /// </summary>
    public static async Task<IReadOnlyList<SiteFacts>> Sites(
        this NpgsqlConnection connection,
        Scope viewerScope,
        IReadOnlyCollection<SiteId>? only = null
    )
    {
        var ids = Sql.Ids(only);
        var grants = (
            await connection.Rows(
                $"select {GrantColumns} from site_grant where $1::bigint[] is null or site = any($1) order by site, key collate \"C\"",
                row => (Site: row.GetInt64(0), Grant: ReadGrant(row)),
                ids.Clone()
            )
        ).ToLookup(pair => pair.Site, pair => pair.Grant);
        var besides = await SiteRows.AttachedRows.Of(connection, only);
        var sites = await connection.Rows(
            SiteRows.Select("where $1::bigint[] is null or id = any($1) order by id"),
            row => SiteRows.Read(row, [.. grants[row.GetInt64(0)]], besides),
            ids.Clone()
        );
        return sites.FindAll(viewerScope.Sees);
    }

    /// <summary>The sites of a host with some of its keys.</summary>
    public static async Task<IReadOnlyList<SiteFacts>> SitesByKey(
        this NpgsqlConnection connection,
        string host,
        IReadOnlyCollection<string> keys
    ) =>
        await connection.Sites(
            new Scope.Everything(),
            await connection.Rows(
                "select id from site where host = $1 and host_key = any($2)",
                row => new SiteId(row.GetInt64(0)),
                host,
                keys.ToArray()
            )
        );

    /// <summary>The sites that a list names by host and by that host's key or by address; an address of two sites names
    /// none.</summary>
    public static async Task<Dictionary<(string Host, string Named), SiteFacts>> SitesNamed(
        this NpgsqlConnection connection,
        IReadOnlyCollection<(string Host, string Named)> names
    )
    {
        var found = await connection.Rows(
            """
            select n.host, n.named, s.id from unnest($1::text[], $2::text[]) as n(host, named)
            join site s on s.host = n.host and s.host_key = n.named
            union
            select n.host, n.named, s.id from unnest($1::text[], $2::text[]) as n(host, named)
            join site s on s.host = n.host and s.address = n.named
            """,
            row => (Name: (row.GetString(0), row.GetString(1)), Site: new SiteId(row.GetInt64(2))),
            names.Select(name => name.Host).ToArray(),
            names.Select(name => name.Named).ToArray()
        );
        var sites =
            found.Count == 0
                ? []
                : (await connection.Sites(new Scope.Everything(), [.. found.Select(pair => pair.Site).Distinct()])).ToDictionary(
                    site => site.Id
                );
        return found
            .GroupBy(pair => pair.Name)
            .Where(same => same.Count() == 1)
            .ToDictionary(same => same.Key, same => sites[same.First().Site]);
    }

    /// <summary>The sites of a host in a scope, as <see cref="Scope.Sees"/> defines it; null for all.</summary>
    public static async Task<HashSet<SiteId>?> SeenOn(this NpgsqlConnection connection, string host, Scope viewerScope) =>
        viewerScope switch
        {
            Scope.Everything => null,
            Scope.OfUnits(var units) =>
            [
                .. await connection.Rows(
                    "select id from site where host = $1 and unit = any($2)",
                    row => new SiteId(row.GetInt64(0)),
                    host,
                    units.ToArray()
                ),
            ],
            Scope.OfOwners own =>
            [
                .. await connection.Rows(
                    """
                    select distinct s.id from site_grant g join site s on s.id = g.site
                    where s.host = $1 and g.power = 6 and (g.through is null or g.through >= $2)
                        and (g.person = $3 or g.people_group = any($4) or g.unit = any($5) or (g.subject = 'staff' and $6))
                    """,
                    row => new SiteId(row.GetInt64(0)),
                    host,
                    Sql.Day(own.Today),
                    own.Person.Value,
                    own.Groups.Select(group => group.Value).ToArray(),
                    own.Units.Select(unit => unit.Value).ToArray(),
                    own.IsStaff
                ),
            ],
            _ => throw new InvalidOperationException("Every kind of sight is answered above."),
        };

    public static Task<bool> HasSitesOf(this NpgsqlConnection connection, string host) =>
        connection.One<bool>("select exists (select from site where host = $1)", host);

    /// <summary>The sites of a host that are not erased and have been neither synced nor confirmed since an instant.</summary>
    public static Task<List<(SiteId Id, string Key)>> StandingSince(
        this NpgsqlConnection connection,
        string host,
        DateTimeOffset since
    ) =>
        connection.Rows(
            "select id, host_key from site where host = $1 and not no_longer_reported and existence < 2 and seen_at < $2 and stands_at < $2",
            row => (new SiteId(row.GetInt64(0)), row.GetString(1)),
            host,
            since
        );

    /// <summary>The keys of all sites of a host that are not erased.</summary>
    public static Task<List<string>> StandingOf(this NpgsqlConnection connection, string host) =>
        connection.Rows(
            "select host_key from site where host = $1 and not no_longer_reported and existence < 2",
            row => row.GetString(0),
            host
        );

    /// <summary>The sites missing from a complete sync for longer than the host's lists may lag. The beginning of the absence is
    /// stored in addition to the facts; a site that is listed again is no longer missing.
    /// </summary>
    public static async Task<List<SiteId>> MissingFor(
        this Change change,
        string host,
        IReadOnlyList<SiteId> unlisted,
        DateTimeOffset began,
        TimeSpan lag
    )
    {
        var ids = unlisted.Select(id => id.Value).ToArray();
        await change.Connection.Run(
            "update site set missing_since = null where host = $1 and missing_since is not null and not id = any($2)",
            host,
            ids
        );
        await change.Connection.Run(
            "update site set missing_since = $2 where id = any($1) and missing_since is null",
            ids,
            began
        );
        return await change.Connection.Rows(
            "select id from site where id = any($1) and missing_since <= $2",
            row => new SiteId(row.GetInt64(0)),
            ids,
            began - lag
        );
    }

    /// <summary>The addresses of a host's sites in any state, with the common part as stored.</summary>
    /// <param name="only">Of one address only; null for all.</param>
    public static Task<List<Holding>> Holdings(this NpgsqlConnection connection, string host, string? only = null) =>
        connection.Rows(
            $"select id, coalesce(name, address), address, status, existence, no_longer_reported, bin_until from site where host = $1 and {(only is null ? "address is not null and $2::text is null" : "address = $2")} and existence < 2 and moved_to is null order by id",
            row => new Holding(
                row.GetString(2),
                row.GetString(1),
                Holding.By((Existence)row.GetInt16(4), row.GetBoolean(5), (Status?)row.OrNull<short>(3)),
                new SiteId(row.GetInt64(0)),
                row.OrNull<DateTimeOffset>(6)
            ),
            host,
            Sql.Words(only)
        );

    /// <summary>The addresses on a host that forward to a site, as holders of them.</summary>
    /// <param name="only">Only this address.</param>
    public static Task<List<Holding>> ForwardingAddresses(this NpgsqlConnection connection, string host, string? only = null) =>
        connection.Rows(
            """
            select f ->> 'address', coalesce(s.name, s.address), s.id, (f ->> 'until')::timestamptz
            from site s, jsonb_array_elements(s.optional -> 'forwards') f
            where s.host = $1 and jsonb_typeof(s.optional -> 'forwards') = 'array' and s.existence < 2 and s.moved_to is null
                and ($2::text is null or f ->> 'address' = $2)
            order by s.id
            """,
            row => new Holding(
                row.GetString(0),
                row.GetString(1),
                HeldAs.Forwarding,
                new SiteId(row.GetInt64(2)),
                row.GetFieldValue<DateTimeOffset>(3)
            ),
            host,
            Sql.Words(only)
        );

    /// <summary>The site with a key at a host; null if there is none.</summary>
    public static async Task<SiteFacts?> SiteAt(this NpgsqlConnection connection, string host, string key) =>
        (
            await connection.Rows(
                "select id from site where host = $1 and host_key = $2",
                row => new SiteId(row.GetInt64(0)),
                host,
                key
            )
        )
            is [var id]
            ? (await connection.Sites(new Scope.Everything(), [id])).SingleOrDefault()
            : null;

    /// <summary>The rows that were confirmed to be this site.</summary>
    public static Task<List<SiteId>> MovedHere(this NpgsqlConnection connection, SiteId site) =>
        connection.Rows("select id from site where moved_to = $1 order by id", row => new SiteId(row.GetInt64(0)), site.Value);

    /// <summary>The parent of a site, and its children that are not erased.</summary>
    public static async Task<(IReadOnlyList<SiteId> Parents, IReadOnlyList<SiteId> Children)> FamilyOf(
        this NpgsqlConnection connection,
        SiteId site
    )
    {
        var around = await connection.Rows(
            """
            select p.id, true from site s join site p on p.host = s.host and p.host_key = s.parent where s.id = $1
            union all select c.id, false from site s join site c on c.host = s.host and c.parent = s.host_key where s.id = $1 and c.existence < 2 and not c.no_longer_reported
            """,
            row => (Site: new SiteId(row.GetInt64(0)), IsParent: row.GetBoolean(1)),
            site.Value
        );
        return (
            [.. around.Where(one => one.IsParent).Select(one => one.Site)],
            [.. around.Where(one => !one.IsParent).Select(one => one.Site)]
        );
    }

    /// <summary>Sites in use with the sites in use above them.</summary>
    public static Task<List<(SiteId Child, SiteId Parent)>> Parents(this NpgsqlConnection connection) =>
        connection.Rows(
            """
            select c.id, p.id from site c join site p on p.host = c.host and p.host_key = c.parent
            where c.parent is not null and c.existence = 0 and p.existence = 0 and c.id <> p.id
            """,
            row => (new SiteId(row.GetInt64(0)), new SiteId(row.GetInt64(1)))
        );

    /// <summary>The sites in use below a site, at any depth, the deepest first.</summary>
    public static Task<List<SiteId>> SitesBelow(this NpgsqlConnection connection, SiteId site) =>
        connection.Rows(
            """
            with recursive below as (
                select id, host, host_key, 0 as depth, array[id] as path from site where id = $1
                union all
                select c.id, c.host, c.host_key, b.depth + 1, b.path || c.id from below b
                join site c on c.host = b.host and c.parent = b.host_key
                where c.existence = 0 and not c.no_longer_reported and c.id <> all(b.path)
            )
            select id from below where depth > 0 group by id order by max(depth) desc, id
            """,
            row => new SiteId(row.GetInt64(0)),
            site.Value
        );

    /// <summary>The sites on which some people are granted something by name.</summary>
    public static async Task<ILookup<PersonId, SiteId>> NamedOn(
        this NpgsqlConnection connection,
        IReadOnlyCollection<PersonId> people
    ) =>
        people.Count == 0
            ? Array.Empty<(PersonId Person, SiteId Site)>().ToLookup(pair => pair.Person, pair => pair.Site)
            : (
                await connection.Rows(
                    "select distinct person, site from site_grant where person = any($1)",
                    row => (Person: new PersonId(row.GetInt64(0)), Site: new SiteId(row.GetInt64(1))),
                    (object)people.Select(person => person.Value).ToArray()
                )
            ).ToLookup(pair => pair.Person, pair => pair.Site);

    /// <summary>The grants to a person, some groups and some units, by site, without grants to all staff.</summary>
    /// <param name="today">Today: an ended grant does not count.</param>
    public static Task<List<SiteGrant>> GrantedTo(
        this NpgsqlConnection connection,
        PersonId? person,
        IReadOnlyCollection<GroupId> groups,
        IReadOnlyCollection<UnitCode> units,
        DateOnly today
    ) =>
        connection.Rows(
            """
            select site, power, subject, person, people_group, unit from site_grant
            where (through is null or through >= $4) and (person = $1 or people_group = any($2) or unit = any($3))
            """,
            row => new SiteGrant(
                new SiteId(row.GetInt64(0)),
                (Power)row.GetInt16(1),
                new StoredGrant(
                    (Power)row.GetInt16(1),
                    row.GetString(2),
                    row.OrNull<long>(3),
                    row.OrNull<long>(4),
                    row.TextOrNull(5),
                    default,
                    false,
                    null
                )
                    .Grant("")
                    .Subject
            ),
            (object?)person?.Value ?? DBNull.Value,
            groups.Select(group => group.Value).ToArray(),
            units.Select(unit => unit.Value).ToArray(),
            Sql.Day(today)
        );

    /// <summary>Sites with an access link that ends on or after a day.</summary>
    public static Task<List<SiteId>> SitesWithEndingGrants(this NpgsqlConnection connection, DateOnly from) =>
        connection.Rows(
            "select distinct site from site_grant where through >= $1",
            row => new SiteId(row.GetInt64(0)),
            Sql.Day(from)
        );

    // Changes under way: those without effect yet.
    public static async Task<SiteId> AddSite(this Change change, SiteFacts site)
    {
        var id = await change.Connection.One<long>(
            $"insert into site ({string.Join(", ", SiteRows.Written)}) values ({string.Join(", ", SiteRows.Written.Select((_, place) => $"${place + 1}"))}) returning id",
            SiteRows.Values(site)
        );
        await change.SetGrants(new SiteId(id), site);
        return new SiteId(id);
    }

    /// <exception cref="InvalidOperationException">Its row could not be read and is not overwritten.</exception>
    public static async Task UpdateSite(this Change change, SiteFacts site)
    {
        if (site.Fault is { } fault)
        {
            throw new InvalidOperationException(
                $"Site {site.Id.Value} ({site.Host}, {site.HostKey}) cannot be read, so it is not written: {fault}"
            );
        }

        await change.Connection.Run(
            $"update site set {string.Join(", ", SiteRows.Written.Select((column, place) => $"{column} = ${place + 1}"))} where id = ${SiteRows.Written.Count + 1}",
            [.. SiteRows.Values(site), site.Id.Value]
        );
        await change.SetGrants(site.Id, site);
    }

    // A grant that did not change is not written again.
    private static async Task SetGrants(this Change change, SiteId id, SiteFacts site)
    {
        var stored = (
            await change.Connection.Rows($"select {GrantColumns} from site_grant where site = $1", ReadGrant, id.Value)
        ).ToDictionary(grant => grant.Key);
        List<Grant> wanted = site.Sharing.Has(out var sharing) ? [.. sharing.Grants] : [];
        var written = wanted.FindAll(grant => stored.GetValueOrDefault(grant.Key) != grant);
        var gone = stored.Keys.Except(wanted.Except(written).Select(grant => grant.Key)).ToArray();
        if (gone.Length > 0)
        {
            await change.Connection.Run("delete from site_grant where site = $1 and key = any($2)", id.Value, gone);
        }

        await change.CopyGrants([.. written.Select(grant => (id, grant))]);
    }

    private static Grant ReadGrant(NpgsqlDataReader row) =>
        new StoredGrant(
            (Power)row.GetInt16(2),
            row.GetString(3),
            row.OrNull<long>(4),
            row.OrNull<long>(5),
            row.TextOrNull(6),
            (VisitorSignIn)row.GetInt16(7),
            row.GetBoolean(8),
            row.OrNull<DateOnly>(9)
        ).Grant(row.GetString(1));

    internal static Task CopyGrants(this Change change, IReadOnlyList<SiteFacts> sites) =>
        change.CopyGrants([
            .. sites.SelectMany(site =>
                site.Sharing.Has(out var sharing) ? sharing.Grants.Select(grant => (site.Id, grant)) : []
            ),
        ]);

    private static async Task CopyGrants(this Change change, IReadOnlyList<(SiteId Site, Grant Grant)> grants)
    {
        if (grants.Count == 0)
        {
            return;
        }

        await using var copy = await change.Connection.BeginBinaryImportAsync(
            $"copy site_grant ({GrantColumns}) from stdin (format binary)"
        );
        foreach (var (id, grant) in grants)
        {
            var stored = StoredGrant.Of(grant);
            await copy.StartRowAsync();
            await copy.WriteAsync(id.Value);
            await copy.WriteAsync(grant.Key);
            await copy.WriteAsync((short)grant.Power);
            await copy.WriteAsync(stored.Subject);
            await Write(copy, stored.Person, NpgsqlDbType.Bigint);
            await Write(copy, stored.Group, NpgsqlDbType.Bigint);
            await Write(copy, stored.Unit, NpgsqlDbType.Text);
            await copy.WriteAsync((short)grant.VisitorSignIn);
            await copy.WriteAsync(grant.IsLink);
            await Write(copy, grant.Through, NpgsqlDbType.Date);
        }

        await copy.CompleteAsync();
    }

    private static Task Write(NpgsqlBinaryImporter copy, object? value, NpgsqlDbType type) =>
        value is null ? copy.WriteNullAsync() : copy.WriteAsync(value, type);
}
