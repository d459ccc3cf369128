using AtticLedger.Core.Doors;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

public class ReachFacts
{
    private readonly Harbour harbour = new();

    [Fact]
    public void Asking_for_a_power_asks_for_the_weaker_ones() =>
        Assert.Equal(1, harbour.Passage(Site(ToPerson(Power.Own, Vane))).Actual.AtLeast.Inside.Count);

    [Fact]
    public void A_cap_on_a_weaker_power_caps_the_stronger()
    {
        var limits = PowerLimits.Open with { View = Limit.Open with { Widest = OutsideLevel.NoOne } };

        Assert.Equal(OutsideLevel.NoOne, limits.For(Power.Own).Widest);
    }

    [Fact]
    public void A_guest_in_an_inside_group_is_outside_and_signed_in()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Tug crew", [Member.Of(Vane), Member.Of(Agent)]));
        var actual = harbour.Passage(Site(ToGroup(Power.View, new GroupId(1)))).Actual.AtLeast;

        Assert.Equal(1, actual.Inside.Count);
        Assert.Equal([new Door(OutsideLevel.NamedGuests, Proof.SignedIn)], actual.Doors.Doors());
    }

    [Fact]
    public void A_group_of_all_the_staff_is_wide_and_a_limit_to_named_refuses_it()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Everybody", [Member.Of(Marine), Member.Of(Yard)]));
        harbour.Limit(LayerKind.Class, "Sealed", Enforcer.House, Inside(InsideLimit.Named));
        var site = Site(ToGroup(Power.Edit, new GroupId(1)), ToPerson(Power.Edit, Vane)) with { Class = Known.Of("Sealed") };

        var passage = harbour.Passage(site, Power.Edit);

        Assert.Equal(1, passage.Allowed.AtLeast.Inside.Count);
        Assert.Equal(Truth.Yes, passage.Beyond.Inside);
    }

    [Fact]
    public void An_empty_staff_list_makes_no_group_staff()
    {
        var roll = new Roll([], Units, [], Now, Time);

        Assert.False(roll.CountsAsStaff(PeopleSet.Empty));
    }

    [Fact]
    public void People_who_have_left_count_in_the_actual_until_the_host_drops_them_and_never_in_the_allowed()
    {
        var passage = harbour.Passage(Site(ToPerson(Power.View, Lund)));

        Assert.Equal(1, passage.Actual.AtLeast.Inside.Count);
        Assert.Equal(0, passage.Allowed.AtMost.Inside.Count);
        Assert.Equal(Truth.Yes, passage.Beyond.IsSo);
    }

    [Fact]
    public void A_link_is_over_at_the_first_instant_after_its_last_day()
    {
        var link = ToPassersBy(Power.View) with { IsLink = true, Through = new DateOnly(2026, 11, 23) };

        Assert.True(harbour.Passage(Site(link)).Actual.AtMost.IsNone);
        Assert.False(harbour.Passage(Site(link with { Through = new DateOnly(2026, 11, 24) })).Actual.AtLeast.IsNone);
    }

    [Fact]
    public void A_site_without_a_unit_loses_only_the_unit_layers_and_one_with_an_unknown_unit_has_an_unknown_layer()
    {
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.House, Outside(OutsideLevel.NoOne));
        var site = Site(ToPassersBy(Power.View));

        Assert.Equal(Truth.Yes, harbour.Passage(site).Beyond.IsSo);
        Assert.Equal(Truth.No, harbour.Passage(site with { Unit = Known<UnitCode>.None }).Beyond.IsSo);
        Assert.Equal(Truth.Unknown, harbour.Passage(site with { Unit = Known<UnitCode>.Unknown }).Beyond.IsSo);
    }

    [Fact]
    public void Who_may_get_in_where_nobody_could_read_it_is_between_nothing_and_everything()
    {
        var site = Site() with { Sharing = Known<Sharing>.Unknown };
        var passage = harbour.Passage(site);

        Assert.True(passage.Actual.AtLeast.IsNone);
        Assert.Equal(OutsideLevel.PassersBy, passage.Actual.AtMost.Doors.Widest);
        // No layer refuses anything, but somebody who has left may be among those who get in.
        Assert.Equal(Truth.Unknown, passage.Beyond.IsSo);
        Assert.Equal(Truth.No, passage.Beyond.Outside);

        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.NoOne));
        Assert.Equal(OutsideLevel.NoOne, harbour.Passage(site).Actual.AtMost.Doors.Widest);
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.House, Inside(InsideLimit.Named));
        Assert.Equal(Truth.Unknown, harbour.Passage(site).Beyond.IsSo);
    }

    [Fact]
    public void View_of_a_site_that_was_never_live_is_none_and_not_nobody()
    {
        var line = new SiteLine(
            Site(ToStaff(Power.View)) with
            {
                Stage = Known.Of(Stage.NeverLive),
            },
            harbour.House,
            harbour.Roll
        );

        Assert.True(line.Inside(Power.View).IsNone);
        Assert.Equal((int)InsideLevel.Nobody, line.Inside(Power.Preview).Or(default).AtMost);
    }

    [Fact]
    public void A_group_read_only_in_part_gives_bounds()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Divers", [Member.Of(Vane)], Complete: false));
        var actual = harbour.Passage(Site(ToGroup(Power.View, new GroupId(1)))).Actual;

        Assert.Equal(1, actual.AtLeast.Inside.Count);
        Assert.Equal(OutsideLevel.NoOne, actual.AtLeast.Doors.Widest);
        Assert.Equal(OutsideLevel.NamedGuests, actual.AtMost.Doors.Widest);
    }

    [Fact]
    public void A_read_that_began_before_a_confirmation_never_overrides_it_and_at_equal_instants_the_read_wins()
    {
        var confirmed = new Sharing([], null, Now, SharingSource.Confirmed);
        var read = new Sharing([ToStaff(Power.View)], null, Now.AddSeconds(-1), SharingSource.Read);

        Assert.Same(confirmed, Sharings.Newer(read, confirmed));
        Assert.Same(confirmed, Sharings.Newer(confirmed, read));
        Assert.Equal(SharingSource.Read, Sharings.Newer(confirmed, read with { At = Now }).Source);
        Assert.Equal(SharingSource.Read, Sharings.Newer(read with { At = Now }, confirmed).Source);
    }
}
