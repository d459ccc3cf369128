using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

public class OrderFacts
{
    private static readonly Order Asked = new()
    {
        Id = new OrderId(Guid.Empty),
        Site = new SiteId(1),
        Wish = new Wish([new GrantChange("world", null)]),
        Before = [new GrantChange("world", ToPassersBy(Power.View))],
        By = Vane,
        AskedAt = Now,
        NextTry = Now,
        DueAt = Now + Lane.DueWithin,
    };

    [Fact]
    public void Every_order_of_every_event_ends_in_a_named_state_and_what_is_ended_never_moves()
    {
        var reached = new HashSet<OrderState> { OrderState.Asked };
        var queue = new Queue<OrderState>(reached);
        while (queue.TryDequeue(out var state))
        {
            var next = Enum.GetValues<OrderEvent>()
                .Select(happened => OrderStates.After(state, happened))
                .OfType<OrderState>()
                .Distinct()
                .ToList();
            Assert.True(
                state.IsOpen() || state is OrderState.Confirmed or OrderState.Contradicted || next.Count == 0,
                $"{state} has ended and yet moves."
            );
            foreach (var found in next.Where(reached.Add))
            {
                queue.Enqueue(found);
            }
        }

        Assert.Equal(Enum.GetValues<OrderState>().Order(), reached.Order());
    }

    [Fact]
    public void What_is_left_of_a_wish_is_what_is_not_so_yet()
    {
        var wish = new Wish(
            [new GrantChange("world", null), new GrantChange("everyone", ToStaff(Power.View))],
            Existence.Here,
            "slipway.example/a"
        );
        var site = Site(ToPassersBy(Power.View), ToStaff(Power.View)) with
        {
            Existence = Existence.Attic,
            Address = Known.Of("slipway.example/a"),
        };

        var left = wish.LeftIn(site)!;
        Assert.Equal((Existence.Here, null), (left.Existence, left.Address));
        Assert.Equal(new GrantChange("world", null), Assert.Single(left.Grants));
        Assert.Null(wish.LeftIn(site with { Existence = Existence.Here, Sharing = Site(ToStaff(Power.View)).Sharing }));

        // Of what the host did not say, nothing is known to be so.
        Assert.Equal(2, wish.LeftIn(site with { Sharing = Known<Sharing>.Unknown })!.Grants.Count);
    }

    [Fact]
    public void An_order_that_was_sent_can_no_longer_be_withdrawn() =>
        Assert.Throws<InvalidOperationException>(() => Lane.Take(Asked, "w", Now).Move(OrderEvent.Withdraw));

    [Fact]
    public void A_lane_gives_its_oldest_order_only_and_none_while_it_waits_or_is_leased()
    {
        var second = Asked with { Place = 2 };
        Assert.Equal(0, Lane.Next([second, Asked], Now)!.Place);

        var taken = Lane.Take(Asked, "w", Now);
        Assert.Null(Lane.Next([taken, second], Now));
        Assert.Equal(taken, Lane.Next([taken, second], Now + Lane.LeaseTime));

        var waiting = Lane.Answered(taken, new HostAnswer.Later(TimeSpan.FromSeconds(20), "slow down"), Now);
        Assert.Null(Lane.Next([waiting, second], Now.AddSeconds(19)));
        Assert.NotNull(Lane.Next([waiting, second], Now.AddSeconds(20)));
    }

    [Fact]
    public void Pauses_grow_to_a_minute_and_the_last_attempt_gives_up()
    {
        Assert.Equal(
            [1, 2, 4, 8, 16, 32, 60, 60],
            Enumerable.Range(1, 8).Select(attempt => (int)Lane.Pause(attempt).TotalSeconds)
        );

        var last = Lane.Take(Asked with { Attempts = Lane.MostAttempts - 1 }, "w", Now);
        Assert.Equal(OrderState.GivenUp, Lane.Answered(last, new HostAnswer.Lost("no answer"), Now).State);
    }

    [Fact]
    public void A_confirmed_order_is_seen_by_a_read_that_began_after_it_and_by_no_earlier_one()
    {
        var confirmed = Lane.Answered(Lane.Take(Asked, "w", Now), new HostAnswer.Done([], null), Now);

        Assert.Equal(
            OrderState.Confirmed,
            Lane.Seen(confirmed, Site(ToPassersBy(Power.View)), [], Now.AddSeconds(-1), Now).State
        );
        Assert.Equal(OrderState.Seen, Lane.Seen(confirmed, Site(ToStaff(Power.View)), [], Now, Now).State);
        Assert.Equal(OrderState.Contradicted, Lane.Seen(confirmed, Site(ToPassersBy(Power.View)), [], Now, Now).State);

        // What was asked later changes the same: what is seen then says nothing against the earlier order.
        Assert.NotEqual(
            OrderState.Contradicted,
            Lane.Seen(confirmed, Site(ToPassersBy(Power.View)), [Asked.Wish], Now, Now).State
        );
    }

    [Fact]
    public void A_site_whose_sharing_the_host_withholds_is_seen_to_be_put_away_by_where_it_is()
    {
        var away = Asked with { Wish = new Wish([], Existence.Attic), Before = [], Purpose = OrderPurpose.PutAway };
        var confirmed = Lane.Answered(Lane.Take(away, "w", Now), new HostAnswer.Done(null, null), Now);
        var withheld = Site() with { Sharing = Known<Sharing>.Unknown };

        Assert.Equal(OrderState.Seen, Lane.Seen(confirmed, withheld with { Existence = Existence.Attic }, [], Now, Now).State);
        Assert.Equal(
            OrderState.Contradicted,
            Lane.Seen(confirmed, withheld with { Existence = Existence.Here }, [], Now, Now).State
        );

        // Who is let in was asked for as well, and is not told: nothing is known either way.
        var both = Lane.Answered(Lane.Take(Asked, "w", Now), new HostAnswer.Done(null, null), Now);
        Assert.Equal(OrderState.Confirmed, Lane.Seen(both, withheld, [], Now, Now).State);
    }

    [Fact]
    public void Overdue_is_a_matter_of_the_moment()
    {
        Assert.False(Asked.IsOverdue(Now + Lane.DueWithin));
        Assert.True(Asked.IsOverdue(Now + Lane.DueWithin + TimeSpan.FromTicks(1)));
    }

    [Fact]
    public void The_same_said_twice_changes_neither_line_nor_journal()
    {
        var known = Site(ToStaff(Power.View));
        var again = Site(ToStaff(Power.View)) with { Sharing = known.Sharing.Select(sharing => sharing with { At = Now }) };
        var taken = Intake.Take(known, again, [], Now, Now);

        Assert.Null(taken.Entry);
        Assert.False(taken.IsNews);
    }

    [Fact]
    public void Visits_move_by_themselves_and_are_kept_without_an_entry()
    {
        var taken = Intake.Take(Site(), Site() with { Visits = Known.Of(7) }, [], Now, Now);

        Assert.True(taken.IsNews);
        Assert.Null(taken.Entry);
        Assert.Equal(7, taken.Site.Visits.Or(0));
    }

    [Fact]
    public void A_change_made_at_the_host_is_written_down_with_just_what_differs()
    {
        var seen = Site(ToStaff(Power.View), ToPassersBy(Power.Edit)) with
        {
            Sharing = Known.Of(new Sharing([ToStaff(Power.View), ToPassersBy(Power.Edit)], null, Now, SharingSource.Read)),
        };
        var taken = Intake.Take(Site(ToStaff(Power.View)), seen, [], Now, Now);

        Assert.Equal("{}", taken.Entry!.Before.Canonical());
        Assert.StartsWith("{\"grant world\":", taken.Entry.After.Canonical());
    }

    [Fact]
    public void What_a_host_does_not_say_today_does_not_unmake_what_it_said_before()
    {
        var known = Site(ToStaff(Power.View));
        var taken = Intake.Take(known, known with { Sharing = Known<Sharing>.Unknown }, [], Now, Now);

        Assert.Equal(known.Sharing, taken.Site.Sharing);
        Assert.False(taken.IsNews);
    }
}
