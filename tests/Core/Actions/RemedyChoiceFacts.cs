using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>What is proposed for the sites of a cause, and what a plan makes of it.</summary>
public class RemedyChoiceFacts
{
    private static readonly Rule OneOwner = new(
        new("R-03"),
        "An active owner",
        "no owner",
        Level.Warning,
        "",
        new Demand.ActiveOwners(1),
        default
    );
    private static readonly Actor Administrator = new(Aske);
    private static readonly Dictionary<PersonId, int> NoLoad = [];
    private readonly Harbour harbour = new Harbour().Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne));

    [Fact]
    public void What_ends_the_finding_comes_first_and_what_excuses_it_last()
    {
        var choices = Choices([RestrictFacts.Allowed], "R-07", ToAnonymous(Power.View), ToPerson(Power.Own, Vane));

        Assert.Equal([ActionName.SiteRestrict, ActionName.ExceptionGrant], choices.Select(choice => choice.Request.Action));
        Assert.All(choices, choice => Assert.Contains(new RuleId("R-07"), Plan(choice).Effect.Cleared));
        Assert.Same(choices[0], RemedyChoices.Proposed(choices));
        Assert.Equal(new DateOnly(2027, 2, 22), choices[1].Request.Through);
    }

    [Fact]
    public void What_leaves_the_cause_as_it_is_is_a_choice_and_is_not_proposed()
    {
        // The leaver stays, but the other cause, access from outside, ends with the restriction; all of the unit in a group does not.
        var beside = Choices(
            [RestrictFacts.Allowed],
            "R-07",
            ToAnonymous(Power.View),
            ToPerson(Power.Edit, Lund),
            ToPerson(Power.Own, Vane)
        );
        Assert.Equal(ActionName.SiteRestrict, RemedyChoices.Proposed(beside)!.Request.Action);
        Assert.DoesNotContain(new RuleId("R-07"), Plan(beside[0]).Effect.Cleared);

        var named = OneOwner with { Id = new RuleId("R-02"), Demand = new Demand.EditingNamedOnly() };
        var crew = new GroupId(21);
        harbour.Groups.Add(
            new Group(
                crew,
                "Boarding crew",
                [.. harbour.People.Where(person => person.Unit.Or(default) == Pilotage).Select(person => Member.Of(person.Id))]
            )
        );
        var still = Choices([named], "R-02", ToGroup(Power.Edit, crew), ToAnonymous(Power.View), ToPerson(Power.Own, Vane));
        Assert.Contains(still, choice =>
            choice is { Request.Action: ActionName.SiteRestrict, Decision: Decision.Plan, Ends: false }
        );
        Assert.Null(RemedyChoices.Proposed(still));
    }

    [Fact]
    public void What_opens_a_critical_finding_is_not_offered_and_what_opens_a_warning_is()
    {
        var read = new Rule(
            new("R-20"),
            "Read outside",
            "not read outside",
            Level.Critical,
            "",
            new Demand.General("view.outside eq \"anonymous\""),
            default
        );
        Grant[] grants = [ToAnonymous(Power.View), ToPerson(Power.Own, Vane)];

        var choices = Choices([RestrictFacts.Allowed, read], "R-07", grants);
        Assert.Equal([ActionName.ExceptionGrant], choices.Select(choice => choice.Request.Action));
        Assert.Null(RemedyChoices.Proposed(choices));

        var warned = Choices([RestrictFacts.Allowed, read with { Level = Level.Warning }], "R-07", grants);
        Assert.Equal([new RuleId("R-20")], Plan(RemedyChoices.Proposed(warned)!).Effect.Opened);
    }

    [Fact]
    public void Who_edits_it_is_asked_to_own_it_before_others_of_its_unit()
    {
        var byName = Choices([OneOwner], "R-03", ToPerson(Power.Edit, Trainee));
        Assert.Equal(Trainee, byName[0].Request.Person);

        var ofUnit = Choices([OneOwner], "R-03", ToStaff(Power.View));
        Assert.Contains(ofUnit[0].Request.Person, new PersonId?[] { Vane, Quist });
    }

    [Fact]
    public void Of_a_leaving_owners_site_the_owner_can_be_asked_and_who_has_left_cannot()
    {
        var leaving = Choices([OneOwner], "ottoline.farrow@merrowby.example", ToPerson(Power.Own, Farrow));
        Assert.Equal(
            [ActionName.OwnerOffer, ActionName.OwnersAsk, ActionName.ExceptionGrant],
            leaving.Select(choice => choice.Request.Action)
        );

        var left = Choices([OneOwner], "petra.lund@merrowby.example", ToPerson(Power.Own, Lund));
        Assert.Equal([ActionName.OwnerOffer, ActionName.ExceptionGrant], left.Select(choice => choice.Request.Action));
    }

    [Fact]
    public void Another_cause_of_the_site_has_its_own_choices_and_one_that_ended_has_none()
    {
        Grant[] grants = [ToAnonymous(Power.View), ToPerson(Power.Edit, Lund), ToPerson(Power.Own, Vane)];

        var leaver = Choices([RestrictFacts.Allowed], "petra.lund@merrowby.example at Slipway", grants);
        Assert.Equal((ActionName.AccessRemove, Lund), (leaver[0].Request.Action, leaver[0].Request.Person));
        Assert.Equal(ActionName.SiteRestrict, Choices([RestrictFacts.Allowed], "R-07", grants)[0].Request.Action);
        Assert.Empty(Choices([RestrictFacts.Allowed], "R-99", grants));
    }

    [Fact]
    public void The_sites_of_a_plan_are_shared_among_those_who_can_own_them()
    {
        var sites = Enumerable
            .Range(1, 4)
            .Select(id => Site(ToPerson(Power.Edit, Vane), ToPerson(Power.Edit, Quist)) with { Id = new SiteId(id) })
            .ToList();
        var batch = Remedying("R-03");
        var facts = sites.ToDictionary(site => site.Id, site => Facts([OneOwner], site));
        List<BatchTarget> targets = [.. sites.Select(site => new BatchTarget(site.Id))];
        BatchPlan Planned(params SiteId[] leftOut) =>
            new BatchPlanning(batch, Administrator, NoLoad).Of(targets, facts, leftOut.ToHashSet());

        var plan = Planned();
        Assert.Equal(
            [(Vane, 2), (Quist, 2)],
            plan.Lines.CountBy(line => line.Target.Own!.Person!.Value)
                .Select(pair => (pair.Key, pair.Value))
                .OrderBy(pair => pair.Key.Value)
        );
        Assert.All(plan.Lines, line => Assert.Equal(BatchLineState.Waiting, line.State));
        // Both can edit all of them already.
        Assert.Equal((0, 0), (plan.Gain, plan.Lose));

        var without = Planned(new SiteId(2));
        Assert.Equal(
            [BatchLineState.Waiting, BatchLineState.LeftOut, BatchLineState.Waiting, BatchLineState.Waiting],
            without.Lines.Select(line => line.State)
        );
    }

    [Fact]
    public void Where_nothing_is_possible_the_plan_says_why()
    {
        var written = OneOwner with { Id = new RuleId("R-30"), Demand = new Demand.General("pages ge 5") };
        var site = Site(ToPerson(Power.Own, Vane)) with { Pages = Known.Of(1) };
        var line = new BatchPlanning(Remedying("R-30"), Administrator, NoLoad)
            .Of(
                [new BatchTarget(site.Id)],
                new Dictionary<SiteId, ActionFacts> { [site.Id] = Facts([written], site) },
                new HashSet<SiteId>()
            )
            .Lines[0];

        Assert.Equal(BatchLineState.Refused, line.State);
        Assert.Equal([new ChangedAtHost("Slipway")], line.Refused);
    }

    [Fact]
    public void Where_nobody_can_be_proposed_as_an_owner_it_is_said_where_to_choose_one()
    {
        var site = Site(ToStaff(Power.View)) with { Unit = Known<UnitCode>.None };
        var facts = Facts([OneOwner], site);
        var choices = RemedyChoices.Of(facts, "R-03", NoLoad, Administrator);

        Assert.Equal([ActionName.ExceptionGrant], choices.Select(choice => choice.Request.Action));
        Assert.Equal([new NoOwnerProposed()], RemedyChoices.WhyNone(facts, "R-03", choices));

        // Somebody was asked: the site waits for the answer, and nobody else is asked.
        var offer = new Offer
        {
            Id = new OfferId(Guid.Empty),
            Site = site.Id,
            To = Quist,
            By = Aske,
            OfferedAt = Now,
            Through = new DateOnly(2026, 12, 8),
            CurrentOwner = null,
            After = CurrentOwnerAfter.Owns,
        };
        var asked = Facts([OneOwner], Site(ToStaff(Power.View))) with { Offers = [offer] };
        var then = RemedyChoices.Of(asked, "R-03", NoLoad, Administrator);
        Assert.Equal([ActionName.ExceptionGrant], then.Select(choice => choice.Request.Action));
        Assert.Equal([new OfferOpen("Renata Quist", offer.Through)], RemedyChoices.WhyNone(asked, "R-03", then));
    }

    [Fact]
    public void A_reason_that_is_still_to_be_given_refuses_no_plan()
    {
        var exception = Choices([OneOwner], "R-03", ToStaff(Power.View))[^1];

        Assert.Equal(ActionName.ExceptionGrant, exception.Request.Action);
        Assert.IsType<Decision.Plan>(exception.Decision);
        Assert.True(BulkActions.WantsReason(exception.Request.Action, Administrator));
        Assert.Equal(ActionName.ExceptionEnd, BulkActions.UndoOf(exception.Request.Action));
    }

    private static Batch Remedying(string cause) =>
        new()
        {
            Id = new BatchId(Guid.Parse("00000000-0000-0000-0000-00000000000b")),
            Action = ActionName.FindingsRemedy,
            Cause = cause,
            By = Aske,
            PlannedAt = Now,
        };

    private static Decision.Plan Plan(RemedyChoice choice) => Assert.IsType<Decision.Plan>(choice.Decision);

    private IReadOnlyList<RemedyChoice> Choices(IReadOnlyList<Rule> rules, string cause, params IReadOnlyList<Grant> grants) =>
        RemedyChoices.Of(Facts(rules, Site(grants)), cause, NoLoad, Administrator);

    private ActionFacts Facts(IReadOnlyList<Rule> rules, SiteFacts site) =>
        new(site, [], harbour.Organisation, new RuleBook(rules, OnTheDay), harbour.PeopleDirectory);
}
