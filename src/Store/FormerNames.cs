using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>The names and addresses that sites had before.</summary>
public static class FormerNames
{
    /// <summary>Sites that had a name or address with a text in it.</summary>
    public static Task<List<(SiteId Site, string Former)>> FormerlyNamed(this NpgsqlConnection connection, string text) =>
        connection.Rows(
            "select site, min(value) from former_name where position(lower($1) in lower(value)) > 0 group by site order by site",
            row => (new SiteId(row.GetInt64(0)), row.GetString(1)),
            text
        );
}
