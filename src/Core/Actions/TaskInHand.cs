using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The decision on a step of a manual task.</summary>
public abstract record StepDecision
{
    private StepDecision() { }

    /// <param name="What">What the journal records.</param>
    public sealed record Taken(JournalAction What, ManualTaskStep Step) : StepDecision;

    public sealed record Refusal(Remark Reason) : StepDecision;
}

/// <summary>A manual task as one person finds it: what they may do about it, and what comes of that.</summary>
/// <param name="As">In what capacity they act; null if they may only look.</param>
/// <param name="SeesSite">True if the site is in their scope.</param>
public sealed record TaskInHand(
    HostChange HostChange,
    ManualTask ManualTask,
    SiteFacts Site,
    PeopleDirectory PeopleDirectory,
    PersonId Person,
    Capacity? As,
    bool SeesSite
)
{
    private bool AnswersForSite => As == Capacity.Administrator || (As == Capacity.Steward && SeesSite);

    private bool IsOpen => As is not null && HostChange.State == ChangeState.Sent;

    public bool MayDo => IsOpen && (ManualTask.To == Person || As == Capacity.Administrator);

    public bool MayReassign => IsOpen && (ManualTask.To == Person || AnswersForSite);

    public bool MayCancel => IsOpen && (HostChange.By == Person || AnswersForSite);

    /// <summary>Why they cannot check the result; null if they can.</summary>
    public Remark? NoCheck =>
        ManualTaskSteps.NoCheck(HostChange, ManualTask, Person) ?? (As is not null && SeesSite ? null : new TaskNotChecked());

    /// <summary>Why they cannot add a picture; null if they can.</summary>
    public Remark? NoPicture =>
        MayDo ? null
        : HostChange.State == ChangeState.Sent ? new PictureNotByViewer()
        : new TaskNotOpen();

    private Remark NotTheirs =>
        HostChange.State == ChangeState.Sent ? new TaskOfAnother(PeopleDirectory.Find(ManualTask.To)?.Name) : new TaskNotOpen();

    /// <param name="report">What was done and how it can be checked; null if a picture shows it.</param>
    public StepDecision Done(string? report) =>
        !MayDo ? Refuse(NotTheirs)
        : TooLong(report) is { } fault ? Refuse(fault)
        // A picture from before the task was returned does not show what was done since.
        : report is null && ManualTask.Returned > 0 ? Refuse(new ReportMissingSince())
        : report is null && !ManualTask.HasPicture ? Refuse(new ReportMissing())
        : Take(JournalAction.TaskDone, ManualTaskSteps.Done(HostChange, ManualTask, Site, Person, report, PeopleDirectory.Now));

    public StepDecision Failed(string? words) =>
        !MayDo ? Refuse(NotTheirs)
        : TooLong(words) is { } fault ? Refuse(fault)
        : words is null ? Refuse(new FailureMissing())
        : Take(JournalAction.TaskFailed, ManualTaskSteps.Cannot(HostChange, ManualTask, Site, Person, words, PeopleDirectory));

    /// <summary>A second person confirms the result.</summary>
    public StepDecision Verify() =>
        NoCheck is { } why
            ? Refuse(why)
            : Take(JournalAction.TaskVerified, ManualTaskSteps.Checked(HostChange, ManualTask, Person, PeopleDirectory.Now));

    /// <summary>A second person found it not done.</summary>
    public StepDecision Return(string? words) =>
        NoCheck is { } why ? Refuse(why)
        : TooLong(words) is { } fault ? Refuse(fault)
        : words is null ? Refuse(new FindingMissing())
        : Take(JournalAction.TaskReturned, ManualTaskSteps.NotSo(HostChange, ManualTask, Site, Person, words, PeopleDirectory));

    /// <param name="mail">The mail address of the new assignee.</param>
    public StepDecision Reassign(string mail) =>
        !MayReassign ? Refuse(NotTheirs)
        : PeopleDirectory.MemberOfStaff(mail) is not { } to ? Refuse(new StaffMissing(mail.Trim()))
        : to == ManualTask.To ? Refuse(new TaskHasAssignee())
        : Take(JournalAction.TaskReassigned, ManualTaskSteps.Reassign(HostChange, ManualTask, Site, to, Person, PeopleDirectory));

    public StepDecision Cancel(string? reason) =>
        !MayCancel ? Refuse(HostChange.State == ChangeState.Sent ? new TaskNotCancelled() : new TaskNotOpen())
        : TooLong(reason) is { } fault ? Refuse(fault)
        : Take(
            JournalAction.TaskCancelled,
            ManualTaskSteps.Cancel(HostChange, ManualTask, Site, Person, reason, PeopleDirectory)
        );

    private static StepDecision.Refusal Refuse(Remark reason) => new(reason);

    private static StepDecision.Taken Take(JournalAction what, ManualTaskStep step) => new(what, step);

    private static TextTooLong? TooLong(string? text) =>
        text?.Length > ManualTask.LongestText ? new TextTooLong(text.Length, ManualTask.LongestText) : null;
}
