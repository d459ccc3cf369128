using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>The worked cases of the access model, one by one.</summary>
public class WorkedCases
{
    private readonly Harbour harbour = new();

    [Fact]
    public void Case_1_the_site_alone_shuts_what_organisation_and_host_would_let_in()
    {
        harbour
            .Limit(LayerKind.Organisation, "", Enforcer.Host, Outside(OutsideLevel.Partners))
            .Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.Partners));
        var accessPath = harbour.AccessPath(WithOwnLimit(Site(ToPartners(Power.View)), Outside(OutsideLevel.NoOne)));

        Assert.Equal(OutsideLevel.NoOne, accessPath.Effective.AtMost.Doors.Widest);
        Assert.Equal([LayerKind.Site], accessPath.Binding(Axis.Who).Select(step => step.Layer.Kind));
        accessPath.Shows("Partners are granted view. Organisation and host allow partners, the site's own setting no one.");
    }

    [Fact]
    public void Case_2_a_site_and_the_organisation_that_are_both_shut_limit_it_together()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Host, Outside(OutsideLevel.NoOne));
        var accessPath = harbour.AccessPath(WithOwnLimit(Site(ToPartners(Power.View)), Outside(OutsideLevel.NoOne)));

        Assert.Equal([LayerKind.Organisation, LayerKind.Site], accessPath.Binding(Axis.Who).Select(step => step.Layer.Kind));
        accessPath.Shows("Partners are granted view. Organisation and site both allow no one: both are named.");
    }

    [Fact]
    public void Case_3_a_new_guest_before_an_open_door_is_not_on_the_list_and_not_shut_out()
    {
        var limit = new Limit(InsideLimit.Staff, OutsideLevel.NamedGuests, VisitorSignIn.Account, GuestInviter.NoOne);

        Assert.Equal(Admission.NotOnTheList, Admissions.OfGuest(isOnTheList: false, limit));
        Assert.Equal(Admission.In, Admissions.OfGuest(isOnTheList: true, limit));
        Assert.Equal(Admission.In, Admissions.OfGuest(isOnTheList: false, limit with { GuestInviter = GuestInviter.Steward }));
        Assert.Equal(Admission.Shut, Admissions.OfGuest(isOnTheList: true, limit with { Widest = OutsideLevel.NoOne }));
        AccessPage.Shows(
            $"The site allows {AccessText.Of(limit)}, and new guests are invited by {limit.GuestInviter.Word()}. A guest on the list gets in. One who is not is refused as *not on the list*, not as *shut*."
        );
    }

    [Fact]
    public void Case_4_a_grant_that_the_organisation_stops_waits_and_comes_in_when_it_loosens()
    {
        var site = Site(ToAnonymous(Power.View));
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Host, Outside(OutsideLevel.NoOne));
        var stopped = harbour.AccessPath(site);

        Assert.Equal(OutsideLevel.NoOne, stopped.Effective.AtMost.Doors.Widest);
        Assert.Equal(OutsideLevel.Anonymous, stopped.SetAccess.AtLeast.Doors.Widest);
        Assert.Equal(Truth.No, stopped.Excess.IsSo);
        stopped.Shows(
            "Anonymous visitors are granted view. The organisation's limit, enforced by the host, stops them: the grant waits."
        );

        harbour.Limits.Clear();
        Assert.Equal(OutsideLevel.Anonymous, harbour.AccessPath(site).Effective.AtLeast.Doors.Widest);
    }

    [Fact]
    public void Case_5_a_policy_only_limit_leaves_anonymous_access_effective_and_that_exceeds_policy()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Policy, Outside(OutsideLevel.NoOne));
        var accessPath = harbour.AccessPath(Site(ToAnonymous(Power.View)));

        Assert.Equal(OutsideLevel.Anonymous, accessPath.Effective.AtLeast.Doors.Widest);
        Assert.Equal(OutsideLevel.NoOne, accessPath.Allowed.AtMost.Doors.Widest);
        Assert.Equal(Truth.Yes, accessPath.Excess.Outside);
        accessPath.Shows("The same, but the limit is policy only: anonymous visitors get in, and that is a finding.");
    }

    [Fact]
    public void Case_6_a_nested_section_hides_from_anonymous_and_one_with_its_own_access_stays_open_under_a_shut_site()
    {
        var directory = harbour.PeopleDirectory;
        var open = harbour.AccessPath(Site(ToAnonymous(Power.View))).Effective;
        var staffOnly = harbour.AccessPath(Site(ToStaff(Power.View))).Effective;
        var nested = Parts.Effective(SectionTie.Nested, Power.View, staffOnly, open, directory);

        Assert.Equal(OutsideLevel.NoOne, nested.AtMost.Doors.Widest);
        Assert.True(nested.AtLeast.Inside.Includes(directory.Staff));

        var part = new SiteSection("s", "Part", SectionTie.StandingFree, [ToAnonymous(Power.View)]);
        var free = harbour.AccessPath(Site(ToStaff(Power.View))).OfPart(part, isShut: false);
        Assert.Equal(OutsideLevel.Anonymous, free.View.AtLeast.Doors.Widest);
        Assert.Equal(Truth.Yes, free.IsAjar);
        Assert.Equal(open, Parts.Effective(SectionTie.StandingFree, Power.Edit, open, staffOnly, directory));
        AccessPage.Shows(
            $"A site is open to anonymous visitors. Its *nested* section for the staff admits: {nested.AtLeast.Doors.Widest.Word()} from outside. A section with *its own access*, open to anonymous visitors on a site for the staff, admits {free.View.AtLeast.Doors.Widest.Word()} from outside, and is a mismatch."
        );
    }

    [Fact]
    public void Case_6_a_nested_section_for_a_named_guest_admits_the_guest_on_a_site_open_to_anonymous()
    {
        var nested = Parts.Effective(
            SectionTie.Nested,
            Power.View,
            harbour.AccessPath(Site(ToPerson(Power.View, Agent))).Effective,
            harbour.AccessPath(Site(ToAnonymous(Power.View))).Effective,
            harbour.PeopleDirectory
        );

        Assert.Equal([harbour.PeopleDirectory.PlaceOf(Agent)!.Value], nested.AtLeast.Guests.Places());
        Assert.Equal(OutsideLevel.NamedGuests, nested.AtLeast.Doors.Widest);
    }

    [Fact]
    public void Case_7_a_base_system_that_requires_sign_in_leaves_no_view_without_sign_in()
    {
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.Anonymous, VisitorSignIn.Account));
        var accessPath = harbour.AccessPath(Site(ToAnonymous(Power.View), ToPartners(Power.View)));

        Assert.Equal(OutsideLevel.Partners, accessPath.Effective.AtMost.Doors.Widest);
        Assert.Equal([LayerKind.Host], accessPath.Binding(Axis.VisitorSignIn).Select(step => step.Layer.Kind));
        accessPath.Shows(
            "Anonymous visitors without sign-in and partners with an account are granted view. The host requires an account."
        );
    }

    [Fact]
    public void Case_8_from_all_staff_edit_to_anonymous_view_shows_what_staff_lose()
    {
        var directory = harbour.PeopleDirectory;
        var before = harbour.AccessPath(Site(ToStaff(Power.Edit)), Power.Edit).Effective.AtLeast;
        var after = harbour.AccessPath(Site(ToAnonymous(Power.View)), Power.Edit).Effective.AtLeast;

        var lost = ReachChange.Between(before, after).Lost;
        Assert.Equal(directory.Staff, lost.Inside);
        AccessPage.Shows(
            $"All staff edit; then anonymous visitors view instead. Shown as lost: edit for {lost.Inside.Count} people, all {directory.Staff.Count} of the staff."
        );
    }

    [Fact]
    public void Case_9_and_10_findability_is_no_part_of_reach()
    {
        // Hidden from web search or not advertised: neither is a grant or a layer, so neither changes access.
        var accessPath = harbour.AccessPath(Site(ToAnonymous(Power.View), ToStaff(Power.View)));

        Assert.Equal(OutsideLevel.Anonymous, accessPath.Effective.AtLeast.Doors.Widest);
        Assert.True(accessPath.Effective.AtLeast.Inside.Includes(harbour.PeopleDirectory.Staff));
        accessPath.Shows(
            "Hidden from web search, or not advertised inside: neither is a grant or a layer, so access is what it was."
        );
    }

    [Fact]
    public void Case_11_a_kind_that_is_always_for_all_staff_cannot_be_for_named_people()
    {
        SiteKind[] kinds = [new("noticeboard", "Noticeboard", AlwaysAllStaff: true), new("project", "Project", false)];

        Assert.Equal(["project"], kinds.Where(kind => KindFloors.CanHold(kind, InsideLevel.Named)).Select(kind => kind.Code));
        Assert.Equal(2, kinds.Count(kind => KindFloors.CanHold(kind, InsideLevel.Staff)));
        AccessPage.Shows(
            $"Wanted: access for named people. Possible kinds: {string.Join(", ", kinds.Where(kind => KindFloors.CanHold(kind, InsideLevel.Named)).Select(kind => kind.Name))}. Not possible: {string.Join(", ", kinds.Where(kind => !KindFloors.CanHold(kind, InsideLevel.Named)).Select(kind => kind.Name))}."
        );
    }

    [Fact]
    public void Case_12_an_unknown_host_layer_leaves_at_most_partners_and_may_limit_it()
    {
        harbour.Limits.Add(new LimitSetting(LayerKind.Host, "Slipway", Enforcer.Host, Known<PowerLimits>.Unknown));
        var accessPath = harbour.AccessPath(Site(ToPartners(Power.View)));

        Assert.Equal(OutsideLevel.NoOne, accessPath.Effective.AtLeast.Doors.Widest);
        Assert.Equal(OutsideLevel.Partners, accessPath.Effective.AtMost.Doors.Widest);
        Assert.Empty(accessPath.Binding(Axis.Who));
        Assert.Equal([LayerKind.Host], accessPath.Binding(Axis.Who, certainly: false).Select(step => step.Layer.Kind));
        accessPath.Shows(
            "Partners are granted view. What the host allows is not known: at most partners, and more cannot be told."
        );
    }

    [Fact]
    public void Case_13_the_classification_of_an_owner_limits_a_site_that_is_set_to_anonymous()
    {
        harbour.Limit(LayerKind.OwnersClassification, "Trainee", Enforcer.Policy, Outside(OutsideLevel.NoOne));
        var accessPath = harbour.AccessPath(Site(ToPerson(Power.Own, Trainee), ToAnonymous(Power.View)));

        Assert.Equal(OutsideLevel.NoOne, accessPath.Allowed.AtMost.Doors.Widest);
        Assert.Equal([LayerKind.OwnersClassification], accessPath.Binding(Axis.Who).Select(step => step.Layer.Kind));
        accessPath.Shows(
            "An owner is a trainee, whose classification allows no one outside. Anonymous visitors are granted view."
        );
        Assert.Empty(harbour.AccessPath(Site(ToPerson(Power.Own, Vane), ToAnonymous(Power.View))).Binding(Axis.Who));
    }
}
