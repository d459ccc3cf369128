using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>How many other sites in use have the same name or nearly so. Sites without any have no row.</summary>
public static class NearNameTable
{
    /// <param name="only">Only of these; null for all.</param>
    public static async Task<Dictionary<SiteId, int>> NearNames(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId>? only = null
    ) =>
        (
            await connection.Rows(
                "select site, others from near_name where $1::bigint[] is null or site = any($1)",
                row => (new SiteId(row.GetInt64(0)), row.GetInt32(1)),
                Sql.Ids(only)
            )
        ).ToDictionary();

    /// <summary>True if names were counted once: before, the number of a site without a row is unknown.</summary>
    public static Task<bool> NearNamesCounted(this NpgsqlConnection connection) =>
        connection.One<bool>("select exists (select 1 from near_names_counted)");

    public static async Task PutNearNames(this Change change, IReadOnlyCollection<(SiteId Site, int Others)> counts)
    {
        await change.Connection.Run(
            "delete from near_name where site = any($1)",
            (object)counts.Select(count => count.Site.Value).ToArray()
        );
        List<(SiteId Site, int Others)> some = [.. counts.Where(count => count.Others > 0)];
        await change.Connection.Run(
            "insert into near_name (site, others) select * from unnest($1::bigint[], $2::integer[])",
            some.Select(count => count.Site.Value).ToArray(),
            some.Select(count => count.Others).ToArray()
        );
    }

    public static Task SetNearNamesCounted(this Change change) =>
        change.Connection.Run(
            "insert into near_names_counted (at) select $1 where not exists (select 1 from near_names_counted)",
            change.Now
        );
}
