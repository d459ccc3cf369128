using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>A site whose pages are to be read.</summary>
/// <param name="Edited">Its last edit, as the register has it.</param>
public sealed record SiteToRead(SiteId Site, string HostKey, string Address, DateTimeOffset? Edited);

/// <summary>What pages of sites link to, as they were last read.</summary>
public static class PageLinkTable
{
    /// <summary>The sites in use of a host whose pages were never read, or have changed since, or could not be read before an
    /// instant.</summary>
    public static Task<List<SiteToRead>> SitesToRead(
        this NpgsqlConnection connection,
        string host,
        DateTimeOffset tryAgainBefore,
        int limit
    ) =>
        connection.Rows(
            """
            select s.id, s.host_key, coalesce(s.address, ''), s.edited from site s left join pages_read p on p.site = s.id
            where s.host = $1 and s.existence = 0 and not s.no_longer_reported
                and (p.site is null or (p.fault is null and p.edited is distinct from s.edited) or (p.fault is not null and p.read_at < $2))
            order by p.read_at nulls first, s.id limit $3
            """,
            row => new SiteToRead(new SiteId(row.GetInt64(0)), row.GetString(1), row.GetString(2), row.OrNull<DateTimeOffset>(3)),
            host,
            tryAgainBefore,
            limit
        );

    /// <summary>The hosts in the addresses of sites: links to all others are of no interest.</summary>
    public static async Task<HashSet<string>> AddressHosts(this NpgsqlConnection connection) =>
        [
            .. await connection.Rows(
                """
                select distinct lower(split_part(address, '/', 1)) from site where address is not null
                union select distinct lower(d) from site, unnest(domains) d
                """,
                row => row.GetString(0)
            ),
        ];

    /// <summary>Replaces what was read of a site's pages.</summary>
    /// <param name="fault">Why they could not be read; null if they were.</param>
    public static async Task PutLinks(
        this Change change,
        SiteToRead site,
        IReadOnlyCollection<(string Page, string Target)> links,
        string? fault
    )
    {
        // A site that was removed meanwhile has no pages.
        if (!await change.Connection.One<bool>("select exists (select from site where id = $1)", site.Site.Value))
        {
            return;
        }

        await change.Connection.Run("delete from page_link where site = $1", site.Site.Value);
        await change.Connection.Run(
            """
            insert into pages_read (site, read_at, edited, fault) values ($1, $2, $3, $4)
            on conflict (site) do update set read_at = excluded.read_at, edited = excluded.edited, fault = excluded.fault
            """,
            site.Site.Value,
            change.Now,
            Sql.Moment(site.Edited),
            Sql.Words(fault)
        );
        await change.Connection.Run(
            "insert into page_link (site, page, target) select $1, * from unnest($2::text[], $3::text[]) on conflict do nothing",
            site.Site.Value,
            links.Select(link => link.Page).ToArray(),
            links.Select(link => link.Target).ToArray()
        );
    }

    /// <summary>The sites in use with pages that link to one of these addresses or to a page below it, and the number of sites whose
    /// pages are not known.</summary>
    public static async Task<LinksHere> LinksTo(this NpgsqlConnection connection, IReadOnlyList<string> addresses, SiteId but) =>
        new(
            await connection.Rows(
                """
                select s.id, coalesce(s.name, s.address, s.host_key), count(distinct l.page)::integer
                from page_link l join site s on s.id = l.site
                where s.existence = 0 and not s.no_longer_reported and s.id <> $2
                    and exists (select from unnest($1::text[]) a where l.target = a or starts_with(l.target, a || '/'))
                group by s.id order by 3 desc, 1
                """,
                row => new LinkingSite(new SiteId(row.GetInt64(0)), row.GetString(1), row.GetInt32(2)),
                new NpgsqlParameter
                {
                    Value = addresses.Select(address => address.ToLowerInvariant()).ToArray(),
                    NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Text,
                },
                but.Value
            ),
            await connection.One<int>(
                """
                select count(*)::integer from site s left join pages_read p on p.site = s.id
                where s.existence = 0 and not s.no_longer_reported and s.id <> $1 and (p.site is null or p.fault is not null)
                """,
                but.Value
            )
        );
}
