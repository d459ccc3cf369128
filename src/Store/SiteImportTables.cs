using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A list that was imported.</summary>
/// <param name="IsEnded">True if it was imported completely.</param>
/// <param name="IsOpen">True while a server is importing it.</param>
/// <param name="Sites">The number of sites it changed or added.</param>
public sealed record SiteImport(
    long Id,
    string Source,
    DateTimeOffset ImportedAt,
    PersonId By,
    bool IsEnded,
    bool IsOpen,
    DateTimeOffset? UndoneAt,
    int Sites
);

/// <summary>What is needed to import a list, and to resume the import.</summary>
/// <param name="Plan">The fingerprint of the plan.</param>
/// <param name="Reading">Its mapping, as JSON.</param>
public sealed record KeptList(string Source, PersonId By, bool IsWhole, DateTimeOffset AsOf, string Plan, string Reading);

/// <summary>A site that a list changed or added.</summary>
/// <param name="IsNew">True if the list added it.</param>
/// <param name="IsAsLeft">True if it is unchanged since the list.</param>
public sealed record ImportedSite(SiteId Site, bool IsNew, bool IsAsLeft);

/// <summary>The effects of imports on the register, stored for undo.</summary>
public static class SiteImportTables
{
    private const int Kept = 5;
    private const int PartLength = 1024 * 1024;
    private static readonly string Facts = string.Join(", ", SiteRows.Written);

    /// <summary>Stores the current state of the sites of a source, and of some others that its list names.</summary>
    /// <returns>The number of the import.</returns>
    /// <param name="content">The file; it is stored until the import is complete.</param>
    public static async Task<long> BeginImport(
        this Change change,
        KeptList list,
        Stream content,
        IReadOnlyCollection<SiteId> others
    )
    {
        var source = list.Source;
        var siteImport = await change.Connection.One<long>(
            "insert into site_import (source, imported_at, by_person, whole, as_of, plan, mapping, open) values ($1, $2, $3, $4, $5, $6, $7, true) returning id",
            source,
            change.Now,
            list.By.Value,
            list.IsWhole,
            list.AsOf,
            list.Plan,
            Sql.Json(list.Reading)
        );
        var part = new byte[PartLength];
        for (
            var number = 0;
            await content.ReadAtLeastAsync(part, part.Length, throwOnEndOfStream: false) is > 0 and var length;
            number++
        )
        {
            await change.Connection.Run(
                "insert into site_import_part (import_id, part, content) values ($1, $2, $3)",
                siteImport,
                number,
                length == part.Length ? part : part[..length]
            );
        }

        await change.Connection.Run(
            "insert into site_import_site (import_id, site, before) select $1, id, site_image(id) from site where host = $2 or id = any($3)",
            siteImport,
            source,
            Sql.Ids(others)
        );
        await change.Connection.Run(
            "delete from site_import where source = $1 and id <= (select id from site_import where source = $1 order by id desc offset $2 limit 1)",
            source,
            Kept
        );
        return siteImport;
    }

    /// <summary>Stores the state of the same sites after the import, and deletes the unchanged ones.</summary>
    public static async Task EndImport(this Change change, long siteImport)
    {
        await change.Connection.Run(
            "insert into site_import_site (import_id, site) select $1, s.id from site s join site_import t on t.source = s.host where t.id = $1 and not exists (select from site_import_site k where k.import_id = $1 and k.site = s.id)",
            siteImport
        );
        await change.Connection.Run("update site_import_site set after = site_image(site) where import_id = $1", siteImport);
        await change.Connection.Run("delete from site_import_site where import_id = $1 and before = after", siteImport);
        await change.Connection.Run("update site_import set ended = true where id = $1", siteImport);
        await change.LeaveImport(siteImport);
    }

    /// <summary>Abandons an import that cannot be completed: what was imported stays.</summary>
    public static async Task LeaveImport(this Change change, long siteImport)
    {
        await change.Connection.Run("update site_import set open = false where id = $1", siteImport);
        await change.Connection.Run("delete from site_import_part where import_id = $1", siteImport);
    }

    /// <summary>The incomplete imports on which no server works, the oldest first.</summary>
    public static Task<List<(long SiteImport, KeptList List)>> OpenImports(
        this NpgsqlConnection connection,
        DateTimeOffset now
    ) =>
        connection.Rows(
            """
            select t.id, t.source, t.by_person, t.whole, t.as_of, t.plan, t.mapping from site_import t join source s on s.name = t.source
            where t.open and (s.lease_until is null or s.lease_until < $1) order by t.id
            """,
            row =>
                (
                    row.GetInt64(0),
                    new KeptList(
                        row.GetString(1),
                        new PersonId(row.GetInt64(2)),
                        row.GetBoolean(3),
                        row.GetFieldValue<DateTimeOffset>(4),
                        row.GetString(5),
                        row.GetString(6)
                    )
                ),
            now
        );

    /// <summary>True if a later import of the same source has begun, or is as of a later day: resuming the earlier would
    /// overwrite it.</summary>
    public static Task<bool> IsOvertaken(this NpgsqlConnection connection, long siteImport) =>
        connection.One<bool>(
            "select exists (select from site_import t join site_import o on o.source = t.source and o.id <> t.id and (o.id > t.id or (o.ended and o.as_of > t.as_of)) and o.undone_at is null where t.id = $1)",
            siteImport
        );

    /// <summary>Writes the file of an import.</summary>
    public static async Task WriteContent(this NpgsqlConnection connection, long siteImport, Stream to)
    {
        await using var command = new NpgsqlCommand(
            "select content from site_import_part where import_id = $1 order by part",
            connection
        )
        {
            Parameters = { new() { Value = siteImport } },
        };
        await using var reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            await to.WriteAsync(reader.GetFieldValue<byte[]>(0));
        }
    }

    /// <summary>The stored imports of a source, the latest first.</summary>
    public static Task<List<SiteImport>> SiteImports(this NpgsqlConnection connection, string source) =>
        connection.Rows(
            "select t.id, t.source, t.imported_at, t.by_person, t.ended, t.open, t.undone_at, (select count(*)::integer from site_import_site s where s.import_id = t.id) from site_import t where t.source = $1 order by t.id desc",
            row => new SiteImport(
                row.GetInt64(0),
                row.GetString(1),
                row.GetFieldValue<DateTimeOffset>(2),
                new PersonId(row.GetInt64(3)),
                row.GetBoolean(4),
                row.GetBoolean(5),
                row.OrNull<DateTimeOffset>(6),
                row.GetInt32(7)
            ),
            source
        );

    public static Task<List<ImportedSite>> ImportedSites(this NpgsqlConnection connection, long siteImport) =>
        connection.Rows(
            "select site, before is null, after = site_image(site) from site_import_site where import_id = $1 order by site",
            row => new ImportedSite(new SiteId(row.GetInt64(0)), row.GetBoolean(1), row.GetBoolean(2)),
            siteImport
        );

    /// <summary>Restores some sites to their state before an import; sites it added stay, as no longer reported.</summary>
    public static async Task Undo(this Change change, long siteImport, IReadOnlyCollection<SiteId> sites)
    {
        await change.Connection.Run(
            $"""
            update site set ({Facts}) = (select {Facts} from jsonb_populate_record(null::site, k.before -> 'site'))
            from site_import_site k where k.import_id = $1 and k.site = site.id and site.id = any($2) and k.before is not null
            """,
            siteImport,
            Sql.Ids(sites)
        );
        await change.Connection.Run(
            "delete from site_grant g using site_import_site k where k.import_id = $1 and k.site = g.site and g.site = any($2) and k.before is not null",
            siteImport,
            Sql.Ids(sites)
        );
        await change.Connection.Run(
            "insert into site_grant select g.* from site_import_site k, jsonb_populate_recordset(null::site_grant, k.before -> 'grants') g where k.import_id = $1 and k.site = any($2) and k.before is not null",
            siteImport,
            Sql.Ids(sites)
        );
        await change.Connection.Run(
            "update site set no_longer_reported = true from site_import_site k where k.import_id = $1 and k.site = site.id and site.id = any($2) and k.before is null",
            siteImport,
            Sql.Ids(sites)
        );
    }

    /// <summary>Records that an import was undone.</summary>
    public static Task Undone(this Change change, long siteImport) =>
        change.Connection.Run("update site_import set undone_at = $2 where id = $1", siteImport, change.Now);
}
