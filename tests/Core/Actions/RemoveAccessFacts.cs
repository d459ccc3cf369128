using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class RemoveAccessFacts
{
    private static readonly GroupId Crew = new(21);
    private readonly Harbour harbour = new();
    private readonly Actor administrator = new(Aske);

    public RemoveAccessFacts() => harbour.Groups.Add(new Group(Crew, "Boarding crew", [Member.Of(Quist), Member.Of(Lund)]));

    [Fact]
    public void Everything_that_a_leaver_has_by_name_goes_and_the_finding_ends()
    {
        var site = Site(
            ToPerson(Power.Own, Vane),
            ToPerson(Power.Edit, Lund),
            ToPerson(Power.View, Lund) with
            {
                Key = "link:9",
                IsLink = true,
            }
        );
        var plan = Plan(site, Lund);

        Assert.Equal([new GrantChange("person:4", null), new GrantChange("link:9", null)], plan.Effect.Grants);
        Assert.Equal([new RuleId("R-07")], plan.Effect.Cleared);
        Assert.Empty(plan.Notifications);
        Assert.Null(plan.NeedsSecond);
    }

    [Fact]
    public void What_a_person_keeps_through_a_group_is_said_with_the_host_that_can_change_it()
    {
        var site = Site(ToPerson(Power.Own, Vane), ToPerson(Power.Edit, Lund), ToGroup(Power.View, Crew));

        Assert.Equal([new AccessThrough("Petra Lund", Power.View, "Boarding crew", "Slipway")], Plan(site, Lund).Unaffected);
        Assert.Equal(
            [new AccessNotByName("Petra Lund"), new AccessThrough("Petra Lund", Power.View, "Boarding crew", "Slipway")],
            Refused(Site(ToPerson(Power.Own, Vane), ToGroup(Power.View, Crew)), Lund)
        );
    }

    [Fact]
    public void The_last_active_owner_stays_and_so_does_one_who_is_not_active_where_none_is() =>
        Assert.All(new[] { Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Lund)), Site(ToPerson(Power.Own, Vane)) }, site =>
            Assert.Equal([new AccessOfLastOwner("Idris Vane")], Refused(site, Vane))
        );

    [Fact]
    public void An_owner_who_has_left_goes_where_another_is_active()
    {
        var plan = Plan(Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Lund)), Lund);

        Assert.Equal([new GrantChange("person:4", null)], plan.Effect.Grants);
        Assert.Null(plan.NeedsSecond);
    }

    [Fact]
    public void An_active_owner_goes_with_a_second_person_and_hears_of_it()
    {
        var site = Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist));
        var plan = Plan(site, Quist);

        Assert.Equal(new RemovingOwnerNeedsSecond("Renata Quist"), plan.NeedsSecond);
        Assert.Equal(
            (Quist, "You no longer own Pilot boarding notes"),
            (plan.Notifications.Single().To, plan.Notifications.Single().Title)
        );
        Assert.Equal(
            [new AccessOfOtherOwner("Renata Quist")],
            Assert.IsType<Decision.Refusal>(Decide(site, new(Quist, null, null), new Actor(Vane, Capacity.Owner))).Reasons
        );
        Assert.Null(
            Assert.IsType<Decision.Plan>(Decide(site, new(Quist, null, null), new Actor(Quist, Capacity.Owner))).NeedsSecond
        );
    }

    [Fact]
    public void A_group_goes_as_a_whole()
    {
        var plan = Assert.IsType<Decision.Plan>(
            Decide(Site(ToPerson(Power.Own, Vane), ToGroup(Power.Edit, Crew)), new(null, Crew, "moved"), administrator)
        );

        Assert.Equal([new GrantChange("group:21", null)], plan.Effect.Grants);
        Assert.Equal([Quist, Lund], plan.Effect.Powers.Single(change => change.Power == Power.Edit).Lose);
    }

    [Fact]
    public void Nobody_is_removed_from_a_site_in_the_attic_or_without_reported_access()
    {
        Assert.Equal(
            [new SiteIsInAttic()],
            Refused(Site(ToPerson(Power.Own, Vane), ToPerson(Power.Edit, Quist)) with { Existence = Existence.Attic }, Quist)
        );
        Assert.Equal(
            [new AccessNotReported("Slipway", AccessStep.Remove)],
            Refused(Site() with { Sharing = Known<Sharing>.Unknown }, Quist)
        );
        Assert.Equal([new AccessOfNobody()], Refused(Site(ToPerson(Power.Own, Vane)), new PersonId(999)));
    }

    private Decision.Plan Plan(SiteFacts site, PersonId person) =>
        Assert.IsType<Decision.Plan>(Decide(site, new(person, null, null), administrator));

    private IReadOnlyList<Remark> Refused(SiteFacts site, PersonId person) =>
        Assert.IsType<Decision.Refusal>(Decide(site, new(person, null, null), administrator)).Reasons;

    private Decision Decide(SiteFacts site, RemoveAccessRequest request, Actor actor) =>
        RemoveAccess.Decide(
            new ActionFacts(
                site,
                [],
                harbour.Organisation,
                new RuleBook([RestrictFacts.Allowed], OnTheDay),
                harbour.PeopleDirectory
            ),
            request,
            new ChangeId(Guid.Parse("00000000-0000-0000-0000-000000000001")),
            actor
        );
}
