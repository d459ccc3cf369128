using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>Dated exceptions from rules: what they cover, until when, and how they are granted and ended.</summary>
public class ExceptionFacts
{
    private static readonly RuleId Id = new("R-1");
    private static readonly DateOnly Last = new(2026, 12, 31);
    private readonly Harbour harbour = new();
    private readonly Actor administrator = new(Aske);

    [Fact]
    public void An_excepted_site_breaks_nothing_is_found_as_an_exception_and_is_not_counted()
    {
        var site = Site(ToStaff(Power.Edit));
        var broken = Judge(site, new Demand.EditingNamedOnly());
        var excepted = Judge(Excepted(site, new Demand.EditingNamedOnly()), new Demand.EditingNamedOnly());
        Assert.Equal((Verdict.Breaks, Verdict.Excepted), (broken.Findings.Single().Verdict, excepted.Findings.Single().Verdict));

        var index = RegisterIndex.Empty.With([broken]).Seen(new Scope.Everything());
        var after = RegisterIndex.Empty.With([excepted]).Seen(new Scope.Everything());
        Assert.Equal("R-1 breaks, none excepted", Says(index.Find(site.Id)!.Value));
        Assert.Equal("none breaks, R-1 excepted", Says(after.Find(site.Id)!.Value));
        Assert.Equal((0, 1), (Found(after, "breaks[value eq \"R-1\"]"), Found(after, "excepted[value eq \"R-1\"]")));
        Assert.True(Gravity(after) < Gravity(index));
    }

    [Fact]
    public void An_exception_holds_until_the_end_of_its_day_or_until_somebody_ends_it()
    {
        var exception = new RuleException(1, Id, "", Aske, Now, Last, "", []);
        Assert.True(exception.IsInForce(Now, Time));
        Assert.True(exception.IsInForce(Time.EndOf(Last).AddTicks(-1), Time));
        Assert.False(exception.IsInForce(Time.EndOf(Last), Time));
        Assert.False((exception with { Ended = Now }).IsInForce(Now, Time));
    }

    [Fact]
    public void Fewer_active_owners_than_at_the_exception_are_worse_and_as_many_or_more_are_not()
    {
        var two = new Demand.ActiveOwners(3);
        var site = Excepted(Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist)), two);
        Assert.Equal(Verdict.Excepted, VerdictOn(site, two));
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToPerson(Power.Own, Vane)]), two));
        Assert.Equal(
            Verdict.Excepted,
            VerdictOn(site.WithGrants([ToPerson(Power.Own, Vane), ToPerson(Power.Own, Aske), ToPerson(Power.Own, Lund)]), two)
        );

        // If the rule demands one more owner, the distance is greater; if one less, it is not.
        Assert.Equal(Verdict.Breaks, VerdictOn(site, new Demand.ActiveOwners(4)));
        Assert.Null(VerdictOn(site, new Demand.ActiveOwners(2)));
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToPerson(Power.Own, Vane), ToPerson(Power.Own, Lund)]), two));
    }

    [Fact]
    public void What_reaches_further_is_worse_and_so_is_a_policy_that_allows_less()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Policy, Only(InsideLimit.Unit));
        var demand = new Demand.WithinAllowed();
        var site = Excepted(Site(ToStaff(Power.View)), demand);
        Assert.Equal(Verdict.Excepted, VerdictOn(site, demand));

        // One more member of staff does not widen access; anonymous visitors do.
        harbour.People.Add(harbour.People[0] with { Id = new PersonId(30), Mail = "new@merrowby.example" });
        Assert.Equal(Verdict.Excepted, VerdictOn(site, demand));
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToAnonymous(Power.View)]), demand));

        // Edit is another power than the excepted one.
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToStaff(Power.Edit)]), demand));

        var narrower = new Harbour().Limit(LayerKind.Organisation, "", Enforcer.Policy, Only(InsideLimit.Named));
        Assert.Equal(Verdict.Breaks, VerdictOn(site, demand, narrower));
        var wider = new Harbour().Limit(LayerKind.Organisation, "", Enforcer.Policy, Only(InsideLimit.Staff));
        Assert.Null(VerdictOn(site, demand, wider));
    }

    [Fact]
    public void Of_people_who_are_let_in_one_by_one_each_is_one_more()
    {
        // Petra Lund has left, and nobody who has left may have access.
        var demand = new Demand.WithinAllowed();
        harbour.People.Add(
            harbour.People.Single(person => person.Id == Lund) with
            {
                Id = new PersonId(31),
                Mail = "other@merrowby.example",
            }
        );
        var site = Excepted(Site(ToPerson(Power.View, Lund)), demand);
        Assert.Equal(Verdict.Excepted, VerdictOn(site, demand));
        Assert.Equal(Verdict.Excepted, VerdictOn(site.WithGrants([ToPerson(Power.View, new PersonId(31))]), demand));
        Assert.Equal(
            Verdict.Breaks,
            VerdictOn(site.WithGrants([ToPerson(Power.View, Lund), ToPerson(Power.View, new PersonId(31))]), demand)
        );
    }

    [Fact]
    public void A_demand_that_cannot_be_measured_is_excepted_only_as_it_was()
    {
        var site = Excepted(Site(), new Demand.General("name eq \"x\""));
        Assert.Equal(Verdict.Excepted, VerdictOn(site, new Demand.General("name eq \"x\"")));
        Assert.Equal(Verdict.Breaks, VerdictOn(site, new Demand.General("name eq \"y\"")));
    }

    [Fact]
    public void An_exception_of_a_break_covers_neither_what_cannot_be_told_nor_what_breaks_no_rule()
    {
        var demand = new Demand.EditingNamedOnly();
        var unknown = Excepted(Site(ToStaff(Power.Edit)), demand) with { Sharing = Known<Sharing>.Unknown };
        Assert.Equal(Verdict.CannotTell, VerdictOn(unknown, demand));
        Assert.Null(VerdictOn(Excepted(Site(), demand), demand));
    }

    [Fact]
    public void An_exception_is_granted_for_what_is_broken_and_for_a_while()
    {
        var facts = Facts(Site(ToStaff(Power.Edit)));
        var plan = Assert.IsType<Decision.Plan>(
            ExceptionActions.Grant(facts, new ExceptionRequest(Id, " The regatta ", Last), administrator)
        );
        Assert.Equal([Id], plan.Effect.Cleared);
        Assert.Equal(
            ("The regatta", Last, Aske, Now),
            (plan.Exception!.Reason, plan.Exception.Through, plan.Exception.By, plan.Exception.From)
        );
        Assert.Equal(
            [
                "Until the end of 31 Dec 2026 the site may stay as it is. If it gets further from the rule, or policy becomes stricter, the exception no longer applies.",
            ],
            plan.SideEffects
        );
        Assert.Equal(JournalAction.ExceptionGranted, plan.Entries.Single().Action);

        // It is distinguished from one whose site has become worse meanwhile.
        var worse = Assert.IsType<Decision.Plan>(
            ExceptionActions.Grant(
                Facts(Site(ToAnonymous(Power.Edit))),
                new ExceptionRequest(Id, "The regatta", Last),
                administrator
            )
        );
        Assert.NotEqual(plan.Fingerprint, worse.Fingerprint);

        Assert.Equal(
            [new ExceptionNotByOwners(), new ExceptionNeedsReason(), new LastDayPassed(new DateOnly(2026, 11, 23))],
            Refused(facts, new ExceptionRequest(Id, " ", new DateOnly(2026, 11, 23)), new Actor(Vane, Capacity.Owner))
        );
        Assert.Equal(
            [new ExceptionTooLong(366)],
            Refused(facts, new ExceptionRequest(Id, "x", new DateOnly(2028, 1, 1)), administrator)
        );
        Assert.Equal(
            [new RuleNotBroken("R-9")],
            Refused(facts, new ExceptionRequest(new RuleId("R-9"), "x", Last), administrator)
        );
        Assert.Equal(
            [new ExceptionStillInForce("R-1", new DateOnly(2026, 12, 31))],
            Refused(
                Facts(Excepted(facts.Site, new Demand.EditingNamedOnly())),
                new ExceptionRequest(Id, "x", Last),
                administrator
            )
        );
    }

    [Fact]
    public void Where_the_rule_cannot_tell_an_exception_covers_not_knowing_and_no_break()
    {
        var demand = new Demand.EditingNamedOnly();
        var unknown = Site() with { Sharing = Known<Sharing>.Unknown };
        var plan = Assert.IsType<Decision.Plan>(
            ExceptionActions.Grant(Facts(unknown), new ExceptionRequest(Id, "Not reported before spring", Last), administrator)
        );
        Assert.Empty(plan.Effect.Cleared);
        Assert.StartsWith(
            "Until the end of 31 Dec 2026 nobody has to find out",
            plan.SideEffects.Single(),
            StringComparison.Ordinal
        );

        var excepted = unknown with { Exceptions = [plan.Exception!] };
        Assert.Equal(
            new Finding(unknown.Id, Book(demand).Find(Id)!, Verdict.Excepted) { IsUntold = true },
            Judge(excepted, demand).Findings.Single()
        );
        var index = RegisterIndex.Empty.With([Judge(excepted, demand)]).Seen(new Scope.Everything());
        Assert.Equal((0, 1), (Found(index, "unsure pr"), Found(index, "excepted pr")));
        Assert.Empty(Assert.IsType<Decision.Plan>(ExceptionActions.End(Facts(excepted), 0, "Over", administrator)).Effect.Opened);

        // It becomes known that everybody edits, and then that nobody does. Another demand has other reasons not to tell.
        Assert.Equal(Verdict.Breaks, VerdictOn(Site(ToStaff(Power.Edit)) with { Exceptions = [plan.Exception!] }, demand));
        Assert.Null(VerdictOn(Site() with { Exceptions = [plan.Exception!] }, demand));
        Assert.Equal(Verdict.CannotTell, VerdictOn(excepted, new Demand.ActiveOwners(2)));
    }

    [Fact]
    public void An_exception_is_ended_once_with_a_reason_and_what_it_covered_is_a_finding_again()
    {
        var facts = Facts(Excepted(Site(ToStaff(Power.Edit)), new Demand.EditingNamedOnly()));
        var plan = Assert.IsType<Decision.Plan>(ExceptionActions.End(facts, 1, "Over", administrator));
        Assert.Equal([Id], plan.Effect.Opened);
        Assert.Equal(Now, plan.Exception!.Ended);
        Assert.Equal(JournalAction.ExceptionEnded, plan.Entries.Single().Action);
        Assert.Equal(
            [new ExceptionEndNeedsReason()],
            Assert.IsType<Decision.Refusal>(ExceptionActions.End(facts, 1, null, administrator)).Reasons
        );
        Assert.Equal(
            [new ExceptionEnded()],
            Assert.IsType<Decision.Refusal>(ExceptionActions.End(facts, 2, "Over", administrator)).Reasons
        );
        Assert.IsType<Decision.Refusal>(ExceptionActions.End(facts, 1, "Over", new Actor(Vane, Capacity.Owner)));
        Assert.Equal(
            [new ExceptionEnded()],
            Assert
                .IsType<Decision.Refusal>(
                    ExceptionActions.End(
                        facts with
                        {
                            Site = facts.Site with { Exceptions = [plan.Exception] },
                        },
                        1,
                        "Over",
                        administrator
                    )
                )
                .Reasons
        );
    }

    [Theory]
    [InlineData("2026-12-23T23:59:59", 37, false)]
    [InlineData("2026-12-24T00:00:00", 37, true)]
    [InlineData("2026-12-31T23:59:59", 37, true)]
    [InlineData("2027-01-01T00:00:00", 37, false)]
    [InlineData("2026-11-26T00:00:00", 3, false)]
    public void A_week_before_its_end_who_decides_and_who_owns_the_site_hear_of_it_once(string now, int days, bool isDue)
    {
        var at = DateTimeOffset.Parse(now, System.Globalization.CultureInfo.InvariantCulture);
        var site = Excepted(Site(ToStaff(Power.Edit), ToPerson(Power.Own, Vane)), new Demand.EditingNamedOnly());
        var exception = site.Exceptions[0] with { Through = DateOnly.FromDateTime(Now.DateTime).AddDays(days) };
        var directory = new Core.People.PeopleDirectory(harbour.People, Units, [], at, Time);
        IReadOnlyList<Due> Of(IReadOnlySet<(PersonId, string)> written) =>
            [
                .. DueNow
                    .Of(new DueFacts([], [], [], directory, written) { Exceptions = [(site.Id, exception)] })
                    .Where(due => due is Due.ExceptionNear),
            ];

        var due = Of(new HashSet<(PersonId, string)>());
        Assert.Equal(isDue, due.Count == 1);
        if (isDue)
        {
            var told = DueNow
                .Carry(due[0], Facts(site) with { Administrators = [Quist] }, default, remark => remark.Code)!
                .Notifications;
            Assert.Equal([Quist, Aske, Vane], told.Select(notification => notification.To));
            Assert.Empty(Of(new HashSet<(PersonId, string)> { (Quist, told[0].Key) }));
            Assert.Null(DueNow.Carry(due[0], Facts(site with { Exceptions = [] }), default, remark => remark.Code));
        }
    }

    private static PowerLimits Only(InsideLimit inside) =>
        PowerLimits.Same(new Limit(inside, OutsideLevel.NoOne, VisitorSignIn.None, GuestInviter.AnyOwner));

    private static IReadOnlyList<Remark> Refused(ActionFacts facts, ExceptionRequest request, Actor actor) =>
        Assert.IsType<Decision.Refusal>(ExceptionActions.Grant(facts, request, actor)).Reasons;

    private static string Says(RegisterRow line) => $"{Names(line.Breaks)} breaks, {Names(line.Excepted)} excepted";

    private static string Names(IReadOnlyList<Rule> rules) =>
        rules.Count == 0 ? "none" : string.Join(' ', rules.Select(rule => rule.Id.Value));

    private static int Found(VisibleRegister index, string filter) =>
        index.Where(Filter.Parse(filter, JudgedSite.Attributes)).CountYes;

    private static long Gravity(VisibleRegister index) => index.Columns.Of<Span>("gravity")[0].Or(default).AtLeast;

    private static RuleBook Book(Demand demand) =>
        new([new Rule(Id, "A rule", "a rule", Level.Critical, "", demand, new DateOnly(2026, 1, 1))], Harbour.OnTheDay);

    private ActionFacts Facts(SiteFacts site) =>
        new(site, [], harbour.Organisation, Book(new Demand.EditingNamedOnly()), harbour.PeopleDirectory);

    // As it is now, until the last day of the year.
    private SiteFacts Excepted(SiteFacts site, Demand demand) =>
        site with
        {
            Exceptions =
            [
                new RuleException(
                    1,
                    Id,
                    "The regatta",
                    Aske,
                    Now.AddDays(-1),
                    Last,
                    demand.Expression,
                    demand.Distance(new ComputedSite(site, harbour.Organisation, harbour.PeopleDirectory))
                ),
            ],
        };

    private JudgedSite Judge(SiteFacts site, Demand demand, Harbour? there = null) =>
        Book(demand)
            .Judge([new ComputedSite(site, (there ?? harbour).Organisation, (there ?? harbour).PeopleDirectory)])
            .Single();

    private Verdict? VerdictOn(SiteFacts site, Demand demand, Harbour? there = null) =>
        Judge(site, demand, there).Findings.SingleOrDefault()?.Verdict;
}
