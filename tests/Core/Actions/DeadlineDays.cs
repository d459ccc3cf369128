using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>The deadlines: of the scope, from today on, each with its own key.</summary>
public class DeadlineDays
{
    private readonly Harbour harbour = new();

    private static readonly SitePlan Plan = new("P-1", "Leaflet", 900, "EUR", 12, Day(40), false, 14, 1);

    [Fact]
    public void A_plan_a_way_in_a_leaver_and_an_offer_are_deadlines_and_the_soonest_is_first()
    {
        var site = Dated(1, Plan, 7);
        var days = Of([site], [site.Id], offers: [Offered(site, 3)], leavers: [(Leaving(20), 2)]);
        Assert.Equal(
            [DeadlineKind.Offer, DeadlineKind.WayIn, DeadlineKind.Leaver, DeadlineKind.Plan],
            days.Select(day => day.Kind)
        );
        Assert.Equal(
            [
                $"The offer of {site.Title} lapses",
                $"An access link ends: {site.Title}",
                "Ada's last day",
                $"The plan ends: {site.Title}",
            ],
            days.Select(day => day.Title)
        );
        Assert.Equal("Ada owns 2 sites.", days[2].Words);
        Assert.Equal(4, days.Select(day => day.Key).Distinct().Count());
    }

    [Fact]
    public void Of_a_site_that_one_may_not_look_at_there_is_only_what_is_offered_to_one()
    {
        var site = Dated(1, Plan, 7);
        Assert.Equal([DeadlineKind.Offer], Of([site], [], offers: [Offered(site, 3)]).Select(day => day.Kind));
    }

    [Fact]
    public void What_is_over_or_too_far_away_or_of_a_site_that_is_not_there_is_no_day()
    {
        Assert.Empty(Of([Dated(1, Plan with { Through = Day(-1) }, -1)], [new SiteId(1)]));
        Assert.Single(Of([Dated(1, Plan with { Through = Day(0) }, -1)], [new SiteId(1)]));
        Assert.Single(Of([Dated(1, Plan with { Through = Day(Deadlines.DaysAhead) }, -1)], [new SiteId(1)]));
        Assert.Empty(Of([Dated(1, Plan with { Through = Day(Deadlines.DaysAhead + 1) }, -1)], [new SiteId(1)]));
        Assert.Empty(Of([Dated(1, Plan, 7) with { NoLongerReported = true }], [new SiteId(1)]));
        Assert.Empty(Of([Dated(1, Plan, 7) with { Existence = Existence.Attic }], [new SiteId(1)]));
    }

    [Fact]
    public void Ways_in_that_end_on_one_day_are_one_line_and_a_plan_that_moves_on_is_another_day()
    {
        var site = Dated(1, Plan, 7);
        var two = site.WithGrants([.. site.Expected.Or([]), ToStaff(Power.View) with { Key = "later", Through = Day(7) }]);
        Assert.Equal($"2 access links end: {site.Title}", Of([two], [two.Id])[0].Title);
        var renewed = Dated(1, Plan with { Through = Day(405), Renews = true }, -1);
        Assert.NotEqual(
            Of([site], [site.Id])[^1].Key,
            Of([renewed with { Joining = Known<Joining>.None, Plan = Known.Of(Plan with { Through = Day(41) }) }], [site.Id])[
                ^1
            ].Key
        );
    }

    private static DateOnly Day(int ahead) => DateOnly.FromDateTime(Now.UtcDateTime).AddDays(ahead);

    private static SiteFacts Dated(long id, SitePlan plan, int wayDays) =>
        Site(ToStaff(Power.View) with { Through = Day(wayDays) }) with
        {
            Id = new SiteId(id),
            Joining = Known<Joining>.None,
            Plan = Known.Of(plan),
        };

    private static Person Leaving(int days) =>
        new(new PersonId(77), PersonKind.Staff, "Ada", "ada@merrowby.example", Standing.Leaving, Day(days), Known<UnitCode>.None);

    private static Offer Offered(SiteFacts site, int days) =>
        new()
        {
            Id = new OfferId(Guid.NewGuid()),
            Site = site.Id,
            State = OfferState.Offered,
            To = Vane,
            Through = Day(days),
            By = Aske,
            OfferedAt = Now,
        };

    private IReadOnlyList<Deadline> Of(
        IReadOnlyList<SiteFacts> sites,
        IReadOnlyList<SiteId> seen,
        IReadOnlyList<Offer>? offers = null,
        IReadOnlyList<(Person, int)>? leavers = null
    ) =>
        Deadlines.Of(
            new DeadlineFacts(
                sites.ToDictionary(site => site.Id),
                seen.ToHashSet(),
                [],
                offers ?? [],
                [],
                [],
                leavers ?? [],
                harbour.PeopleDirectory
            )
        );
}
