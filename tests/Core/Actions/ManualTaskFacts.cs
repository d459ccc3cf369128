using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>Manual tasks: Vane requests, Aske does the task at the old host, Quist checks it.</summary>
public class ManualTaskFacts
{
    private static readonly ManualProcedure How = new(
        Aske,
        "yard-admin",
        "The yard's desk",
        5,
        "Sign in.\nOpen {site} at {address}.\n\nSave.",
        "Ask {key}'s clerk.",
        "Rename the folder.",
        "Name it back."
    );
    private static readonly SiteFacts Open = Site(ToPerson(Power.Own, Vane), ToStaff(Power.View), ToAnonymous(Power.View));
    private static readonly HostChange Asked = new()
    {
        Id = new ChangeId(Guid.NewGuid()),
        Site = Open.Id,
        Place = 1,
        WantedState = new WantedState([new GrantChange("world", null)]),
        Before = [new GrantChange("world", ToAnonymous(Power.View))],
        By = Vane,
        RequestedAt = Now,
        NextTry = Now,
        DueAt = Now,
    };

    private readonly Harbour harbour = new();

    [Fact]
    public void It_is_assigned_with_steps_for_this_site_a_last_day_and_a_mail()
    {
        var (hostChange, manualTask, _, notifications) = ManualTaskSteps.Give(Asked, Open, How, harbour.PeopleDirectory);
        Assert.Equal(["Sign in.", "Open Pilot boarding notes at slipway.example/pilot-boarding.", "Save."], manualTask.Steps);
        Assert.Equal((Aske, new DateOnly(2026, 11, 29)), (manualTask.To, manualTask.Through));
        Assert.Equal((ChangeState.Sent, Time.EndOf(manualTask.Through)), (hostChange.State, hostChange.DueAt));
        Assert.Equal(["Anonymous visitors can no longer view."], ManualTaskSteps.Wanted(hostChange, harbour.PeopleDirectory));
        Assert.Equal(
            (Aske, "Manual task at Slipway: Pilot boarding notes"),
            (Assert.Single(notifications).To, notifications[0].Title)
        );

        // A person has the task, so it is never sent automatically, and later changes in the queue wait for it.
        Assert.Null(ChangeQueue.Next([hostChange, Asked with { Place = 2 }], Now.AddYears(10)));
    }

    [Fact]
    public void Without_a_named_assignee_who_is_still_there_the_requester_has_the_task()
    {
        Assert.Equal(
            Vane,
            ManualTaskSteps.Give(Asked, Open, How with { Assignee = null }, harbour.PeopleDirectory).ManualTask.To
        );
        Assert.Equal(
            Vane,
            ManualTaskSteps.Give(Asked, Open, How with { Assignee = Lund }, harbour.PeopleDirectory).ManualTask.To
        );
    }

    [Fact]
    public void Done_counts_as_confirmed_from_then_on_and_a_second_person_sees_it()
    {
        var (hostChange, manualTask) = Given();
        var done = ManualTaskSteps.Done(hostChange, manualTask, Open, Aske, "Closed the door; see picture.", Now.AddDays(1));
        Assert.Equal(["everyone", "person:1"], done.Site!.Sharing.Or(null!).Grants.Select(grant => grant.Key).Order());
        Assert.Equal(
            (ChangeState.Confirmed, SharingSource.Confirmed),
            (done.HostChange.State, done.Site.Sharing.Or(null!).Source)
        );

        Assert.Equal(new TaskDoneByViewer(), ManualTaskSteps.NoCheck(done.HostChange, done.ManualTask, Aske));
        Assert.Null(ManualTaskSteps.NoCheck(done.HostChange, done.ManualTask, Quist));
        Assert.Equal(
            (ChangeState.Verified, Quist),
            (
                ManualTaskSteps.Checked(done.HostChange, done.ManualTask, Quist, Now).HostChange.State,
                ManualTaskSteps.Checked(done.HostChange, done.ManualTask, Quist, Now).ManualTask.CheckedBy
            )
        );
    }

    [Fact]
    public void What_a_list_shows_differently_goes_back_to_the_assignee_with_the_difference()
    {
        var (hostChange, manualTask) = Given();
        var done = ManualTaskSteps.Done(hostChange, manualTask, Open, Aske, "done", Now.AddDays(1));

        // A list from before it was done does not verify it.
        Assert.Empty(Intake.Take(done.Site, Open, [done.HostChange], Now, Now.AddDays(2)).Moved);

        var listed = Open with
        {
            SeenAt = Now.AddDays(2),
            Sharing = Open.Sharing.Select(sharing => sharing with { At = Now.AddDays(2) }),
        };
        var contradicted = Assert.Single(Intake.Take(done.Site, listed, [done.HostChange], Now.AddDays(2), Now.AddDays(2)).Moved);
        var back = ManualTaskSteps.Disagrees(contradicted, done.ManualTask, listed, DirectoryAt(Now.AddDays(2)));
        Assert.Equal((ChangeState.Sent, 1), (back.HostChange.State, back.ManualTask.Returned));
        Assert.Equal(
            "The list as of 26 Nov 2026 reports something else: Anonymous visitors can still view.",
            back.HostChange.Words
        );
        Assert.Equal(new DateOnly(2026, 12, 1), back.ManualTask.Through);
        Assert.Equal("Returned to you: Pilot boarding notes", Assert.Single(back.Notifications).Title);
    }

    [Fact]
    public void What_a_second_person_finds_undone_is_so_again_as_before()
    {
        var (hostChange, manualTask) = Given();
        var done = ManualTaskSteps.Done(hostChange, manualTask, Open, Aske, "done", Now.AddDays(1));
        var back = ManualTaskSteps.NotSo(
            done.HostChange,
            done.ManualTask,
            done.Site!,
            Quist,
            "anybody still gets in",
            DirectoryAt(Now.AddDays(2))
        );
        Assert.Equal("Renata Quist looked: anybody still gets in", back.HostChange.Words);
        Assert.Contains(back.Site!.Sharing.Or(null!).Grants, grant => grant.Key == "world");
    }

    [Fact]
    public void A_site_that_did_not_reach_the_attic_is_under_way_again()
    {
        var (hostChange, manualTask) = Given(
            Asked with
            {
                WantedState = new WantedState([], Existence.Attic),
                Before = [],
                Purpose = ChangePurpose.MoveToAttic,
            }
        );
        var done = ManualTaskSteps.Done(hostChange, manualTask, Open, Aske, "renamed", Now.AddDays(1));
        Assert.Equal(Existence.Attic, done.Site!.Existence);

        var atticEntry = new AtticEntry
        {
            Site = Open.Id,
            State = AtticState.MovingToAttic,
            RequestedAt = Now,
            ContentBefore = Snapshot.Of(Open),
            HostChange = hostChange.Id,
            By = Vane,
        };
        var kept = Aftermath
            .Answered(done.HostChange, done.Site, null, atticEntry, harbour.PeopleDirectory, Now.AddDays(1))
            .AtticEntry!;
        Assert.Equal(AtticState.InAttic, kept.State);

        var back = ManualTaskSteps.NotSo(
            done.HostChange,
            done.ManualTask,
            done.Site,
            Quist,
            "it answers",
            DirectoryAt(Now.AddDays(2))
        );
        var still = Aftermath.GivenBack(back.HostChange, back.Site!, kept, null, Now.AddDays(2)).AtticEntry!;
        Assert.Equal((Existence.InUse, AtticState.MovingToAttic), (back.Site!.Existence, still.State));
        Assert.Equal(Aftermath.Nothing, Aftermath.Seen(back.Site, still, [], false, Now.AddDays(3)));
    }

    [Fact]
    public void An_offer_whose_handover_was_not_completed_is_under_way_again()
    {
        var (hostChange, _) = Given(Asked with { Purpose = ChangePurpose.Owners });
        var offer = new Offer
        {
            Id = new OfferId(Guid.NewGuid()),
            Site = Open.Id,
            To = Quist,
            CurrentOwner = Vane,
            By = Vane,
            OfferedAt = Now,
            Through = Time.DayOf(Now),
            State = OfferState.HandedOver,
            HostChange = hostChange.Id,
            EndedAt = Now,
        };

        var again = Aftermath.GivenBack(hostChange, Open, null, offer, Now.AddDays(1)).Offer!;
        Assert.Equal((OfferState.Completing, null), (again.State, again.EndedAt));
        Assert.Equal(
            Aftermath.Nothing,
            Aftermath.GivenBack(hostChange, Open, null, offer with { HostChange = new ChangeId(Guid.NewGuid()) }, Now)
        );
    }

    [Fact]
    public void The_last_day_is_told_once_and_what_is_overdue_to_everybody_concerned()
    {
        var (hostChange, manualTask) = Given();
        IReadOnlySet<(PersonId, string)> none = new HashSet<(PersonId, string)>();
        IEnumerable<Due> At(DateTimeOffset now, IReadOnlySet<(PersonId, string)> written) =>
            DueNow
                .Of(new DueFacts([], [], [], DirectoryAt(now), written) { ManualTasks = [(hostChange, manualTask)] })
                .Where(due => due is not Due.PersonLeft);
        var last = Time.StartOf(manualTask.Through);
        Assert.Empty(At(last.AddMinutes(-1), none));
        Assert.IsType<Due.ManualTaskNear>(Assert.Single(At(last, none)));
        Assert.IsType<Due.ManualTaskOverdue>(Assert.Single(At(hostChange.DueAt, none)));

        var told = ManualTaskSteps.Overdue(hostChange, manualTask, Open, [Quist], DirectoryAt(hostChange.DueAt));
        Assert.Equal([Quist, Vane, Aske], told.Notifications.Select(notification => notification.To));
        Assert.Contains("Tomas Aske has a task", told.Notifications[0].Sentences[0]);
        Assert.Empty(
            At(hostChange.DueAt, told.Notifications.Select(notification => (notification.To, notification.Key)).ToHashSet())
        );
    }

    [Fact]
    public void When_the_assignee_leaves_the_task_goes_to_the_requester()
    {
        var (hostChange, manualTask) = Given(how: How with { Assignee = Farrow });
        var after = DirectoryAt(new DateTimeOffset(2026, 12, 1, 0, 0, 0, TimeSpan.Zero));
        Assert.IsType<Due.AssigneeLeft>(
            Assert.Single(ManualTaskSteps.DueOf(hostChange, manualTask, after, new HashSet<(PersonId, string)>()))
        );
        var left = ManualTaskSteps.Left(hostChange, manualTask, Open, after);
        Assert.Equal((Vane, Vane), (left.ManualTask!.To, Assert.Single(left.Notifications).To));
    }

    [Fact]
    public void A_cancelled_task_is_withdrawn_and_the_assignee_is_told()
    {
        var (hostChange, manualTask) = Given();
        var step = ManualTaskSteps.Cancel(hostChange, manualTask, Open, Vane, "the site goes anyway", harbour.PeopleDirectory);
        Assert.Equal(ChangeState.Withdrawn, step.HostChange.State);
        Assert.Equal(
            (Aske, "Cancelled: Pilot boarding notes"),
            (Assert.Single(step.Notifications).To, step.Notifications[0].Title)
        );
    }

    private (HostChange HostChange, ManualTask ManualTask) Given(HostChange? asked = null, ManualProcedure? how = null)
    {
        var step = ManualTaskSteps.Give(asked ?? Asked, Open, how ?? How, harbour.PeopleDirectory);
        return (step.HostChange, step.ManualTask);
    }

    private PeopleDirectory DirectoryAt(DateTimeOffset now) => new(harbour.People, Units, harbour.Groups, now, Time);
}
