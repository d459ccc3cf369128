using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class HostChangeFacts
{
    private static readonly HostChange Asked = new()
    {
        Id = new ChangeId(Guid.Empty),
        Site = new SiteId(1),
        WantedState = new WantedState([new GrantChange("world", null)]),
        Before = [new GrantChange("world", ToAnonymous(Power.View))],
        By = Vane,
        RequestedAt = Now,
        NextTry = Now,
        DueAt = Now + ChangeQueue.DueWithin,
    };

    [Fact]
    public void Every_sequence_of_events_ends_in_a_named_state_and_what_is_ended_never_moves()
    {
        var reached = new HashSet<ChangeState> { ChangeState.Queued };
        var queue = new Queue<ChangeState>(reached);
        while (queue.TryDequeue(out var state))
        {
            var next = Enum.GetValues<ChangeEvent>()
                .Select(happened => ChangeStates.Table.After(state, happened))
                .OfType<ChangeState>()
                .Distinct()
                .ToList();
            Assert.True(
                state.IsOpen() || state is ChangeState.Confirmed or ChangeState.Contradicted || next.Count == 0,
                $"{state} has ended and yet moves."
            );
            foreach (var found in next.Where(reached.Add))
            {
                queue.Enqueue(found);
            }
        }

        Assert.Equal(Enum.GetValues<ChangeState>().Order(), reached.Order());
    }

    [Fact]
    public void What_is_left_of_a_request_is_what_is_not_so_yet()
    {
        var wanted = new WantedState(
            [new GrantChange("world", null), new GrantChange("everyone", ToStaff(Power.View))],
            Existence.InUse,
            "slipway.example/a"
        );
        var site = Site(ToAnonymous(Power.View), ToStaff(Power.View)) with
        {
            Existence = Existence.Attic,
            Address = Known.Of("slipway.example/a"),
        };

        var left = wanted.LeftIn(site)!;
        Assert.Equal((Existence.InUse, null), (left.Existence, left.Address));
        Assert.Equal(new GrantChange("world", null), Assert.Single(left.Grants));
        Assert.Null(wanted.LeftIn(site with { Existence = Existence.InUse, Sharing = Site(ToStaff(Power.View)).Sharing }));

        // What the host did not report is not known.
        Assert.Equal(2, wanted.LeftIn(site with { Sharing = Known<Sharing>.Unknown })!.Grants.Count);
    }

    [Fact]
    public void A_change_that_was_sent_can_no_longer_be_withdrawn() =>
        Assert.Throws<InvalidOperationException>(() => ChangeQueue.Take(Asked, "w", Now).Move(ChangeEvent.Withdraw));

    [Fact]
    public void A_queue_gives_its_oldest_change_only_and_none_while_it_waits_or_is_leased()
    {
        var second = Asked with { Place = 2 };
        Assert.Equal(0, ChangeQueue.Next([second, Asked], Now)!.Place);

        var taken = ChangeQueue.Take(Asked, "w", Now);
        Assert.Null(ChangeQueue.Next([taken, second], Now));
        Assert.Equal(taken, ChangeQueue.Next([taken, second], Now + ChangeQueue.LeaseTime));

        var waiting = ChangeQueue.Answered(taken, new HostAnswer.Later(TimeSpan.FromSeconds(20), "slow down"), Now);
        Assert.Null(ChangeQueue.Next([waiting, second], Now.AddSeconds(19)));
        Assert.NotNull(ChangeQueue.Next([waiting, second], Now.AddSeconds(20)));
    }

    [Fact]
    public void Pauses_grow_to_a_minute_and_the_last_attempt_gives_up()
    {
        Assert.Equal(
            [1, 2, 4, 8, 16, 32, 60, 60],
            Enumerable.Range(1, 8).Select(attempt => (int)ChangeQueue.Pause(attempt).TotalSeconds)
        );

        var last = ChangeQueue.Take(Asked with { Attempts = ChangeQueue.MostAttempts - 1 }, "w", Now);
        Assert.Equal(ChangeState.GivenUp, ChangeQueue.Answered(last, new HostAnswer.Lost("no answer"), Now).State);
    }

    [Fact]
    public void A_confirmed_change_is_verified_by_a_sync_that_began_after_it_and_by_no_earlier_one()
    {
        var confirmed = ChangeQueue.Answered(ChangeQueue.Take(Asked, "w", Now), new HostAnswer.Done([], null), Now);

        Assert.Equal(
            ChangeState.Confirmed,
            ChangeQueue.Seen(confirmed, Site(ToAnonymous(Power.View)), [], Now.AddSeconds(-1), Now).State
        );
        Assert.Equal(ChangeState.Verified, ChangeQueue.Seen(confirmed, Site(ToStaff(Power.View)), [], Now, Now).State);
        Assert.Equal(ChangeState.Contradicted, ChangeQueue.Seen(confirmed, Site(ToAnonymous(Power.View)), [], Now, Now).State);

        // A later change affects the same grant, so what a sync shows then does not contradict the earlier change.
        Assert.NotEqual(
            ChangeState.Contradicted,
            ChangeQueue.Seen(confirmed, Site(ToAnonymous(Power.View)), [Asked.WantedState], Now, Now).State
        );
    }

    [Fact]
    public void A_site_whose_sharing_the_host_withholds_is_verified_in_the_attic_by_where_it_is()
    {
        var away = Asked with
        {
            WantedState = new WantedState([], Existence.Attic),
            Before = [],
            Purpose = ChangePurpose.MoveToAttic,
        };
        var confirmed = ChangeQueue.Answered(ChangeQueue.Take(away, "w", Now), new HostAnswer.Done(null, null), Now);
        var withheld = Site() with { Sharing = Known<Sharing>.Unknown };

        Assert.Equal(
            ChangeState.Verified,
            ChangeQueue.Seen(confirmed, withheld with { Existence = Existence.Attic }, [], Now, Now).State
        );
        Assert.Equal(
            ChangeState.Contradicted,
            ChangeQueue.Seen(confirmed, withheld with { Existence = Existence.InUse }, [], Now, Now).State
        );

        // The change also affects access, which the host does not report, so the result is not known.
        var both = ChangeQueue.Answered(ChangeQueue.Take(Asked, "w", Now), new HostAnswer.Done(null, null), Now);
        Assert.Equal(ChangeState.Confirmed, ChangeQueue.Seen(both, withheld, [], Now, Now).State);
    }

    [Fact]
    public void Overdue_is_a_matter_of_the_moment()
    {
        Assert.False(Asked.IsOverdue(Now + ChangeQueue.DueWithin));
        Assert.True(Asked.IsOverdue(Now + ChangeQueue.DueWithin + TimeSpan.FromTicks(1)));
    }

    [Fact]
    public void The_same_claim_twice_changes_neither_site_nor_journal()
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
        var seen = Site(ToStaff(Power.View), ToAnonymous(Power.Edit)) with
        {
            Sharing = Known.Of(new Sharing([ToStaff(Power.View), ToAnonymous(Power.Edit)], null, Now, SharingSource.Read)),
        };
        var taken = Intake.Take(Site(ToStaff(Power.View)), seen, [], Now, Now);

        Assert.Equal("{}", taken.Entry!.Before.Canonical());
        Assert.StartsWith("{\"grant world\":", taken.Entry.After.Canonical());
    }

    [Fact]
    public void What_a_host_does_not_report_today_leaves_what_it_reported_before()
    {
        var known = Site(ToStaff(Power.View));
        var taken = Intake.Take(known, known with { Sharing = Known<Sharing>.Unknown }, [], Now, Now);

        Assert.Equal(known.Sharing, taken.Site.Sharing);
        Assert.False(taken.IsNews);
    }
}
