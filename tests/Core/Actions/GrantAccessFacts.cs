using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class GrantAccessFacts
{
    private static readonly GroupId Crew = new(21);
    private static readonly SiteFacts Own = Site(ToPerson(Power.Own, Vane));
    private readonly Harbour harbour = new();

    public GrantAccessFacts() => harbour.Groups.Add(new Group(Crew, "Boarding crew", [Member.Of(Quist), Member.Of(Aske)]));

    [Fact]
    public void A_person_gets_a_power_under_the_key_that_every_host_knows()
    {
        var plan = Plan(Own, Named(Quist, Power.Edit));

        Assert.Equal(
            [
                new GrantChange(
                    "person:renata.quist@merrowby.example",
                    new Grant("person:renata.quist@merrowby.example", Power.Edit, new Subject.OnePerson(Quist))
                ),
            ],
            plan.Effect.Grants
        );
        Assert.Equal([Quist], plan.Effect.Powers.Single(change => change.Power == Power.Edit).Gain);
        Assert.Empty(plan.Advice);
    }

    [Fact]
    public void A_grant_that_is_there_is_raised_and_never_lowered()
    {
        var site = Site(ToPerson(Power.Own, Vane), ToPerson(Power.Edit, Quist));

        Assert.Equal(["person:2"], Plan(site, Named(Quist, Power.Publish)).Effect.Grants.Select(change => change.Key));
        Assert.Equal([new GrantedAlready("Renata Quist", Power.Edit)], Refused(site, Named(Quist, Power.View)));
    }

    [Fact]
    public void A_group_gets_it_only_where_the_host_knows_the_group()
    {
        var request = Named(null, Power.View) with { Group = Crew };

        Assert.Equal([new GroupElsewhere("Boarding crew", "Slipway")], Refused(Own, request));
        Assert.Equal(["g:crew"], Plan(Own, request with { GroupKey = "g:crew" }).Effect.Grants.Select(change => change.Key));
    }

    [Fact]
    public void Policy_refuses_with_every_layer_that_does_and_a_limit_of_the_host_makes_it_wait()
    {
        var open = All(WideSubject.Anonymous, Power.View);
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.Partners));

        var plan = Plan(Own, open);
        Assert.Equal(["Slipway"], Assert.IsType<GrantWaits>(plan.Advice.Single()).Layers);
        Assert.Empty(plan.Effect.Powers);

        harbour
            .Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne))
            .Limit(LayerKind.Organisation, "", Enforcer.Policy, Outside(OutsideLevel.NamedGuests));
        Assert.Equal(["Organisation", "Pilotage"], Assert.IsType<GrantBeyondPolicy>(Refused(Own, open).Single()).Layers);
    }

    [Fact]
    public void What_policy_allows_is_not_told_where_a_layer_is_not_known()
    {
        harbour.Limit(LayerKind.Classification, "Sealed", Enforcer.Policy, Inside(InsideLimit.Nobody));
        var site = Own with { Classification = Known<string>.Unknown };

        Assert.Equal(
            ["Classification unknown"],
            Assert.IsType<GrantMayExceed>(Plan(site, Named(Quist, Power.View)).Advice.Single()).Layers
        );
    }

    [Fact]
    public void A_wide_grant_needs_its_reason()
    {
        Assert.Equal([new OpeningNeedsReason()], Refused(Own, All(WideSubject.Staff, Power.View) with { Reason = " " }));
        Assert.Equal(["everyone"], Plan(Own, All(WideSubject.Staff, Power.View)).Effect.Grants.Select(change => change.Key));
    }

    [Fact]
    public void What_breaks_a_critical_rule_needs_a_second_person()
    {
        var staffEdit = All(WideSubject.Staff, Power.Edit);
        var critical = new Rule(
            new RuleId("R-01"),
            "Not everybody edits",
            "everybody edits",
            Level.Critical,
            "",
            new Demand.General("edit.inside ne \"staff\""),
            OnTheDay.Day
        );

        Assert.Equal(["R-01"], Assert.IsType<GrantBreaksNeedsSecond>(Plan(Own, staffEdit, critical).NeedsSecond).Rules);
        Assert.Null(Plan(Own, staffEdit, critical with { Level = Level.Warning }).NeedsSecond);
    }

    [Fact]
    public void Who_has_left_is_unknown_or_would_own_it_gets_nothing_and_all_reasons_are_given()
    {
        Assert.Equal([new OwnershipNotGranted(), new GrantToLeaver("Petra Lund")], Refused(Own, Named(Lund, Power.Own)));
        Assert.Equal([new AccessOfNobody()], Refused(Own, Named(new PersonId(999), Power.View)));
        Assert.Equal([new AccessOfNobody()], Refused(Own, Named(Quist, Power.View) with { Group = Crew }));
        Assert.Equal([new SiteIsInAttic()], Refused(Own with { Existence = Existence.Attic }, Named(Quist, Power.View)));
    }

    [Fact]
    public void A_host_that_names_nobody_and_has_few_powers_says_so()
    {
        harbour.Hosts["Slipway"] = new HostCapabilities { NamesPeople = false, Powers = [Power.View, Power.Own] };

        Assert.Equal(
            [typeof(PowerNotGranted), typeof(NobodyNamed)],
            Refused(Own, Named(Quist, Power.Edit)).Select(reason => reason.GetType())
        );
    }

    [Fact]
    public void The_view_of_a_site_that_is_not_published_waits()
    {
        var plan = Plan(Own with { Status = Known.Of(Status.NeverPublished) }, Named(Quist, Power.View));

        Assert.Equal([new GrantWaitsForPublication("Renata Quist")], plan.Advice);
        Assert.Empty(plan.Effect.Powers);
    }

    private static GrantAccessRequest Named(PersonId? person, Power power) =>
        new(person, null, null, null, power, VisitorSignIn.Account, null);

    private static GrantAccessRequest All(WideSubject all, Power power) =>
        new(null, null, null, all, power, VisitorSignIn.None, "Tide times are public.");

    private Decision.Plan Plan(SiteFacts site, GrantAccessRequest request, params Rule[] rules) =>
        Assert.IsType<Decision.Plan>(Decide(site, request, rules));

    private IReadOnlyList<Remark> Refused(SiteFacts site, GrantAccessRequest request) =>
        Assert.IsType<Decision.Refusal>(Decide(site, request, [])).Reasons;

    private Decision Decide(SiteFacts site, GrantAccessRequest request, Rule[] rules) =>
        GrantAccess.Decide(
            new ActionFacts(site, [], harbour.Organisation, new RuleBook(rules, OnTheDay), harbour.PeopleDirectory),
            request,
            new ChangeId(Guid.Parse("00000000-0000-0000-0000-000000000001")),
            new Actor(Aske)
        );
}
