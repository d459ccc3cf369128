using System.Text.Json;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Journal;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>The actions of people in a period, from the journal.</summary>
internal static class ActionsReport
{
    private const int Most = 100_000;

    public static ReportKind Kind { get; } =
        new(
            "actions",
            "Actions by person",
            "The actions of all people or of one person in a range of days, each with the number of its journal entry.",
            ReportSpan.Days,
            ["entry", "when", "who", "mail", "action", "about", "address", "reason"],
            Make,
            0
        );

    private static async Task<Report> Make(ReportFacts facts, ReportRequest request)
    {
        var rows = await facts.Connection.ActionsOfPeople(
            facts.Time.StartOf(request.From),
            facts.Time.EndOf(request.Through),
            request.By,
            Most + 1
        );
        var seen = facts.State.Seen(new Scope.Everything());
        return new Report(
            [
                "Dates and times are in the organisation's time zone.",
                .. rows.Count > Most
                    ? [$"Only the first {Most} actions are included. Choose fewer days."]
                    : Array.Empty<string>(),
            ],
            [.. rows.Take(Most).Select(row => Row(row, facts, seen))]
        );
    }

    private static ReportRow Row(JournalRow row, ReportFacts facts, Core.Rules.VisibleRegister seen)
    {
        using var entry = JsonDocument.Parse(row.Text);
        var line = row.Site is { } site ? seen.Find(site) : null;
        return new ReportRow(
            line?.Id.Value,
            row.Number.ToString(System.Globalization.CultureInfo.InvariantCulture),
            facts.At(row.At),
            facts.Person(row.Person),
            row.Person is { } person ? facts.PeopleDirectory.Find(person)?.Mail ?? "" : "",
            row.Known?.Label ?? row.Action,
            EntryLabels.Subject(row, seen, facts.PeopleDirectory),
            line?.Address.Or("") ?? "",
            entry.RootElement.GetProperty("reason").GetString() ?? ""
        );
    }
}
