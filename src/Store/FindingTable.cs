using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Since when a site breaks a rule, or cannot be judged.</summary>
public sealed record FindingRow(SiteId Site, RuleId Rule, bool CannotTell, DateTimeOffset Since);

public static class FindingTable
{
    public static Task<List<FindingRow>> Findings(this NpgsqlConnection connection) =>
        connection.Rows(
            "select site, rule, cannot_tell, since from finding",
            row => new FindingRow(new SiteId(row.GetInt64(0)), new RuleId(row.GetString(1)), row.GetBoolean(2), row.GetFieldValue<DateTimeOffset>(3)));

    /// <summary>A finding that is new or has another verdict; "cannot tell" pauses and does not reset since when it was first broken.</summary>
    public static Task PutFinding(this Change change, FindingRow finding) =>
        change.Connection.Run(
            "insert into finding (site, rule, cannot_tell, since) values ($1, $2, $3, $4) on conflict (site, rule) do update set cannot_tell = excluded.cannot_tell",
            finding.Site.Value, finding.Rule.Value, finding.CannotTell, finding.Since);

    public static Task DropFinding(this Change change, SiteId site, RuleId rule) =>
        change.Connection.Run("delete from finding where site = $1 and rule = $2", site.Value, rule.Value);
}
