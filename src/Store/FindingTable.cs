using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Since when a site breaks a rule, with an exception or without, or cannot be judged.</summary>
/// <param name="Event">The number of the journal entry that began it; null if it is not known.</param>
public sealed record FindingRow(RecordedFinding Finding, DateTimeOffset Since, long? Event);

/// <summary>Since when the findings of some sites exist.</summary>
public sealed class Since(IReadOnlyDictionary<(SiteId, RuleId), DateTimeOffset> of)
{
    public static Since None { get; } = new(new Dictionary<(SiteId, RuleId), DateTimeOffset>());

    public DateTimeOffset? Of(SiteId site, RuleId rule) => of.TryGetValue((site, rule), out var since) ? since : null;
}

/// <summary>What became of the findings of a rule in a unit on a day.</summary>
public sealed record FindingDay(DateOnly Day, FindingCounts Counts);

public static class FindingTable
{
    private const string Columns = "site, rule, verdict, unit, since, event";

    /// <summary>The findings of some sites, or all.</summary>
    public static Task<List<FindingRow>> Findings(this NpgsqlConnection connection, IReadOnlyCollection<SiteId>? only = null) =>
        connection.Rows(
            $"select {Columns} from finding where $1::bigint[] is null or site = any($1)",
            row => new FindingRow(
                new RecordedFinding(
                    new SiteId(row.GetInt64(0)),
                    new RuleId(row.GetString(1)),
                    (Verdict)row.GetInt16(2),
                    row.GetString(3)
                ),
                row.GetFieldValue<DateTimeOffset>(4),
                row.OrNull<long>(5)
            ),
            Sql.Ids(only)
        );

    public static async Task<Since> Since(this NpgsqlConnection connection, IReadOnlyCollection<SiteId> sites) =>
        new((await connection.Findings(sites)).ToDictionary(row => (row.Finding.Site, row.Finding.Rule), row => row.Since));

    /// <summary>The open findings that an entry of one of some actions began, with its number.</summary>
    public static Task<List<(SiteId Site, RuleId Rule, long Event)>> FindingsBegunBy(
        this NpgsqlConnection connection,
        IReadOnlyCollection<Core.Journal.JournalAction> actions
    ) =>
        connection.Rows(
            $"""
            select f.site, f.rule, f.event from finding f join journal j on j.number = f.event
            where f.verdict = {(short)Verdict.Breaks} and j.action = any($1)
            """,
            row => (new SiteId(row.GetInt64(0)), new RuleId(row.GetString(1)), row.GetInt64(2)),
            (object)actions.Select(action => action.Name).ToArray()
        );

    /// <summary>Writes findings that are new or have a new verdict or unit; "cannot tell" and an exception pause a finding and do not
    /// reset its beginning.</summary>
    public static Task PutFindings(this Change change, IReadOnlyList<FindingRow> findings) =>
        change.Connection.Run(
            $"""
            insert into finding ({Columns})
            select * from unnest($1::bigint[], $2::text[], $3::smallint[], $4::text[], $5::timestamptz[], $6::bigint[])
            on conflict (site, rule) do update set verdict = excluded.verdict, unit = excluded.unit
            """,
            findings.Select(row => row.Finding.Site.Value).ToArray(),
            findings.Select(row => row.Finding.Rule.Value).ToArray(),
            findings.Select(row => (short)row.Finding.Verdict).ToArray(),
            findings.Select(row => row.Finding.Unit).ToArray(),
            findings.Select(row => row.Since.UtcDateTime).ToArray(),
            findings.Select(row => row.Event).ToArray()
        );

    public static Task DropFindings(this Change change, IReadOnlyList<(SiteId Site, RuleId Rule)> findings) =>
        change.Connection.Run(
            "delete from finding f using unnest($1::bigint[], $2::text[]) as gone(site, rule) where f.site = gone.site and f.rule = gone.rule",
            findings.Select(finding => finding.Site.Value).ToArray(),
            findings.Select(finding => finding.Rule.Value).ToArray()
        );

    /// <summary>Adds to what became of findings on a day.</summary>
    public static Task CountFindings(this Change change, DateOnly day, IReadOnlyList<FindingCounts> counts) =>
        change.Connection.Run(
            """
            insert into finding_day (day, rule, unit, opened, cleared, excepted, change)
            select $1, * from unnest($2::text[], $3::text[], $4::integer[], $5::integer[], $6::integer[], $7::integer[])
            on conflict (day, rule, unit) do update set
                opened = finding_day.opened + excluded.opened, cleared = finding_day.cleared + excluded.cleared,
                excepted = finding_day.excepted + excluded.excepted, change = finding_day.change + excluded.change
            """,
            day,
            counts.Select(one => one.Rule.Value).ToArray(),
            counts.Select(one => one.Unit).ToArray(),
            counts.Select(one => one.Opened).ToArray(),
            counts.Select(one => one.Cleared).ToArray(),
            counts.Select(one => one.Excepted).ToArray(),
            counts.Select(one => one.Change).ToArray()
        );

    /// <summary>What became of findings on a day and later, the last day first.</summary>
    public static Task<List<FindingDay>> FindingDaysFrom(this NpgsqlConnection connection, DateOnly first) =>
        connection.Rows(
            "select day, rule, unit, opened, cleared, excepted, change from finding_day where day >= $1 order by day desc, rule, unit",
            row => new FindingDay(
                row.GetFieldValue<DateOnly>(0),
                new FindingCounts(
                    new RuleId(row.GetString(1)),
                    row.GetString(2),
                    row.GetInt32(3),
                    row.GetInt32(4),
                    row.GetInt32(5),
                    row.GetInt32(6)
                )
            ),
            first
        );

    /// <summary>The number of open findings by rule and unit.</summary>
    public static Task<List<(RuleId Rule, string Unit, int Open)>> OpenFindings(this NpgsqlConnection connection) =>
        connection.Rows(
            $"select rule, unit, count(*)::integer from finding where verdict = {(short)Verdict.Breaks} group by rule, unit",
            row => (new RuleId(row.GetString(0)), row.GetString(1), row.GetInt32(2))
        );
}
