using AtticLedger.Core.Deeds;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

/// <summary>Dated exceptions from rules: what they cover, until when, and how they are given and ended.</summary>
public class ExcuseFacts
{
    private static readonly RuleId Id = new("R-1");
    private static readonly DateOnly Last = new(2026, 12, 31);
    private readonly Harbour harbour = new();
    private readonly Doer administrator = new(Aske);

    [Fact]
    public void An_excused_site_breaks_nothing_and_is_found_excused_and_counts_for_nothing()
    {
        var site = Site(ToStaff(Power.Edit));
        var broken = Judge(site, new Demand.EditingNamedOnly());
        var excused = Judge(Excused(site, new Demand.EditingNamedOnly()), new Demand.EditingNamedOnly());
        Assert.Equal((Verdict.Breaks, Verdict.Excused), (broken.Findings.Single().Verdict, excused.Findings.Single().Verdict));

        var sheet = JudgedSheet.Empty.With([broken]).Seen(new Sight.Everything());
        var after = JudgedSheet.Empty.With([excused]).Seen(new Sight.Everything());
        Assert.Equal("R-1 breaks, none excused", Says(sheet.Find(site.Id)!.Value));
        Assert.Equal("none breaks, R-1 excused", Says(after.Find(site.Id)!.Value));
        Assert.Equal((0, 1), (Found(after, "breaks[value eq \"R-1\"]"), Found(after, "excused[value eq \"R-1\"]")));
        Assert.True(Gravity(after) < Gravity(sheet));
    }

    [Fact]
    public void An_excuse_holds_through_the_end_of_its_day_and_until_somebody_ends_it()
    {
        var excuse = new Excuse(1, Id, "", Aske, Now, Last, "", []);
        Assert.True(excuse.IsInForce(Now, Time));
        Assert.True(excuse.IsInForce(Time.EndOf(Last).AddTicks(-1), Time));
        Assert.False(excuse.IsInForce(Time.EndOf(Last), Time));
        Assert.False((excuse with { Ended = Now }).IsInForce(Now, Time));
    }

    [Fact]
    public void Fewer_fit_keys_are_worse_than_excused_and_as_many_or_more_are_not()
    {
        var two = new Demand.FitKeyHolders(3);
        var site = Excused(Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist)), two);
        Assert.Equal(Verdict.Excused, VerdictOn(site, two));
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToPerson(Power.Own, Vane)]), two));
        Assert.Equal(
            Verdict.Excused,
            VerdictOn(site.WithGrants([ToPerson(Power.Own, Vane), ToPerson(Power.Own, Aske), ToPerson(Power.Own, Lund)]), two)
        );

        // The rule asks for one more, which is further away; or for one less, which is not.
        Assert.Equal(Verdict.Breaks, VerdictOn(site, new Demand.FitKeyHolders(4)));
        Assert.Null(VerdictOn(site, new Demand.FitKeyHolders(2)));
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToPerson(Power.Own, Vane), ToPerson(Power.Own, Lund)]), two));
    }

    [Fact]
    public void What_reaches_further_is_worse_and_so_is_a_house_that_allows_less()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.House, Only(InsideLimit.Unit));
        var demand = new Demand.WithinAllowed();
        var site = Excused(Site(ToStaff(Power.View)), demand);
        Assert.Equal(Verdict.Excused, VerdictOn(site, demand));

        // One more of the staff is no other reach; the whole world is.
        harbour.People.Add(harbour.People[0] with { Id = new PersonId(30), Mail = "new@merrowby.example" });
        Assert.Equal(Verdict.Excused, VerdictOn(site, demand));
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToPassersBy(Power.View)]), demand));

        // Editing is another power than the one that is excused.
        Assert.Equal(Verdict.Breaks, VerdictOn(site.WithGrants([ToStaff(Power.Edit)]), demand));

        var narrower = new Harbour().Limit(LayerKind.Organisation, "", Enforcer.House, Only(InsideLimit.Named));
        Assert.Equal(Verdict.Breaks, VerdictOn(site, demand, narrower));
        var wider = new Harbour().Limit(LayerKind.Organisation, "", Enforcer.House, Only(InsideLimit.Staff));
        Assert.Null(VerdictOn(site, demand, wider));
    }

    [Fact]
    public void Of_people_who_are_let_in_one_by_one_each_is_one_more()
    {
        // Petra Lund has left, and nobody who has left is allowed in.
        var demand = new Demand.WithinAllowed();
        harbour.People.Add(
            harbour.People.Single(person => person.Id == Lund) with
            {
                Id = new PersonId(31),
                Mail = "other@merrowby.example",
            }
        );
        var site = Excused(Site(ToPerson(Power.View, Lund)), demand);
        Assert.Equal(Verdict.Excused, VerdictOn(site, demand));
        Assert.Equal(Verdict.Excused, VerdictOn(site.WithGrants([ToPerson(Power.View, new PersonId(31))]), demand));
        Assert.Equal(
            Verdict.Breaks,
            VerdictOn(site.WithGrants([ToPerson(Power.View, Lund), ToPerson(Power.View, new PersonId(31))]), demand)
        );
    }

    [Fact]
    public void A_demand_that_cannot_be_measured_is_excused_only_as_it_stood()
    {
        var site = Excused(Site(), new Demand.General("name eq \"x\""));
        Assert.Equal(Verdict.Excused, VerdictOn(site, new Demand.General("name eq \"x\"")));
        Assert.Equal(Verdict.Breaks, VerdictOn(site, new Demand.General("name eq \"y\"")));
    }

    [Fact]
    public void What_cannot_be_told_and_what_is_in_order_is_neither_excused()
    {
        var demand = new Demand.EditingNamedOnly();
        var unknown = Excused(Site(ToStaff(Power.Edit)), demand) with { Sharing = Known<Sharing>.Unknown };
        Assert.Equal(Verdict.CannotTell, VerdictOn(unknown, demand));
        Assert.Null(VerdictOn(Excused(Site(), demand), demand));
    }

    [Fact]
    public void An_excuse_is_given_for_what_is_broken_and_for_a_while()
    {
        var facts = Facts(Site(ToStaff(Power.Edit)));
        var plan = Assert.IsType<Decision.Plan>(
            ExcuseDeeds.Excuse(facts, new ExcuseWish(Id, " The regatta ", Last), administrator)
        );
        Assert.Equal([Id], plan.Effect.Cleared);
        Assert.Equal(
            ("The regatta", Last, Aske, Now),
            (plan.Excuse!.Reason, plan.Excuse.Through, plan.Excuse.By, plan.Excuse.From)
        );
        Assert.Equal(
            [
                "Through 31 Dec 2026 the site may stand as it does. If it gets worse before, or the house narrows what it allows, the excuse no longer counts.",
            ],
            plan.Along
        );
        Assert.Equal("excuse.given", plan.Entries.Single().Deed);

        // It is told apart from one for a site that has become worse meanwhile.
        var worse = Assert.IsType<Decision.Plan>(
            ExcuseDeeds.Excuse(Facts(Site(ToPassersBy(Power.Edit))), new ExcuseWish(Id, "The regatta", Last), administrator)
        );
        Assert.NotEqual(plan.Fingerprint, worse.Fingerprint);

        Assert.Equal(
            [
                "Excuses are given and ended by administrators and stewards.",
                "An excuse needs a reason.",
                "23 Nov 2026 has passed; an excuse ends on a day to come.",
            ],
            Refused(facts, new ExcuseWish(Id, " ", new DateOnly(2026, 11, 23)), new Doer(Vane, Capacity.Owner))
        );
        Assert.Equal(
            ["An excuse ends within 366 days. Whoever needs longer looks at it again then."],
            Refused(facts, new ExcuseWish(Id, "x", new DateOnly(2028, 1, 1)), administrator)
        );
        Assert.Equal(
            ["The site does not break R-9, so there is nothing to excuse."],
            Refused(facts, new ExcuseWish(new RuleId("R-9"), "x", Last), administrator)
        );
        Assert.Equal(
            ["It cannot be told whether the site breaks R-1, so there is nothing to excuse yet."],
            Refused(Facts(Site() with { Sharing = Known<Sharing>.Unknown }), new ExcuseWish(Id, "x", Last), administrator)
        );
        Assert.Equal(
            ["The site is excused from R-1 through 31 Dec 2026. End that excuse first."],
            Refused(Facts(Excused(facts.Site, new Demand.EditingNamedOnly())), new ExcuseWish(Id, "x", Last), administrator)
        );
    }

    [Fact]
    public void An_excuse_is_ended_once_with_a_reason_and_what_it_covered_is_a_finding_again()
    {
        var facts = Facts(Excused(Site(ToStaff(Power.Edit)), new Demand.EditingNamedOnly()));
        var plan = Assert.IsType<Decision.Plan>(ExcuseDeeds.End(facts, 1, "Over", administrator));
        Assert.Equal([Id], plan.Effect.Opened);
        Assert.Equal(Now, plan.Excuse!.Ended);
        Assert.Equal("excuse.ended", plan.Entries.Single().Deed);
        Assert.Equal(
            ["Ending an excuse needs a reason."],
            Assert.IsType<Decision.Refusal>(ExcuseDeeds.End(facts, 1, null, administrator)).Reasons
        );
        Assert.Equal(
            ["This excuse is over."],
            Assert.IsType<Decision.Refusal>(ExcuseDeeds.End(facts, 2, "Over", administrator)).Reasons
        );
        Assert.IsType<Decision.Refusal>(ExcuseDeeds.End(facts, 1, "Over", new Doer(Vane, Capacity.Owner)));
        Assert.Equal(
            ["This excuse is over."],
            Assert
                .IsType<Decision.Refusal>(
                    ExcuseDeeds.End(facts with { Site = facts.Site with { Excuses = [plan.Excuse] } }, 1, "Over", administrator)
                )
                .Reasons
        );
    }

    private static PowerLimits Only(InsideLimit inside) =>
        PowerLimits.Same(new Limit(inside, OutsideLevel.NoOne, Proof.None, Voucher.AnyOwner));

    private static IReadOnlyList<string> Refused(DeedFacts facts, ExcuseWish wish, Doer doer) =>
        Assert.IsType<Decision.Refusal>(ExcuseDeeds.Excuse(facts, wish, doer)).Reasons;

    private static string Says(SheetLine line) => $"{Names(line.Breaks)} breaks, {Names(line.Excused)} excused";

    private static string Names(IReadOnlyList<Rule> rules) =>
        rules.Count == 0 ? "none" : string.Join(' ', rules.Select(rule => rule.Id.Value));

    private static int Found(SeenSheet sheet, string filter) => sheet.Where(Filter.Parse(filter, JudgedLine.Attributes)).CountYes;

    private static long Gravity(SeenSheet sheet) => sheet.Columns.Of<Span>("gravity")[0].Or(default).AtLeast;

    private static RuleBook Book(Demand demand) =>
        new([new Rule(Id, "A rule", "a rule", Level.Must, "", demand, new DateOnly(2026, 1, 1))], new DateOnly(2026, 11, 24));

    private DeedFacts Facts(SiteFacts site) => new(site, [], harbour.House, Book(new Demand.EditingNamedOnly()), harbour.Roll);

    // As it stands, through the last day of the year.
    private SiteFacts Excused(SiteFacts site, Demand demand) =>
        site with
        {
            Excuses =
            [
                new Excuse(
                    1,
                    Id,
                    "The regatta",
                    Aske,
                    Now.AddDays(-1),
                    Last,
                    demand.Expression,
                    demand.Distance(new SiteLine(site, harbour.House, harbour.Roll))
                ),
            ],
        };

    private JudgedLine Judge(SiteFacts site, Demand demand, Harbour? there = null) =>
        Book(demand).Judge([new SiteLine(site, (there ?? harbour).House, (there ?? harbour).Roll)]).Single();

    private Verdict? VerdictOn(SiteFacts site, Demand demand, Harbour? there = null) =>
        Judge(site, demand, there).Findings.SingleOrDefault()?.Verdict;
}
