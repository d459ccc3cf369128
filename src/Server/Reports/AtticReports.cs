using AtticLedger.Core.Attic;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>What is held, and what was put away and brought back.</summary>
internal static class AtticReports
{
    public static ReportKind Holds { get; } = new(
        "holds",
        "Holds and their ends",
        "Every order not to clear a site: why, by whom, and until when. Those that have ended too.",
        ReportSpan.Now,
        ["site", "address", "unit", "why", "placed by", "from", "through", "released", "in force"],
        OfHolds);

    public static ReportKind Stays { get; } = new(
        "attic",
        "Put away and brought back",
        "Every stay in the attic that began or ended in a span of days: by whom, why, and where it stands.",
        ReportSpan.Days,
        ["site", "address", "unit", "asked", "by", "why", "put away", "where it stands", "ended"],
        OfStays);

    private static async Task<Report> OfHolds(ReportFacts facts, ReportWish wish)
    {
        var holds = await facts.Connection.Holds();
        var sites = (await facts.Connection.Sites(new Sight.Everything(), [.. holds.Select(ofSite => ofSite.Key)])).ToDictionary(site => site.Id);
        List<(SiteFacts Site, Hold Hold)> all = [.. holds.SelectMany(ofSite => ofSite, (ofSite, hold) => (sites[ofSite.Key], hold)).OrderBy(pair => pair.hold.EndsAt(facts.Time) ?? DateTimeOffset.MaxValue)];
        return new Report(
            [$"{all.Count(pair => pair.Hold.IsInForce(facts.Roll.Now, facts.Time))} of {all.Count} holds are in force. A hold stops clearing, not the count."],
            [
                .. all.Select(pair => new ReportRow(
                    pair.Site.Id.Value,
                    pair.Site.Title,
                    pair.Site.Address.Or(""),
                    facts.Unit(pair.Site.Unit),
                    pair.Hold.Reason,
                    facts.Person(pair.Hold.By),
                    facts.At(pair.Hold.From),
                    pair.Hold.Through is { } last ? ReportFacts.Day(last) : "until released",
                    facts.At(pair.Hold.Released),
                    pair.Hold.IsInForce(facts.Roll.Now, facts.Time) ? "yes" : "no")),
            ]);
    }

    private static async Task<Report> OfStays(ReportFacts facts, ReportWish wish)
    {
        var (from, until) = (facts.Time.StartOf(wish.From), facts.Time.EndOf(wish.Through));
        bool IsIn(DateTimeOffset? at) => at >= from && at < until;
        var stays = (await facts.Connection.AllStays()).FindAll(stay => IsIn(stay.AskedAt) || IsIn(stay.PutAwayAt) || IsIn(stay.EndedAt));
        var sites = (await facts.Connection.Sites(new Sight.Everything(), [.. stays.Select(stay => stay.Site).Distinct()])).ToDictionary(site => site.Id);
        return new Report(
            [
                $"{stays.Count(stay => IsIn(stay.PutAwayAt))} put away in these days, {stays.Count(stay => stay.State == StayState.Back && IsIn(stay.EndedAt))} brought back, {stays.Count(stay => stay.State == StayState.Cleared && IsIn(stay.EndedAt))} cleared for good.",
            ],
            [
                .. stays.Select(stay => (Stay: stay, Site: sites[stay.Site])).Select(pair => new ReportRow(
                    pair.Site.Id.Value,
                    pair.Site.Title,
                    pair.Site.Address.Or(""),
                    facts.Unit(pair.Site.Unit),
                    facts.At(pair.Stay.AskedAt),
                    pair.Stay.By is null ? $"at {pair.Site.Host}, by whom was not said" : facts.Person(pair.Stay.By),
                    pair.Stay.Reason ?? "",
                    facts.At(pair.Stay.PutAwayAt),
                    Words(pair.Stay.State),
                    facts.At(pair.Stay.EndedAt))),
            ]);
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
