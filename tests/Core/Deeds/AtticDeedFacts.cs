using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

public class AtticDeedFacts
{
    private static readonly Grant Unit = new("unit:PIL", Power.View, new Subject.WholeUnit(Pilotage));
    private readonly Harbour harbour = new();
    private readonly Doer administrator = new(Aske);
    private readonly Doer owner = new(Vane, Capacity.Owner);

    [Fact]
    public void What_blocks_stands_in_the_order_to_solve_it()
    {
        var site = Used() with
        {
            Content = new Content
            {
                Joining = Known<Joining>.None,
                Domains = Known<IReadOnlyList<string>>.Of(["notes.merrowby.example"]),
                Editing = Known<IReadOnlyList<PersonId>>.Of([Quist]),
                Pages = Known.Of(9),
            },
        };
        var facts = Facts(site) with
        {
            Holds = [new Hold(1, "Inquiry 9", Aske, Now.AddDays(-1), new DateOnly(2026, 12, 31))],
            Around = new Surroundings { Children = [Used() with { Id = new SiteId(2), Name = Known.Of("Child") }] },
        };

        Assert.Equal(
            [
                "A hold forbids it through 31 Dec 2026: Inquiry 9. Slipway clears its bin by itself, so a held site stays where it is.",
                "The web domain notes.merrowby.example shows this site. Take it off at Slipway first, or it will point at nothing.",
                "Child is a child of this site. Move it elsewhere or put it away first.",
                "Renata Quist is editing it now.",
            ],
            Assert.IsType<Decision.Refusal>(Put(facts, administrator)).Reasons
        );
    }

    [Fact]
    public void How_sure_it_wants_to_be_goes_by_what_is_at_risk_and_unknown_is_the_worst()
    {
        var small = Site(ToPerson(Power.Own, Vane)) with
        {
            Stage = Known.Of(Stage.NeverLive),
            Content = new Content { Joining = Known<Joining>.None, Pages = Known.Of(3) },
        };

        Assert.Equal(Sureness.UndoAlone, Planned(Facts(small), owner).Sure);
        Assert.Equal(
            Sureness.TypeTheName,
            Planned(Facts(small with { Content = new Content { Joining = Known<Joining>.None } }), owner).Sure
        );
        Assert.Equal(Sureness.TypeTheName, Planned(Facts(Used()), administrator).Sure);
        Assert.Equal(
            (Sureness.SecondPerson, "All of the staff can read it, so putting it away takes two people."),
            Second(Site(ToPerson(Power.Own, Vane), ToStaff(Power.View)))
        );
        Assert.Equal(
            (Sureness.SecondPerson, "Passers-by can read it, so putting it away takes two people."),
            Second(Site(ToPerson(Power.Own, Vane), ToPassersBy(Power.View)))
        );
        Assert.Equal(Sureness.SecondPerson, Planned(Facts(Used() with { Sharing = Known<Sharing>.Unknown }), administrator).Sure);

        (Sureness, string?) Second(SiteFacts site) =>
            (Planned(Facts(site), administrator).Sure, Planned(Facts(site), administrator).NeedsSecond);
    }

    [Fact]
    public void An_owners_deletion_of_what_others_use_can_be_stopped_for_an_hour_and_administrators_hear_of_it()
    {
        var plan = Planned(Facts(Used()), owner);

        Assert.Empty(plan.Orders);
        Assert.Equal((StayState.Announced, Now.AddHours(1)), (plan.Stay!.State, plan.Stay.StoppableUntil));
        Assert.Equal([Vane, Quist, Aske], plan.Letters.Select(letter => letter.To));
        Assert.Equal((LinkPurpose.Stop, Now.AddHours(1)), (plan.Letters[0].Link!.Purpose, plan.Letters[0].Link!.Until));
        Assert.Equal(
            "You asked to put away Pilot boarding notes (slipway.example/pilot-boarding). It happens at 08:00 on 24 Nov unless you stop it.",
            plan.Letters[0].Sentences[0]
        );

        var byAdministrator = Planned(Facts(Used()), administrator);
        Assert.Equal(
            (StayState.GoingAway, Existence.Attic),
            (byAdministrator.Stay!.State, byAdministrator.Orders.Single().Wish.Existence)
        );
    }

    [Fact]
    public void When_the_hour_is_over_it_goes_unless_something_blocks_it_by_then()
    {
        var announced = Planned(Facts(Used()), owner).Stay! with { Id = 7, Place = 7 };
        var going = PutAway.Go(Facts(Used()) with { Stay = announced }, announced, new OrderId(Guid.NewGuid()));
        Assert.Equal((StayState.GoingAway, OrderPurpose.PutAway), (going.Stay!.State, going.Orders.Single().Purpose));

        var editing = Used() with
        {
            Content = new Content { Joining = Known<Joining>.None, Editing = Known<IReadOnlyList<PersonId>>.Of([Quist]) },
        };
        var stopped = PutAway.Go(Facts(editing) with { Stay = announced }, announced, default);
        Assert.Equal((StayState.Stopped, "Renata Quist is editing it now."), (stopped.Stay!.State, stopped.Stay.Words));
        Assert.Equal(Vane, Assert.Single(stopped.Letters).To);
    }

    [Fact]
    public void A_wrong_name_is_not_the_name_and_looking_needs_none()
    {
        var refusal = Assert.IsType<Decision.Refusal>(
            PutAway.Decide(Facts(Used()), new PutAwayWish(null, "pilot boarding notes"), default, administrator)
        );

        Assert.Equal(["Type the site's name as it stands: Pilot boarding notes"], refusal.Reasons);
    }

    [Fact]
    public void The_loss_names_pages_the_group_what_it_opens_and_look_alikes()
    {
        var group = new People.Group(new GroupId(5), "Boarders", [People.Member.Of(Trainee), People.Member.Of(Quist)]);
        harbour.Groups.Add(group);
        var other = Site(ToGroup(Power.Preview, group.Id), ToPerson(Power.Own, Quist)) with
        {
            Id = new SiteId(2),
            Name = Known.Of("Drills"),
        };
        var facts = Facts(
            Used() with
            {
                Content = new Content
                {
                    Joining = Known<Joining>.None,
                    Pages = Known.Of(9),
                    Group = Known.Of(group.Id),
                },
            }
        ) with
        {
            Around = new Surroundings
            {
                OpenedByGroup = [other],
                OnHost = new([
                    new(new SiteId(71), "Pilot boarding notes (old)", "slipway.example/old"),
                    new(new SiteId(72), "Pilot boat", "slipway.example/boat"),
                ]),
            },
            House = new House
            {
                Keeping = [new KeepRule(null, null, 60, DateTimeOffset.MinValue)],
                Hosts = new Dictionary<string, HostHabits> { ["Slipway"] = new() { BinDays = 30 } },
            },
        };
        var loss = Planned(facts, administrator).Loss!;

        Assert.Equal(new OpenedSite(new SiteId(2), "Drills", 1), Assert.Single(loss.Opened));
        Assert.Equal(["Pilot boarding notes (old) (slipway.example/old)"], loss.LookAlikes);
        Assert.Equal((new DateOnly(2027, 1, 23), new DateOnly(2026, 12, 24)), (loss.KeptThrough, loss.HostKeepsThrough!.Value));
        Assert.Equal("Boarders", loss.Group);
        Assert.True(loss.Bytes.IsUnknown);
    }

    [Fact]
    public void Where_a_host_deletes_for_good_the_site_is_ours_goes_on_costing_and_a_hold_may_lie_on_it()
    {
        var plan = new SitePlan(
            "P1",
            "Beacon",
            9_600,
            "EUR",
            12,
            new DateOnly(2027, 3, 2),
            Renews: false,
            GraceDays: 30,
            Sites: 1
        );
        var ours = new House
        {
            Keeping = [new KeepRule(null, null, 60, DateTimeOffset.MinValue)],
            Hosts = new Dictionary<string, HostHabits>
            {
                ["Slipway"] = new() { Deletes = Deletion.ForGood, BinDays = 30 },
            },
        };
        var facts = Facts(
            Used() with
            {
                Content = new Content
                {
                    Joining = Known<Joining>.None,
                    Plan = Known.Of(plan),
                    Records = Known.Of(41),
                },
            }
        ) with
        {
            House = ours,
            Holds = [new Hold(1, "Inquiry", Aske, Now, null)],
        };
        var loss = Planned(facts, administrator).Loss!;

        Assert.True(loss.IsOurs);
        Assert.Null(loss.HostKeepsThrough);
        Assert.Equal(
            ("96.00 EUR a year", "it ends with 2 Mar 2027, and the site is kept for 30 more days"),
            (loss.Plan!.Cost, loss.Plan.Next)
        );
        Assert.Equal(Known.Of(41), loss.Records);

        // The same hold keeps a site where it is on a host whose bin empties itself.
        var theirs = PutAway.Decide(
            facts with
            {
                House = ours with { Hosts = new Dictionary<string, HostHabits>() },
            },
            new PutAwayWish(null, "Pilot boarding notes"),
            default,
            administrator
        );
        Assert.StartsWith(
            "A hold forbids it: Inquiry.",
            Assert.Single(Assert.IsType<Decision.Refusal>(theirs).Reasons),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void What_people_are_owed_blocks_each_by_itself_and_records_do_not()
    {
        var owing = Used() with
        {
            Content = new Content
            {
                Joining = Known<Joining>.None,
                Obligations = Known<IReadOnlyList<Obligation>>.Of([
                    new(1, "order is not delivered"),
                    new(12, "vouchers are not used", new DateOnly(2027, 3, 2)),
                ]),
                Records = Known.Of(300),
            },
        };
        Assert.Equal(
            [
                "1 order is not delivered. Settle that at Slipway first: people are owed it.",
                "12 vouchers are not used, to be claimed through 2 Mar 2027. Settle that at Slipway first: people are owed it.",
            ],
            PutAway.Blockers(Facts(owing))
        );
    }

    [Fact]
    public void It_comes_back_without_those_who_left_and_no_wider_than_is_allowed_now()
    {
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.House, Outside(OutsideLevel.NoOne));
        var away = Away(Site(ToPerson(Power.Own, Lund), ToPassersBy(Power.View), ToStaff(Power.View)));

        Assert.Equal(
            ["Its owner Petra Lund can no longer answer for it. Choose a new one."],
            Assert.IsType<Decision.Refusal>(Back(away, new BringBackWish(null))).Reasons
        );
        Assert.Contains(
            "Ottoline Farrow leaves on 30 Nov.",
            Assert.IsType<Decision.Refusal>(Back(away, new BringBackWish(null, Farrow))).Reasons
        );

        var plan = Assert.IsType<Decision.Plan>(Back(away, new BringBackWish(null, Quist)));
        var key = "person:renata.quist@merrowby.example";
        Assert.Equal<GrantChange>(
            [new("person:4", null), new(key, new Grant(key, Power.Own, new Subject.OnePerson(Quist))), new("world", null)],
            plan.Orders.Single().Wish.Grants
        );
        Assert.Equal(Existence.Here, plan.Orders.Single().Wish.Existence);
        Assert.DoesNotContain(plan.Effect.Powers, change => change.Opened.Count > 0);
        Assert.Contains(Aske, plan.Effect.Powers.Single(change => change.Power == Power.View).Gain);
    }

    [Theory]
    [InlineData("slipway.example/free-one", null)]
    [InlineData(
        "slipway.example/Free",
        "The character \"F\" cannot stand in an address: it is made of a to z, 0 to 9 and single hyphens."
    )]
    [InlineData("slipway.example/a--b", "Hyphens stand single and between other characters.")]
    [InlineData("slipway.example/-a", "Hyphens stand single and between other characters.")]
    [InlineData("quay.example/a", "The address has to begin with slipway.example/.")]
    [InlineData("slipway.example/taken", "The address slipway.example/taken is held by Somebody else's.")]
    public void A_held_address_is_chosen_anew(string address, string? refused)
    {
        var facts = Away(Used()) with
        {
            Around = new Surroundings
            {
                OnHost = new([
                    new(new SiteId(71), "Newcomer", "slipway.example/pilot-boarding"),
                    new(new SiteId(72), "Somebody else's", "slipway.example/taken"),
                ]),
            },
        };

        Assert.Equal(
            ["Its address slipway.example/pilot-boarding is held by Newcomer now. Choose another."],
            Assert.IsType<Decision.Refusal>(Back(facts, new BringBackWish(null))).Reasons
        );
        Assert.Equal(
            ["slipway.example/pilot-boarding-pil", "slipway.example/pilot-boarding-2"],
            BringBack.FreeAddresses(facts).Take(2)
        );
        var decision = Back(facts, new BringBackWish(null, null, address));
        Assert.Equal(refused is null ? [] : [refused], decision is Decision.Refusal(var reasons) ? reasons : []);
    }

    [Fact]
    public void What_came_back_is_compared_with_what_went_and_what_was_meant_is_told_apart()
    {
        var went = Snapshot.Of(Used());
        var meant = new Wish([new GrantChange("person:2", null)], Existence.Here);
        var came = Snapshot.Of(
            Used() with
            {
                Sharing = Known.Of(new Sharing([ToPerson(Power.Own, Vane), ToStaff(Power.View)], null, Now, SharingSource.Read)),
                Stage = Known.Of(Stage.Offline),
            }
        );

        Assert.Empty(Comparison.Of(went, went, meant, grant => grant.Key));
        Assert.Equal(
            [("what visitors see", false), ("everyone", false), ("person:2", true), ("unit:PIL", false)],
            Comparison.Of(went, came, meant, grant => grant.Key).Select(one => (one.What, one.Meant))
        );
    }

    [Fact]
    public void A_hold_in_a_bin_that_clears_itself_is_refused_with_the_remedy_unless_it_ends_before()
    {
        var facts = Away(Used());

        Assert.Equal(
            [
                "Slipway clears its bin on 24 Dec 2026 whatever we hold. Bring the site back first: a held site cannot be put away.",
            ],
            Assert.IsType<Decision.Refusal>(HoldDeeds.Place(facts, new HoldWish("Inquiry", null), administrator)).Reasons
        );
        Assert.IsType<Decision.Plan>(HoldDeeds.Place(facts, new HoldWish("Inquiry", new DateOnly(2026, 12, 20)), administrator));
        Assert.Contains(
            "Holds are placed and released by administrators and stewards.",
            Assert.IsType<Decision.Refusal>(HoldDeeds.Place(Facts(Used()), new HoldWish("x", null), owner)).Reasons
        );
    }

    [Fact]
    public void Nobody_agrees_to_what_they_asked_for_and_other_facts_are_asked_anew()
    {
        var facts = Facts(Site(ToPerson(Power.Own, Vane), ToStaff(Power.View)));
        var plan = Planned(facts, administrator);
        var approval = Approval.Ask(new ApprovalId(Guid.NewGuid()), facts, PutAway.Deed, "{}", null, administrator, plan);

        Assert.False(approval.MayBeAnsweredBy(Aske));
        Assert.True(approval.MayBeAnsweredBy(Trainee));
        Assert.Equal(ApprovalState.Given, approval.Answer(plan, plan.Fingerprint, Trainee, Now).State);

        var wider = Planned(Facts(Site(ToPerson(Power.Own, Vane), ToPassersBy(Power.View))), administrator);
        var renewed = approval.Answer(wider, plan.Fingerprint, Trainee, Now);
        Assert.Equal((ApprovalState.Asked, 1, wider.Fingerprint), (renewed.State, renewed.Renewed, renewed.Fingerprint));
        Assert.Equal(ApprovalState.Given, renewed.Answer(wider, wider.Fingerprint, Trainee, Now).State);
        Assert.Equal(ApprovalState.Asked, renewed.Answer(wider, plan.Fingerprint, Trainee, Now).State);
        Assert.Equal(ApprovalState.Void, approval.Answer(new Decision.Refusal(["no"]), plan.Fingerprint, Trainee, Now).State);
    }

    [Fact]
    public void Every_event_in_every_state_of_an_approval_is_a_named_move_or_none_and_what_is_over_stays_over()
    {
        foreach (var state in Enum.GetValues<ApprovalState>())
        {
            foreach (var happened in Enum.GetValues<ApprovalEvent>())
            {
                Assert.Equal(state == ApprovalState.Asked, ApprovalStates.After(state, happened) is not null);
            }
        }

        Assert.Equal(
            Enum.GetValues<ApprovalState>().Order(),
            Enum.GetValues<ApprovalEvent>()
                .Select(happened => ApprovalStates.After(ApprovalState.Asked, happened)!.Value)
                .Distinct()
                .Order()
        );
    }

    private static SiteFacts Used() => Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist), Unit);

    private DeedFacts Facts(SiteFacts site) =>
        new(site, [], harbour.House, new Core.Rules.RuleBook([], default), harbour.Roll) { Administrators = [Aske] };

    private DeedFacts Away(SiteFacts site)
    {
        var bin = site with
        {
            Existence = Existence.Attic,
            Bin = new Bin(Now, null, Known.Of(Now.AddDays(30)), Known<DateTimeOffset>.Unknown),
        };
        return Facts(bin) with
        {
            Stay = new Stay
            {
                Id = 1,
                Place = 3,
                Site = site.Id,
                State = StayState.Kept,
                AskedAt = Now,
                PutAwayAt = Now,
                Went = Snapshot.Of(site),
            },
        };
    }

    private static Decision Put(DeedFacts facts, Doer doer) =>
        PutAway.Decide(facts, new PutAwayWish(null), new OrderId(Guid.NewGuid()), doer);

    private static Decision.Plan Planned(DeedFacts facts, Doer doer) => Assert.IsType<Decision.Plan>(Put(facts, doer));

    private static Decision Back(DeedFacts facts, BringBackWish wish) =>
        BringBack.Decide(facts, wish, new OrderId(Guid.NewGuid()), new Doer(Aske));
}
