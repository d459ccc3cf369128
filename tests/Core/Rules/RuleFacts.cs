using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Rules;

public class RuleFacts
{
    private readonly Harbour harbour = new();

    [Theory]
    [InlineData("classification eq \"Guarded\"", Truth.No)]
    [InlineData("unit eq \"PIL\"", Truth.Yes)]
    [InlineData("created gt \"2020-01-01T00:00:00Z\"", Truth.Unknown)]
    public void A_rule_judges_in_its_scope_and_an_unknown_scope_cannot_tell(string scope, Truth expected) =>
        Assert.Equal(expected, Judge(scope, new Demand.General("name eq \"something else\""), Site()));

    [Fact]
    public void An_unknown_scope_with_a_demand_that_surely_holds_is_in_order() =>
        Assert.Equal(Truth.No, Judge("created gt \"2020-01-01T00:00:00Z\"", new Demand.General("name pr"), Site()));

    [Theory]
    [InlineData("existence eq \"attic\"", Truth.Yes)]
    [InlineData("not (title co \"pre-existence\")", Truth.No)]
    [InlineData("", Truth.No)]
    public void A_site_in_the_attic_is_judged_only_by_a_rule_with_a_condition_about_the_attic(string scope, Truth expected) =>
        Assert.Equal(
            expected,
            Judge(scope, new Demand.General("name eq \"something else\""), Site() with { Existence = Existence.Attic })
        );

    [Fact]
    public void A_rule_judges_from_its_first_day_on()
    {
        var rule = Rule("", new Demand.General("classification pr")) with { From = new DateOnly(2026, 11, 25) };

        Assert.Empty(new RuleBook([rule], OnTheDay).Rules);
        Assert.Single(new RuleBook([rule], OnTheDay with { Day = new DateOnly(2026, 11, 25) }).Rules);
    }

    [Fact]
    public void Editing_belongs_to_named_people()
    {
        Assert.Equal(Truth.Yes, Judge("", new Demand.EditingNamedOnly(), Site(ToStaff(Power.Edit))));
        Assert.Equal(Truth.Yes, Judge("", new Demand.EditingNamedOnly(), Site(ToAnonymous(Power.Edit))));
        Assert.Equal(
            Truth.No,
            Judge(
                "",
                new Demand.EditingNamedOnly(),
                Site(ToPerson(Power.Edit, Vane), ToPerson(Power.Edit, Agent), ToStaff(Power.View))
            )
        );
    }

    [Fact]
    public void An_owner_is_active_or_has_every_reason_that_applies()
    {
        harbour.People.Add(
            new Person(
                new(20),
                PersonKind.Service,
                "Old gauge",
                "g@merrowby.example",
                Standing.Left,
                null,
                Known<UnitCode>.None,
                MailFails: true
            )
        );
        var site = Site(
            ToPerson(Power.Own, Vane),
            ToPerson(Power.Own, Farrow),
            ToPerson(Power.Own, Agent),
            ToPerson(Power.Own, new PersonId(20))
        );
        var keys = SiteOwners.Of(site, harbour.PeopleDirectory, activeDays: 14);

        Assert.Equal(1, keys.ActiveAtLeast);
        Assert.Equal([InactiveReason.Leaving], keys.Holders.Single(holder => holder.Person.Id == Farrow).Why);
        Assert.Equal([InactiveReason.Outside], keys.Holders.Single(holder => holder.Person.Id == Agent).Why);
        Assert.Equal([InactiveReason.Service, InactiveReason.Left, InactiveReason.MailFails], keys.Holders[^1].Why);
        Assert.Equal(2, SiteOwners.Of(site, harbour.PeopleDirectory, activeDays: 5).ActiveAtLeast);
    }

    [Fact]
    public void People_in_an_owning_group_count_once_each_and_the_group_never()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Keepers", [Member.Of(Vane), Member.Of(Quist)]));
        var keys = SiteOwners.Of(
            Site(ToGroup(Power.Own, new GroupId(1)), ToPerson(Power.Own, Vane)),
            harbour.PeopleDirectory,
            14
        );

        Assert.Equal(2, keys.ActiveAtLeast);
        Assert.Null(keys.Holders[0].Through);
        Assert.Equal("Keepers", keys.Holders[1].Through);
    }

    [Fact]
    public void A_leaver_is_gone_at_the_first_instant_after_the_last_day_and_the_absent_are_back_then()
    {
        var leaver = harbour.People.Single(person => person.Id == Farrow);
        var absent = leaver with { Standing = Standing.Absent };
        var end = new DateTimeOffset(2026, 12, 1, 0, 0, 0, TimeSpan.Zero);

        Assert.Equal(
            (Standing.Leaving, Standing.Left),
            (leaver.StandingAt(end.AddTicks(-1), Time), leaver.StandingAt(end, Time))
        );
        Assert.Equal(
            (Standing.Absent, Standing.Current),
            (absent.StandingAt(end.AddTicks(-1), Time), absent.StandingAt(end, Time))
        );
    }

    [Fact]
    public void A_day_begins_at_the_first_instant_that_carries_its_date()
    {
        // Cairo had no midnight on 26 April 2024, and Havana had two on 3 November 2024.
        Assert.Equal(
            new DateTimeOffset(2024, 4, 25, 22, 0, 0, TimeSpan.Zero),
            new OrganisationTime(TimeZoneInfo.FindSystemTimeZoneById("Africa/Cairo")).StartOf(new DateOnly(2024, 4, 26))
        );
        Assert.Equal(
            new DateTimeOffset(2024, 11, 3, 4, 0, 0, TimeSpan.Zero),
            new OrganisationTime(TimeZoneInfo.FindSystemTimeZoneById("America/Havana")).StartOf(new DateOnly(2024, 11, 3))
        );
    }

    [Fact]
    public void A_finding_says_in_plain_words_what_is_so_and_what_limits_it()
    {
        harbour.Limit(LayerKind.Classification, "Guarded", Enforcer.Policy, Outside(OutsideLevel.NoOne));
        var line = Line(Site(ToAnonymous(Power.View)) with { Classification = Known.Of("Guarded") });
        var said = Explanation.Of(Finding(line, new Demand.WithinAllowed()), line, harbour.PeopleDirectory);

        Assert.Equal("Anonymous visitors can view the published site; policy allows nobody outside", said.Headline);
        Assert.Contains("classification Guarded limits it", said.Detail);
        Assert.Equal(
            "The site has no owner",
            Explanation.Of(Finding(line, new Demand.ActiveOwners(2)), line, harbour.PeopleDirectory).Headline
        );
    }

    [Fact]
    public void A_finding_says_whom_policy_allows_inside()
    {
        harbour.Limit(LayerKind.Classification, "Guarded", Enforcer.Policy, Inside(InsideLimit.Named));
        var line = Line(Site(ToStaff(Power.View)) with { Classification = Known.Of("Guarded") });

        Assert.EndsWith(
            "people inside can view the published site; policy allows only people who are named",
            Explanation.Of(Finding(line, new Demand.WithinAllowed()), line, harbour.PeopleDirectory).Headline
        );
    }

    [Fact]
    public void The_widest_audience_comes_first_and_the_others_are_said()
    {
        harbour.Limit(
            LayerKind.Classification,
            "Guarded",
            Enforcer.Policy,
            PowerLimits.Same(new(InsideLimit.Named, OutsideLevel.NoOne, VisitorSignIn.None, GuestInviter.AnyOwner))
        );
        var line = Line(
            Site(ToAnonymous(Power.View), ToStaff(Power.Edit), ToPerson(Power.Edit, Lund)) with
            {
                Classification = Known.Of("Guarded"),
            }
        );
        var said = Explanation.Of(Finding(line, new Demand.WithinAllowed()), line, harbour.PeopleDirectory);

        Assert.Equal("Anonymous visitors can view the published site; policy allows nobody outside", said.Headline);
        Assert.EndsWith(
            "Also: five people inside can edit, five people inside can view the draft, five people inside can view the published site, Petra Lund, who left, can edit, Petra Lund, who left, can view the draft and Petra Lund, who left, can view the published site.",
            said.Detail
        );
    }

    [Fact]
    public void A_finding_that_is_only_about_leavers_names_them()
    {
        var line = Line(Site(ToPerson(Power.Own, Vane), ToPerson(Power.Edit, Lund)));
        var said = Explanation.Of(Finding(line, new Demand.WithinAllowed()), line, harbour.PeopleDirectory);

        Assert.Equal("Petra Lund, who left, still can edit", said.Headline);
    }

    [Fact]
    public void A_finding_that_cannot_tell_names_the_missing_fact()
    {
        var line = Line(Site() with { Sharing = Known<Sharing>.Unknown });
        var said = Explanation.Of(Finding(line, new Demand.ActiveOwners(2)), line, harbour.PeopleDirectory);

        Assert.StartsWith("Cannot tell", said.Headline);
        Assert.Contains("Slipway does not report the access", said.Detail);
    }

    private Finding Finding(ComputedSite line, Demand demand) => new RuleBook([Rule("", demand)], OnTheDay).Judge(line).Single();

    private ComputedSite Line(SiteFacts site) => new(site, harbour.Organisation, harbour.PeopleDirectory);

    private Truth Judge(string scope, Demand demand, SiteFacts site) =>
        new RuleBook([Rule(scope, demand)], OnTheDay).Judge(new ColumnsOfLines<ComputedSite>([Line(site)])).Single().Breaks[0];

    private static Rule Rule(string scope, Demand demand) =>
        new(new("R-01"), "A rule", "a rule", Level.Warning, scope, demand, new DateOnly(2026, 1, 1));
}
