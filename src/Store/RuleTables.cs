using System.Globalization;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A version of a rule, and how it came about.</summary>
/// <param name="Reason">As its writer gave it.</param>
/// <param name="By">Null for a rule that came with the organisation.</param>
public sealed record RuleVersionRow(Rule Rule, string? Reason, PersonId? By, DateTimeOffset? At);

public static class RuleTables
{
    private const string Columns =
        "rule, version, title, short, level, scope, demand, from_day, is_off, enforcement, answer_days";

    /// <summary>The rules in force on a day.</summary>
    public static async Task<RuleBook> Rules(this NpgsqlConnection connection, Today today) =>
        new(await connection.AllRules(), today);

    /// <summary>All versions of all rules, whatever their first day.</summary>
    public static Task<List<Rule>> AllRules(this NpgsqlConnection connection) =>
        connection.Rows($"select {Columns} from rule_version order by rule collate \"C\", version", Read);

    /// <summary>The versions of a rule, the first one first.</summary>
    public static Task<List<RuleVersionRow>> RuleVersions(this NpgsqlConnection connection, RuleId rule) =>
        connection.Rows(
            $"select {Columns}, reason, written_by, written_at from rule_version where rule = $1 order by version",
            row => new RuleVersionRow(Read(row), row.TextOrNull(11), row.PersonOrNull(12), row.OrNull<DateTimeOffset>(13)),
            rule.Value
        );

    /// <summary>The rules from which each site has an exception that nobody has ended and whose last day is not over.</summary>
    public static async Task<ILookup<SiteId, RuleId>> Excepted(this NpgsqlConnection connection, DateOnly today) =>
        (
            await connection.Rows(
                "select rule, site from rule_exception where ended_at is null and through >= $1",
                row => (Rule: new RuleId(row.GetString(0)), Site: new SiteId(row.GetInt64(1))),
                today
            )
        ).ToLookup(pair => pair.Site, pair => pair.Rule);

    /// <summary>Adds a version of a rule, and the rule if it is the first.</summary>
    public static async Task AddRule(this Change change, Rule rule, string? reason = null, PersonId? by = null)
    {
        await change.Connection.Run("insert into organisation_rule (id) values ($1) on conflict do nothing", rule.Id.Value);
        await change.Connection.Run(
            $"insert into rule_version ({Columns}, reason, written_by, written_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14)",
            rule.Id.Value,
            rule.Version,
            rule.Title,
            rule.Short,
            (short)rule.Level,
            rule.Scope,
            DemandText(rule.Demand),
            rule.From,
            rule.IsOff,
            (short)rule.Enforcement.Kind,
            rule.Enforcement.Days,
            Sql.Words(reason),
            Sql.Id(by?.Value),
            Sql.Moment(by is null ? null : change.Now)
        );
    }

    /// <summary>A built-in demand is stored as a word before a colon, a general one as its expression.</summary>
    public static string DemandText(Demand demand) =>
        demand switch
        {
            Demand.WithinAllowed => "within-allowed:",
            Demand.EditingNamedOnly => "editing-named:",
            Demand.ActiveOwners(var least) => string.Create(CultureInfo.InvariantCulture, $"active-owners:{least}"),
            _ => "general:" + demand.Expression,
        };

    /// <exception cref="InvalidOperationException">The demand is unknown to this version.</exception>
    public static Demand ReadDemand(string text) =>
        text.Split(':', 2) switch
        {
            ["within-allowed", _] => new Demand.WithinAllowed(),
            ["editing-named", _] => new Demand.EditingNamedOnly(),
            ["active-owners", var least] => new Demand.ActiveOwners(int.Parse(least, CultureInfo.InvariantCulture)),
            ["general", var expression] => new Demand.General(expression),
            _ => throw new InvalidOperationException($"\"{text}\" is not a demand that this version knows."),
        };

    private static Rule Read(NpgsqlDataReader row) =>
        new(
            new RuleId(row.GetString(0)),
            row.GetString(2),
            row.GetString(3),
            (Level)row.GetInt16(4),
            row.GetString(5),
            ReadDemand(row.GetString(6)),
            row.GetFieldValue<DateOnly>(7)
        )
        {
            Version = row.GetInt32(1),
            IsOff = row.GetBoolean(8),
            Enforcement = new Enforcement((EnforcementKind)row.GetInt16(9), row.GetInt32(10)),
        };
}
