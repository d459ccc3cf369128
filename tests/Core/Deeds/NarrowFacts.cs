using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

public class NarrowFacts
{
    private static readonly Rule Allowed = new(
        new("R-07"),
        "Within what the house allows",
        "wider than allowed",
        Level.Must,
        "",
        new Demand.WithinAllowed(),
        new DateOnly(2026, 11, 20)
    );
    private static readonly Rule Keys = new(
        new("R-03"),
        "Two fit key holders",
        "too few keys",
        Level.Should,
        "",
        new Demand.FitKeyHolders(2),
        new DateOnly(2026, 1, 1)
    );
    private readonly Harbour harbour = new Harbour().Limit(LayerKind.Unit, "PIL", Enforcer.House, Outside(OutsideLevel.NoOne));
    private readonly OrderId order = new(Guid.Parse("00000000-0000-0000-0000-000000000001"));
    private readonly Doer doer = new(Vane);

    [Fact]
    public void Narrowing_to_what_the_house_permits_clears_the_finding_and_names_the_door()
    {
        var plan = Plan(Site(ToStaff(Power.View), ToPassersBy(Power.View), ToPerson(Power.Own, Vane)));

        Assert.Equal([new GrantChange("world", null)], plan.Effect.Grants);
        Assert.Equal([Allowed.Id], plan.Effect.Cleared);
        Assert.Empty(plan.Effect.Opened);
        var change = Assert.Single(plan.Effect.Powers);
        Assert.Equal([new Door(OutsideLevel.PassersBy, Proof.None)], change.Shut);
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
    public void Two_wide_grants_cut_to_the_unit_become_one_grant_with_the_stronger_power()
    {
        var link = ToStaff(Power.Edit) with { Key = "link:a", IsLink = true };
        var plan = Plan(Site(ToStaff(Power.View), link), Inside(InsideLimit.Unit));

        Assert.Equal(Power.Edit, plan.Effect.Grants.Single(change => change.Key == "unit:PIL").Wanted!.Power);
        Assert.Equal(3, plan.Effect.Grants.Count);
    }

    [Fact]
    public void A_group_of_which_one_is_refused_stays_and_a_key_is_never_taken_this_way()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Tug crew", [Member.Of(Vane), Member.Of(Agent)]));
        var plan = Plan(Site(ToGroup(Power.Edit, new GroupId(1)), ToPerson(Power.Own, Diver), ToPassersBy(Power.View)));

        Assert.Equal("world", plan.Effect.Grants.Single().Key);
        Assert.Equal(2, plan.Remains.Count);
        Assert.Empty(plan.Effect.Cleared);
    }

    [Fact]
    public void What_is_under_way_counts_as_asked_and_a_second_deed_has_only_the_rest_to_do()
    {
        var site = Site(ToPassersBy(Power.View), ToPartners(Power.View)) with
        {
            UnderWay = [new UnderWay(order, new Wish([new GrantChange("world", null)]))],
        };

        Assert.Equal(["partners"], Plan(site).Effect.Grants.Select(change => change.Key));
        var refusal = Assert.IsType<Decision.Refusal>(
            Decide(site with { UnderWay = [new UnderWay(order, new Wish([new("world", null), new("partners", null)]))] })
        );
        Assert.StartsWith("What is under way already does this", refusal.Reasons[0]);
    }

    [Fact]
    public void An_order_not_yet_sent_is_superseded_by_one_that_settles_the_same_grants()
    {
        var site = Site(ToPassersBy(Power.Preview));
        var first = Decided(site, PowerLimits.Open with { Preview = Core.Terms.Limit.Shut }).Orders.Single();
        var facts = Facts(site with { UnderWay = [new UnderWay(first.Id, first.Wish)] }) with { Lane = [first] };
        var second = Assert.IsType<Decision.Plan>(
            NarrowReach.Decide(
                facts,
                new NarrowWish(PowerLimits.Same(Core.Terms.Limit.Shut), null),
                new OrderId(Guid.NewGuid()),
                doer
            )
        );

        Assert.Equal([OrderState.Superseded, OrderState.Asked], second.Orders.Select(order => order.State));
    }

    [Fact]
    public void A_refusal_lists_every_reason()
    {
        var site = Site() with { Sharing = Known<Sharing>.Unknown, Vanished = true };
        var refusal = Assert.IsType<Decision.Refusal>(
            NarrowReach.Decide(Facts(site), new NarrowWish(PowerLimits.Open, new string('x', 501)), order, doer)
        );

        Assert.Equal(3, refusal.Reasons.Count);
    }

    [Fact]
    public void The_remedy_is_unknown_where_a_layer_is()
    {
        var site = Site(ToPassersBy(Power.View)) with { Unit = Known<UnitCode>.Unknown };

        Assert.True(NarrowReach.Remedy(new SiteLine(site, harbour.House, harbour.Roll)).IsUnknown);
    }

    [Fact]
    public void The_same_effect_has_the_same_fingerprint_and_another_has_another()
    {
        var one = Plan(Site(ToPassersBy(Power.View)));

        Assert.Equal(one.Fingerprint, Plan(Site(ToPassersBy(Power.View))).Fingerprint);
        Assert.NotEqual(one.Fingerprint, Plan(Site(ToPassersBy(Power.View), ToPartners(Power.View))).Fingerprint);
    }

    [Fact]
    public void Undoing_an_unsent_order_withdraws_it_and_a_confirmed_one_is_countered()
    {
        var site = Site(ToPassersBy(Power.View));
        var asked = Plan(site).Orders.Single();
        var withdrawn = Undo(site with { UnderWay = [new UnderWay(asked.Id, asked.Wish)] }, asked);
        Assert.Equal(OrderState.Withdrawn, withdrawn.Orders.Single().State);

        var confirmed = Lane.Answered(Lane.Take(asked, "w", Now), new HostAnswer.Done([], null), Now);
        var countered = Undo(Site(), confirmed);
        Assert.Equal([new GrantChange("world", ToPassersBy(Power.View))], countered.Orders.Single().Wish.Grants);
        Assert.Equal([Allowed.Id], countered.Effect.Opened);
        Assert.Equal(confirmed.Id, countered.Orders.Single().UndoOf);
    }

    [Fact]
    public void Undoing_is_refused_where_somebody_has_changed_the_same_access_since_or_the_order_is_with_the_host()
    {
        var asked = Plan(Site(ToPassersBy(Power.View))).Orders.Single();
        var sent = Lane.Take(asked, "w", Now);
        var confirmed = Lane.Answered(sent, new HostAnswer.Done([], null), Now);

        Assert.IsType<Decision.Refusal>(UndoOrder.Decide(Facts(Site(ToPassersBy(Power.Preview))), confirmed, order, doer, null));
        Assert.IsType<Decision.Refusal>(UndoOrder.Decide(Facts(Site(ToPassersBy(Power.View))), confirmed, order, doer, null));
        Assert.IsType<Decision.Refusal>(UndoOrder.Decide(Facts(Site(ToPassersBy(Power.View))), sent, order, doer, null));
    }

    private DeedFacts Facts(SiteFacts site) =>
        new(site, [], harbour.House, new RuleBook([Allowed, Keys], new DateOnly(2026, 11, 24)), harbour.Roll);

    private Decision Decide(SiteFacts site) =>
        NarrowReach.Decide(Facts(site), new NarrowWish(Outside(OutsideLevel.NoOne), "tidy"), order, doer);

    private Decision.Plan Plan(SiteFacts site) => Assert.IsType<Decision.Plan>(Decide(site));

    private Decision.Plan Plan(SiteFacts site, PowerLimits target) => Decided(site, target);

    private Decision.Plan Decided(SiteFacts site, PowerLimits target) =>
        Assert.IsType<Decision.Plan>(NarrowReach.Decide(Facts(site), new NarrowWish(target, null), order, doer));

    private Decision.Plan Undo(SiteFacts site, Order undone) =>
        Assert.IsType<Decision.Plan>(UndoOrder.Decide(Facts(site), undone, new OrderId(Guid.NewGuid()), doer, null));
}
