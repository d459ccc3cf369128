using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class RemedyFacts
{
    private static readonly GroupId Crew = new(21);
    private static readonly Rule TwoOwners = new(
        new("R-03"),
        "Two active owners",
        "too few owners",
        Level.Warning,
        "",
        new Demand.ActiveOwners(2),
        default
    );
    private readonly Harbour harbour = new Harbour().Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne));

    [Fact]
    public void Restricting_clears_what_a_wide_grant_opens()
    {
        var outcome = Of(RestrictFacts.Allowed, ToAnonymous(Power.View), ToPerson(Power.Own, Vane));

        Assert.Equal([Remedy.Restrict], outcome.Remedies);
        Assert.True(outcome.Clears);
        Assert.Empty(outcome.Left);
    }

    [Fact]
    public void A_leaver_by_name_is_removed_and_one_in_a_group_is_said_with_the_group()
    {
        harbour.Groups.Add(new Group(Crew, "Boarding crew", [Member.Of(Quist), Member.Of(Lund)]));

        var named = Of(RestrictFacts.Allowed, ToPerson(Power.Edit, Lund), ToPerson(Power.Own, Vane));
        Assert.Equal([Remedy.RemoveAccess], named.Remedies);
        Assert.True(named.Clears);

        var grouped = Of(RestrictFacts.Allowed, ToGroup(Power.Edit, Crew), ToPerson(Power.Own, Vane));
        Assert.False(grouped.Clears);
        var through = Assert.IsType<LeaversThrough>(Assert.Single(grouped.Left));
        Assert.Equal(("Boarding crew", "Slipway"), (through.Through, through.Host));
        Assert.Equal(["Petra Lund"], through.People);
    }

    [Fact]
    public void Where_a_leaver_and_a_door_exceed_both_remedies_are_needed_and_together_clear_it()
    {
        var outcome = Of(RestrictFacts.Allowed, ToPerson(Power.Edit, Lund), ToAnonymous(Power.View), ToPerson(Power.Own, Vane));

        Assert.Equal([Remedy.RemoveAccess, Remedy.Restrict], outcome.Remedies);
        Assert.True(outcome.Clears);
    }

    [Fact]
    public void A_guest_who_owns_it_stays_until_it_is_handed_over()
    {
        var outcome = Of(RestrictFacts.Allowed, ToPerson(Power.Own, Agent), ToPerson(Power.Own, Vane));

        Assert.False(outcome.Clears);
        Assert.Contains(new OwnerNotRestricted("Bo Reyes"), outcome.Left);
    }

    [Fact]
    public void One_more_owner_clears_it_or_the_number_is_said()
    {
        Assert.Equal((true, 0), Cleared(ToPerson(Power.Own, Vane)));
        var two = Of(TwoOwners, ToPerson(Power.Own, Lund));
        Assert.Equal([new OwnersWanted(2)], two.Left);

        (bool, int) Cleared(params IReadOnlyList<Grant> grants) =>
            Of(TwoOwners, [.. grants]) is var outcome ? (outcome.Clears, outcome.Left.Count) : default;
    }

    [Theory]
    [InlineData("pages le 3", null)]
    [InlineData("units eq \"YRD\"", Remedy.SetFact)]
    [InlineData("units eq \"XYZ\"", null)]
    [InlineData("created ge \"-P1D\"", Remedy.MoveToAttic)]
    [InlineData("plan.renews eq true", null)]
    [InlineData("owners.unit eq \"YRD\"", null)]
    [InlineData("purpose", null)]
    public void A_rule_that_its_users_wrote_is_cleared_by_what_its_demand_reads_or_at_the_host(string demand, Remedy? remedy)
    {
        var rule = TwoOwners with { Demand = new Demand.General(demand) };
        var outcome = Of(rule, ToPerson(Power.Own, Vane));

        Assert.Equal(remedy is { } its ? [its] : [], outcome.Remedies);
        Assert.Equal(remedy is not null, outcome.Clears);
        Assert.Equal(
            remedy is not null ? []
                : demand == "purpose" ? [new NoRemedyKnown()]
                : demand.StartsWith("owners", StringComparison.Ordinal) ? [new OwnersMeetDemand()]
                : [new ChangedAtHost("Slipway")],
            outcome.Left
        );
    }

    [Theory]
    [InlineData("not (name.words eq \"copy\")", "Tides")]
    [InlineData("name sw \"PIL\"", "PIL Tides (copy)")]
    [InlineData("not (name.drift eq \"shown\")", "Tides of the harbour")]
    [InlineData("name eq \"Ebb\"", null)]
    public void A_name_that_breaks_a_rule_is_changed_to_one_that_meets_it(string demand, string? name)
    {
        var rule = TwoOwners with { Demand = new Demand.General(demand) };
        var site = Site(ToPerson(Power.Own, Vane)) with
        {
            Name = Known.Of("Tides (copy)"),
            ShownName = Known.Of("Tides of the harbour"),
            HomeTitle = Known<string>.None,
            Address = Known<string>.None,
        };
        var fixedName = Remedies.Try(Around(site, rule), rule);
        Assert.Equal((false, new ChangedAtHost("Slipway")), (fixedName.Clears, fixedName.Left.Single()));

        harbour.Hosts["Slipway"] = new HostCapabilities { Changes = [LookField.Name] };
        var outcome = Remedies.Try(Around(site, rule), rule);
        Assert.Equal([Remedy.Rename], outcome.Remedies);
        Assert.Equal(name is not null, outcome.Clears);
        Assert.Equal(name is null ? [new NameMeetsDemand()] : [], outcome.Left);

        var choices = RemedyChoices.Of(Around(site, rule), rule.Id.Value, new Dictionary<PersonId, int>(), new Actor(Aske));
        Assert.Equal(name, RemedyChoices.Proposed(choices)?.Request.Name);
        Assert.All(choices.Where(choice => choice.Request.Action == ActionName.SiteLook), choice =>
            Assert.True(choice.Ends && Assert.IsType<Decision.Plan>(choice.Decision).Effect.Cleared.Contains(rule.Id))
        );
    }

    [Theory]
    [InlineData("description pr", LookField.Description)]
    [InlineData("logo eq \"kept-with-site\"", LookField.Logo)]
    public void A_missing_description_or_a_logo_elsewhere_is_changed_from_here_where_the_host_lets_it(
        string demand,
        LookField field
    )
    {
        var rule = TwoOwners with { Demand = new Demand.General(demand) };
        var site = Site(ToPerson(Power.Own, Vane)) with { Description = Known<string>.None, Logo = Known.Of(LogoSource.Linked) };
        Assert.Equal([new ChangedAtHost("Slipway")], Remedies.Try(Around(site, rule), rule).Left);

        if (field == LookField.Logo)
        {
            harbour.Hosts["Slipway"] = new HostCapabilities { Changes = [field], Logos = [LogoSource.Linked] };
            Assert.Empty(Remedies.Try(Around(site, rule), rule).Remedies);
        }

        harbour.Hosts["Slipway"] = new HostCapabilities { Changes = [field], Logos = [LogoSource.KeptWithSite] };
        var outcome = Remedies.Try(Around(site, rule), rule);
        Assert.Equal([Remedy.Present], outcome.Remedies);
        Assert.True(outcome.Clears);
    }

    [Fact]
    public void Near_names_concern_two_sites_so_no_name_is_proposed_or_promised_to_end_the_finding()
    {
        var rule = TwoOwners with { Demand = new Demand.General("name.near eq 0") };
        harbour.Hosts["Slipway"] = new HostCapabilities { Changes = [LookField.Name] };
        var site = Site(ToPerson(Power.Own, Vane)) with { Name = Known.Of("Tides (copy)"), NearNames = Known.Of(1) };

        var outcome = Remedies.Try(Around(site, rule), rule);
        Assert.Equal([Remedy.TellApart], outcome.Remedies);
        Assert.Equal((false, new NearNamesDecide()), (outcome.Clears, outcome.Left.Single()));
        var renamed = ChangeLook.Decide(
            Around(site, rule),
            new LookRequest(new WantedLook("Ebb"), null),
            new ChangeId(Guid.NewGuid()),
            new Actor(Aske)
        );
        var effect = Assert.IsType<Decision.Plan>(renamed).Effect;
        Assert.Empty(effect.Cleared.Concat(effect.Opened));
        Assert.Null(
            RemedyChoices.Proposed(
                RemedyChoices.Of(Around(site, rule), rule.Id.Value, new Dictionary<PersonId, int>(), new Actor(Aske))
            )
        );
    }

    private ActionFacts Around(SiteFacts site, Rule rule) =>
        new(site, [], harbour.Organisation, new RuleBook([rule], OnTheDay), harbour.PeopleDirectory)
        {
            Around = new Surroundings { OnHost = new Neighbours([]) },
        };

    private RemedyOutcome Of(Rule rule, params IReadOnlyList<Grant> grants) =>
        Remedies.Try(
            new ActionFacts(Site(grants), [], harbour.Organisation, new RuleBook([rule], OnTheDay), harbour.PeopleDirectory),
            rule
        );
}
