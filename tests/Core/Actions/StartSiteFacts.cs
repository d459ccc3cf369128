using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class StartSiteFacts
{
    private static readonly KindToStart Board = Kind("noticeboard", StartedBy.Staff);
    private static readonly KindToStart Pages = Kind("pages", StartedBy.Staff);

    private static readonly NewSite Wanted = new()
    {
        Kind = "noticeboard",
        Name = "Ferry notices",
        Address = "ferry-notices",
        Unit = Pilotage,
        Purpose = "notices",
        Owners = [Vane, Quist],
        Reach = new ViewReach(InsideLevel.Staff, OutsideLevel.NoOne, VisitorSignIn.Account),
    };

    [Fact]
    public void What_the_rules_allow_is_granted_at_once_with_the_access_that_was_asked_for()
    {
        var verdict = Judge(Wanted);
        Assert.Equal(Granting.AtOnce, verdict.Granting(false));
        Assert.Equal(
            [
                ("everyone", Power.View),
                ("person:idris.vane@merrowby.example", Power.Own),
                ("person:renata.quist@merrowby.example", Power.Own),
            ],
            verdict.Grants.Select(grant => (grant.Key, grant.Power))
        );
        Assert.Equal("slipway.example/ferry-notices", verdict.Site!.Site.Address.Or(""));
    }

    [Fact]
    public void Every_missing_field_is_told_at_that_field() =>
        Assert.Equal(
            [StartField.Name, StartField.Address, StartField.Unit, StartField.Purpose, StartField.Owners],
            Judge(new NewSite { Kind = "pages", Reach = ViewReach.Named }).Refusals.Select(one => one.Field).Order()
        );

    [Fact]
    public void A_limit_narrows_what_is_granted_and_is_named()
    {
        var facts = Facts(world =>
            world
                .Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Inside(InsideLimit.Unit))
                .Limit(LayerKind.Organisation, "", Enforcer.Policy, Outside(OutsideLevel.NamedGuests))
        );
        var wide = Wanted with
        {
            Kind = "pages",
            Purpose = "event",
            Reach = new ViewReach(InsideLevel.Staff, OutsideLevel.Anonymous, VisitorSignIn.None),
        };
        var verdict = StartSite.Judge(facts, wide, new Actor(Vane, Capacity.Owner));

        Assert.Equal(Granting.WithChanges, verdict.Granting(false));
        Assert.Equal(
            ["person:idris.vane@merrowby.example", "person:renata.quist@merrowby.example", "unit:PIL"],
            verdict.Grants.Select(grant => grant.Key)
        );
        Assert.Equal(2, Assert.IsType<ReachNarrowed>(Assert.Single(verdict.Changes).Remark).Limits.Count);
    }

    [Fact]
    public void More_reach_than_the_purpose_expects_is_for_an_administrator()
    {
        var verdict = Judge(
            Wanted with
            {
                Kind = "pages",
                Reach = new ViewReach(InsideLevel.Staff, OutsideLevel.Anonymous, VisitorSignIn.None),
            }
        );
        Assert.Equal(new ReachBeyondPurpose("Notices"), Assert.Single(verdict.Because).Remark);
        Assert.Equal(Granting.ByAdministrator, verdict.Granting(false));
        Assert.Equal(Granting.AtOnce, verdict.Granting(true));
    }

    [Fact]
    public void A_critical_rule_is_for_an_administrator_and_another_one_is_advice()
    {
        var rules = new RuleBook(
            [
                Rule("R-1", Level.Critical, "not (name.words eq \"test\")"),
                Rule("R-2", Level.Warning, "owners.active.count ge 2"),
                Rule("R-3", Level.Note, "description pr"),
            ],
            OnTheDay
        );
        var verdict = Judge(Wanted with { Name = "Ferry test", Owners = [Vane] }, rules: rules);
        Assert.Equal((StartField.Name, "R-1"), Broken(Assert.Single(verdict.Because)));
        Assert.Equal([(StartField.Owners, "R-2"), (StartField.Description, "R-3")], verdict.Advice.Select(Broken));
    }

    [Fact]
    public void A_kind_that_all_staff_view_cannot_be_for_fewer_and_the_kinds_that_can_are_named()
    {
        var refused = Assert.Single(Judge(Wanted with { Reach = ViewReach.Named }).Refusals);
        Assert.Equal(StartField.Reach, refused.Field);
        Assert.Equal(["Pages"], Assert.IsType<KindAlwaysAllStaff>(refused.Remark).Others);
    }

    [Theory]
    [InlineData(StartedBy.Administrators, Capacity.Owner, Granting.NotAllowed)]
    [InlineData(StartedBy.Administrators, Capacity.Administrator, Granting.AtOnce)]
    [InlineData(StartedBy.Request, Capacity.Owner, Granting.ByAdministrator)]
    [InlineData(StartedBy.Staff, Capacity.Owner, Granting.AtOnce)]
    public void Who_can_start_a_kind_decides_what_becomes_of_the_request(StartedBy by, Capacity capacity, Granting expected) =>
        Assert.Equal(
            expected,
            Judge(Wanted with { Kind = "pages" }, kinds: [Kind("pages", by)], actor: new Actor(Vane, capacity))
                .Granting(capacity == Capacity.Administrator)
        );

    [Fact]
    public void A_host_without_a_connector_that_makes_sites_is_served_by_a_person()
    {
        var verdict = Judge(Wanted, host: new HostCapabilities());
        Assert.Contains(new MadeByHand("Slipway"), verdict.Because.Select(one => one.Remark));
        Assert.Equal([MakingStep.Site, MakingStep.ReadBack], Making.StepsOf(Wanted, Board, new HostCapabilities()));
    }

    [Theory]
    [InlineData("ferry-notices", HeldAs.MoveToAttic)]
    [InlineData("ferry-notices", HeldAs.Requested)]
    [InlineData("ferry-notices", HeldAs.Offline)]
    [InlineData("ferry-notices", HeldAs.NeverPublished)]
    public void A_taken_address_is_refused_with_the_state_of_its_holder_and_its_name_for_those_who_see_it(
        string address,
        HeldAs held
    )
    {
        var facts = Facts() with
        {
            Addresses = new AddressBook([]).With(
                StartSite.Own(
                    Board.Address,
                    [new Holding($"slipway.example/{address}", "Old ferry", held, new SiteId(7), Now.AddDays(3))]
                )
            ),
        };
        Assert.Equal(new AddressHeld(address, "Old ferry", held, new DateOnly(2026, 11, 27)), Remark(facts));
        Assert.Equal(new AddressHeld(address, null, held, new DateOnly(2026, 11, 27)), Remark(facts with { Sees = _ => false }));

        static Remark Remark(StartFacts facts) =>
            Assert.Single(StartSite.Judge(facts, Wanted, new Actor(Vane, Capacity.Owner)).Refusals).Remark;
    }

    [Theory]
    [InlineData("www", typeof(AddressReserved))]
    [InlineData("Ferry", typeof(AddressMalformed))]
    [InlineData("ferry--notices", typeof(AddressMalformed))]
    public void A_reserved_or_malformed_address_is_refused(string address, Type remark) =>
        Assert.IsType(remark, Assert.Single(Judge(Wanted with { Address = address }).Refusals).Remark);

    [Theory]
    [InlineData("vvvvvv", typeof(AddressLikeReserved))]
    public void What_can_be_mistaken_for_a_reserved_word_is_for_an_administrator(string address, Type remark) =>
        Assert.IsType(remark, Assert.Single(Judge(Wanted with { Address = address }, reserved: ["www"]).Because).Remark);

    [Theory]
    [InlineData("ferry", 0)]
    [InlineData("strngthsx", 1)]
    [InlineData("pier7b", 1)]
    [InlineData("notices-of-the-upper-ferry-and-pier", 1)]
    public void Advice_on_an_address_is_about_its_length_and_how_it_is_said(string address, int count) =>
        Assert.Equal(count, StartSite.Advice(address).Count());

    [Fact]
    public void Owners_have_to_be_current_staff_and_editors_may_be_guests()
    {
        var verdict = Judge(Wanted with { Owners = [Vane, Agent], Editors = [Diver, Lund, new PersonId(99)] });
        Assert.Equal(
            [
                new FieldRemark(StartField.Owners, new NewOwnerIneligible("Bo Reyes", Ineligibility.Outside, null)),
                new FieldRemark(StartField.Editors, new EditorIneligible("Petra Lund", Ineligibility.NotSaid)),
                new FieldRemark(StartField.Editors, new PersonNotInRegister()),
            ],
            verdict.Refusals
        );
    }

    [Theory]
    [InlineData("en", true)]
    [InlineData("pt-BR", true)]
    [InlineData("x'; drop table site", false)]
    [InlineData("englishenglishenglishenglishenglishx", false)]
    public void A_language_is_a_tag(string language, bool isOne) =>
        Assert.Equal(isOne, Judge(Wanted with { Language = language }).Refusals.Count == 0);

    [Fact]
    public void Words_outside_the_vocabulary_and_past_days_are_refused() =>
        Assert.Equal(
            [StartField.Purpose, StartField.Classification, StartField.Tags, StartField.Ends],
            Judge(Wanted with { Purpose = "fun", Classification = "Secret", Tags = ["a"], Ends = new DateOnly(2026, 11, 23) })
                .Refusals.Select(one => one.Field)
        );

    [Fact]
    public void The_last_day_of_the_calendar_is_no_end() =>
        Assert.True(Judge(Wanted with { Ends = DateOnly.MaxValue }).Site!.Site.Ends.IsNone);

    private static (StartField, string) Broken(FieldRemark remark) =>
        (remark.Field, Assert.IsType<WouldBreak>(remark.Remark).Rule);

    private static StartVerdict Judge(
        NewSite wanted,
        RuleBook? rules = null,
        IReadOnlyList<KindToStart>? kinds = null,
        Actor? actor = null,
        HostCapabilities? host = null,
        IReadOnlyList<string>? reserved = null
    ) =>
        StartSite.Judge(
            Facts(null, rules, kinds, host) is var facts && reserved is not null
                ? facts with
                {
                    Organisation = facts.Organisation with { ReservedAddresses = reserved },
                }
                : facts,
            wanted,
            actor ?? new Actor(Vane, Capacity.Owner)
        );

    private static StartFacts Facts(
        Action<Harbour>? change = null,
        RuleBook? rules = null,
        IReadOnlyList<KindToStart>? kinds = null,
        HostCapabilities? host = null
    )
    {
        var harbour = new Harbour();
        change?.Invoke(harbour);
        return new StartFacts(
            harbour.Organisation with
            {
                Kinds = [new SiteKind("noticeboard", "Noticeboard", true), new SiteKind("pages", "Pages", false)],
                KindsToStart = kinds ?? [Board, Pages],
                Terms =
                [
                    new Term(ClaimedFact.Purpose, "notices", "Notices", []),
                    new Term(ClaimedFact.Purpose, "event", "Event", []),
                ],
                ExpectedReaches =
                [
                    new ExpectedReach("notices", new ViewReach(InsideLevel.Staff, OutsideLevel.NoOne, VisitorSignIn.Account)),
                    new ExpectedReach("event", new ViewReach(InsideLevel.Staff, OutsideLevel.Anonymous, VisitorSignIn.None)),
                ],
                ReservedAddresses = ["www"],
                Hosts = new Dictionary<string, HostCapabilities>
                {
                    ["Slipway"] = host ?? new HostCapabilities { MakesSites = true },
                },
            },
            rules ?? NoRules,
            harbour.PeopleDirectory
        );
    }

    private static Rule Rule(string id, Level level, string demand) =>
        new(new RuleId(id), id, id, level, "", Demand.Of(demand), new DateOnly(2026, 1, 1));

    private static KindToStart Kind(string code, StartedBy by) =>
        new(code, "Slipway", "", new AddressForm("slipway.example/", ""), by, false, null, []);
}
