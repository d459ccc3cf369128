using AtticLedger.Core.Doors;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>The worked cases of the model of reach, one by one.</summary>
public class WorkedCases
{
    private readonly Harbour harbour = new();

    [Fact]
    public void Case_1_the_site_alone_shuts_what_organisation_and_host_would_let_in()
    {
        harbour
            .Limit(LayerKind.Organisation, "", Enforcer.Host, Outside(OutsideLevel.Partners))
            .Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.Partners));
        var passage = harbour.Passage(WithOwnLimit(Site(ToPartners(Power.View)), Outside(OutsideLevel.NoOne)));

        Assert.Equal(OutsideLevel.NoOne, passage.Actual.AtMost.Doors.Widest);
        Assert.Equal([LayerKind.Site], passage.Binding(Axis.Who).Select(step => step.Layer.Kind));
    }

    [Fact]
    public void Case_2_a_site_and_the_organisation_both_shut_bind_together()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Host, Outside(OutsideLevel.NoOne));
        var passage = harbour.Passage(WithOwnLimit(Site(ToPartners(Power.View)), Outside(OutsideLevel.NoOne)));

        Assert.Equal([LayerKind.Organisation, LayerKind.Site], passage.Binding(Axis.Who).Select(step => step.Layer.Kind));
    }

    [Fact]
    public void Case_3_a_new_guest_before_an_open_door_is_not_on_the_list_and_not_shut_out()
    {
        var limit = new Limit(InsideLimit.Staff, OutsideLevel.NamedGuests, Proof.SignedIn, Voucher.NoOne);

        Assert.Equal(Admission.NotOnTheList, Admissions.OfGuest(isOnTheList: false, limit));
        Assert.Equal(Admission.In, Admissions.OfGuest(isOnTheList: true, limit));
        Assert.Equal(Admission.In, Admissions.OfGuest(isOnTheList: false, limit with { Voucher = Voucher.Steward }));
        Assert.Equal(Admission.Shut, Admissions.OfGuest(isOnTheList: true, limit with { Widest = OutsideLevel.NoOne }));
    }

    [Fact]
    public void Case_4_an_ask_that_the_organisation_stops_waits_and_comes_in_when_it_loosens()
    {
        var site = Site(ToPassersBy(Power.View));
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Host, Outside(OutsideLevel.NoOne));
        var stopped = harbour.Passage(site);

        Assert.Equal(OutsideLevel.NoOne, stopped.Actual.AtMost.Doors.Widest);
        Assert.Equal(OutsideLevel.PassersBy, stopped.Asked.AtLeast.Doors.Widest);
        Assert.Equal(Truth.No, stopped.Beyond.IsSo);

        harbour.Limits.Clear();
        Assert.Equal(OutsideLevel.PassersBy, harbour.Passage(site).Actual.AtLeast.Doors.Widest);
    }

    [Fact]
    public void Case_5_a_limit_of_the_house_lets_passers_by_in_in_fact_and_that_is_beyond()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.House, Outside(OutsideLevel.NoOne));
        var passage = harbour.Passage(Site(ToPassersBy(Power.View)));

        Assert.Equal(OutsideLevel.PassersBy, passage.Actual.AtLeast.Doors.Widest);
        Assert.Equal(OutsideLevel.NoOne, passage.Allowed.AtMost.Doors.Widest);
        Assert.Equal(Truth.Yes, passage.Beyond.Outside);
    }

    [Fact]
    public void Case_6_a_nested_part_hides_from_passers_by_and_a_free_one_stays_open_under_a_shut_site()
    {
        var roll = harbour.Roll;
        var open = harbour.Passage(Site(ToPassersBy(Power.View))).Actual;
        var staffOnly = harbour.Passage(Site(ToStaff(Power.View))).Actual;
        var nested = Parts.Actual(PartTie.Nested, Power.View, staffOnly, open, roll);

        Assert.Equal(OutsideLevel.NoOne, nested.AtMost.Doors.Widest);
        Assert.True(nested.AtLeast.Inside.Includes(roll.Staff));

        var part = new SiteSection("s", "Part", PartTie.StandingFree, [ToPassersBy(Power.View)]);
        var free = harbour.Passage(Site(ToStaff(Power.View))).OfPart(part, isShut: false);
        Assert.Equal(OutsideLevel.PassersBy, free.View.AtLeast.Doors.Widest);
        Assert.Equal(Truth.Yes, free.IsAjar);
        Assert.Equal(open, Parts.Actual(PartTie.StandingFree, Power.Edit, open, staffOnly, roll));
    }

    [Fact]
    public void Case_6_a_nested_part_for_a_named_guest_lets_the_guest_through_a_site_open_to_passers_by()
    {
        var nested = Parts.Actual(
            PartTie.Nested,
            Power.View,
            harbour.Passage(Site(ToPerson(Power.View, Agent))).Actual,
            harbour.Passage(Site(ToPassersBy(Power.View))).Actual,
            harbour.Roll
        );

        Assert.Equal([harbour.Roll.PlaceOf(Agent)!.Value], nested.AtLeast.Guests.Places());
        Assert.Equal(OutsideLevel.NamedGuests, nested.AtLeast.Doors.Widest);
    }

    [Fact]
    public void Case_7_a_base_system_that_requires_sign_in_leaves_no_view_without_proof()
    {
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.PassersBy, Proof.SignedIn));
        var passage = harbour.Passage(Site(ToPassersBy(Power.View), ToPartners(Power.View)));

        Assert.Equal(OutsideLevel.Partners, passage.Actual.AtMost.Doors.Widest);
        Assert.Equal([LayerKind.Host], passage.Binding(Axis.Proof).Select(step => step.Layer.Kind));
    }

    [Fact]
    public void Case_8_from_all_staff_edit_to_passers_by_view_shows_what_staff_lose()
    {
        var roll = harbour.Roll;
        var before = harbour.Passage(Site(ToStaff(Power.Edit)), Power.Edit).Actual.AtLeast;
        var after = harbour.Passage(Site(ToPassersBy(Power.View)), Power.Edit).Actual.AtLeast;

        Assert.Equal(roll.Staff, ReachChange.Between(before, after).Lost.Inside);
    }

    [Fact]
    public void Case_9_and_10_findability_is_no_part_of_reach()
    {
        // Hidden from web search or not advertised: neither is a grant or a layer, so neither can change who gets in.
        var passage = harbour.Passage(Site(ToPassersBy(Power.View), ToStaff(Power.View)));

        Assert.Equal(OutsideLevel.PassersBy, passage.Actual.AtLeast.Doors.Widest);
        Assert.True(passage.Actual.AtLeast.Inside.Includes(harbour.Roll.Staff));
    }

    [Fact]
    public void Case_11_a_kind_that_is_always_for_all_staff_cannot_be_for_named_people()
    {
        SiteKind[] kinds = [new("noticeboard", "Noticeboard", AlwaysAllStaff: true), new("project", "Project", false)];

        Assert.Equal(["project"], kinds.Where(kind => KindFloors.CanHold(kind, InsideLevel.Named)).Select(kind => kind.Code));
        Assert.Equal(2, kinds.Count(kind => KindFloors.CanHold(kind, InsideLevel.Staff)));
    }

    [Fact]
    public void Case_12_an_unknown_host_layer_leaves_at_most_partners_and_binds_possibly()
    {
        harbour.Limits.Add(new LimitSetting(LayerKind.Host, "Slipway", Enforcer.Host, Known<PowerLimits>.Unknown));
        var passage = harbour.Passage(Site(ToPartners(Power.View)));

        Assert.Equal(OutsideLevel.NoOne, passage.Actual.AtLeast.Doors.Widest);
        Assert.Equal(OutsideLevel.Partners, passage.Actual.AtMost.Doors.Widest);
        Assert.Empty(passage.Binding(Axis.Who));
        Assert.Equal([LayerKind.Host], passage.Binding(Axis.Who, certainly: false).Select(step => step.Layer.Kind));
    }

    [Fact]
    public void Case_13_the_class_of_an_owner_binds_a_site_that_asks_for_passers_by()
    {
        harbour.Limit(LayerKind.OwnersClass, "Trainee", Enforcer.House, Outside(OutsideLevel.NoOne));
        var passage = harbour.Passage(Site(ToPerson(Power.Own, Trainee), ToPassersBy(Power.View)));

        Assert.Equal(OutsideLevel.NoOne, passage.Allowed.AtMost.Doors.Widest);
        Assert.Equal([LayerKind.OwnersClass], passage.Binding(Axis.Who).Select(step => step.Layer.Kind));
        Assert.Empty(harbour.Passage(Site(ToPerson(Power.Own, Vane), ToPassersBy(Power.View))).Binding(Axis.Who));
    }
}
