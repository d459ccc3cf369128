using System.Globalization;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using Npgsql;

namespace AtticLedger.Server.Reports;

/// <summary>The facts of reports, from one state of the database, and their formatting.</summary>
/// <param name="Now">When it is made; the register in memory may be from an earlier instant of the day.</param>
internal sealed record ReportFacts(NpgsqlConnection Connection, LedgerState State, DateTimeOffset Now)
{
    public PeopleDirectory PeopleDirectory => State.PeopleDirectory;

    public OrganisationTime Time => State.PeopleDirectory.Time;

    public string Unit(Known<UnitCode> unit) =>
        unit.Has(out var code) ? PeopleDirectory.Find(code)?.Name ?? code.Value : Text(unit);

    public static string Text<T>(Known<T> fact)
        where T : notnull =>
        fact.IsUnknown ? "not known"
        : fact.Has(out var value) ? value.ToString() ?? ""
        : "";

    public static string Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";

    /// <summary>An instant in the organisation's time zone, in a format that spreadsheets read.</summary>
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

    public string Person(PersonId? person) => person is { } id ? PeopleDirectory.Find(id)?.Name ?? "somebody" : "";
}
