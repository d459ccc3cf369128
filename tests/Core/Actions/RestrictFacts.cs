using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class RestrictFacts
{
    internal static readonly Rule Allowed = new(
        new("R-07"),
        "Within what policy allows",
        "wider than allowed",
        Level.Critical,
        "",
        new Demand.WithinAllowed(),
        new DateOnly(2026, 11, 20)
    );
    private static readonly Rule Owners = new(
        new("R-03"),
        "Two active owners",
        "too few owners",
        Level.Warning,
        "",
        new Demand.ActiveOwners(2),
        new DateOnly(2026, 1, 1)
    );
    private readonly Harbour harbour = new Harbour().Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne));
    private readonly ChangeId hostChange = new(Guid.Parse("00000000-0000-0000-0000-000000000001"));
    private readonly Actor actor = new(Vane);

    [Fact]
    public void Restricting_to_what_policy_allows_clears_the_finding_and_names_the_door()
    {
        var plan = Plan(Site(ToStaff(Power.View), ToAnonymous(Power.View), ToPerson(Power.Own, Vane)));

        Assert.Equal([new GrantChange("world", null)], plan.Effect.Grants);
        Assert.Equal([Allowed.Id], plan.Effect.Cleared);
        Assert.Empty(plan.Effect.Opened);
        var change = Assert.Single(plan.Effect.Powers);
        Assert.Equal([new Door(OutsideLevel.Anonymous, VisitorSignIn.None)], change.Shut);
        Assert.Empty(change.Lose);
    }

    [Fact]
    public void A_grant_is_lowered_to_the_strongest_power_that_the_limit_lets_through()
    {
        var limit = Core.Terms.Limit.Open with { Inside = InsideLimit.Named };
        var plan = Plan(Site(ToStaff(Power.Manage), ToPerson(Power.Own, Vane)), PowerLimits.Open with { Edit = limit });

        Assert.Equal(Power.Preview, plan.Effect.Grants.Single().Wanted!.Power);
    }

    [Fact]
    public void A_power_that_the_host_cannot_grant_is_asked_for_as_the_next_weaker()
    {
        var limit = Core.Terms.Limit.Open with { Inside = InsideLimit.Named };
        harbour.Hosts["Slipway"] = new() { Powers = [Power.View, Power.Edit, Power.Own] };
        var plan = Plan(Site(ToStaff(Power.Manage), ToPerson(Power.Own, Vane)), PowerLimits.Open with { Edit = limit });

        Assert.Equal(Power.View, plan.Effect.Grants.Single().Wanted!.Power);
    }

    [Fact]
    public void All_of_the_staff_cut_to_the_own_unit_become_the_unit()
    {
        var plan = Plan(Site(ToStaff(Power.View)), Inside(InsideLimit.Unit));

        Assert.Equal(
            [
                new GrantChange("everyone", null),
                new GrantChange("unit:PIL", new Grant("unit:PIL", Power.View, new Subject.WholeUnit(Pilotage))),
            ],
            plan.Effect.Grants
        );
        Assert.DoesNotContain(Vane, plan.Effect.Powers.SelectMany(change => change.Lose));
        Assert.Contains(Aske, plan.Effect.Powers.SelectMany(change => change.Lose));
    }

    [Fact]
    public void Two_wide_grants_restricted_to_the_unit_become_one_grant_with_the_stronger_power()
    {
        var link = ToStaff(Power.Edit) with { Key = "link:a", IsLink = true };
        var plan = Plan(Site(ToStaff(Power.View), link), Inside(InsideLimit.Unit));

        Assert.Equal(Power.Edit, plan.Effect.Grants.Single(change => change.Key == "unit:PIL").Wanted!.Power);
        Assert.Equal(3, plan.Effect.Grants.Count);
    }

    [Fact]
    public void A_group_with_one_refused_member_stays_and_an_owner_is_never_removed_this_way()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Tug crew", [Member.Of(Vane), Member.Of(Agent)]));
        var plan = Plan(Site(ToGroup(Power.Edit, new GroupId(1)), ToPerson(Power.Own, Diver), ToAnonymous(Power.View)));

        Assert.Equal("world", plan.Effect.Grants.Single().Key);
        Assert.Equal(2, plan.Unaffected.Count);
        Assert.Empty(plan.Effect.Cleared);
    }

    [Fact]
    public void What_is_under_way_counts_as_set_and_a_second_action_has_only_the_rest_to_do()
    {
        var site = Site(ToAnonymous(Power.View), ToPartners(Power.View)) with
        {
            UnderWay = [new UnderWay(hostChange, new WantedState([new GrantChange("world", null)]))],
        };

        Assert.Equal(["partners"], Plan(site).Effect.Grants.Select(change => change.Key));
        var refusal = Assert.IsType<Decision.Refusal>(
            Decide(
                site with
                {
                    UnderWay = [new UnderWay(hostChange, new WantedState([new("world", null), new("partners", null)]))],
                }
            )
        );
        Assert.Equal(new UnderWayAlready(), refusal.Reasons[0]);
    }

    [Fact]
    public void A_change_not_yet_sent_is_superseded_by_one_that_settles_the_same_grants()
    {
        var site = Site(ToAnonymous(Power.Preview));
        var first = Decided(site, PowerLimits.Open with { Preview = Core.Terms.Limit.Shut }).HostChanges.Single();
        var facts = Facts(site with { UnderWay = [new UnderWay(first.Id, first.WantedState)] }) with { ChangeQueue = [first] };
        var second = Assert.IsType<Decision.Plan>(
            RestrictReach.Decide(
                facts,
                new RestrictRequest(PowerLimits.Same(Core.Terms.Limit.Shut), null),
                new ChangeId(Guid.NewGuid()),
                actor
            )
        );

        Assert.Equal([ChangeState.Superseded, ChangeState.Queued], second.HostChanges.Select(hostChange => hostChange.State));
    }

    [Fact]
    public void A_refusal_lists_every_reason()
    {
        var site = Site() with { Sharing = Known<Sharing>.Unknown, NoLongerReported = true };
        var refusal = Assert.IsType<Decision.Refusal>(
            RestrictReach.Decide(Facts(site), new RestrictRequest(PowerLimits.Open, new string('x', 501)), hostChange, actor)
        );

        Assert.Equal(
            ["reason-too-long", "site-not-reported", "access-not-reported"],
            refusal.Reasons.Select(reason => reason.Code)
        );
        Assert.Equal(
            [new SiteErased("Slipway")],
            Assert.IsType<Decision.Refusal>(Decide(Site(ToAnonymous(Power.View)) with { Existence = Existence.Erased })).Reasons
        );
    }

    [Fact]
    public void The_remedy_is_unknown_where_a_layer_is()
    {
        var site = Site(ToAnonymous(Power.View)) with { Unit = Known<UnitCode>.Unknown };

        Assert.True(RestrictReach.Remedy(new ComputedSite(site, harbour.Organisation, harbour.PeopleDirectory)).IsUnknown);
    }

    [Fact]
    public void The_same_effect_has_the_same_fingerprint_and_another_has_another()
    {
        var one = Plan(Site(ToAnonymous(Power.View)));

        Assert.Equal(one.Fingerprint, Plan(Site(ToAnonymous(Power.View))).Fingerprint);
        Assert.NotEqual(one.Fingerprint, Plan(Site(ToAnonymous(Power.View), ToPartners(Power.View))).Fingerprint);
    }

    [Fact]
    public void Undoing_an_unsent_change_withdraws_it_and_a_confirmed_one_is_countered()
    {
        var site = Site(ToAnonymous(Power.View));
        var asked = Plan(site).HostChanges.Single();
        var withdrawn = Undo(site with { UnderWay = [new UnderWay(asked.Id, asked.WantedState)] }, asked);
        Assert.Equal(ChangeState.Withdrawn, withdrawn.HostChanges.Single().State);

        var confirmed = ChangeQueue.Answered(ChangeQueue.Take(asked, "w", Now), new HostAnswer.Done([], null), Now);
        var countered = Undo(Site(), confirmed);
        Assert.Equal([new GrantChange("world", ToAnonymous(Power.View))], countered.HostChanges.Single().WantedState.Grants);
        Assert.Equal([Allowed.Id], countered.Effect.Opened);
        Assert.Equal(confirmed.Id, countered.HostChanges.Single().UndoOf);
    }

    [Fact]
    public void Undoing_is_refused_where_somebody_has_changed_the_same_access_since_or_the_change_is_with_the_host()
    {
        var asked = Plan(Site(ToAnonymous(Power.View))).HostChanges.Single();
        var sent = ChangeQueue.Take(asked, "w", Now);
        var confirmed = ChangeQueue.Answered(sent, new HostAnswer.Done([], null), Now);

        Assert.IsType<Decision.Refusal>(
            UndoHostChange.Decide(Facts(Site(ToAnonymous(Power.Preview))), confirmed, hostChange, actor, null)
        );
        Assert.IsType<Decision.Refusal>(
            UndoHostChange.Decide(Facts(Site(ToAnonymous(Power.View))), confirmed, hostChange, actor, null)
        );
        Assert.IsType<Decision.Refusal>(
            UndoHostChange.Decide(Facts(Site(ToAnonymous(Power.View))), sent, hostChange, actor, null)
        );
    }

    private ActionFacts Facts(SiteFacts site) =>
        new(site, [], harbour.Organisation, new RuleBook([Allowed, Owners], OnTheDay), harbour.PeopleDirectory);

    private Decision Decide(SiteFacts site) =>
        RestrictReach.Decide(Facts(site), new RestrictRequest(Outside(OutsideLevel.NoOne), "tidy"), hostChange, actor);

    private Decision.Plan Plan(SiteFacts site) => Assert.IsType<Decision.Plan>(Decide(site));

    private Decision.Plan Plan(SiteFacts site, PowerLimits target) => Decided(site, target);

    private Decision.Plan Decided(SiteFacts site, PowerLimits target) =>
        Assert.IsType<Decision.Plan>(RestrictReach.Decide(Facts(site), new RestrictRequest(target, null), hostChange, actor));

    private Decision.Plan Undo(SiteFacts site, HostChange undone) =>
        Assert.IsType<Decision.Plan>(UndoHostChange.Decide(Facts(site), undone, new ChangeId(Guid.NewGuid()), actor, null));
}
