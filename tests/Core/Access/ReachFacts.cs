using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

public class ReachFacts
{
    private readonly Harbour harbour = new();

    [Fact]
    public void Asking_for_a_power_asks_for_the_weaker_ones() =>
        Assert.Equal(1, harbour.AccessPath(Site(ToPerson(Power.Own, Vane))).Effective.AtLeast.Inside.Count);

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
        var effective = harbour.AccessPath(Site(ToGroup(Power.View, new GroupId(1)))).Effective.AtLeast;

        Assert.Equal(1, effective.Inside.Count);
        Assert.Equal([new Door(OutsideLevel.NamedGuests, VisitorSignIn.Account)], effective.Doors.Doors());
    }

    [Fact]
    public void A_group_of_all_staff_is_all_staff_and_a_limit_to_named_people_refuses_it()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Everybody", [Member.Of(Marine), Member.Of(Yard)]));
        harbour.Limit(LayerKind.Classification, "Sealed", Enforcer.Policy, Inside(InsideLimit.Named));
        var site = Site(ToGroup(Power.Edit, new GroupId(1)), ToPerson(Power.Edit, Vane)) with
        {
            Classification = Known.Of("Sealed"),
        };

        var accessPath = harbour.AccessPath(site, Power.Edit);

        Assert.Equal(1, accessPath.Allowed.AtLeast.Inside.Count);
        Assert.Equal(Truth.Yes, accessPath.Excess.Inside);
    }

    [Fact]
    public void An_empty_staff_list_makes_no_group_staff()
    {
        var directory = new PeopleDirectory([], Units, [], Now, Time);

        Assert.False(directory.CountsAsStaff(PeopleSet.Empty));
    }

    [Fact]
    public void People_who_have_left_count_as_effective_until_the_host_drops_them_and_never_as_allowed()
    {
        var accessPath = harbour.AccessPath(Site(ToPerson(Power.View, Lund)));

        Assert.Equal(1, accessPath.Effective.AtLeast.Inside.Count);
        Assert.Equal(0, accessPath.Allowed.AtMost.Inside.Count);
        Assert.Equal(Truth.Yes, accessPath.Excess.IsSo);
    }

    [Fact]
    public void A_link_is_over_at_the_first_instant_after_its_last_day()
    {
        var link = ToAnonymous(Power.View) with { IsLink = true, Through = new DateOnly(2026, 11, 23) };

        Assert.True(harbour.AccessPath(Site(link)).Effective.AtMost.IsNone);
        Assert.False(harbour.AccessPath(Site(link with { Through = new DateOnly(2026, 11, 24) })).Effective.AtLeast.IsNone);
    }

    [Fact]
    public void A_site_without_a_unit_loses_only_the_unit_layers_and_one_with_an_unknown_unit_has_an_unknown_layer()
    {
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne));
        var site = Site(ToAnonymous(Power.View));

        Assert.Equal(Truth.Yes, harbour.AccessPath(site).Excess.IsSo);
        Assert.Equal(Truth.No, harbour.AccessPath(site with { Unit = Known<UnitCode>.None }).Excess.IsSo);
        Assert.Equal(Truth.Unknown, harbour.AccessPath(site with { Unit = Known<UnitCode>.Unknown }).Excess.IsSo);
    }

    [Fact]
    public void Who_may_get_in_where_nobody_could_read_it_is_between_nothing_and_everything()
    {
        var site = Site() with { Sharing = Known<Sharing>.Unknown };
        var accessPath = harbour.AccessPath(site);

        Assert.True(accessPath.Effective.AtLeast.IsNone);
        Assert.Equal(OutsideLevel.Anonymous, accessPath.Effective.AtMost.Doors.Widest);
        // No layer refuses anything, but somebody who has left may be among the people with access.
        Assert.Equal(Truth.Unknown, accessPath.Excess.IsSo);
        Assert.Equal(Truth.No, accessPath.Excess.Outside);

        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.NoOne));
        Assert.Equal(OutsideLevel.NoOne, harbour.AccessPath(site).Effective.AtMost.Doors.Widest);
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Inside(InsideLimit.Named));
        Assert.Equal(Truth.Unknown, harbour.AccessPath(site).Excess.IsSo);
    }

    [Fact]
    public void View_of_a_site_that_was_never_published_is_none_and_not_nobody()
    {
        var line = new ComputedSite(
            Site(ToStaff(Power.View)) with
            {
                Status = Known.Of(Status.NeverPublished),
            },
            harbour.Organisation,
            harbour.PeopleDirectory
        );

        Assert.True(line.Inside(Power.View).IsNone);
        Assert.Equal((int)InsideLevel.Nobody, line.Inside(Power.Preview).Or(default).AtMost);
    }

    [Fact]
    public void A_group_read_only_in_part_gives_bounds()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Divers", [Member.Of(Vane)], Complete: false));
        var effective = harbour.AccessPath(Site(ToGroup(Power.View, new GroupId(1)))).Effective;

        Assert.Equal(1, effective.AtLeast.Inside.Count);
        Assert.Equal(OutsideLevel.NoOne, effective.AtLeast.Doors.Widest);
        Assert.Equal(OutsideLevel.NamedGuests, effective.AtMost.Doors.Widest);
    }

    [Fact]
    public void A_sync_that_began_before_a_confirmation_never_overrides_it_and_at_equal_instants_the_sync_wins()
    {
        var confirmed = new Sharing([], null, Now, SharingSource.Confirmed);
        var read = new Sharing([ToStaff(Power.View)], null, Now.AddSeconds(-1), SharingSource.Read);

        Assert.Same(confirmed, Sharings.Newer(read, confirmed));
        Assert.Same(confirmed, Sharings.Newer(confirmed, read));
        Assert.Equal(SharingSource.Read, Sharings.Newer(confirmed, read with { At = Now }).Source);
        Assert.Equal(SharingSource.Read, Sharings.Newer(read with { At = Now }, confirmed).Source);
    }
}
