using System.Text.Json;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Journal;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>What people did in a span of days, from the journal.</summary>
internal static class DeedsReport
{
    private const int Most = 100_000;

    public static ReportKind Kind { get; } =
        new(
            "deeds",
            "Deeds by person",
            "What people did in a span of days, or what one of them did: with the number of the entry in the journal that proves it.",
            ReportSpan.Days,
            ["entry", "when", "who", "mail", "deed", "about", "address", "reason"],
            Make,
            0
        );

    private static async Task<Report> Make(ReportFacts facts, ReportWish wish)
    {
        var rows = await facts.Connection.DeedsOfPeople(
            facts.Time.StartOf(wish.From),
            facts.Time.EndOf(wish.Through),
            wish.By,
            Most + 1
        );
        var seen = facts.State.Seen(new Sight.Everything());
        return new Report(
            [
                "Days and instants are by the house's clock.",
                .. rows.Count > Most
                    ? [$"There are more: only the first {Most} are here. Ask for fewer days."]
                    : Array.Empty<string>(),
            ],
            [.. rows.Take(Most).Select(row => Row(row, facts, seen))]
        );
    }

    private static ReportRow Row(JournalRow row, ReportFacts facts, Core.Rules.SeenSheet seen)
    {
        using var entry = JsonDocument.Parse(row.Text);
        var line = row.Site is { } site ? seen.Find(site) : null;
        return new ReportRow(
            line?.Id.Value,
            row.Number.ToString(System.Globalization.CultureInfo.InvariantCulture),
            facts.At(row.At),
            facts.Person(row.Person),
            row.Person is { } person ? facts.Roll.Find(person)?.Mail ?? "" : "",
            row.Deed,
            EntryWords.Subject(row, seen, facts.Roll),
            line?.Address.Or("") ?? "",
            entry.RootElement.GetProperty("reason").GetString() ?? ""
        );
    }
}
