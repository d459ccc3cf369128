using AtticLedger.Core.Deeds;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

public class BatchFacts
{
    private static readonly BatchId Batch = new(Guid.Parse("00000000-0000-0000-0000-00000000000b"));
    private static readonly Guid Order = Guid.Parse("00000000-0000-0000-0000-000000000001");
    private static readonly Doer Administrator = new(Aske);
    private readonly Harbour harbour = new Harbour().Limit(LayerKind.Unit, "PIL", Enforcer.House, Outside(OutsideLevel.NoOne));

    [Fact]
    public void A_batch_moves_as_its_table_says_and_no_other_way()
    {
        var moves =
            from state in Enum.GetValues<BatchState>()
            from happened in Enum.GetValues<BatchEvent>()
            where BatchStates.After(state, happened) is not null
            select (state, happened, BatchStates.After(state, happened)!.Value);
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
        var facts = Facts(Site(ToStaff(Power.View), ToPassersBy(Power.View), ToPerson(Power.Own, Vane)));
        var planned = Planned(facts);
        var turn = planned.Decided(Decide(facts, Order));

        Assert.Equal(BatchLineState.Waiting, planned.State);
        Assert.True(planned.Effect.ShutsDoors);
        Assert.Equal((BatchLineState.Carried, new OrderId(Order)), (turn.State, turn.Order));
    }

    [Fact]
    public void Nothing_is_done_where_the_effect_is_another_by_then()
    {
        var planned = Planned(Facts(Site(ToPassersBy(Power.View), ToPerson(Power.Own, Vane))));
        var turn = planned.Decided(
            Decide(
                Facts(Site(ToPassersBy(Power.View), ToPassersBy(Power.Edit) with { Key = "link:b" }, ToPerson(Power.Own, Vane))),
                Order
            )
        );

        Assert.Equal((BatchLineState.Changed, null), (turn.State, turn.Order));
    }

    [Fact]
    public void A_line_is_refused_with_its_reasons_while_planning_and_in_its_turn()
    {
        var narrow = Facts(Site(ToPerson(Power.Own, Vane)));
        var refused = Planned(narrow);
        var turn = Planned(Facts(Site(ToPassersBy(Power.View), ToPerson(Power.Own, Vane)))).Decided(Decide(narrow, Order));

        Assert.Equal((BatchLineState.Refused, null), (refused.State, refused.Fingerprint));
        Assert.Equal(["The site asks for no more than this; nothing is to be narrowed."], refused.Words);
        Assert.Equal((BatchLineState.Refused, refused.Words.Single()), (turn.State, turn.Words.Single()));
    }

    [Fact]
    public void Narrowing_without_a_limit_that_is_known_is_refused_with_the_remedy()
    {
        var decision = BulkDeeds.Decide(
            NarrowReach.Deed,
            Facts(Site(ToPassersBy(Power.View)) with { Unit = Known<UnitCode>.Unknown }),
            null,
            Order,
            Administrator
        );

        Assert.Equal(
            ["A limit over this site is not known, so it cannot be told how far to narrow it. Narrow it by itself."],
            Assert.IsType<Decision.Refusal>(decision).Reasons
        );
    }

    [Fact]
    public void What_all_of_the_staff_use_waits_for_a_second_person_when_it_is_put_away()
    {
        var facts = Facts(Site(ToStaff(Power.View), ToPerson(Power.Own, Vane)), new Harbour());
        var planned = BatchLine.Planned(
            Batch,
            0,
            new BatchTarget(facts.Site.Id),
            BulkDeeds.Decide(PutAway.Deed, facts, "tidy", Guid.Empty, Administrator)
        );
        var turn = planned.Decided(BulkDeeds.Decide(PutAway.Deed, facts, "tidy", Order, Administrator));

        Assert.Contains("two people", planned.Effect.NeedsSecond);
        Assert.Equal(BatchLineState.AsksSecond, turn.State);
        Assert.Equal(new PutAwayWish("tidy"), BulkDeeds.Wish(PutAway.Deed, "tidy"));
    }

    [Fact]
    public void Taking_a_batch_back_counters_the_order_of_each_site_or_withdraws_it()
    {
        var wide = Site(ToPassersBy(Power.View), ToPerson(Power.Own, Vane));
        var asked = Assert.IsType<Decision.Plan>(Decide(Facts(wide), Order)).Orders.Single();
        var done = Lane.Answered(Lane.Take(asked, "w", Now), new HostAnswer.Done([], null), Now);
        var target = new BatchTarget(wide.Id, asked.Id);

        var countered = Undone(Facts(Site(ToPerson(Power.Own, Vane))) with { Lane = [done] });
        Assert.Equal((BatchLineState.Carried, new OrderId(Order)), (countered.State, countered.Order));
        Assert.True(countered.Effect.OpensDoors);
        var withdrawn = Undone(Facts(wide with { UnderWay = [new UnderWay(asked.Id, asked.Wish)] }) with { Lane = [asked] });
        Assert.Equal((BatchLineState.Carried, null), (withdrawn.State, withdrawn.Order));
        Assert.Equal(["Nothing was asked of the host here, so there is nothing to take back."], Undone(Facts(wide)).Words);

        BatchLine Undone(DeedFacts facts) =>
            BatchLine.Planned(Batch, 0, target, Undoing(facts, Guid.Empty)).Decided(Undoing(facts, Order));
        Decision Undoing(DeedFacts facts, Guid order) =>
            BulkDeeds.Decide(BulkDeeds.UndoOf(NarrowReach.Deed)!, facts, null, order, Administrator, target.Undoes);
    }

    [Fact]
    public void Letters_that_were_sent_are_not_taken_back() => Assert.Null(BulkDeeds.UndoOf(AskOwners.Deed));

    [Fact]
    public void Owners_put_their_sites_away_one_by_one()
    {
        var decision = BulkDeeds.Decide(
            PutAway.Deed,
            Facts(Site(ToPerson(Power.Own, Vane)), new Harbour()),
            null,
            Order,
            new Doer(Vane, Capacity.Owner)
        );

        Assert.Equal(
            ["Owners put their sites away one by one, so that each can be stopped for a while."],
            Assert.IsType<Decision.Refusal>(decision).Reasons
        );
    }

    [Theory]
    [InlineData(OrderState.Asked, BatchOutcome.UnderWay)]
    [InlineData(OrderState.Sent, BatchOutcome.UnderWay)]
    [InlineData(OrderState.Confirmed, BatchOutcome.Done)]
    [InlineData(OrderState.Seen, BatchOutcome.Done)]
    [InlineData(OrderState.Contradicted, BatchOutcome.Contradicted)]
    [InlineData(OrderState.Refused, BatchOutcome.HostRefused)]
    [InlineData(OrderState.GivenUp, BatchOutcome.HostRefused)]
    [InlineData(OrderState.Withdrawn, BatchOutcome.Withdrawn)]
    [InlineData(OrderState.Superseded, BatchOutcome.Withdrawn)]
    public void Where_a_line_stands_goes_by_its_order(OrderState order, BatchOutcome outcome) =>
        Assert.Equal(outcome, BatchOutcomes.Of(BatchLineState.Carried, order, null));

    [Fact]
    public void A_line_without_an_order_is_done_and_one_that_waits_goes_by_the_second_person()
    {
        Assert.Equal(BatchOutcome.Done, BatchOutcomes.Of(BatchLineState.Carried, null, null));
        Assert.Equal(BatchOutcome.AsksSecond, BatchOutcomes.Of(BatchLineState.AsksSecond, null, ApprovalState.Asked));
        Assert.Equal(BatchOutcome.Done, BatchOutcomes.Of(BatchLineState.AsksSecond, null, ApprovalState.Given));
        Assert.Equal(BatchOutcome.Withdrawn, BatchOutcomes.Of(BatchLineState.AsksSecond, null, ApprovalState.TurnedDown));
    }

    private static BatchLine Planned(DeedFacts facts) =>
        BatchLine.Planned(Batch, 0, new BatchTarget(facts.Site.Id), Decide(facts, Guid.Empty));

    private static Decision Decide(DeedFacts facts, Guid order) =>
        BulkDeeds.Decide(NarrowReach.Deed, facts, null, order, Administrator);

    private DeedFacts Facts(SiteFacts site, Harbour? other = null)
    {
        var house = other ?? harbour;
        return new DeedFacts(site, [], house.House, new RuleBook([], default), house.Roll);
    }
}
