using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>What each person may do about a manual task: Vane requested it, Aske has it, Quist may check it.</summary>
public class TaskInHandFacts
{
    private static readonly SiteFacts Open = Site(ToPerson(Power.Own, Vane), ToAnonymous(Power.View));

    private readonly Harbour harbour = new();
    private readonly HostChange hostChange;
    private readonly ManualTask manualTask;

    public TaskInHandFacts()
    {
        var asked = new HostChange
        {
            Id = new ChangeId(Guid.NewGuid()),
            Site = Open.Id,
            WantedState = new WantedState([new GrantChange("world", null)]),
            Before = [new GrantChange("world", ToAnonymous(Power.View))],
            By = Vane,
            RequestedAt = Now,
            NextTry = Now,
            DueAt = Now,
        };
        var how = new ManualProcedure(
            Aske,
            "yard-admin",
            "The yard's desk",
            5,
            "Open it.",
            "Ask.",
            "Rename it.",
            "Name it back."
        );
        var given = ManualTaskSteps.Give(asked, Open, how, harbour.PeopleDirectory);
        (hostChange, manualTask) = (given.HostChange, given.ManualTask);
    }

    [Fact]
    public void Only_the_assignee_or_an_administrator_reports_it_done_or_failed()
    {
        Assert.Equal(JournalAction.TaskDone, Taken(For(Aske, Capacity.Owner).Done("Closed it.")));
        Assert.Equal(JournalAction.TaskFailed, Taken(For(Aske, Capacity.Owner).Failed("No right.")));
        Assert.Equal(JournalAction.TaskDone, Taken(For(Trainee, Capacity.Administrator).Done("Closed it.")));
        foreach (var other in (TaskInHand[])[For(Vane, Capacity.Owner), For(Quist, Capacity.Steward), For(Aske, null)])
        {
            Assert.Equal(new TaskOfAnother("Tomas Aske"), Refused(other.Done("Closed it.")));
            Assert.Equal(new TaskOfAnother("Tomas Aske"), Refused(other.Failed("No right.")));
        }
    }

    [Fact]
    public void What_was_done_or_why_not_has_to_be_described()
    {
        var aske = For(Aske, Capacity.Owner);
        Assert.Equal(new ReportMissing(), Refused(aske.Done(null)));
        Assert.Equal(new FailureMissing(), Refused(aske.Failed(null)));
        Assert.Equal(new TextTooLong(2001, ManualTask.LongestText), Refused(aske.Done(new string('x', 2001))));
        var pictured = aske with { ManualTask = manualTask with { HasPicture = true } };
        Assert.Equal(JournalAction.TaskDone, Taken(pictured.Done(null)));
        var returned = pictured with { ManualTask = pictured.ManualTask with { Returned = 1 } };
        Assert.Equal(new ReportMissingSince(), Refused(returned.Done(null)));
    }

    [Fact]
    public void Another_person_in_whose_scope_the_site_is_checks_what_was_done()
    {
        var step = ManualTaskSteps.Done(hostChange, manualTask, Open, Aske, "Closed it.", Now);
        TaskInHand Done(PersonId person, Capacity? capacity, bool sees = true) =>
            new(step.HostChange, step.ManualTask, Open, harbour.PeopleDirectory, person, capacity, sees);

        Assert.Equal(new TaskNotDone(), Refused(For(Quist, Capacity.Steward).Verify()));
        Assert.Equal(new TaskDoneByViewer(), Refused(Done(Aske, Capacity.Owner).Verify()));
        Assert.Equal(new TaskNotChecked(), Refused(Done(Quist, Capacity.Steward, sees: false).Verify()));
        Assert.Equal(new TaskNotChecked(), Refused(Done(Quist, null).Return("It is open.")));
        Assert.Equal(JournalAction.TaskVerified, Taken(Done(Quist, Capacity.Steward).Verify()));
        Assert.Equal(new FindingMissing(), Refused(Done(Quist, Capacity.Steward).Return(null)));
        Assert.Equal(JournalAction.TaskReturned, Taken(Done(Quist, Capacity.Steward).Return("It is open.")));
    }

    [Fact]
    public void It_is_reassigned_to_a_member_of_staff_who_does_not_have_it()
    {
        var aske = For(Aske, Capacity.Owner);
        Assert.Equal(new StaffMissing("nobody@merrowby.example"), Refused(aske.Reassign(" nobody@merrowby.example ")));
        Assert.Equal(new TaskHasAssignee(), Refused(aske.Reassign("tomas.aske@merrowby.example")));
        Assert.Equal(JournalAction.TaskReassigned, Taken(aske.Reassign("renata.quist@merrowby.example")));
        Assert.IsType<TaskOfAnother>(Refused(For(Vane, Capacity.Owner).Reassign("renata.quist@merrowby.example")));
    }

    [Fact]
    public void Who_requested_it_or_answers_for_the_site_cancels_it_while_it_is_open()
    {
        Assert.Equal(JournalAction.TaskCancelled, Taken(For(Vane, Capacity.Owner).Cancel(null)));
        Assert.Equal(JournalAction.TaskCancelled, Taken(For(Quist, Capacity.Steward).Cancel(null)));
        Assert.Equal(new TaskNotCancelled(), Refused(For(Quist, Capacity.Steward, sees: false).Cancel(null)));
        Assert.Equal(new TaskNotCancelled(), Refused(For(Aske, Capacity.Owner).Cancel(null)));
        var ended = For(Vane, Capacity.Owner) with { HostChange = hostChange.Move(ChangeEvent.Cancel) };
        Assert.Equal(new TaskNotOpen(), Refused(ended.Cancel(null)));
    }

    private TaskInHand For(PersonId person, Capacity? capacity, bool sees = true) =>
        new(hostChange, manualTask, Open, harbour.PeopleDirectory, person, capacity, sees);

    private static JournalAction Taken(StepDecision decision) => Assert.IsType<StepDecision.Taken>(decision).What;

    private static Remark Refused(StepDecision decision) => Assert.IsType<StepDecision.Refusal>(decision).Reason;
}
