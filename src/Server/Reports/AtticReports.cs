using AtticLedger.Core.Attic;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>Holds, exceptions, and moves to and from the attic.</summary>
internal static class AtticReports
{
    public static ReportKind Holds { get; } =
        new(
            "holds",
            "Exceptions and holds with their ends",
            "Every exception from a rule and every hold: why, by whom, and until when, including those that have ended.",
            ReportSpan.Now,
            ["site", "address", "unit", "what", "why", "by", "from", "through", "ended", "in force"],
            OfHolds
        );

    public static ReportKind Stays { get; } =
        new(
            "attic",
            "Moved to the attic and restored",
            "Every attic entry that began or ended in a range of days: by whom, why, and its state.",
            ReportSpan.Days,
            ["site", "address", "unit", "asked", "by", "why", "moved to the attic", "where it stands", "ended"],
            OfAtticEntries
        );

    private const string Held = "held";

    private static async Task<Report> OfHolds(ReportFacts facts, ReportRequest request)
    {
        var (holds, exceptions) = (await facts.Connection.Holds(), await facts.Connection.Exceptions());
        var sites = (
            await facts.Connection.Sites(
                new Scope.Everything(),
                [.. holds.Concat<IGrouping<SiteId, object>>(exceptions).Select(ofSite => ofSite.Key).Distinct()]
            )
        ).ToDictionary(site => site.Id);
        var (now, time) = (facts.Now, facts.Time);
        List<Exempted> all =
        [
            .. holds.SelectMany(
                ofSite => ofSite,
                (ofSite, hold) =>
                    new Exempted(
                        sites[ofSite.Key],
                        Held,
                        hold.Reason,
                        hold.By,
                        hold.From,
                        hold.Through,
                        hold.Released,
                        hold.IsInForce(now, time) ? "yes" : "no"
                    )
            ),
            .. exceptions.SelectMany(
                ofSite => ofSite,
                (ofSite, exception) =>
                    new Exempted(
                        sites[ofSite.Key],
                        $"exception from {exception.Rule.Value}",
                        exception.Reason,
                        exception.By,
                        exception.From,
                        exception.Through,
                        exception.Ended,
                        InForce(exception, sites[ofSite.Key])
                    )
            ),
        ];
        string InForce(RuleException exception, SiteFacts site) =>
            !exception.IsInForce(now, time) ? "no"
            : facts.State.Rules.Find(exception.Rule) is not { } rule ? "no: the rule no longer exists"
            : IsCovered(exception, rule, new ComputedSite(site, facts.State.Organisation, facts.PeopleDirectory)) ? "yes"
            : exception.IsUntold ? "no: it was granted because the rule could not tell"
            : "no: the site is further from the rule than when it was granted";
        bool IsCovered(RuleException exception, Rule rule, ComputedSite line) =>
            rule.IsCovered(
                exception,
                line,
                facts.State.Rules.Judge(line).FirstOrDefault(finding => finding.Rule == rule)?.IsUntold ?? exception.IsUntold
            );
        return new Report(
            [
                InForceOf(all.FindAll(one => one.What == Held), "hold"),
                $"{InForceOf(all.FindAll(one => one.What != Held), "exception")} An exception applies only while the site is no further from the rule than when it was granted.",
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

    private static string InForceOf(IReadOnlyCollection<Exempted> all, string one)
    {
        var inForce = all.Count(exempted => exempted.InForce == "yes");
        return $"{inForce} of {all.Count.Counted(one)} {(inForce == 1 ? "is" : "are")} in force.";
    }

    /// <summary>A hold or an exception, as a row of the report.</summary>
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

    private static async Task<Report> OfAtticEntries(ReportFacts facts, ReportRequest request)
    {
        var (from, until) = (facts.Time.StartOf(request.From), facts.Time.EndOf(request.Through));
        bool IsIn(DateTimeOffset? at) => at >= from && at < until;
        var atticEntries = (await facts.Connection.AllAtticEntries()).FindAll(atticEntry =>
            IsIn(atticEntry.RequestedAt) || IsIn(atticEntry.MovedToAtticAt) || IsIn(atticEntry.EndedAt)
        );
        var sites = (
            await facts.Connection.Sites(
                new Scope.Everything(),
                [.. atticEntries.Select(atticEntry => atticEntry.Site).Distinct()]
            )
        ).ToDictionary(site => site.Id);
        return new Report(
            [
                $"{atticEntries.Count(atticEntry => IsIn(atticEntry.MovedToAtticAt))} moved to the attic in these days, {atticEntries.Count(atticEntry => atticEntry.State == AtticState.Restored && IsIn(atticEntry.EndedAt))} restored, {atticEntries.Count(atticEntry => atticEntry.State == AtticState.Erased && IsIn(atticEntry.EndedAt))} erased.",
            ],
            [
                .. atticEntries
                    .Select(atticEntry => (AtticEntry: atticEntry, Site: sites[atticEntry.Site]))
                    .Select(pair => new ReportRow(
                        pair.Site.Id.Value,
                        pair.Site.Title,
                        pair.Site.Address.Or(""),
                        facts.Unit(pair.Site.Unit),
                        facts.At(pair.AtticEntry.RequestedAt),
                        pair.AtticEntry.By is null
                            ? $"at {pair.Site.Host}, person not reported"
                            : facts.Person(pair.AtticEntry.By),
                        pair.AtticEntry.Reason ?? "",
                        facts.At(pair.AtticEntry.MovedToAtticAt),
                        Labels.Of(pair.AtticEntry.State),
                        facts.At(pair.AtticEntry.EndedAt)
                    )),
            ]
        );
    }
}
