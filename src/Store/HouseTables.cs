using System.Globalization;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

public static class HouseTables
{
    private const string ColumnSetting = "columns:";
    private const string HostSetting = "host:";
    private const string TermSetting = "terms";
    internal const string ZoneSetting = "zone";
    internal const string NoZone = "UTC";

    public static async Task<House> House(this NpgsqlConnection connection) =>
        HouseOf(
            await connection.Rows(
                "select kind, code, enforcer, limits from house_limit order by kind, code, enforcer",
                row => new LimitSetting(
                    (LayerKind)row.GetInt16(0),
                    row.GetString(1),
                    (Enforcer)row.GetInt16(2),
                    row.TextOrNull(3) is { } limits ? Known.Of(Json.Limits(limits)) : Known<PowerLimits>.Unknown
                )
            ),
            await connection.Rows("select code, name, always_all_staff from site_kind order by code", row => new SiteKind(
                row.GetString(0),
                row.GetString(1),
                row.GetBoolean(2)
            )),
            await connection.Rows("select host, class, days, from_at, until_at from keep_rule order by id", row => new KeepRule(
                row.TextOrNull(0),
                row.TextOrNull(1),
                row.GetInt32(2),
                row.GetFieldValue<DateTimeOffset>(3),
                row.OrNull<DateTimeOffset>(4)
            )),
            await connection.Settings()
        );

    /// <summary>The house from its parts as they are kept and as bundles carry them.</summary>
    public static House HouseOf(
        IReadOnlyList<LimitSetting> limits,
        IReadOnlyList<SiteKind> kinds,
        IReadOnlyList<KeepRule> keeping,
        IEnumerable<(string Name, string Value)> settings
    )
    {
        var set = settings.ToDictionary(setting => setting.Name, setting => setting.Value);
        int Number(string name, int otherwise) =>
            set.TryGetValue(name, out var value) ? int.Parse(value, CultureInfo.InvariantCulture) : otherwise;
        return new()
        {
            Limits = limits,
            Kinds = kinds,
            Keeping = keeping,
            Hosts = set.Where(setting => setting.Key.StartsWith(HostSetting, StringComparison.Ordinal))
                .ToDictionary(setting => setting.Key[HostSetting.Length..], setting => Json.Habits(setting.Value)),
            Terms = Json.Terms(set.GetValueOrDefault(TermSetting, "[]")),
            StopTime = TimeSpan.FromMinutes(Number("stop-minutes", 60)),
            OfferDays = Number("offer-days", 14),
            ApprovalDays = Number("approval-days", 7),
            FitDays = Number("fit-days", 14),
        };
    }

    public static async Task<HouseTime> HouseTime(this NpgsqlConnection connection) =>
        TimeIn(await connection.Setting(ZoneSetting, NoZone));

    /// <summary>The house's time by its settings.</summary>
    public static HouseTime TimeOf(IEnumerable<(string Name, string Value)> settings) =>
        TimeIn(settings.FirstOrDefault(setting => setting.Name == ZoneSetting).Value ?? NoZone);

    public static async Task<RuleBook> Rules(this NpgsqlConnection connection, DateOnly today) =>
        new(await connection.AllRules(), today);

    public static Task<List<(string Name, string Value)>> Settings(this NpgsqlConnection connection) =>
        connection.Rows("select name, value from house_setting order by name collate \"C\"", row =>
            (row.GetString(0), row.GetString(1))
        );

    /// <summary>All rules, whatever their first day.</summary>
    public static Task<List<Rule>> AllRules(this NpgsqlConnection connection) =>
        connection.Rows(
            "select id, title, short, level, scope, demand, from_day from house_rule order by id collate \"C\"",
            row => new Rule(
                new RuleId(row.GetString(0)),
                row.GetString(1),
                row.GetString(2),
                (Level)row.GetInt16(3),
                row.GetString(4),
                ReadDemand(row.GetString(5)),
                row.GetFieldValue<DateOnly>(6)
            )
        );

    public static async Task SetSetting(this Change change, string name, string value) =>
        await change.Connection.Run(
            "insert into house_setting (name, value) values ($1, $2) on conflict (name) do update set value = excluded.value",
            name,
            value
        );

    /// <returns>Whether the host was known to behave otherwise.</returns>
    public static async Task<bool> SetHabits(this Change change, string host, HostHabits habits)
    {
        if (
            await change.Connection.Setting($"{HostSetting}{host}", "") is { Length: > 0 } before
            && Json.Habits(before).Equals(habits)
        )
        {
            return false;
        }

        await change.SetSetting($"{HostSetting}{host}", Json.Of(habits));
        return true;
    }

    /// <summary>How the columns of the last list of a source were read, as JSON.</summary>
    public static Task<string> ListColumns(this NpgsqlConnection connection, string source) =>
        connection.Setting($"{ColumnSetting}{source}", "{}");

    public static Task SetListColumns(this Change change, string source, string columns) =>
        change.SetSetting($"{ColumnSetting}{source}", columns);

    public static Task SetTerms(this Change change, IReadOnlyList<Term> terms) => change.SetSetting(TermSetting, Json.Of(terms));

    public static Task AddKeepRule(this Change change, KeepRule rule) =>
        change.Connection.Run(
            "insert into keep_rule (host, class, days, from_at, until_at) values ($1, $2, $3, $4, $5)",
            rule.Host,
            rule.Class,
            rule.Days,
            rule.From,
            Sql.Moment(rule.Until)
        );

    public static async Task SetUnit(this Change change, string code, string name, string? parent) =>
        await change.Connection.Run(
            "insert into unit (code, name, parent) values ($1, $2, $3) on conflict (code) do update set name = excluded.name, parent = excluded.parent",
            code,
            name,
            parent
        );

    public static async Task SetKind(this Change change, SiteKind kind) =>
        await change.Connection.Run(
            "insert into site_kind (code, name, always_all_staff) values ($1, $2, $3) on conflict (code) do update set name = excluded.name, always_all_staff = excluded.always_all_staff",
            kind.Code,
            kind.Name,
            kind.AlwaysAllStaff
        );

    /// <returns>Whether the limit is another than before.</returns>
    public static async Task<bool> SetLimit(this Change change, LimitSetting limit) =>
        await change.Connection.Run(
            """
            insert into house_limit (kind, code, enforcer, limits) values ($1, $2, $3, $4)
            on conflict (kind, code, enforcer) do update set limits = excluded.limits where house_limit.limits is distinct from excluded.limits
            """,
            (short)limit.Kind,
            limit.Code,
            (short)limit.Enforcer,
            Sql.Json(limit.Limits.Has(out var limits) ? Json.Of(limits) : null)
        ) > 0;

    public static async Task SetRule(this Change change, Rule rule) =>
        await change.Connection.Run(
            """
            insert into house_rule (id, title, short, level, scope, demand, from_day) values ($1, $2, $3, $4, $5, $6, $7)
            on conflict (id) do update set title = excluded.title, short = excluded.short, level = excluded.level, scope = excluded.scope, demand = excluded.demand, from_day = excluded.from_day
            """,
            rule.Id.Value,
            rule.Title,
            rule.Short,
            (short)rule.Level,
            rule.Scope,
            DemandText(rule.Demand),
            rule.From
        );

    public static async Task<string> Setting(this NpgsqlConnection connection, string name, string otherwise) =>
        (
            await connection.Rows("select value from house_setting where name = $1", row => row.GetString(0), name)
        ).SingleOrDefault() ?? otherwise;

    /// <summary>A built-in demand stands as a word before a colon, a general one as its expression.</summary>
    public static string DemandText(Demand demand) =>
        demand switch
        {
            Demand.WithinAllowed => "within-allowed:",
            Demand.EditingNamedOnly => "editing-named:",
            Demand.FitKeyHolders(var least) => string.Create(CultureInfo.InvariantCulture, $"fit-key-holders:{least}"),
            _ => "general:" + demand.Expression,
        };

    /// <exception cref="InvalidOperationException">It is no demand that this version knows.</exception>
    public static Demand ReadDemand(string text) =>
        text.Split(':', 2) switch
        {
            ["within-allowed", _] => new Demand.WithinAllowed(),
            ["editing-named", _] => new Demand.EditingNamedOnly(),
            ["fit-key-holders", var least] => new Demand.FitKeyHolders(int.Parse(least, CultureInfo.InvariantCulture)),
            ["general", var expression] => new Demand.General(expression),
            _ => throw new InvalidOperationException($"\"{text}\" is no demand that this version knows."),
        };

    internal static HouseTime TimeIn(string zone) => new(TimeZoneInfo.FindSystemTimeZoneById(zone));
}
