using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The decision on a step of a manual task.</summary>
public abstract record StepDecision
{
    private StepDecision() { }

    /// <param name="What">What the journal records.</param>
    public sealed record Taken(JournalAction What, ManualTaskStep Step) : StepDecision;

    public sealed record Refusal(string Reason) : StepDecision;
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
    public string? NoCheck =>
        ManualTaskSteps.NoCheck(HostChange, ManualTask, Person)
        ?? (As is not null && SeesSite ? null : "Only people who may act on this site can check the result.");

    /// <summary>Why they cannot add a picture; null if they can.</summary>
    public string? NoPicture =>
        MayDo ? null
        : HostChange.State == ChangeState.Sent ? "Only the assignee can add a picture."
        : "The task is no longer open.";

    private string NotTheirs =>
        HostChange.State == ChangeState.Sent
            ? $"The task is assigned to {PeopleDirectory.Find(ManualTask.To)?.Name}. Reassign it to yourself first."
            : "The task is no longer open.";

    /// <param name="report">What was done and how it can be checked; null if a picture shows it.</param>
    public StepDecision Done(string? report) =>
        !MayDo ? Refuse(NotTheirs)
        : TooLong(report) is { } fault ? Refuse(fault)
        // A picture from before the task was returned does not show what was done since.
        : report is null && ManualTask.Returned > 0
            ? Refuse("The task was returned. Describe what you did since and how it can be checked.")
        : report is null && !ManualTask.HasPicture ? Refuse("Describe what you did and how it can be checked, or add a picture.")
        : Take(JournalAction.TaskDone, ManualTaskSteps.Done(HostChange, ManualTask, Site, Person, report, PeopleDirectory.Now));

    public StepDecision Failed(string? words) =>
        !MayDo ? Refuse(NotTheirs)
        : TooLong(words) is { } fault ? Refuse(fault)
        : words is null ? Refuse("Describe why it failed: the person who requested it reads this.")
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
        : words is null ? Refuse("Describe what you found: the assignee reads this.")
        : Take(JournalAction.TaskReturned, ManualTaskSteps.NotSo(HostChange, ManualTask, Site, Person, words, PeopleDirectory));

    /// <param name="mail">The mail address of the new assignee.</param>
    public StepDecision Reassign(string mail) =>
        !MayReassign ? Refuse(NotTheirs)
        : PeopleDirectory.MemberOfStaff(mail) is not { } to ? Refuse($"No member of staff has the mail address {mail.Trim()}.")
        : to == ManualTask.To ? Refuse("They already have the task.")
        : Take(JournalAction.TaskReassigned, ManualTaskSteps.Reassign(HostChange, ManualTask, Site, to, Person, PeopleDirectory));

    public StepDecision Cancel(string? reason) =>
        !MayCancel
            ? Refuse(
                HostChange.State == ChangeState.Sent
                    ? "Only the person who requested it or an administrator can cancel it."
                    : "The task is no longer open."
            )
        : TooLong(reason) is { } fault ? Refuse(fault)
        : Take(
            JournalAction.TaskCancelled,
            ManualTaskSteps.Cancel(HostChange, ManualTask, Site, Person, reason, PeopleDirectory)
        );

    private static StepDecision.Refusal Refuse(string reason) => new(reason);

    private static StepDecision.Taken Take(JournalAction what, ManualTaskStep step) => new(what, step);

    private static string? TooLong(string? text) =>
        text?.Length > ManualTask.LongestText
            ? $"The text has {text.Length} characters; the maximum is {ManualTask.LongestText}."
            : null;
}
