using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A list that was taken in.</summary>
/// <param name="IsEnded">Whether it was taken in to its end.</param>
/// <param name="IsOpen">Whether it is still being taken in, by whichever server.</param>
/// <param name="Sites">How many sites it changed or brought.</param>
public sealed record ListTaking(
    long Id,
    string Source,
    DateTimeOffset TakenAt,
    PersonId By,
    bool IsEnded,
    bool IsOpen,
    DateTimeOffset? UndoneAt,
    int Sites
);

/// <summary>What is needed to take a list in, and to go on with it.</summary>
/// <param name="Plan">The fingerprint of what was foreseen.</param>
/// <param name="Reading">How it is to be understood, as JSON.</param>
public sealed record KeptList(string Source, PersonId By, bool IsWhole, DateTimeOffset AsOf, string Plan, string Reading);

/// <summary>A site that a list changed or brought.</summary>
/// <param name="IsNew">Whether the list brought it.</param>
/// <param name="IsAsLeft">Whether it stands as the list left it.</param>
public sealed record TakenSite(SiteId Site, bool IsNew, bool IsAsLeft);

/// <summary>What lists did to the register, kept so that it can be taken back.</summary>
public static class ListTakingTables
{
    private const int Kept = 5;
    private const int PartLength = 1024 * 1024;
    private static readonly string Facts = SiteRows.Columns["id, ".Length..];

    /// <summary>Keeps the sites of a source as they are, and some others that its list speaks of.</summary>
    /// <returns>The number of the taking.</returns>
    /// <param name="content">The file that it came in; it is kept until the list is taken in to its end.</param>
    public static async Task<long> BeginTaking(
        this Change change,
        KeptList list,
        Stream content,
        IReadOnlyCollection<SiteId> others
    )
    {
        var source = list.Source;
        var taking = await change.Connection.One<long>(
            "insert into list_taking (source, taken_at, by_person, whole, as_of, plan, reading, open) values ($1, $2, $3, $4, $5, $6, $7, true) returning id",
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
                "insert into list_taking_part (taking, part, content) values ($1, $2, $3)",
                taking,
                number,
                length == part.Length ? part : part[..length]
            );
        }

        await change.Connection.Run(
            "insert into list_taking_site (taking, site, before) select $1, id, site_image(id) from site where host = $2 or id = any($3)",
            taking,
            source,
            Sql.Ids(others)
        );
        await change.Connection.Run(
            "delete from list_taking where source = $1 and id <= (select id from list_taking where source = $1 order by id desc offset $2 limit 1)",
            source,
            Kept
        );
        return taking;
    }

    /// <summary>Keeps the same sites as the list left them, and forgets those that it left as they were.</summary>
    public static async Task EndTaking(this Change change, long taking)
    {
        await change.Connection.Run(
            "insert into list_taking_site (taking, site) select $1, s.id from site s join list_taking t on t.source = s.host where t.id = $1 and not exists (select from list_taking_site k where k.taking = $1 and k.site = s.id)",
            taking
        );
        await change.Connection.Run("update list_taking_site set after = site_image(site) where taking = $1", taking);
        await change.Connection.Run("delete from list_taking_site where taking = $1 and before = after", taking);
        await change.Connection.Run("update list_taking set ended = true where id = $1", taking);
        await change.LeaveTaking(taking);
    }

    /// <summary>Leaves a list that cannot be taken in to its end: what was taken in stays.</summary>
    public static async Task LeaveTaking(this Change change, long taking)
    {
        await change.Connection.Run("update list_taking set open = false where id = $1", taking);
        await change.Connection.Run("delete from list_taking_part where taking = $1", taking);
    }

    /// <summary>The lists that are not taken in to their end and that no server is at, the oldest first.</summary>
    public static Task<List<(long Taking, KeptList List)>> OpenTakings(this NpgsqlConnection connection, DateTimeOffset now) =>
        connection.Rows(
            """
            select t.id, t.source, t.by_person, t.whole, t.as_of, t.plan, t.reading from list_taking t join source s on s.name = t.source
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

    /// <summary>Whether a later list of the same source was begun, or is of a later day: going on with the earlier would overwrite it.</summary>
    public static Task<bool> IsOvertaken(this NpgsqlConnection connection, long taking) =>
        connection.One<bool>(
            "select exists (select from list_taking t join list_taking o on o.source = t.source and o.id <> t.id and (o.id > t.id or (o.ended and o.as_of > t.as_of)) and o.undone_at is null where t.id = $1)",
            taking
        );

    /// <summary>Writes the file that a list came in.</summary>
    public static async Task WriteContent(this NpgsqlConnection connection, long taking, Stream to)
    {
        await using var command = new NpgsqlCommand(
            "select content from list_taking_part where taking = $1 order by part",
            connection
        )
        {
            Parameters = { new() { Value = taking } },
        };
        await using var reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            await to.WriteAsync(reader.GetFieldValue<byte[]>(0));
        }
    }

    /// <summary>The lists of a source that are kept, the latest first.</summary>
    public static Task<List<ListTaking>> Takings(this NpgsqlConnection connection, string source) =>
        connection.Rows(
            "select t.id, t.source, t.taken_at, t.by_person, t.ended, t.open, t.undone_at, (select count(*)::integer from list_taking_site s where s.taking = t.id) from list_taking t where t.source = $1 order by t.id desc",
            row => new ListTaking(
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

    public static Task<List<TakenSite>> TakenSites(this NpgsqlConnection connection, long taking) =>
        connection.Rows(
            "select site, before is null, after = site_image(site) from list_taking_site where taking = $1 order by site",
            row => new TakenSite(new SiteId(row.GetInt64(0)), row.GetBoolean(1), row.GetBoolean(2)),
            taking
        );

    /// <summary>Makes some sites as they were before a list; those that it brought stay, marked as vanished.</summary>
    public static async Task TakeBack(this Change change, long taking, IReadOnlyCollection<SiteId> sites)
    {
        await change.Connection.Run(
            $"""
            update site set ({Facts}) = (select {Facts} from jsonb_populate_record(null::site, k.before -> 'site'))
            from list_taking_site k where k.taking = $1 and k.site = site.id and site.id = any($2) and k.before is not null
            """,
            taking,
            Sql.Ids(sites)
        );
        await change.Connection.Run(
            "delete from site_grant g using list_taking_site k where k.taking = $1 and k.site = g.site and g.site = any($2) and k.before is not null",
            taking,
            Sql.Ids(sites)
        );
        await change.Connection.Run(
            "insert into site_grant select g.* from list_taking_site k, jsonb_populate_recordset(null::site_grant, k.before -> 'grants') g where k.taking = $1 and k.site = any($2) and k.before is not null",
            taking,
            Sql.Ids(sites)
        );
        await change.Connection.Run(
            "update site set vanished = true from list_taking_site k where k.taking = $1 and k.site = site.id and site.id = any($2) and k.before is null",
            taking,
            Sql.Ids(sites)
        );
    }

    /// <summary>Says of a list that it was taken back.</summary>
    public static Task Undone(this Change change, long taking) =>
        change.Connection.Run("update list_taking set undone_at = $2 where id = $1", taking, change.Now);
}
