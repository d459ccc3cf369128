using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>Claims about many sites at once.</summary>
public static class ClaimTables
{
    /// <summary>Writes one fact of some sites with its claims; everything else stays.</summary>
    public static Task UpdateFact(this Change change, ClaimedFact fact, IReadOnlyList<SiteFacts> sites)
    {
        var column = fact.ToString().ToLowerInvariant();
        return change.Connection.Run(
            $"""
            update site set {column} = v.value, claims = v.claims,
                unknowns = case when v.unknown then array_append(array_remove(unknowns, '{column}'), '{column}') else array_remove(unknowns, '{column}') end
            from unnest($1::bigint[], $2::text[], $3::boolean[], $4::jsonb[]) as v(id, value, unknown, claims) where site.id = v.id
            """,
            Sql.Ids([.. sites.Select(site => site.Id)]),
            new NpgsqlParameter
            {
                Value = sites.Select(site => site.Of(fact).Has(out var value) ? value : null).ToArray(),
                NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Text,
            },
            sites.Select(site => site.Of(fact).IsUnknown).ToArray(),
            new NpgsqlParameter
            {
                Value = sites.Select(site => Json.Of(site.Claims)).ToArray(),
                NpgsqlDbType = NpgsqlDbType.Array | NpgsqlDbType.Jsonb,
            }
        );
    }

    /// <summary>The host's key of every site with children.</summary>
    public static async Task<Dictionary<SiteId, string>> ParentKeys(this NpgsqlConnection connection) =>
        (
            await connection.Rows(
                "select id, host_key from site p where exists (select from site c where c.host = p.host and c.parent = p.host_key)",
                row => (new SiteId(row.GetInt64(0)), row.GetString(1))
            )
        ).ToDictionary(pair => pair.Item1, pair => pair.Item2);

    /// <summary>The sites for which a person set a fact at one instant, together.</summary>
    public static Task<List<SiteId>> SetTogether(this NpgsqlConnection connection, ClaimedFact fact, DateTimeOffset at) =>
        connection.Rows(
            "select id from site where claims @> $1 order by id",
            row => new SiteId(row.GetInt64(0)),
            Sql.Json(Json.ClaimedAt(fact, at))
        );
}
