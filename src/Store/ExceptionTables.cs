using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Dated exceptions from rules, by site.</summary>
public static class ExceptionTables
{
    private const string Columns = "id, site, rule, reason, by_person, from_at, through, demand, distance, ended_at, untold";

    /// <summary>All exceptions, present and past, of some sites or of all.</summary>
    public static async Task<ILookup<SiteId, RuleException>> Exceptions(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId>? only = null
    ) =>
        (
            await connection.Rows(
                $"select {Columns} from rule_exception where $1::bigint[] is null or site = any($1) order by id",
                Read,
                Sql.Ids(only)
            )
        ).ToLookup(pair => pair.Site, pair => pair.Exception);

    /// <summary>The sites with an exception that ended by its date within some days, both included.</summary>
    public static Task<List<SiteId>> SitesExceptedThrough(this NpgsqlConnection connection, DateOnly first, DateOnly last) =>
        connection.Rows(
            "select distinct site from rule_exception where ended_at is null and through between $1 and $2",
            row => new SiteId(row.GetInt64(0)),
            first,
            last
        );

    /// <summary>The exceptions of sites in use that nobody has ended and whose last day is one of some days, both included.</summary>
    public static Task<List<(SiteId Site, RuleException Exception)>> ExceptionsThrough(
        this NpgsqlConnection connection,
        DateOnly first,
        DateOnly last
    ) =>
        connection.Rows(
            $"""
            select {Columns} from rule_exception
            where ended_at is null and through between $1 and $2
                and exists (select from site where site.id = rule_exception.site and existence = {(short)Existence.InUse})
            order by id
            """,
            Read,
            first,
            last
        );

    public static Task Put(this Change change, SiteId site, RuleException exception) =>
        exception.Id == 0
            ? change.Connection.Run(
                "insert into rule_exception (site, rule, reason, by_person, from_at, through, demand, distance, untold) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)",
                site.Value,
                exception.Rule.Value,
                exception.Reason,
                exception.By.Value,
                exception.From,
                exception.Through,
                exception.Demand,
                exception.Distance.ToArray(),
                exception.IsUntold
            )
            : change.Connection.Run(
                "update rule_exception set ended_at = $2 where id = $1",
                exception.Id,
                exception.Ended!.Value
            );

    /// <summary>The exceptions that nobody has ended, by site.</summary>
    internal static async Task<Dictionary<long, List<RuleException>>> StandingExceptions(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId>? only = null
    ) =>
        (
            await connection.Rows(
                $"select {Columns} from rule_exception where ended_at is null and ($1::bigint[] is null or site = any($1)) order by id",
                Read,
                Sql.Ids(only)
            )
        )
            .GroupBy(pair => pair.Site.Value, pair => pair.Exception)
            .ToDictionary(group => group.Key, group => group.ToList());

    private static (SiteId Site, RuleException Exception) Read(NpgsqlDataReader row) =>
        (
            new SiteId(row.GetInt64(1)),
            new RuleException(
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
            {
                IsUntold = row.GetBoolean(10),
            }
        );
}
