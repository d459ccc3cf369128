using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>
/// The register as it stood at the end of a day: today's facts with every entry since taken back. What is computed, reach
/// and findings, goes by limits and rules that the journal does not have, so it is left out.
/// </summary>
internal static class RegisterOnADay
{
    private const string NotKnown = "not known";
    private const string GrantField = "grant ";

    // What can be missing of a site, by the words of the report.
    private static readonly IReadOnlyList<(string Field, string Words)> Facts =
    [
        ("name", "name"),
        ("address", "address"),
        ("unit", "unit"),
        ("class", "class"),
        ("kind", "kind"),
        ("stage", "stage"),
        ("ownLimit", "who is let in"),
    ];

    public static ReportKind Sites { get; } =
        new(
            "register",
            "The register as it stood on a day",
            "Every site with its facts and who was let in, at the end of a day: told from today's facts and the journal since.",
            ReportSpan.Day,
            [
                "host",
                "site",
                "address",
                "unit",
                "class",
                "kind",
                "purpose",
                "stage",
                "where",
                "owners",
                "let in",
                "made",
                "last edit",
            ],
            async (facts, wish) =>
                new Report([Says(facts, wish)], [.. (await On(facts, wish.On)).Select(site => Row(site, facts))])
        );

    public static ReportKind Coverage { get; } =
        new(
            "coverage",
            "What was known on a day",
            "For each host how many sites there were at the end of a day, and of how many nobody had said what.",
            ReportSpan.Day,
            [
                "host",
                "sites",
                "in use",
                "in the attic",
                "cleared",
                "vanished",
                .. Facts.Select(fact => $"{fact.Words} not known"),
            ],
            async (facts, wish) =>
                new Report(
                    [Says(facts, wish)],
                    [
                        .. (await On(facts, wish.On))
                            .GroupBy(site => site.Host)
                            .OrderBy(host => host.Key, StringComparer.Ordinal)
                            .Select(Counted),
                    ]
                ),
            [.. Enumerable.Range(1, 5 + Facts.Count)]
        );

    private static string Says(ReportFacts facts, ReportWish wish) =>
        wish.On >= facts.Time.DayOf(facts.Roll.Now)
            ? "As it stands now: the day is not over."
            : $"As it stood at the end of {ReportFacts.Day(wish.On)} by the house's clock. People and units are called as they are today; reach and findings are not told of days that are over.";

    private static async Task<IEnumerable<Stood>> On(ReportFacts facts, DateOnly day)
    {
        var end = facts.Time.EndOf(day);
        var loads = await facts.Connection.FirstLoads();
        var since = (await facts.Connection.OnSitesSince(end, SiteRecord.Deeds)).ToLookup(entry => entry.Site);
        var sites = await facts.Connection.Sites(new Sight.Everything());

        // A site that was loaded with all others of its source has no entry of its own.
        bool IsLoaded(SiteFacts site) =>
            loads.TryGetValue("source:bundle", out var bundle) && bundle < end
            || (loads.TryGetValue(Draft.SubjectOf(site.Host), out var at) && at < end);
        return from site in sites
            orderby site.Host, site.HostKey
            let then = Rewound(site, since[site.Id])
            where then is not null && IsLoaded(site)
            select new Stood(site.Id, site.Host, then);
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
                row.Deed,
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

    private static ReportRow Row(Stood site, ReportFacts facts)
    {
        var grants = site
            .Facts.Where(fact => fact.Key.StartsWith(GrantField, StringComparison.Ordinal))
            .Select(fact => fact.Value)
            .OrderBy(grant => GrantWords.InWords(grant, facts.Roll), StringComparer.OrdinalIgnoreCase)
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
                ? facts.Roll.Find(new UnitCode(code))?.Name ?? code
                : site.Text("unit"),
            site.Text("class"),
            site.Text("kind"),
            site.Text("purpose"),
            StageWords(site.Text("stage")),
            site.IsVanished ? "vanished" : site.Text("existence"),
            People(
                grants
                    .Where(grant => GrantWords.Field(grant, "power") == Power.Own.Word())
                    .Select(grant => GrantWords.Who(GrantWords.Field(grant, "subject"), facts.Roll))
            ),
            People(grants.Select(grant => GrantWords.InWords(grant, facts.Roll))),
            At(site.Text("created")),
            At(site.Text("edited"))
        );
    }

    private static ReportRow Counted(IGrouping<string, Stood> host)
    {
        string Count(Func<Stood, bool> holds) => host.Count(holds).ToString(CultureInfo.InvariantCulture);
        return new ReportRow(
            null,
            [
                host.Key,
                Count(_ => true),
                Count(site => site.Text("existence") == "here" && !site.IsVanished),
                Count(site => site.Text("existence") == "attic"),
                Count(site => site.Text("existence") == "cleared"),
                Count(site => site.IsVanished),
                .. Facts.Select(fact => Count(site => site.Is(fact.Field, JournalValue.Unknown))),
            ]
        );
    }

    private static string StageWords(string stage) =>
        Enum.TryParse<Stage>(stage, out var known)
            ? known switch
            {
                Stage.NeverLive => "never live",
                Stage.Changed => "live, with unseen changes",
                Stage.Offline => "offline",
                _ => "live",
            }
            : stage;

    /// <summary>A site with its facts as they were.</summary>
    private sealed record Stood(SiteId Id, string Host, IReadOnlyDictionary<string, JournalValue> Facts)
    {
        public bool IsVanished => Facts.TryGetValue("vanished", out var vanished) && vanished is JournalValue.Flag(true);

        public string Text(string name) =>
            !Facts.TryGetValue(name, out var value) || Is(name, JournalValue.Unknown) ? NotKnown
            : value is JournalValue.Text(var text) ? text
            : "";

        public bool Is(string name, JournalValue what) =>
            Facts.TryGetValue(name, out var value) && value.Canonical() == what.Canonical();
    }
}
