using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Doors.AnyAccess;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>Why somebody gets in or not, and the smallest set of changes that lets them in.</summary>
public class WhyFacts
{
    private static readonly PeopleDirectory WithCircle = WithGroups().PeopleDirectory;

    private static readonly Gen<LimitSetting> AnySetting = Gen.Select(
        Among(
            (LayerKind.Organisation, ""),
            (LayerKind.Host, "Slipway"),
            (LayerKind.Place, "slipway.example"),
            (LayerKind.Unit, "MAR"),
            (LayerKind.Unit, "PIL"),
            (LayerKind.Classification, "Internal"),
            (LayerKind.Kind, "noticeboard"),
            (LayerKind.OwnersClassification, "Trainee"),
            (LayerKind.OwnersClassification, "")
        ),
        Gen.Enum<Enforcer>(),
        AnyLimits,
        Gen.Int[0, 7],
        (at, enforcer, limits, chance) =>
            new LimitSetting(at.Item1, at.Item2, enforcer, chance == 0 ? Known<PowerLimits>.Unknown : Known.Of(limits))
    );

    private static readonly Gen<Visitor> AnyVisitor = Gen.Select(Gen.Int[0, 6], Gen.Long[1, 9], (which, person) => which switch
        {
            0 => (Visitor)new Visitor.NotSignedIn(),
            1 => new Visitor.Partner(),
            2 => new Visitor.NewGuest(),
            _ => new Visitor.OnePerson(new PersonId(person)),
        });

    private static readonly Gen<AccessFacts> AnyFacts =
        from grants in AnyGrant.Array[0, 4]
        from settings in AnySetting.Array[0, 5]
        from own in AnyLimits
        from chance in Gen.Int[0, 9].Array[6]
        from status in Gen.Enum<Status>()
        from existence in Gen.Enum<Existence>()
        select new AccessFacts(
            Site([.. grants.DistinctBy(grant => grant.Key)]) with
            {
                Sharing =
                    chance[0] == 0
                        ? Known<Sharing>.Unknown
                        : Known.Of(
                            new Sharing(
                                [.. grants.DistinctBy(grant => grant.Key)],
                                chance[1] < 4 ? own : null,
                                Now,
                                SharingSource.Read
                            )
                        ),
                Unit =
                    chance[2] == 0 ? Known<UnitCode>.Unknown
                    : chance[2] == 1 ? Known<UnitCode>.None
                    : Known.Of(Pilotage),
                Classification = chance[3] < 2 ? Known<string>.Unknown : Known.Of("Internal"),
                Status =
                    chance[4] == 0 ? Known<Status>.Unknown
                    : chance[4] < 4 ? Known.Of(status)
                    : Known.Of(Status.Published),
                Existence = chance[5] < 2 ? existence : Existence.InUse,
            },
            new Organisation
            {
                Limits = [.. settings.DistinctBy(setting => (setting.Kind, setting.Code, setting.Enforcer))],
                Hosts = new Dictionary<string, HostCapabilities>
                {
                    ["Slipway"] = new()
                    {
                        NamesPeople = chance[1] != 9,
                        Powers = chance[0] == 9 ? [Power.View, Power.Edit, Power.Own] : [.. Enum.GetValues<Power>()],
                    },
                },
            },
            WithCircle
        );

    private readonly Harbour harbour = new();

    [Fact]
    public void Exactly_the_named_set_of_changes_lets_them_in_and_no_proper_subset_does() =>
        Gen.Select(AnyFacts, AnyVisitor, Gen.Enum<Power>())
            .Sample(
                (facts, visitor, power) =>
                {
                    var answer = Why.Of(facts, visitor, power);
                    foreach (var set in answer.Smallest is { } smallest ? [smallest, .. answer.Others] : answer.Others)
                    {
                        if (
                            After(facts, set.Changes, visitor, power) != set.Becomes
                            || Subsets(set.Changes).Any(some => After(facts, some, visitor, power) >= set.Becomes)
                        )
                        {
                            return false;
                        }
                    }

                    return answer.GetsIn == Truth.No || answer.Smallest is null;
                },
                iter: 10_000
            );

    [Fact]
    public void It_answers_as_the_reach_of_the_site_does() =>
        Gen.Select(AnyFacts, Gen.Long[1, 9], Gen.Enum<Power>())
            .Sample(
                (facts, person, power) =>
                {
                    if (
                        facts.Site.Existence != Existence.InUse
                        || (power == Power.View && facts.Site.Status != Known.Of(Status.Published))
                    )
                    {
                        return true;
                    }

                    var bounds = AccessPaths.Of(facts.Site, facts.Organisation, facts.Directory).Of(facts.Site, power).Effective;
                    var place = facts.Directory.PlaceOf(new PersonId(person))!.Value;
                    bool Has(AccessSet access) =>
                        access.WithAnonymous(facts.Directory) is var all
                        && (all.Inside.Contains(place) || all.Guests.Contains(place));
                    var answer = Why.Of(facts, new Visitor.OnePerson(new PersonId(person)), power).GetsIn;
                    return answer switch
                    {
                        Truth.Yes => Has(bounds.AtLeast),
                        Truth.No => !Has(bounds.AtMost),
                        _ => !Has(bounds.AtLeast),
                    };
                },
                iter: 5_000
            );

    [Fact]
    public void A_set_is_found_wherever_everything_is_known_and_the_host_can_grant_it() =>
        Gen.Select(AnyFacts, Gen.Long[1, 9], Gen.Enum<Power>())
            .Sample(
                (facts, person, power) =>
                {
                    var isKnown =
                        facts.Site.Existence != Existence.Erased
                        && facts.Site.Sharing.Has(out var sharing)
                        && !facts.Site.Unit.IsUnknown
                        && !facts.Site.Classification.IsUnknown
                        && !facts.Site.Status.IsUnknown
                        && facts.Organisation.Limits.All(limit => !limit.Limits.IsUnknown)
                        && sharing.Grants.All(grant => grant.Subject is not Subject.OneGroup(var group) || group.Value != 3)
                        && facts.Organisation.CapabilitiesOf("Slipway").NamesPeople;
                    var answer = Why.Of(facts, new Visitor.OnePerson(new PersonId(person)), power);
                    return !isKnown
                        || new PersonId(person) == Lund
                        || answer.GetsIn == Truth.Yes
                        || (
                            answer.GetsIn == Truth.Unknown
                            && new PersonId(person) is var guest
                            && (guest == Agent || guest == Diver)
                        )
                        || answer.Smallest is { Becomes: Truth.Yes };
                },
                iter: 5_000
            );

    [Fact]
    public void Of_four_layers_exactly_the_one_that_stops_a_new_guest_is_named_with_its_least_step()
    {
        harbour
            .Limit(LayerKind.Organisation, "", Enforcer.Host, Outside(OutsideLevel.Partners))
            .Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.NoOne))
            .Limit(LayerKind.Unit, "MAR", Enforcer.Policy, Outside(OutsideLevel.NamedGuests))
            .Limit(LayerKind.Kind, "noticeboard", Enforcer.Policy, Outside(OutsideLevel.Anonymous));

        var answer = Of(Site(ToStaff(Power.View)), new Visitor.NewGuest());

        Assert.Equal(Truth.No, answer.GetsIn);
        Assert.Empty(answer.Ways);
        Assert.Equal(
            [LayerKind.Host],
            answer.NewGrant!.Gates.Where(gate => gate is { Lets: Truth.No }).Select(gate => gate.Layer!.Kind)
        );
        var step = Assert.IsType<AccessChange.Loosen>(answer.Smallest!.Changes[1]);
        Assert.Equal(new AccessChange.InviteGuest(Power.View), answer.Smallest.Changes[0]);
        Assert.Equal(OutsideLevel.NamedGuests, step.To.View.Widest);
        Assert.Equal(OutsideLevel.NoOne, step.To.Edit.Widest);
        Assert.Empty(answer.Smallest.AgainstPolicy);
    }

    [Fact]
    public void Who_may_invite_stops_a_new_guest_and_nobody_who_is_on_the_list()
    {
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.Partners, guestInviter: GuestInviter.NoOne));

        var stopped = Of(Site(), new Visitor.NewGuest());
        Assert.Contains(stopped.NewGrant!.Gates, gate => gate is { Kind: GateKind.GuestList, Lets: Truth.No });
        Assert.Equal(GuestInviter.Steward, stopped.Smallest!.Changes.OfType<AccessChange.Loosen>().Single().To.View.GuestInviter);
        Assert.Equal(
            [typeof(AccessChange.GrantPower)],
            Of(Site(), new Visitor.OnePerson(Agent)).Smallest!.Changes.Select(change => change.GetType())
        );
    }

    [Fact]
    public void The_shortest_chain_of_groups_is_named_first()
    {
        harbour.Groups.Add(new Group(new GroupId(1), "Crew", [Member.Of(new GroupId(2)), Member.Of(Aske)]));
        harbour.Groups.Add(new Group(new GroupId(2), "Watch", [Member.Of(Vane)]));
        harbour.Groups.Add(new Group(new GroupId(3), "Boats", [Member.Of(Vane)]));

        var answer = Of(
            Site(ToGroup(Power.Edit, new GroupId(1)), ToGroup(Power.View, new GroupId(3))),
            new Visitor.OnePerson(Vane)
        );

        Assert.Equal(Truth.Yes, answer.GetsIn);
        Assert.Equal(
            [
                ["Boats"],
                ["Crew", "Watch"],
            ],
            answer.Ways.Select(way => way.Chain.Select(group => group.Name).ToArray())
        );
        Assert.Null(answer.Smallest);
    }

    [Fact]
    public void A_policy_only_layer_stops_nobody_and_is_named_where_the_access_would_exceed_it()
    {
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Inside(InsideLimit.Unit));

        var answer = Of(Site(), new Visitor.OnePerson(Aske), Power.Edit);

        Assert.Equal([LayerKind.Unit], answer.Smallest!.AgainstPolicy.Select(layer => layer.Kind));
        Assert.Empty(Of(Site(), new Visitor.OnePerson(Vane), Power.Edit).Smallest!.AgainstPolicy);
    }

    [Fact]
    public void An_unknown_layer_cannot_tell_and_offers_nothing()
    {
        harbour.Limits.Add(new LimitSetting(LayerKind.Host, "Slipway", Enforcer.Host, Known<PowerLimits>.Unknown));

        var answer = Of(Site(ToPerson(Power.View, Vane)), new Visitor.OnePerson(Vane));

        Assert.Equal(Truth.Unknown, answer.GetsIn);
        Assert.Equal([Truth.Unknown], answer.Ways.Single().Gates.Where(gate => gate.Layer is not null).Select(gate => gate.Lets));
        Assert.Null(answer.Smallest);
    }

    [Fact]
    public void A_site_in_the_attic_is_restored_one_offline_published_and_an_erased_one_lets_nobody_in_again()
    {
        var site = Site(ToStaff(Power.View)) with { Existence = Existence.Attic, Status = Known.Of(Status.Offline) };
        var vane = new Visitor.OnePerson(Vane);

        Assert.Equal(
            [typeof(AccessChange.Restore), typeof(AccessChange.Publish)],
            Of(site, vane).Smallest!.Changes.Select(change => change.GetType())
        );
        Assert.Null(Of(site with { Existence = Existence.Erased }, vane).Smallest);
    }

    [Fact]
    public void Nobody_who_has_left_is_granted_anything() => Assert.Null(Of(Site(), new Visitor.OnePerson(Lund)).Smallest);

    [Fact]
    public void At_a_host_that_names_no_people_somebody_joins_the_group_with_the_least_power()
    {
        harbour.Hosts["Slipway"] = new HostCapabilities { NamesPeople = false };
        harbour.Groups.Add(new Group(new GroupId(1), "Editors", [Member.Of(Aske)]));
        harbour.Groups.Add(new Group(new GroupId(2), "Readers", [Member.Of(Aske)]));

        var answer = Of(
            Site(ToGroup(Power.Edit, new GroupId(1)), ToGroup(Power.View, new GroupId(2))),
            new Visitor.OnePerson(Vane)
        );

        Assert.Equal([new AccessChange.JoinGroup(Vane, new GroupId(2), Power.View)], answer.Smallest!.Changes);
        Assert.Equal(new GroupId(1), Assert.IsType<AccessChange.JoinGroup>(answer.Others[0].Changes[0]).Group);
    }

    private static Truth After(AccessFacts facts, IEnumerable<AccessChange> changes, Visitor visitor, Power power) =>
        Why.Verdicts(changes.Aggregate(facts, (all, change) => change.ApplyTo(all)), visitor, power).GetsIn;

    private static IEnumerable<IEnumerable<AccessChange>> Subsets(IReadOnlyList<AccessChange> changes) =>
        Enumerable.Range(0, (1 << changes.Count) - 1).Select(which => changes.Where((_, at) => (which >> at & 1) != 0));

    private WhyAnswer Of(SiteFacts site, Visitor visitor, Power power = Power.View) =>
        Why.Of(new AccessFacts(site, harbour.Organisation, harbour.PeopleDirectory), visitor, power);
}
