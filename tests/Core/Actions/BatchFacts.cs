using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class BatchFacts
{
    private static readonly BatchId Batch = new(Guid.Parse("00000000-0000-0000-0000-00000000000b"));
    private static readonly Guid HostChange = Guid.Parse("00000000-0000-0000-0000-000000000001");
    private static readonly Actor Administrator = new(Aske);
    private static readonly BulkRequest Restrict = new(ActionName.SiteRestrict);
    private readonly Harbour harbour = new Harbour().Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne));

    [Fact]
    public void A_batch_moves_as_its_table_says_and_no_other_way()
    {
        var moves =
            from state in Enum.GetValues<BatchState>()
            from happened in Enum.GetValues<BatchEvent>()
            where BatchStates.Table.Allows(state, happened)
            select (state, happened, BatchStates.Table.After(state, happened)!.Value);
        Assert.Equal(
            [
                (BatchState.Planned, BatchEvent.Start, BatchState.Running),
                (BatchState.Running, BatchEvent.Stop, BatchState.Stopped),
                (BatchState.Running, BatchEvent.Finish, BatchState.Ended),
                (BatchState.Stopped, BatchEvent.Resume, BatchState.Running),
            ],
            moves
        );
    }

    [Fact]
    public void What_was_planned_is_carried_out_where_the_effect_is_the_same()
    {
        var facts = Facts(Site(ToStaff(Power.View), ToAnonymous(Power.View), ToPerson(Power.Own, Vane)));
        var planned = Planned(facts);
        var turn = planned.Decided(Decide(facts, HostChange));

        Assert.Equal(BatchLineState.Waiting, planned.State);
        Assert.True(planned.Effect.ShutsDoors);
        Assert.Equal((BatchLineState.Carried, new ChangeId(HostChange)), (turn.State, turn.HostChange));
    }

    [Fact]
    public void Nothing_is_done_where_the_effect_is_another_by_then()
    {
        var planned = Planned(Facts(Site(ToAnonymous(Power.View), ToPerson(Power.Own, Vane))));
        var turn = planned.Decided(
            Decide(
                Facts(Site(ToAnonymous(Power.View), ToAnonymous(Power.Edit) with { Key = "link:b" }, ToPerson(Power.Own, Vane))),
                HostChange
            )
        );

        Assert.Equal((BatchLineState.Changed, null), (turn.State, turn.HostChange));
    }

    [Fact]
    public void A_line_is_refused_with_its_reasons_while_planning_and_in_its_turn()
    {
        var restrict = Facts(Site(ToPerson(Power.Own, Vane)));
        var refused = Planned(restrict);
        var turn = Planned(Facts(Site(ToAnonymous(Power.View), ToPerson(Power.Own, Vane)))).Decided(Decide(restrict, HostChange));

        Assert.Equal((BatchLineState.Refused, null), (refused.State, refused.Fingerprint));
        Assert.Equal([new WithinAlready()], refused.Refused);
        Assert.Equal((BatchLineState.Refused, refused.Refused.Single()), (turn.State, turn.Refused.Single()));
    }

    [Fact]
    public void Restricting_without_a_known_limit_is_refused_with_the_remedy()
    {
        var decision = BulkActions.Decide(
            Restrict,
            Facts(Site(ToAnonymous(Power.View)) with { Unit = Known<UnitCode>.Unknown }),
            HostChange,
            Administrator
        );

        Assert.Equal([new LimitUnknown()], Assert.IsType<Decision.Refusal>(decision).Reasons);
    }

    [Fact]
    public void Moving_what_all_staff_use_to_the_attic_waits_for_a_second_person()
    {
        var facts = Facts(Site(ToStaff(Power.View), ToPerson(Power.Own, Vane)), new Harbour());
        var move = new BulkRequest(ActionName.SiteMoveToAttic, Reason: "tidy");
        var planned = BatchLine.Planned(
            Batch,
            0,
            new BatchTarget(facts.Site.Id),
            BulkActions.Decide(move, facts, Guid.Empty, Administrator)
        );
        var turn = planned.Decided(BulkActions.Decide(move, facts, HostChange, Administrator));

        Assert.Equal(new StaffNeedSecond(Power.View, true), planned.Effect.NeedsSecond);
        Assert.Equal(BatchLineState.AsksSecond, turn.State);
        Assert.Equal(new MoveToAtticRequest("tidy"), BulkActions.Request(move, Administrator));
    }

    [Fact]
    public void Undoing_a_batch_counters_or_withdraws_the_change_of_each_site()
    {
        var wide = Site(ToAnonymous(Power.View), ToPerson(Power.Own, Vane));
        var asked = Assert.IsType<Decision.Plan>(Decide(Facts(wide), HostChange)).HostChanges.Single();
        var done = ChangeQueue.Answered(ChangeQueue.Take(asked, "w", Now), new HostAnswer.Done([], null), Now);
        var target = new BatchTarget(wide.Id, asked.Id);

        var countered = Undone(Facts(Site(ToPerson(Power.Own, Vane))) with { ChangeQueue = [done] });
        Assert.Equal((BatchLineState.Carried, new ChangeId(HostChange)), (countered.State, countered.HostChange));
        Assert.True(countered.Effect.OpensDoors);
        var withdrawn = Undone(
            Facts(wide with { UnderWay = [new UnderWay(asked.Id, asked.WantedState)] }) with
            {
                ChangeQueue = [asked],
            }
        );
        Assert.Equal((BatchLineState.Carried, null), (withdrawn.State, withdrawn.HostChange));
        Assert.Equal([new ChangeNotSent()], Undone(Facts(wide)).Refused);

        BatchLine Undone(ActionFacts facts) =>
            BatchLine.Planned(Batch, 0, target, Undoing(facts, Guid.Empty)).Decided(Undoing(facts, HostChange));
        Decision Undoing(ActionFacts facts, Guid hostChange) =>
            BulkActions.Decide(
                new BulkRequest(BulkActions.UndoOf(ActionName.SiteRestrict)!.Value),
                facts,
                hostChange,
                Administrator,
                target.Undoes
            );
    }

    [Fact]
    public void Sites_are_renamed_each_to_a_name_of_its_own()
    {
        SiteFacts Named(int id, string name) =>
            Site(ToPerson(Power.Own, Vane)) with
            {
                Id = new SiteId(id),
                HostKey = $"{id}",
                Name = Known.Of(name),
            };
        var sites = new[] { Named(1, "Tides (copy)"), Named(2, "Ebb"), Named(3, "Flood") };
        var harbour = new Harbour();
        harbour.Hosts["Slipway"] = new HostCapabilities { Changes = [LookField.Name] };
        var plan = new BatchPlanning(
            new Core.Actions.Batch
            {
                Id = Batch,
                Action = ActionName.SiteLook,
                By = Aske,
                PlannedAt = Now,
                Reason = "tidy",
            },
            Administrator,
            new Dictionary<PersonId, int>()
        ).Of(
            [
                .. new[] { "Springs", "SPRINGS!", "Flood" }.Select(
                    (name, at) => new BatchTarget(sites[at].Id, Own: new BulkRequest(ActionName.SiteLook, Name: name))
                ),
            ],
            sites.ToDictionary(site => site.Id, site => Around(site)),
            new HashSet<SiteId>()
        );

        Assert.Equal(["Tides (copy)", "Ebb", null], plan.Lines.Select(line => line.Effect.NameBefore));
        Assert.Equal([new LookIsSo()], plan.Lines[2].Refused);
        Assert.Equal(["Springs"], plan.Lines[1].Effect.Advice.OfType<NameUsedToo>().Single().Sites);
        Assert.DoesNotContain(plan.Lines[0].Effect.Advice, advice => advice is NameUsedToo);

        var turn = Assert.IsType<Decision.Plan>(
            BulkActions.Decide(
                new BulkRequest(ActionName.SiteLook, Name: "Springs", Reason: "tidy"),
                Around(sites[0]),
                HostChange,
                Administrator
            )
        );
        Assert.Equal((new WantedLook("Springs"), "tidy"), (turn.HostChanges[0].WantedState.Look, turn.HostChanges[0].Reason));
        Assert.Equal(BatchLineState.Carried, plan.Lines[0].Decided(turn).State);

        // Somebody has renamed it in the meantime: what they chose is not overwritten.
        var renamed = BulkActions.Decide(
            new BulkRequest(ActionName.SiteLook, Name: "Springs"),
            Around(sites[0] with { Name = Known.Of("Neaps") }),
            HostChange,
            Administrator
        );
        Assert.Equal(BatchLineState.Changed, plan.Lines[0].Decided(renamed).State);
        Assert.Equal(ActionName.ChangeUndo, BulkActions.UndoOf(ActionName.SiteLook));

        ActionFacts Around(SiteFacts site) =>
            Facts(site, harbour) with
            {
                Around = new Surroundings
                {
                    OnHost = new Neighbours([.. sites.Select(one => new Neighbour(one.Id, one.Title, ""))]),
                },
            };
    }

    [Fact]
    public void Notifications_that_were_sent_are_not_withdrawn() => Assert.Null(BulkActions.UndoOf(ActionName.OwnersAsk));

    [Fact]
    public void A_person_is_asked_to_own_many_sites_and_the_offers_are_withdrawn_by_undoing()
    {
        var add = new BulkRequest(ActionName.OwnerOffer, Quist, Reason: "one owner is too few");
        var facts = Facts(Site(ToPerson(Power.Own, Vane)), new Harbour());
        var plan = Assert.IsType<Decision.Plan>(BulkActions.Decide(add, facts, HostChange, Administrator));
        var offer = Assert.Single(plan.Offers);
        var withdrawn = BulkActions.Decide(
            add with
            {
                Action = BulkActions.UndoOf(ActionName.OwnerOffer)!.Value,
            },
            facts with
            {
                Offers = [offer],
            },
            HostChange,
            Administrator
        );

        Assert.Equal((Quist, CurrentOwnerAfter.Owns, (PersonId?)null), (offer.To, offer.After, offer.CurrentOwner));
        Assert.Equal(OfferState.Withdrawn, Assert.IsType<Decision.Plan>(withdrawn).Offers.Single().State);
        Assert.Equal(
            new OfferRequest(Quist, null, CurrentOwnerAfter.Owns, "one owner is too few"),
            BulkActions.Request(add, Administrator)
        );
    }

    [Fact]
    public void An_owner_adds_an_owner_in_their_own_name()
    {
        var plan = Assert.IsType<Decision.Plan>(
            BulkActions.Decide(
                new BulkRequest(ActionName.OwnerOffer, Quist),
                Facts(Site(ToPerson(Power.Own, Vane)), new Harbour()),
                HostChange,
                new Actor(Vane, Capacity.Owner)
            )
        );

        Assert.Equal(Vane, plan.Offers.Single().CurrentOwner);
    }

    [Fact]
    public void Only_the_recipient_accepts_the_offers_of_a_batch()
    {
        var site = Facts(Site(ToPerson(Power.Own, Vane)), new Harbour());
        var offered = (Decision.Plan)
            BulkActions.Decide(new BulkRequest(ActionName.OwnerOffer, Quist, Reason: "r"), site, HostChange, Administrator);
        var facts = site with { Offers = offered.Offers };
        var accept = new BulkRequest(ActionName.OfferAccept);

        Assert.True(BulkActions.Concerns(ActionName.OfferAccept, facts, Quist));
        Assert.False(BulkActions.Concerns(ActionName.OfferAccept, facts, Aske));
        Assert.False(BulkActions.Concerns(ActionName.SiteMoveToAttic, facts, Quist));
        Assert.Single(
            Assert
                .IsType<Decision.Plan>(BulkActions.Decide(accept, facts, HostChange, new Actor(Quist, Capacity.Owner)))
                .HostChanges
        );
        Assert.Equal(
            [new OfferAnswered()],
            Assert.IsType<Decision.Refusal>(BulkActions.Decide(accept, facts, HostChange, Administrator)).Reasons
        );
    }

    [Fact]
    public void Sites_below_are_moved_first_and_the_one_above_waits_until_its_host_has_answered()
    {
        var child = Site(ToPerson(Power.Own, Vane)) with { Id = new SiteId(2), Name = Known.Of("Child") };
        var above = Facts(Site(ToPerson(Power.Own, Vane)), new Harbour()) with
        {
            Around = new Surroundings { Children = [child], OnHost = new Core.Naming.Neighbours([]) },
        };
        var move = new BulkRequest(ActionName.SiteMoveToAttic, Reason: "tidy");
        Decision With(params IReadOnlyList<SiteId> done) =>
            BulkActions.Decide(move, above.After(move.Action, done.ToHashSet()), HostChange, Administrator);

        Assert.Equal([new SiteBelow("Child")], Assert.IsType<Decision.Refusal>(With()).Reasons);
        Assert.IsType<Decision.Plan>(With(child.Id));
        Assert.False(BulkActions.WaitsForOthers(move.Action, above, new HashSet<SiteId>()));
        Assert.True(BulkActions.WaitsForOthers(move.Action, above, new HashSet<SiteId> { child.Id }));
        var moving = child with { UnderWay = [new UnderWay(new ChangeId(HostChange), new WantedState([], Existence.Attic))] };
        Assert.True(
            BulkActions.WaitsForOthers(
                move.Action,
                above with
                {
                    Around = above.Around with { Children = [moving] },
                },
                new HashSet<SiteId>()
            )
        );
    }

    [Fact]
    public void Owners_move_their_sites_to_the_attic_one_by_one()
    {
        var decision = BulkActions.Decide(
            new BulkRequest(ActionName.SiteMoveToAttic),
            Facts(Site(ToPerson(Power.Own, Vane)), new Harbour()),
            HostChange,
            new Actor(Vane, Capacity.Owner)
        );

        Assert.Equal([new OwnersMoveSingly()], Assert.IsType<Decision.Refusal>(decision).Reasons);
    }

    [Theory]
    [InlineData(ChangeState.Queued, BatchOutcome.UnderWay)]
    [InlineData(ChangeState.Sent, BatchOutcome.UnderWay)]
    [InlineData(ChangeState.Confirmed, BatchOutcome.Done)]
    [InlineData(ChangeState.Verified, BatchOutcome.Done)]
    [InlineData(ChangeState.Contradicted, BatchOutcome.Contradicted)]
    [InlineData(ChangeState.Refused, BatchOutcome.HostRefused)]
    [InlineData(ChangeState.GivenUp, BatchOutcome.HostRefused)]
    [InlineData(ChangeState.Withdrawn, BatchOutcome.Withdrawn)]
    [InlineData(ChangeState.Superseded, BatchOutcome.Withdrawn)]
    public void The_position_of_a_row_follows_its_sorting(ChangeState hostChange, BatchOutcome outcome) =>
        Assert.Equal(outcome, BatchOutcomes.Of(BatchLineState.Carried, hostChange, null));

    [Fact]
    public void A_line_without_a_change_is_done_and_one_that_waits_follows_the_second_person()
    {
        Assert.Equal(BatchOutcome.Done, BatchOutcomes.Of(BatchLineState.Carried, null, null));
        Assert.Equal(BatchOutcome.AsksSecond, BatchOutcomes.Of(BatchLineState.AsksSecond, null, ApprovalState.Requested));
        Assert.Equal(BatchOutcome.Done, BatchOutcomes.Of(BatchLineState.AsksSecond, null, ApprovalState.Approved));
        Assert.Equal(BatchOutcome.Withdrawn, BatchOutcomes.Of(BatchLineState.AsksSecond, null, ApprovalState.Declined));
    }

    private static BatchLine Planned(ActionFacts facts) =>
        BatchLine.Planned(Batch, 0, new BatchTarget(facts.Site.Id), Decide(facts, Guid.Empty));

    private static Decision Decide(ActionFacts facts, Guid hostChange) =>
        BulkActions.Decide(Restrict, facts, hostChange, Administrator);

    private ActionFacts Facts(SiteFacts site, Harbour? other = null)
    {
        var organisation = other ?? harbour;
        return new ActionFacts(site, [], organisation.Organisation, Harbour.NoRules, organisation.PeopleDirectory);
    }
}
