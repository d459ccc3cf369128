using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>The register at the end of a day: today's facts with every later entry reversed. Reach and findings depend on limits
/// and rules that the journal does not contain, so they are omitted.
/// </summary>
internal static class RegisterOnADay
{
    private const string NotKnown = "not known";
    private const string GrantField = "grant ";

    // The facts that can be unknown, with their labels in the report.
    private static readonly IReadOnlyList<(string Field, string Words)> Facts =
    [
        ("name", "name"),
        ("address", "address"),
        ("unit", "unit"),
        ("classification", "classification"),
        ("kind", "kind"),
        ("status", "status"),
        ("ownLimit", "who has access"),
    ];

    public static ReportKind Sites { get; } =
        new(
            "register",
            "The register on a day",
            "Every site with its facts and access at the end of a day, computed from today's facts and the journal since.",
            ReportSpan.Day,
            [
                "host",
                "site",
                "address",
                "unit",
                "classification",
                "kind",
                "purpose",
                "status",
                "existence",
                "owners",
                "access granted to",
                "created",
                "last edit",
            ],
            async (facts, request) =>
                new Report([Note(facts, request)], [.. (await On(facts, request.On)).Select(site => Row(site, facts))])
        );

    public static ReportKind Coverage { get; } =
        new(
            "coverage",
            "Known facts on a day",
            "For each host the number of sites at the end of a day, and for how many a fact was not known.",
            ReportSpan.Day,
            [
                "host",
                "sites",
                "in use",
                "in the attic",
                "erased",
                "no longer reported",
                .. Facts.Select(fact => $"{fact.Words} not known"),
            ],
            async (facts, request) =>
                new Report(
                    [Note(facts, request)],
                    [
                        .. (await On(facts, request.On))
                            .GroupBy(site => site.Host)
                            .OrderBy(host => host.Key, StringComparer.Ordinal)
                            .Select(Counted),
                    ]
                ),
            [.. Enumerable.Range(1, 5 + Facts.Count)]
        );

    private static string Note(ReportFacts facts, ReportRequest request) =>
        request.On >= facts.Time.DayOf(facts.Now)
            ? "As of now: the day has not ended."
            : $"As of the end of {ReportFacts.Day(request.On)} in the organisation's time zone. People and units have their current names; past reach and findings are not included.";

    private static async Task<IEnumerable<SiteThen>> On(ReportFacts facts, DateOnly day)
    {
        var end = facts.Time.EndOf(day);
        var loads = await facts.Connection.FirstLoads();
        var since = (await facts.Connection.OnSitesSince(end, SiteRecord.Actions)).ToLookup(entry => entry.Site);
        var sites = await facts.Connection.Sites(new Scope.Everything());

        // A site that was loaded together with all sites of its source has no entry of its own.
        bool IsLoaded(SiteFacts site) =>
            loads.TryGetValue(EntrySubject.Bundle, out var bundle) && bundle < end
            || (loads.TryGetValue(EntrySubject.OfSource(site.Host), out var at) && at < end);
        return from site in sites
            orderby site.Host, site.HostKey
            let then = Rewound(site, since[site.Id])
            where then is not null && IsLoaded(site)
            select new SiteThen(site.Id, site.Host, then);
    }

    private static IReadOnlyDictionary<string, JournalValue>? Rewound(SiteFacts site, IEnumerable<JournalRow> latestFirst)
    {
        IReadOnlyDictionary<string, JournalValue>? facts = SiteRecord
            .Of(site)
            .All.ToDictionary(field => field.Name, field => field.Value);
        foreach (var row in latestFirst)
        {
            using var entry = JsonDocument.Parse(row.Text);
            facts = SiteRecord.Before(
                facts,
                row.Known,
                JournalValue.Read(entry.RootElement.GetProperty("before")),
                JournalValue.Read(entry.RootElement.GetProperty("after"))
            );
            if (facts is null)
            {
                break;
            }
        }

        return facts;
    }

    private static ReportRow Row(SiteThen site, ReportFacts facts)
    {
        var grants = site
            .Facts.Where(fact => fact.Key.StartsWith(GrantField, StringComparison.Ordinal))
            .Select(fact => fact.Value)
            .OrderBy(grant => GrantText.InWords(grant, facts.PeopleDirectory), StringComparer.OrdinalIgnoreCase)
            .ToList();
        string At(string text) => DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, out var at) ? facts.At(at) : text;
        string People(IEnumerable<string> words) =>
            site.Is("ownLimit", JournalValue.Unknown) ? NotKnown : string.Join("; ", words);
        return new ReportRow(
            site.Id.Value,
            site.Host,
            site.Text("name"),
            site.Text("address"),
            site.Facts.TryGetValue("unit", out var unit) && unit is JournalValue.Text(var code)
                ? facts.PeopleDirectory.Find(new UnitCode(code))?.Name ?? code
                : site.Text("unit"),
            site.Text("classification"),
            site.Text("kind"),
            site.Text("purpose"),
            StatusLabel(site.Text("status")),
            site.IsNoLongerReported ? "no longer reported" : ExistenceLabel(site.Text("existence")),
            People(
                grants
                    .Where(grant => GrantText.Field(grant, "power") == Power.Own.Word())
                    .Select(grant => GrantText.Who(GrantText.Field(grant, "subject"), facts.PeopleDirectory))
            ),
            People(grants.Select(grant => GrantText.InWords(grant, facts.PeopleDirectory))),
            At(site.Text("created")),
            At(site.Text("edited"))
        );
    }

    private static ReportRow Counted(IGrouping<string, SiteThen> host)
    {
        string Count(Func<SiteThen, bool> holds) => host.Count(holds).ToString(CultureInfo.InvariantCulture);
        return new ReportRow(
            null,
            [
                host.Key,
                Count(_ => true),
                Count(site => site.Text("existence") == Existence.InUse.Word() && !site.IsNoLongerReported),
                Count(site => site.Text("existence") == Existence.Attic.Word()),
                Count(site => site.Text("existence") == Existence.Erased.Word()),
                Count(site => site.IsNoLongerReported),
                .. Facts.Select(fact => Count(site => site.Is(fact.Field, JournalValue.Unknown))),
            ]
        );
    }

    private static string ExistenceLabel(string word) =>
        Enum.GetValues<Existence>().Where(one => one.Word() == word).Select(Labels.Of).FirstOrDefault(word);

    private static string StatusLabel(string status) => Enum.TryParse<Status>(status, out var known) ? Labels.Of(known) : status;

    /// <summary>A site with its facts on that day.</summary>
    private sealed record SiteThen(SiteId Id, string Host, IReadOnlyDictionary<string, JournalValue> Facts)
    {
        public bool IsNoLongerReported =>
            Facts.TryGetValue("noLongerReported", out var noLongerReported) && noLongerReported is JournalValue.Flag(true);

        public string Text(string name) =>
            !Facts.TryGetValue(name, out var value) || Is(name, JournalValue.Unknown) ? NotKnown
            : value is JournalValue.Text(var text) ? text
            : "";

        public bool Is(string name, JournalValue what) =>
            Facts.TryGetValue(name, out var value) && value.Canonical() == what.Canonical();
    }
}
