using AtticLedger.Core.Attic;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>What is held, and what was put away and brought back.</summary>
internal static class AtticReports
{
    public static ReportKind Holds { get; } =
        new(
            "holds",
            "Excuses and holds with their ends",
            "Every exception from a rule and every order not to clear a site: why, by whom, and until when. Those that have ended too.",
            ReportSpan.Now,
            ["site", "address", "unit", "what", "why", "by", "from", "through", "ended", "in force"],
            OfHolds
        );

    public static ReportKind Stays { get; } =
        new(
            "attic",
            "Put away and brought back",
            "Every stay in the attic that began or ended in a span of days: by whom, why, and where it stands.",
            ReportSpan.Days,
            ["site", "address", "unit", "asked", "by", "why", "put away", "where it stands", "ended"],
            OfStays
        );

    private static async Task<Report> OfHolds(ReportFacts facts, ReportWish wish)
    {
        var (holds, excuses) = (await facts.Connection.Holds(), await facts.Connection.Excuses());
        var sites = (
            await facts.Connection.Sites(
                new Sight.Everything(),
                [.. holds.Concat<IGrouping<SiteId, object>>(excuses).Select(ofSite => ofSite.Key).Distinct()]
            )
        ).ToDictionary(site => site.Id);
        var (now, time) = (facts.Roll.Now, facts.Time);
        List<Exempted> all =
        [
            .. holds.SelectMany(
                ofSite => ofSite,
                (ofSite, hold) =>
                    new Exempted(
                        sites[ofSite.Key],
                        "held",
                        hold.Reason,
                        hold.By,
                        hold.From,
                        hold.Through,
                        hold.Released,
                        hold.IsInForce(now, time) ? "yes" : "no"
                    )
            ),
            .. excuses.SelectMany(
                ofSite => ofSite,
                (ofSite, excuse) =>
                    new Exempted(
                        sites[ofSite.Key],
                        $"excused from {excuse.Rule.Value}",
                        excuse.Reason,
                        excuse.By,
                        excuse.From,
                        excuse.Through,
                        excuse.Ended,
                        InForce(excuse, sites[ofSite.Key])
                    )
            ),
        ];
        string InForce(Excuse excuse, SiteFacts site) =>
            !excuse.IsInForce(now, time) ? "no"
            : facts.State.Rules.Find(excuse.Rule) is not { } rule ? "no, for there is no such rule any more"
            : rule.IsCovered(excuse, new SiteLine(site, facts.State.House, facts.Roll)) ? "yes"
            : "no, for the site stands worse than it was excused";
        return new Report(
            [
                $"{holds.SelectMany(hold => hold).Count(hold => hold.IsInForce(now, time))} of {holds.Sum(ofSite => ofSite.Count())} holds are in force. A hold stops clearing, not the count.",
                $"{all.Count(one => one.What != "held" && one.InForce == "yes")} of {excuses.Sum(ofSite => ofSite.Count())} excuses are in force. An excuse covers a site as it stood then, and nothing worse.",
            ],
            [
                .. all.OrderBy(one => one.InForce != "yes")
                    .ThenBy(one => one.Ended ?? (one.Through is { } last ? time.EndOf(last) : DateTimeOffset.MaxValue))
                    .ThenBy(one => one.Site.Title, StringComparer.Ordinal)
                    .Select(one => new ReportRow(
                        one.Site.Id.Value,
                        one.Site.Title,
                        one.Site.Address.Or(""),
                        facts.Unit(one.Site.Unit),
                        one.What,
                        one.Reason,
                        facts.Person(one.By),
                        facts.At(one.From),
                        one.Through is { } through ? ReportFacts.Day(through) : "until released",
                        facts.At(one.Ended),
                        one.InForce
                    )),
            ]
        );
    }

    /// <summary>A hold or an excuse, as a line of the report.</summary>
    private sealed record Exempted(
        SiteFacts Site,
        string What,
        string Reason,
        PersonId By,
        DateTimeOffset From,
        DateOnly? Through,
        DateTimeOffset? Ended,
        string InForce
    );

    private static async Task<Report> OfStays(ReportFacts facts, ReportWish wish)
    {
        var (from, until) = (facts.Time.StartOf(wish.From), facts.Time.EndOf(wish.Through));
        bool IsIn(DateTimeOffset? at) => at >= from && at < until;
        var stays = (await facts.Connection.AllStays()).FindAll(stay =>
            IsIn(stay.AskedAt) || IsIn(stay.PutAwayAt) || IsIn(stay.EndedAt)
        );
        var sites = (
            await facts.Connection.Sites(new Sight.Everything(), [.. stays.Select(stay => stay.Site).Distinct()])
        ).ToDictionary(site => site.Id);
        return new Report(
            [
                $"{stays.Count(stay => IsIn(stay.PutAwayAt))} put away in these days, {stays.Count(stay => stay.State == StayState.Back && IsIn(stay.EndedAt))} brought back, {stays.Count(stay => stay.State == StayState.Cleared && IsIn(stay.EndedAt))} cleared for good.",
            ],
            [
                .. stays
                    .Select(stay => (Stay: stay, Site: sites[stay.Site]))
                    .Select(pair => new ReportRow(
                        pair.Site.Id.Value,
                        pair.Site.Title,
                        pair.Site.Address.Or(""),
                        facts.Unit(pair.Site.Unit),
                        facts.At(pair.Stay.AskedAt),
                        pair.Stay.By is null ? $"at {pair.Site.Host}, by whom was not said" : facts.Person(pair.Stay.By),
                        pair.Stay.Reason ?? "",
                        facts.At(pair.Stay.PutAwayAt),
                        Words(pair.Stay.State),
                        facts.At(pair.Stay.EndedAt)
                    )),
            ]
        );
    }

    private static string Words(StayState state) =>
        state switch
        {
            StayState.Announced => "announced",
            StayState.GoingAway => "on its way into the attic",
            StayState.Kept => "in the attic",
            StayState.Due => "due to be cleared",
            StayState.Returning => "on its way back",
            StayState.Back => "brought back",
            StayState.Stopped => "stopped before it began",
            StayState.NotDone => "refused by the host",
            _ => "cleared for good",
        };
}
