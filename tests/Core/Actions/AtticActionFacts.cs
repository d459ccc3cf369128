using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class AtticActionFacts
{
    private static readonly Grant Unit = new("unit:PIL", Power.View, new Subject.WholeUnit(Pilotage));
    private readonly Harbour harbour = new();
    private readonly Actor administrator = new(Aske);
    private readonly Actor owner = new(Vane, Capacity.Owner);

    [Fact]
    public void Blockers_are_listed_in_the_sequence_to_solve_them()
    {
        var site = Used() with
        {
            Joining = Known<Joining>.None,
            Domains = Known<IReadOnlyList<string>>.Of(["notes.merrowby.example"]),
            Editing = Known<IReadOnlyList<PersonId>>.Of([Quist]),
            Pages = Known.Of(9),
        };
        var facts = Facts(site) with
        {
            Holds = [new Hold(1, "Inquiry 9", Aske, Now.AddDays(-1), new DateOnly(2026, 12, 31))],
            Around = new Surroundings { Children = [Used() with { Id = new SiteId(2), Name = Known.Of("Child") }] },
        };

        Assert.Equal(
            [
                new HeldFromAttic(new DateOnly(2026, 12, 31), "Inquiry 9", "Slipway"),
                new DomainShowsSite("notes.merrowby.example", "Slipway"),
                new SiteBelow("Child"),
                new BeingEdited("Renata Quist"),
            ],
            Assert.IsType<Decision.Refusal>(Put(facts, administrator)).Reasons
        );
    }

    [Fact]
    public void How_sure_it_wants_to_be_goes_by_what_is_at_risk_and_unknown_is_the_worst()
    {
        var small = Site(ToPerson(Power.Own, Vane)) with
        {
            Status = Known.Of(Status.NeverPublished),
            Joining = Known<Joining>.None,
            Pages = Known.Of(3),
        };

        Assert.Equal(ConfirmationLevel.UndoAlone, Planned(Facts(small), owner).Confirmation);
        Assert.Equal(
            ConfirmationLevel.TypeTheName,
            Planned(Facts(small with { Pages = Known<int>.Unknown }), owner).Confirmation
        );
        Assert.Equal(ConfirmationLevel.TypeTheName, Planned(Facts(Used()), administrator).Confirmation);
        Assert.Equal(
            (ConfirmationLevel.SecondPerson, (Remark?)new StaffNeedSecond(Power.View, true)),
            Second(Site(ToPerson(Power.Own, Vane), ToStaff(Power.View)))
        );
        Assert.Equal(
            (ConfirmationLevel.SecondPerson, (Remark?)new AnonymousNeedSecond(Power.View, true)),
            Second(Site(ToPerson(Power.Own, Vane), ToAnonymous(Power.View)))
        );
        Assert.Equal(
            ConfirmationLevel.SecondPerson,
            Planned(Facts(Used() with { Sharing = Known<Sharing>.Unknown }), administrator).Confirmation
        );

        // What many use is never small: whoever they are, and also by visits alone.
        harbour.Groups.Add(new Group(new GroupId(30), "Crew", [Member.Of(Quist), Member.Of(Aske), Member.Of(Trainee)]));
        Assert.Equal(
            ConfirmationLevel.TypeTheName,
            Planned(
                Facts(small.WithGrants([.. small.Expected.Or([]), ToGroup(Power.Own, new GroupId(30))])),
                administrator
            ).Confirmation
        );
        Assert.Equal(
            (ConfirmationLevel.SecondPerson, (Remark?)new ManyUseNeedSecond(1, 0, 1, 888)),
            Second(Site(ToPerson(Power.Own, Vane), ToPerson(Power.View, Quist)) with { Visits = Known.Of(888) })
        );

        (ConfirmationLevel, Remark?) Second(SiteFacts site) =>
            (Planned(Facts(site), administrator).Confirmation, Planned(Facts(site), administrator).NeedsSecond);
    }

    [Fact]
    public void An_owners_deletion_of_what_others_use_can_be_stopped_for_an_hour_and_administrators_hear_of_it()
    {
        var plan = Planned(Facts(Used()), owner);

        Assert.Empty(plan.HostChanges);
        Assert.Equal((AtticState.Announced, Now.AddHours(1)), (plan.AtticEntry!.State, plan.AtticEntry.StoppableUntil));
        Assert.Equal([Vane, Quist, Aske], plan.Notifications.Select(notification => notification.To));
        Assert.Equal(
            (LinkPurpose.Stop, Now.AddHours(1)),
            (plan.Notifications[0].Link!.Purpose, plan.Notifications[0].Link!.Until)
        );
        Assert.Equal(
            "You asked to move Pilot boarding notes to the attic (slipway.example/pilot-boarding). It moves at 08:00 on 24 Nov unless you stop it.",
            plan.Notifications[0].Sentences[0]
        );

        var byAdministrator = Planned(Facts(Used()), administrator);
        Assert.Equal(
            (AtticState.MovingToAttic, Existence.Attic),
            (byAdministrator.AtticEntry!.State, byAdministrator.HostChanges.Single().WantedState.Existence)
        );
    }

    [Fact]
    public void When_the_hour_is_over_it_goes_unless_something_blocks_it_by_then()
    {
        var announced = Planned(Facts(Used()), owner).AtticEntry! with { Id = 7, Place = 7 };
        var going = MoveToAttic.Go(Facts(Used()) with { AtticEntry = announced }, announced, new ChangeId(Guid.NewGuid()), Say);
        Assert.Equal(
            (AtticState.MovingToAttic, ChangePurpose.MoveToAttic),
            (going.AtticEntry!.State, going.HostChanges.Single().Purpose)
        );

        var editing = Used() with { Joining = Known<Joining>.None, Editing = Known<IReadOnlyList<PersonId>>.Of([Quist]) };
        var stopped = MoveToAttic.Go(Facts(editing) with { AtticEntry = announced }, announced, default, Say);
        Assert.Equal((AtticState.Stopped, "being-edited"), (stopped.AtticEntry!.State, stopped.AtticEntry.Words));
        Assert.Equal(Vane, Assert.Single(stopped.Notifications).To);
    }

    [Fact]
    public void A_wrong_name_is_not_the_name_and_looking_needs_none()
    {
        var refusal = Assert.IsType<Decision.Refusal>(
            MoveToAttic.Decide(Facts(Used()), new MoveToAtticRequest(null, "pilot boarding notes"), default, administrator)
        );

        Assert.Equal([new NameTypedWrong("Pilot boarding notes")], refusal.Reasons);
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
        var facts = Facts(Used() with { Joining = Known<Joining>.None, Pages = Known.Of(9), Group = Known.Of(group.Id) }) with
        {
            Around = new Surroundings
            {
                OpenedByGroup = [other],
                OnHost = new([
                    new(new SiteId(71), "Pilot boarding notes (old)", "slipway.example/old"),
                    new(new SiteId(72), "Pilot boat", "slipway.example/boat"),
                ]),
            },
            Organisation = new Organisation
            {
                RetentionRules = [new RetentionRule(null, null, 60, DateTimeOffset.MinValue)],
                Hosts = new Dictionary<string, HostCapabilities> { ["Slipway"] = new() { BinDays = 30 } },
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
        var ours = new Organisation
        {
            RetentionRules = [new RetentionRule(null, null, 60, DateTimeOffset.MinValue)],
            Hosts = new Dictionary<string, HostCapabilities>
            {
                ["Slipway"] = new() { Deletes = Deletion.ForGood, BinDays = 30 },
            },
        };
        var facts = Facts(Used() with { Joining = Known<Joining>.None, Plan = Known.Of(plan), Records = Known.Of(41) }) with
        {
            Organisation = ours,
            Holds = [new Hold(1, "Inquiry", Aske, Now, null)],
        };
        var loss = Planned(facts, administrator).Loss!;

        Assert.True(loss.IsOurs);
        // The plan ends on 2 Mar 2027, and the host keeps the site for 30 days more.
        Assert.Equal(new DateOnly(2027, 4, 1), loss.HostKeepsThrough);
        Assert.Null(
            Planned(
                facts with
                {
                    Site = facts.Site with { Plan = Known.Of(plan with { Renews = true }) },
                },
                administrator
            ).Loss!.HostKeepsThrough
        );
        Assert.Equal(plan, loss.Plan);
        Assert.Equal(Known.Of(41), loss.Records);

        // The same hold keeps a site in use on a host that empties its bin.
        var theirs = MoveToAttic.Decide(
            facts with
            {
                Organisation = ours with { Hosts = new Dictionary<string, HostCapabilities>() },
            },
            new MoveToAtticRequest(null, "Pilot boarding notes"),
            default,
            administrator
        );
        Assert.Equal([new HeldFromAttic(null, "Inquiry", "Slipway")], Assert.IsType<Decision.Refusal>(theirs).Reasons);
    }

    [Fact]
    public void What_people_are_owed_blocks_each_by_itself_and_records_do_not()
    {
        var owing = Used() with
        {
            Joining = Known<Joining>.None,
            Obligations = Known<IReadOnlyList<Obligation>>.Of([
                new(1, "order is not delivered"),
                new(12, "vouchers are not used", new DateOnly(2027, 3, 2)),
            ]),
            Records = Known.Of(300),
        };
        Assert.Equal(
            [
                new ObligationOpen(1, "order is not delivered", null, "Slipway"),
                new ObligationOpen(12, "vouchers are not used", new DateOnly(2027, 3, 2), "Slipway"),
            ],
            MoveToAttic.Blockers(Facts(owing))
        );
    }

    [Fact]
    public void A_change_under_way_blocks_moving_it_to_the_attic()
    {
        var queued = Planned(Facts(Used()), administrator).HostChanges.Single();

        Assert.Equal(
            [new ChangeUnderWay("Slipway")],
            Assert.IsType<Decision.Refusal>(Put(Facts(Used()) with { ChangeQueue = [queued] }, administrator)).Reasons
        );
        Assert.IsType<Decision.Plan>(
            Put(Facts(Used()) with { ChangeQueue = [queued.Move(ChangeEvent.Withdraw)] }, administrator)
        );
    }

    [Fact]
    public void A_site_is_not_restored_from_a_bin_that_the_host_has_emptied()
    {
        var away = Away(Used());
        var emptied = away with { Site = away.Site with { Bin = away.Site.Bin! with { RecoverableUntil = Known.Of(Now) } } };

        Assert.Equal(
            [new RecoveryPassed("Slipway", harbour.PeopleDirectory.Time.InZone(Now))],
            Assert.IsType<Decision.Refusal>(Back(emptied, new RestoreRequest(null))).Reasons
        );
    }

    [Fact]
    public void A_restored_site_admits_nobody_who_left_and_no_more_than_is_allowed_now()
    {
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne));
        var away = Away(Site(ToPerson(Power.Own, Lund), ToAnonymous(Power.View), ToStaff(Power.View)));

        Assert.Equal(
            [new OwnerNoLongerActive("Petra Lund")],
            Assert.IsType<Decision.Refusal>(Back(away, new RestoreRequest(null))).Reasons
        );
        Assert.Contains(
            new NewOwnerIneligible("Ottoline Farrow", Ineligibility.Leaves, new DateOnly(2026, 11, 30)),
            Assert.IsType<Decision.Refusal>(Back(away, new RestoreRequest(null, Farrow))).Reasons
        );

        var plan = Assert.IsType<Decision.Plan>(Back(away, new RestoreRequest(null, Quist)));
        var key = "person:renata.quist@merrowby.example";
        Assert.Equal<GrantChange>(
            [new("person:4", null), new(key, new Grant(key, Power.Own, new Subject.OnePerson(Quist))), new("world", null)],
            plan.HostChanges.Single().WantedState.Grants
        );
        Assert.Equal(Existence.InUse, plan.HostChanges.Single().WantedState.Existence);
        Assert.DoesNotContain(plan.Effect.Powers, change => change.Opened.Count > 0);
        var told = Assert.Single(plan.Notifications);
        Assert.Equal((Quist, "Pilot boarding notes is restored", true), (told.To, told.Title, told.Urgent));
        Assert.Contains(Aske, plan.Effect.Powers.Single(change => change.Power == Power.View).Gain);
    }

    [Theory]
    [InlineData("slipway.example/free-one", null)]
    [InlineData("slipway.example/Free", "address-character")]
    [InlineData("slipway.example/a--b", "address-hyphens")]
    [InlineData("slipway.example/-a", "address-hyphens")]
    [InlineData("quay.example/a", "address-prefix")]
    [InlineData("slipway.example/taken", "address-taken")]
    public void A_reserved_address_can_be_chosen_again(string address, string? refused)
    {
        var facts = Away(Used()) with
        {
            Around = new Surroundings
            {
                OnHost = new([
                    new(new SiteId(71), "Newcomer", "slipway.example/pilot-boarding"),
                    new(new SiteId(72), "Another person's", "slipway.example/taken"),
                ]),
            },
        };

        Assert.Equal(
            [new AddressTakenNow("slipway.example/pilot-boarding", "Newcomer")],
            Assert.IsType<Decision.Refusal>(Back(facts, new RestoreRequest(null))).Reasons
        );
        Assert.Equal(
            ["slipway.example/pilot-boarding-pil", "slipway.example/pilot-boarding-2"],
            Restore.FreeAddresses(facts).Take(2)
        );
        var decision = Back(facts, new RestoreRequest(null, null, address));
        Assert.Equal(refused, (decision as Decision.Refusal)?.Reasons.Single().Code);
    }

    [Fact]
    public void What_was_restored_is_compared_with_what_was_moved_and_intended_changes_are_told_apart()
    {
        var went = Snapshot.Of(Used());
        var meant = new WantedState([new GrantChange("person:2", null)], Existence.InUse);
        var came = Snapshot.Of(
            Used() with
            {
                Sharing = Known.Of(new Sharing([ToPerson(Power.Own, Vane), ToStaff(Power.View)], null, Now, SharingSource.Read)),
                Status = Known.Of(Status.Offline),
            }
        );

        Assert.Empty(Comparison.Of(went, went, meant, grant => grant.Key));
        Assert.Equal(
            [("status", false), ("everyone", false), ("person:2", true), ("unit:PIL", false)],
            Comparison.Of(went, came, meant, grant => grant.Key).Select(one => (one.What, one.Meant))
        );
    }

    [Fact]
    public void A_hold_in_a_bin_that_the_host_empties_is_refused_with_the_remedy_unless_it_ends_before()
    {
        var facts = Away(Used());

        Assert.Equal(
            [new BinEmptiesFirst("Slipway", new DateOnly(2026, 12, 24))],
            Assert.IsType<Decision.Refusal>(HoldActions.Place(facts, new HoldRequest("Inquiry", null), administrator)).Reasons
        );
        Assert.IsType<Decision.Plan>(
            HoldActions.Place(facts, new HoldRequest("Inquiry", new DateOnly(2026, 12, 20)), administrator)
        );
        Assert.Contains(
            new HoldNotByOwners(),
            Assert.IsType<Decision.Refusal>(HoldActions.Place(Facts(Used()), new HoldRequest("x", null), owner)).Reasons
        );
    }

    [Fact]
    public void Nobody_approves_their_own_request_and_changed_facts_need_a_new_approval()
    {
        var facts = Facts(Site(ToPerson(Power.Own, Vane), ToStaff(Power.View)));
        var plan = Planned(facts, administrator);
        var approval = Approval.Ask(
            new ApprovalId(Guid.NewGuid()),
            facts,
            ActionName.SiteMoveToAttic,
            "{}",
            null,
            administrator,
            plan
        );

        Assert.False(approval.MayBeAnsweredBy(Aske));
        Assert.True(approval.MayBeAnsweredBy(Trainee));
        Assert.Equal(ApprovalState.Approved, approval.Answer(plan, plan.Fingerprint, Trainee, Now).State);

        var wider = Planned(Facts(Site(ToPerson(Power.Own, Vane), ToAnonymous(Power.View))), administrator);
        var renewed = approval.Answer(wider, plan.Fingerprint, Trainee, Now);
        Assert.Equal((ApprovalState.Requested, 1, wider.Fingerprint), (renewed.State, renewed.Renewed, renewed.Fingerprint));
        Assert.Equal(ApprovalState.Approved, renewed.Answer(wider, wider.Fingerprint, Trainee, Now).State);
        Assert.Equal(ApprovalState.Requested, renewed.Answer(wider, plan.Fingerprint, Trainee, Now).State);
        Assert.Equal(
            ApprovalState.Void,
            approval.Answer(new Decision.Refusal([new NotInAttic()]), plan.Fingerprint, Trainee, Now).State
        );
    }

    [Fact]
    public void Every_event_in_every_state_of_an_approval_is_a_named_move_or_none_and_what_is_over_stays_over()
    {
        foreach (var state in Enum.GetValues<ApprovalState>())
        {
            foreach (var happened in Enum.GetValues<ApprovalEvent>())
            {
                Assert.Equal(state == ApprovalState.Requested, ApprovalStates.Table.Allows(state, happened));
            }
        }

        Assert.Equal(
            Enum.GetValues<ApprovalState>().Order(),
            Enum.GetValues<ApprovalEvent>()
                .Select(happened => ApprovalStates.Table.After(ApprovalState.Requested, happened)!.Value)
                .Distinct()
                .Order()
        );
    }

    private static SiteFacts Used() => Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist), Unit);

    private ActionFacts Facts(SiteFacts site) =>
        new(site, [], harbour.Organisation, Harbour.NoRules, harbour.PeopleDirectory) { Administrators = [Aske] };

    private ActionFacts Away(SiteFacts site)
    {
        var bin = site with
        {
            Existence = Existence.Attic,
            Bin = new Bin(Now, null, Known.Of(Now.AddDays(30)), Known<DateTimeOffset>.Unknown),
        };
        return Facts(bin) with
        {
            AtticEntry = new AtticEntry
            {
                Id = 1,
                Place = 3,
                Site = site.Id,
                State = AtticState.InAttic,
                RequestedAt = Now,
                MovedToAtticAt = Now,
                ContentBefore = Snapshot.Of(site),
            },
        };
    }

    private static Decision Put(ActionFacts facts, Actor actor) =>
        MoveToAttic.Decide(facts, new MoveToAtticRequest(null), new ChangeId(Guid.NewGuid()), actor);

    private static Decision.Plan Planned(ActionFacts facts, Actor actor) => Assert.IsType<Decision.Plan>(Put(facts, actor));

    private static Decision Back(ActionFacts facts, RestoreRequest request) =>
        Restore.Decide(facts, request, new ChangeId(Guid.NewGuid()), new Actor(Aske));

    [Theory]
    [InlineData(1, true, 0, "96.00 EUR a month", "it renews after 2 Mar 2027")]
    [InlineData(12, false, 0, "96.00 EUR a year", "it ends on 2 Mar 2027")]
    [InlineData(24, false, 1, "96.00 EUR every 24 months", "it ends on 2 Mar 2027, and the site is kept for 1 more day")]
    [InlineData(12, false, 30, "96.00 EUR a year", "it ends on 2 Mar 2027, and the site is kept for 30 more days")]
    public void A_plan_says_what_it_costs_and_what_comes_next(int months, bool renews, int grace, string cost, string next)
    {
        var plan = new SitePlan("p", "Small", 9600, "EUR", months, new DateOnly(2027, 3, 2), renews, grace, 1);
        Assert.Equal((cost, next), (plan.Cost, plan.Next));
    }

    private static string Say(Remark remark) => remark.Code;
}
