using System.Globalization;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>What became of findings in a range of days: by day, and by rule and unit.</summary>
internal static class FindingReports
{
    private static readonly IReadOnlyList<string> Notes =
    [
        "Opened: new findings, and those whose exception has ended. Cleared: findings that have ended. Excepted: findings that got an exception.",
        "The open number also changes where a rule can no longer tell, or tells again, and by sites that move to another unit.",
    ];

    public static ReportKind ByDay { get; } =
        new(
            "findings-by-day",
            "Findings by day",
            "How many findings were opened, cleared and excepted on each day, and how many were open at its end.",
            ReportSpan.Days,
            ["day", "opened", "cleared", "excepted", "open at the end"],
            DaysOf,
            1,
            2,
            3,
            4
        );

    public static ReportKind ByRule { get; } =
        new(
            "findings-by-rule",
            "Findings by rule and unit",
            "How many findings of each rule were opened, cleared and excepted in each unit in a range of days, and how many were open at its end.",
            ReportSpan.Days,
            ["rule", "title", "unit", "opened", "cleared", "excepted", "open at the end"],
            RulesOf,
            3,
            4,
            5,
            6
        );

    private static async Task<Report> DaysOf(ReportFacts facts, ReportRequest request)
    {
        var (days, open) = await Read(facts, request);
        var openAtEnd = open.Sum(one => one.Open);
        var rows = new List<ReportRow>();
        foreach (var day in days.GroupBy(day => day.Day))
        {
            if (day.Key <= request.Through)
            {
                rows.Add(
                    new ReportRow(null, [ReportFacts.Day(day.Key), .. Numbers([.. day.Select(one => one.Counts)], openAtEnd)])
                );
            }

            openAtEnd -= day.Sum(one => one.Counts.Change);
        }

        return new Report([.. Notes, "Days on which nothing changed are left out.", .. From(days, request, facts)], rows);
    }

    private static async Task<Report> RulesOf(ReportFacts facts, ReportRequest request)
    {
        var (days, open) = await Read(facts, request);
        var inPeriod = days.Where(day => day.Day <= request.Through)
            .ToLookup(day => (day.Counts.Rule, day.Counts.Unit), day => day.Counts);
        var later = days.Where(day => day.Day > request.Through)
            .ToLookup(day => (day.Counts.Rule, day.Counts.Unit), day => day.Counts.Change);
        var now = open.ToDictionary(one => (one.Rule, one.Unit), one => one.Open);
        return new Report(
            [.. Notes, .. From(days, request, facts)],
            [
                .. now
                    .Keys.Union(inPeriod.Select(group => group.Key))
                    .Union(later.Select(group => group.Key))
                    .OrderBy(key => key.Rule.Value, StringComparer.Ordinal)
                    .ThenBy(key => key.Unit, StringComparer.Ordinal)
                    .Select(key => (Key: key, Open: now.GetValueOrDefault(key) - later[key].Sum()))
                    .Where(one => one.Open != 0 || inPeriod.Contains(one.Key))
                    .Select(one => new ReportRow(
                        null,
                        [
                            one.Key.Rule.Value,
                            facts.State.Rules.Find(one.Key.Rule)?.Title ?? "",
                            one.Key.Unit.Length == 0 ? "none or not known" : facts.Unit(Known.Of(new UnitCode(one.Key.Unit))),
                            .. Numbers([.. inPeriod[one.Key]], one.Open),
                        ]
                    )),
            ]
        );
    }

    // All days from the first, also those after the last: the open number is counted back from now.
    private static async Task<(List<FindingDay> Days, List<(RuleId Rule, string Unit, int Open)> Open)> Read(
        ReportFacts facts,
        ReportRequest request
    ) => (await facts.Connection.FindingDaysFrom(request.From), await facts.Connection.OpenFindings());

    private static IEnumerable<string> From(List<FindingDay> days, ReportRequest request, ReportFacts facts) =>
        days.Count == 0 ? [$"Nothing is recorded from {request.From.InWords()} to {facts.Time.DayOf(facts.Now).InWords()}."] : [];

    private static IEnumerable<string> Numbers(IReadOnlyList<FindingCounts> counts, int open) =>
        new[] { counts.Sum(one => one.Opened), counts.Sum(one => one.Cleared), counts.Sum(one => one.Excepted), open }.Select(
            number => number.ToString(CultureInfo.InvariantCulture)
        );
}
