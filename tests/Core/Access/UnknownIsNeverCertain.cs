using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>Cases in which a result was certain but should not have been, or somebody was left out. <see cref="EveryFilling"/>
/// covers them all.</summary>
public class UnknownIsNeverCertain
{
    private readonly Harbour harbour = new();

    [Fact]
    public void A_guest_who_left_and_still_gets_in_exceeds_policy_like_any_member_of_staff()
    {
        harbour.People[8] = harbour.People[8] with { Standing = Standing.Left };
        var accessPath = harbour.AccessPath(Site(ToPerson(Power.View, Agent), ToPerson(Power.View, Diver)));

        Assert.Equal(Truth.Yes, accessPath.Excess.IsSo);
        Assert.Equal(Truth.Yes, accessPath.Excess.Outside);
        Assert.Equal([harbour.PeopleDirectory.PlaceOf(Diver)!.Value], accessPath.Excess.Certain.Guests.Places());
    }

    [Fact]
    public void A_free_part_that_lets_in_a_guest_whom_the_site_does_not_is_ajar()
    {
        var line = Line(WithPart(Site(ToPerson(Power.View, Agent)), ToPerson(Power.View, Diver)));

        Assert.Equal(Truth.Yes, line.Sections[0].IsAjar);
        Assert.Equal(Truth.No, Line(WithPart(Site(ToAnonymous(Power.View)), ToPerson(Power.View, Diver))).Sections[0].IsAjar);
    }

    [Fact]
    public void A_guest_who_loses_access_is_among_those_who_lose() =>
        Assert.False(
            ReachChange
                .Between(
                    harbour.AccessPath(Site(ToPerson(Power.View, Agent), ToPerson(Power.View, Diver))).Effective.AtLeast,
                    harbour.AccessPath(Site(ToPerson(Power.View, Agent))).Effective.AtLeast
                )
                .IsNothing
        );

    [Fact]
    public void Open_joining_asks_staff_for_what_members_may_do_and_joining_by_request_asks_nothing()
    {
        SiteFacts Joined(JoinWay way, Known<Power> members) =>
            Site(ToPerson(Power.Own, Vane)) with
            {
                Joining = Known.Of(new Joining(way, 0, null, members)),
            };

        Assert.Equal(
            Span.Exactly((int)InsideLevel.Staff),
            Line(Joined(JoinWay.Open, Known.Of(Power.Edit))).Inside(Power.Edit).Or(default)
        );
        Assert.Equal(
            Span.Exactly((int)InsideLevel.Named),
            Line(Joined(JoinWay.Open, Known.Of(Power.View))).Inside(Power.Edit).Or(default)
        );
        Assert.Equal(
            new Span((int)InsideLevel.Named, (int)InsideLevel.Staff),
            Line(Joined(JoinWay.Open, Known<Power>.Unknown)).Inside(Power.Edit).Or(default)
        );
        Assert.Equal(
            Span.Exactly((int)InsideLevel.Named),
            Line(Joined(JoinWay.Asked, Known.Of(Power.Edit))).Inside(Power.View).Or(default)
        );

        // A host's limit to named people refuses people who join, as it refuses every wide grant.
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Inside(InsideLimit.Named));
        Assert.Equal(
            Span.Exactly((int)InsideLevel.Named),
            Line(Joined(JoinWay.Open, Known.Of(Power.Edit))).Inside(Power.Edit).Or(default)
        );
    }

    [Fact]
    public void Where_nobody_read_the_grants_the_site_s_own_limit_is_not_known_either() =>
        Assert.Equal(
            new Span(0, (int)OutsideLevel.Anonymous),
            harbour.AccessPath(Site() with { Sharing = Known<Sharing>.Unknown }).PermittedOutside
        );

    [Fact]
    public void A_group_read_in_part_may_be_all_of_the_staff_and_under_named_lets_in_never_all()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Part", [Member.Of(Vane)], Complete: false));
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Inside(InsideLimit.Named));
        var line = Line(Site(ToGroup(Power.View, new GroupId(1))));

        Assert.Equal(new Span((int)InsideLevel.Nobody, (int)InsideLevel.Unit), line.Inside(Power.View).Or(default));
    }

    [Fact]
    public void A_status_that_is_not_known_is_not_told_as_published()
    {
        var line = Line(Site(ToStaff(Power.View), ToPerson(Power.View, Lund)) with { Status = Known<Status>.Unknown });

        Assert.True(line.Inside(Power.View).IsUnknown);
        Assert.Equal(Truth.Unknown, line.ExcessOf(Power.View));
    }

    [Fact]
    public void A_unit_that_is_not_known_is_a_layer_of_the_host_where_hosts_enforce_units()
    {
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Host, Outside(OutsideLevel.NoOne));
        var line = Line(Site(ToAnonymous(Power.View)) with { Unit = Known<UnitCode>.Unknown });

        Assert.Equal(new Span(0, (int)OutsideLevel.Anonymous), line.Outside(Power.View).Or(default));
        Assert.Equal(Enforcer.Host, line.AccessPath(Power.View).Steps.Single().Layer.Enforcer);
        Assert.Equal(Truth.No, line.ExcessOf(Power.View));
    }

    [Fact]
    public void The_word_unit_is_told_for_a_site_of_unknown_unit_only_where_it_would_be_so_of_every_unit()
    {
        var site = Site(new Grant("unit:YRD", Power.View, new Subject.WholeUnit(Yard)));

        Assert.Equal(
            Span.Exactly((int)InsideLevel.Unit),
            Line(site with { Unit = Known.Of(Yard) }).Inside(Power.View).Or(default)
        );
        Assert.Equal(
            new Span((int)InsideLevel.Named, (int)InsideLevel.Unit),
            Line(site with { Unit = Known<UnitCode>.Unknown }).Inside(Power.View).Or(default)
        );
    }

    [Fact]
    public void Somebody_whose_unit_is_not_known_may_be_in_any()
    {
        harbour.People[0] = harbour.People[0] with { Unit = Known<UnitCode>.Unknown };
        var line = Line(Site(new Grant("unit:YRD", Power.Edit, new Subject.WholeUnit(Yard))) with { Unit = Known.Of(Yard) });

        Assert.Equal(new Span(2, 3), line.EditorCount);
        Assert.Equal(Span.Exactly((int)InsideLevel.Unit), line.Inside(Power.Edit).Or(default));
    }

    [Fact]
    public void What_one_layer_settles_is_told_whatever_else_is_not_known()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Policy, Outside(OutsideLevel.NoOne));
        harbour.Limits.Add(new LimitSetting(LayerKind.Host, "Slipway", Enforcer.Host, Known<PowerLimits>.Unknown));
        var accessPath = harbour.AccessPath(Site(ToAnonymous(Power.View)) with { Classification = Known<string>.Unknown });

        Assert.Equal(Span.Exactly((int)OutsideLevel.NoOne), accessPath.PermittedOutside);
        Assert.Equal(Truth.Unknown, accessPath.Excess.IsSo);
    }

    [Fact]
    public void Service_accounts_are_not_counted_and_an_operator_is_no_member_of_staff()
    {
        harbour.People.Add(
            new Person(
                new PersonId(10),
                PersonKind.Operator,
                "First administrator",
                "admin@localhost",
                Standing.Current,
                null,
                Known<UnitCode>.None
            )
        );
        var line = Line(Site(ToPerson(Power.Edit, Vane), ToPerson(Power.Edit, Robot)));

        Assert.Equal(Span.Exactly(1), line.EditorCount);
        Assert.DoesNotContain(harbour.PeopleDirectory.PlaceOf(new PersonId(10))!.Value, harbour.PeopleDirectory.Staff.Places());
        Assert.True(harbour.PeopleDirectory.MaySignIn(new PersonId(10)));
        Assert.False(harbour.PeopleDirectory.MaySignIn(Lund));
        Assert.Equal(0, Line(Site(ToPerson(Power.Own, new PersonId(10)))).Owners.ActiveAtLeast);
    }

    [Fact]
    public void A_free_part_of_a_site_that_was_never_published_is_held_against_who_can_preview()
    {
        var site = Site(ToStaff(Power.View), ToPerson(Power.Preview, Vane)) with { Status = Known.Of(Status.NeverPublished) };

        Assert.Equal(Truth.Yes, Line(WithPart(site, ToPerson(Power.View, Quist))).Sections[0].IsAjar);
        Assert.Equal(Truth.No, Line(WithPart(site, ToPerson(Power.View, Vane))).Sections[0].IsAjar);
        Assert.Equal(
            Truth.No,
            Line(WithPart(site with { Status = Known.Of(Status.Published) }, ToPerson(Power.View, Quist))).Sections[0].IsAjar
        );
    }

    [Fact]
    public void A_limit_by_place_is_over_the_sites_at_its_address_and_below()
    {
        harbour.Limit(LayerKind.Place, "slipway.example/pilot-boarding", Enforcer.Policy, Outside(OutsideLevel.NoOne));
        Truth ExceedsAt(Known<string> address) =>
            harbour.AccessPath(Site(ToAnonymous(Power.View)) with { Address = address }).Excess.IsSo;

        Assert.Equal(Truth.Yes, ExceedsAt(Known.Of("slipway.example/pilot-boarding")));
        Assert.Equal(Truth.Yes, ExceedsAt(Known.Of("slipway.example/pilot-boarding/notes")));
        Assert.Equal(Truth.No, ExceedsAt(Known.Of("slipway.example/pilot-boarding-2")));
        Assert.Equal(Truth.No, ExceedsAt(Known<string>.None));
        Assert.Equal(Truth.Unknown, ExceedsAt(Known<string>.Unknown));
    }

    private static SiteFacts WithPart(SiteFacts site, params IReadOnlyList<Grant> grants) =>
        site with
        {
            Sections = Known<IReadOnlyList<SiteSection>>.Of([new SiteSection("s", "Part", SectionTie.StandingFree, [.. grants])]),
        };

    private ComputedSite Line(SiteFacts site) => new(site, harbour.Organisation, harbour.PeopleDirectory);
}
