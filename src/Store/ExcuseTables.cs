using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Dated exceptions from rules, by site.</summary>
public static class ExcuseTables
{
    private const string Columns = "id, site, rule, reason, by_person, from_at, through, demand, distance, ended_at";

    /// <summary>Every excuse there is or was, of some sites or of all.</summary>
    public static async Task<ILookup<SiteId, Excuse>> Excuses(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId>? only = null
    ) =>
        (
            await connection.Rows(
                $"select {Columns} from excuse where $1::bigint[] is null or site = any($1) order by id",
                Read,
                Sql.Ids(only)
            )
        ).ToLookup(pair => pair.Site, pair => pair.Excuse);

    /// <summary>The sites of which an excuse ended by itself in some days, both included.</summary>
    public static Task<List<SiteId>> SitesExcusedThrough(this NpgsqlConnection connection, DateOnly first, DateOnly last) =>
        connection.Rows(
            "select distinct site from excuse where ended_at is null and through between $1 and $2",
            row => new SiteId(row.GetInt64(0)),
            first,
            last
        );

    public static Task Put(this Change change, SiteId site, Excuse excuse) =>
        excuse.Id == 0
            ? change.Connection.Run(
                "insert into excuse (site, rule, reason, by_person, from_at, through, demand, distance) values ($1, $2, $3, $4, $5, $6, $7, $8)",
                site.Value,
                excuse.Rule.Value,
                excuse.Reason,
                excuse.By.Value,
                excuse.From,
                excuse.Through,
                excuse.Demand,
                excuse.Distance.ToArray()
            )
            : change.Connection.Run("update excuse set ended_at = $2 where id = $1", excuse.Id, excuse.Ended!.Value);

    /// <summary>Those that nobody has ended, by site.</summary>
    internal static async Task<Dictionary<long, List<Excuse>>> StandingExcuses(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId>? only = null
    ) =>
        (
            await connection.Rows(
                $"select {Columns} from excuse where ended_at is null and ($1::bigint[] is null or site = any($1)) order by id",
                Read,
                Sql.Ids(only)
            )
        )
            .GroupBy(pair => pair.Site.Value, pair => pair.Excuse)
            .ToDictionary(group => group.Key, group => group.ToList());

    private static (SiteId Site, Excuse Excuse) Read(NpgsqlDataReader row) =>
        (
            new SiteId(row.GetInt64(1)),
            new Excuse(
                row.GetInt64(0),
                new RuleId(row.GetString(2)),
                row.GetString(3),
                new PersonId(row.GetInt64(4)),
                row.GetFieldValue<DateTimeOffset>(5),
                row.GetFieldValue<DateOnly>(6),
                row.GetString(7),
                row.GetFieldValue<int[]>(8),
                row.OrNull<DateTimeOffset>(9)
            )
        );
}
