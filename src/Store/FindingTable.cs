using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Since when a site breaks a rule, with an exception or without, or cannot be judged.</summary>
public sealed record FindingRow(SiteId Site, RuleId Rule, Verdict Verdict, DateTimeOffset Since);

/// <summary>Since when the findings of some sites exist.</summary>
public sealed class Since(IReadOnlyDictionary<(SiteId, RuleId), DateTimeOffset> of)
{
    public static Since None { get; } = new(new Dictionary<(SiteId, RuleId), DateTimeOffset>());

    public DateTimeOffset? Of(SiteId site, RuleId rule) => of.TryGetValue((site, rule), out var since) ? since : null;
}

public static class FindingTable
{
    /// <summary>The findings of some sites, or all.</summary>
    public static Task<List<FindingRow>> Findings(this NpgsqlConnection connection, IReadOnlyCollection<SiteId>? only = null) =>
        connection.Rows(
            "select site, rule, verdict, since from finding where $1::bigint[] is null or site = any($1)",
            row => new FindingRow(
                new SiteId(row.GetInt64(0)),
                new RuleId(row.GetString(1)),
                (Verdict)row.GetInt16(2),
                row.GetFieldValue<DateTimeOffset>(3)
            ),
            Sql.Ids(only)
        );

    public static async Task<Since> Since(this NpgsqlConnection connection, IReadOnlyCollection<SiteId> sites) =>
        new((await connection.Findings(sites)).ToDictionary(row => (row.Site, row.Rule), row => row.Since));

    /// <summary>Writes findings that are new or have a new verdict; "cannot tell" and an exception pause a finding and do not reset
    /// its beginning.</summary>
    public static Task PutFindings(this Change change, IReadOnlyList<FindingRow> findings) =>
        change.Connection.Run(
            """
            insert into finding (site, rule, verdict, since) select * from unnest($1::bigint[], $2::text[], $3::smallint[], $4::timestamptz[])
            on conflict (site, rule) do update set verdict = excluded.verdict
            """,
            findings.Select(finding => finding.Site.Value).ToArray(),
            findings.Select(finding => finding.Rule.Value).ToArray(),
            findings.Select(finding => (short)finding.Verdict).ToArray(),
            findings.Select(finding => finding.Since.UtcDateTime).ToArray()
        );

    public static Task DropFindings(this Change change, IReadOnlyList<(SiteId Site, RuleId Rule)> findings) =>
        change.Connection.Run(
            "delete from finding f using unnest($1::bigint[], $2::text[]) as gone(site, rule) where f.site = gone.site and f.rule = gone.rule",
            findings.Select(finding => finding.Site.Value).ToArray(),
            findings.Select(finding => finding.Rule.Value).ToArray()
        );
}
