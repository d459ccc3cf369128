using AtticLedger.Core.Actions;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Doors.AnyAccess;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>A limit is tried out before it is set.</summary>
public class LimitFacts
{
    private static readonly PowerLimits NoOne = Outside(OutsideLevel.NoOne);
    private readonly Harbour harbour = new();

    [Fact]
    public void What_waits_for_a_limit_of_the_host_wakes_when_it_is_raised()
    {
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, NoOne);
        var tried = TryOut(
            Of(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.NamedGuests)),
            Site(ToPerson(Power.View, Agent), ToAnonymous(Power.View)),
            Site(ToPerson(Power.View, Vane)) with
            {
                Id = new SiteId(2),
            }
        );

        var (site, powers) = (tried.Changed.Single().Site, tried.Changed.Single().Powers);
        Assert.Equal((2, new SiteId(1)), (tried.Compared, site.Id));
        Assert.Equal([Agent], powers.Single().Gain);
        Assert.Equal([OutsideLevel.NamedGuests], powers.Single().Opened.Select(door => door.Who));
        Assert.Equal(1, tried.Gaining.Count);
        Assert.True(tried.Losing.IsEmpty);
    }

    [Fact]
    public void A_limit_that_is_policy_only_shuts_nobody_out_and_finds_what_exceeds_it()
    {
        var tried = TryOut(
            Of(LayerKind.Unit, "PIL", Enforcer.Policy, NoOne),
            [RestrictFacts.Allowed],
            Site(ToPerson(Power.View, Agent))
        );

        var site = tried.Changed.Single();
        Assert.Empty(site.Powers);
        Assert.Equal((Truth.No, Truth.Yes), (site.Exceeded, site.Exceeds));
        Assert.Equal([RestrictFacts.Allowed.Id], site.Opened);
    }

    [Fact]
    public void What_changes_nothing_changes_no_site() =>
        Assert.Empty(TryOut(Of(LayerKind.Unit, "YRD", Enforcer.Policy, NoOne), Site(ToAnonymous(Power.View))).Changed);

    [Fact]
    public void Whoever_gains_or_loses_by_any_limit_is_the_difference_of_who_gets_in() =>
        Gen.Select(AnyGrant.Array[0, 4], AnyLimits, AnyLimits)
            .Sample(
                (grants, before, after) =>
                {
                    var (world, site) = (WithGroups(), Site([.. grants.DistinctBy(grant => grant.Key)]));
                    world.Limit(LayerKind.Organisation, "", Enforcer.Host, before);
                    var then = new Organisation { Limits = [new(LayerKind.Organisation, "", Enforcer.Host, Known.Of(after))] };
                    var directory = world.PeopleDirectory;
                    var tryOut = new LimitTryOut(directory);
                    var (now, later) = (
                        new ComputedSite(site, world.Organisation, directory),
                        new ComputedSite(site, then, directory)
                    );
                    tryOut.Add(new JudgedSite(now, []), new JudgedSite(later, []));
                    var changes = tryOut.Changed.SelectMany(one => one.Powers).ToDictionary(change => change.Power);
                    return Powers.Limited.All(power =>
                    {
                        var (was, becomes) = (now.AccessPath(power).Effective.AtLeast, later.AccessPath(power).Effective.AtLeast);
                        var change = changes.GetValueOrDefault(power);
                        return directory.People.All(person =>
                        {
                            var place = directory.PlaceOf(person.Id)!.Value;
                            var (wasIn, isIn) = (
                                was.Inside.Contains(place) || was.Guests.Contains(place),
                                becomes.Inside.Contains(place) || becomes.Guests.Contains(place)
                            );
                            return (change?.Gain.Contains(person.Id) == true) == (isIn && !wasIn)
                                && (change?.Lose.Contains(person.Id) == true) == (wasIn && !isIn);
                        });
                    });
                },
                iter: 3_000
            );

    [Fact]
    public void Only_what_exists_gets_a_limit_and_every_reason_is_given()
    {
        Assert.Equal([new LimitTargetMissing(LayerKind.Unit, "XXX")], Refused(Of(LayerKind.Unit, "XXX", Enforcer.Policy, NoOne)));
        Assert.Equal([new LimitOfSite()], Refused(Of(LayerKind.Site, "", Enforcer.Policy, NoOne)));
        Assert.Equal([new LimitIsSo()], Refused(Of(LayerKind.Unit, "PIL", Enforcer.Policy, null)));
        Assert.Equal(
            [new LimitTargetMissing(LayerKind.Place, "two words")],
            Refused(Of(LayerKind.Place, "two words", Enforcer.Policy, NoOne))
        );
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Policy, NoOne);
        Assert.Equal([new LimitIsSo()], Refused(Of(LayerKind.Unit, "PIL", Enforcer.Policy, NoOne)));
        Assert.Empty(Refused(Of(LayerKind.Unit, "PIL", Enforcer.Policy, null)));
        Assert.Empty(Refused(Of(LayerKind.OwnersClassification, "Trainee", Enforcer.Policy, NoOne)));
    }

    private static LimitRequest Of(LayerKind kind, string code, Enforcer enforcer, PowerLimits? limits) =>
        new(kind, code, enforcer, limits, null);

    private IReadOnlyList<Remark> Refused(LimitRequest request) =>
        LimitActions.Plan(request, harbour.Organisation, harbour.PeopleDirectory).Refused;

    private LimitTryOut TryOut(LimitRequest request, params SiteFacts[] sites) => TryOut(request, [], sites);

    private LimitTryOut TryOut(LimitRequest request, Rule[] rules, params SiteFacts[] sites)
    {
        var (organisation, directory) = (harbour.Organisation, harbour.PeopleDirectory);
        var plan = LimitActions.Plan(request, organisation, directory);
        Assert.Empty(plan.Refused);
        var tryOut = new LimitTryOut(directory);
        var book = new RuleBook(rules, OnTheDay);
        foreach (var site in sites)
        {
            tryOut.Add(Judged(organisation), Judged(organisation with { Limits = plan.Limits }));

            JudgedSite Judged(Organisation of) => book.Judge([new ComputedSite(site, of, directory)])[0];
        }

        return tryOut;
    }
}
