using System.Globalization;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using Npgsql;

namespace AtticLedger.Server.Reports;

/// <summary>What reports are made from, in one state of the database, and how they write it.</summary>
internal sealed record ReportFacts(NpgsqlConnection Connection, LedgerState State)
{
    public Roll Roll => State.Roll;

    public HouseTime Time => State.Roll.Time;

    public string Unit(Known<UnitCode> unit) => unit.Has(out var code) ? Roll.Find(code)?.Name ?? code.Value : Said(unit);

    public static string Said<T>(Known<T> fact)
        where T : notnull =>
        fact.IsUnknown ? "not known"
        : fact.Has(out var value) ? value.ToString() ?? ""
        : "";

    public static string Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";

    /// <summary>An instant by the house's clock, as every spreadsheet reads it.</summary>
    public string At(DateTimeOffset? at) =>
        at is { } instant
            ? TimeZoneInfo.ConvertTime(instant, Time.Zone).ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture)
            : "";

    public static string Truth(Truth truth) =>
        truth switch
        {
            Core.Terms.Truth.Yes => "yes",
            Core.Terms.Truth.No => "no",
            _ => "cannot tell",
        };

    public string Person(PersonId? person) => person is { } id ? Roll.Find(id)?.Name ?? "somebody" : "";
}
