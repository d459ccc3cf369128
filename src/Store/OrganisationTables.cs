using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>How a list was read, to be proposed again with the next one.</summary>
/// <param name="Columns">The facts by headings, as JSON.</param>
/// <param name="Words">The meanings chosen for words, as JSON.</param>
public sealed record KeptReading(string Columns, string Words);

/// <summary>Why a limit is what it is.</summary>
public sealed record LimitReason(string? Reason, DateTimeOffset At, PersonId By);

public static class OrganisationTables
{
    public static async Task<Organisation> Organisation(this NpgsqlConnection connection) =>
        OrganisationOf(
            await connection.Rows(
                "select kind, code, enforcer, limits from organisation_limit order by kind, code, enforcer",
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
            await connection.Rows(
                "select host, classification, days, from_at, until_at from retention_rule order by id",
                row => new RetentionRule(
                    row.TextOrNull(0),
                    row.TextOrNull(1),
                    row.GetInt32(2),
                    row.GetFieldValue<DateTimeOffset>(3),
                    row.OrNull<DateTimeOffset>(4)
                )
            ),
            await connection.Settings()
        );

    /// <summary>The organisation from its stored parts, which bundles contain too.</summary>
    public static Organisation OrganisationOf(
        IReadOnlyList<LimitSetting> limits,
        IReadOnlyList<SiteKind> kinds,
        IReadOnlyList<RetentionRule> keeping,
        IEnumerable<(Setting Setting, string Value)> settings
    )
    {
        var set = settings.ToDictionary();
        string Text(Setting setting) => set.GetValueOrDefault(setting, setting.Otherwise);
        int Number(Setting setting) => int.Parse(Text(setting), CultureInfo.InvariantCulture);
        return new()
        {
            Limits = limits,
            Kinds = kinds,
            RetentionRules = keeping,
            Hosts = set.Where(pair => pair.Key.Host is not null)
                .ToDictionary(pair => pair.Key.Host!, pair => Json.Capabilities(pair.Value)),
            Terms = Json.Terms(Text(Setting.Terms)),
            StopTime = TimeSpan.FromMinutes(Number(Setting.StopMinutes)),
            OfferDays = Number(Setting.OfferDays),
            ApprovalDays = Number(Setting.ApprovalDays),
            ActiveDays = Number(Setting.ActiveDays),
            RequestDays = Number(Setting.RequestDays),
            KindsToStart = Json.KindsToStart(Text(Setting.KindsToStart)),
            ExpectedReaches = Json.ExpectedReaches(Text(Setting.ExpectedReaches)),
            ReservedAddresses = Json.Words(Text(Setting.ReservedAddresses)),
        };
    }

    public static async Task<OrganisationTime> OrganisationTime(this NpgsqlConnection connection) =>
        TimeIn(await connection.Value(Setting.Zone));

    /// <summary>The organisation's time zone from its settings.</summary>
    public static OrganisationTime TimeOf(IEnumerable<(Setting Setting, string Value)> settings) =>
        TimeIn(settings.FirstOrDefault(pair => pair.Setting == Setting.Zone).Value ?? Setting.Zone.Otherwise);

    /// <summary>All settings that are set, without those of another version; one with an impossible value counts as not set.</summary>
    public static async Task<List<(Setting Setting, string Value)>> Settings(this NpgsqlConnection connection) =>
        [
            .. from row in await connection.Rows(
                "select name, value from organisation_setting order by name collate \"C\"",
                row => (Setting: Setting.Find(row.GetString(0)), Value: row.GetString(1))
            )
            where row.Setting is not null && row.Setting.Fault(row.Value) is null
            select (row.Setting, row.Value),
        ];

    public static async Task Set(this Change change, Setting setting, string value) =>
        await change.Connection.Run(
            "insert into organisation_setting (name, value) values ($1, $2) on conflict (name) do update set value = excluded.value",
            setting.Name,
            value
        );

    public static async Task SetStart(
        this Change change,
        IReadOnlyList<KindToStart> kinds,
        IReadOnlyList<ExpectedReach> reaches,
        IReadOnlyList<string> reserved
    )
    {
        await change.Set(Setting.KindsToStart, Json.Of(kinds));
        await change.Set(Setting.ExpectedReaches, Json.Of(reaches));
        await change.Set(Setting.ReservedAddresses, System.Text.Json.JsonSerializer.Serialize(reserved));
    }

    /// <returns>True if the capabilities have changed.</returns>
    public static async Task<bool> SetCapabilities(this Change change, string host, HostCapabilities capabilities)
    {
        if (
            await change.Connection.Value(Setting.CapabilitiesOf(host)) is { Length: > 0 } before
            && Json.Capabilities(before).Equals(capabilities)
        )
        {
            return false;
        }

        await change.Set(Setting.CapabilitiesOf(host), Json.Of(capabilities));
        return true;
    }

    /// <summary>How the last list of a source was read.</summary>
    public static async Task<KeptReading> ListReading(this NpgsqlConnection connection, string source) =>
        new(await connection.Value(Setting.ColumnsOf(source)), await connection.Value(Setting.WordsOf(source)));

    public static async Task SetListReading(this Change change, string source, KeptReading reading)
    {
        await change.Set(Setting.ColumnsOf(source), reading.Columns);
        await change.Set(Setting.WordsOf(source), reading.Words);
    }

    public static Task SetTerms(this Change change, IReadOnlyList<Term> terms) => change.Set(Setting.Terms, Json.Of(terms));

    public static Task AddRetentionRule(this Change change, RetentionRule rule) =>
        change.Connection.Run(
            "insert into retention_rule (host, classification, days, from_at, until_at) values ($1, $2, $3, $4, $5)",
            rule.Host,
            rule.Classification,
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

    /// <returns>True if the limit has changed.</returns>
    public static async Task<bool> SetLimit(this Change change, LimitSetting limit) =>
        await change.Connection.Run(
            """
            insert into organisation_limit (kind, code, enforcer, limits) values ($1, $2, $3, $4)
            on conflict (kind, code, enforcer) do update set limits = excluded.limits where organisation_limit.limits is distinct from excluded.limits
            """,
            (short)limit.Kind,
            limit.Code,
            (short)limit.Enforcer,
            Sql.Json(limit.Limits.Has(out var limits) ? Json.Of(limits) : null)
        ) > 0;

    /// <summary>Sets or removes a limit that is policy only, with the reason.</summary>
    public static async Task ChangeLimit(this Change change, LimitRequest request, PersonId by)
    {
        object?[] key = [(short)request.Kind, request.Code, (short)request.Enforcer];
        if (request.Limits is not { } limits)
        {
            await change.Connection.Run("delete from organisation_limit where kind = $1 and code = $2 and enforcer = $3", key);
            return;
        }

        await change.SetLimit(new LimitSetting(request.Kind, request.Code, request.Enforcer, Known.Of(limits)));
        await change.Connection.Run(
            "update organisation_limit set reason = $4, set_at = $5, set_by = $6 where kind = $1 and code = $2 and enforcer = $3",
            [.. key, request.Reason, change.Now, by.Value]
        );
    }

    /// <summary>Why and by whom the limits were set that were set here.</summary>
    public static async Task<Dictionary<(LayerKind Kind, string Code, Enforcer Enforcer), LimitReason>> LimitReasons(
        this NpgsqlConnection connection
    ) =>
        (
            await connection.Rows(
                "select kind, code, enforcer, reason, set_at, set_by from organisation_limit where set_at is not null",
                row =>
                    (
                        ((LayerKind)row.GetInt16(0), row.GetString(1), (Enforcer)row.GetInt16(2)),
                        new LimitReason(row.TextOrNull(3), row.GetFieldValue<DateTimeOffset>(4), new PersonId(row.GetInt64(5)))
                    )
            )
        ).ToDictionary(row => row.Item1, row => row.Item2);

    public static async Task<string> Value(this NpgsqlConnection connection, Setting setting) =>
        (await connection.Rows("select value from organisation_setting where name = $1", row => row.GetString(0), setting.Name))
            .Where(value => setting.Fault(value) is null)
            .SingleOrDefault(setting.Otherwise);

    internal static OrganisationTime TimeIn(string zone) => new(TimeZoneInfo.FindSystemTimeZoneById(zone));
}
