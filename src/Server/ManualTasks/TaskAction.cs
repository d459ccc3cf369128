using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.ManualTasks;

/// <summary>A step of a manual task, with the task as it was found.</summary>
internal sealed record TaskPlan(TaskInHand Found, StepDecision.Taken Taken);

/// <summary>A step of a manual task by a person: done, failed, checked, reassigned or cancelled.</summary>
internal sealed class TaskAction(ActionName name, Guid task, Viewer viewer, Func<TaskInHand, StepDecision> decide)
    : RequestedAction<TaskPlan, ManualTaskResponse>
{
    public override ActionName Name => name;

    public override async Task<Decided<TaskPlan>> Decide(FactReader facts) =>
        await facts.Task(task, viewer) is not { } found
            ? new Decided<TaskPlan>.NotSeen("task")
            : decide(found) switch
            {
                StepDecision.Taken taken => new Decided<TaskPlan>.Planned(new TaskPlan(found, taken), ""),
                StepDecision.Refusal(var reason) => Decided<TaskPlan>.Refuse(reason),
                _ => throw new InvalidOperationException("A decision is a step or a refusal."),
            };

    public override async Task<Written<ManualTaskResponse>> Write(Change change, TaskPlan plan)
    {
        var (found, (what, step)) = (plan.Found, plan.Taken);
        var time = found.PeopleDirectory.Time;
        if (what == JournalAction.TaskReturned)
        {
            var entry = await change.KeepAllBut(step, time, what, viewer.InJournal);
            var atticEntry = (await change.Connection.LatestAtticEntries([found.Site.Id])).GetValueOrDefault(found.Site.Id);
            var offer = await change.Connection.OfferOfHostChange(step.HostChange.Id);
            await change.Keep(Aftermath.GivenBack(step.HostChange, step.Site!, atticEntry, offer, change.Now), time, [entry]);
        }
        else
        {
            await change.Keep(step, time, what, viewer.InJournal);
        }

        if (!step.HostChange.State.IsOpen() && what != JournalAction.TaskVerified)
        {
            await change.End(step.HostChange, step.Site ?? found.Site, viewer.InJournal);
        }

        return new Written<ManualTaskResponse>(
            (await change.Connection.JournalHead()).Number,
            (await FactReader.Of(change).Task(task, viewer))!.ToResponse()
        );
    }

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.HostChanges, WorkKind.Mail];
}

/// <summary>Adds a picture of the result of a manual task, before it is reported done.</summary>
internal sealed class SetTaskPicture(Guid task, ProofPicture picture, Viewer viewer)
    : RequestedAction<TaskInHand, ManualTaskResponse>
{
    public override ActionName Name => ActionName.TaskPicture;

    public override async Task<Decided<TaskInHand>> Decide(FactReader facts) =>
        await facts.Task(task, viewer) is not { } found ? new Decided<TaskInHand>.NotSeen("task")
        : found.NoPicture is { } why ? Decided<TaskInHand>.Refuse(why)
        : new Decided<TaskInHand>.Planned(found, "");

    public override async Task<Written<ManualTaskResponse>> Write(Change change, TaskInHand plan)
    {
        await change.SetPicture(plan.HostChange.Id, picture);
        return new Written<ManualTaskResponse>(
            (await change.Connection.JournalHead()).Number,
            (await FactReader.Of(change).Task(task, viewer))!.ToResponse()
        );
    }
}

internal static class ConcernedTasks
{
    /// <summary>A manual task with what the viewer may do about it; null if there is none that concerns them.</summary>
    public static async Task<TaskInHand?> Task(this FactReader facts, Guid task, Viewer viewer)
    {
        var id = new ChangeId(task);
        if (
            await facts.Connection.ManualTask(id) is not { } manualTask
            || await facts.Connection.HostChange(id) is not { } hostChange
        )
        {
            return null;
        }

        var directory = await facts.PeopleDirectory();
        var site = (await facts.Connection.Sites(new Scope.Everything(), [hostChange.Site])).Single();
        var sees = viewer.ScopeOn(directory).Sees(site);
        return sees || Concern(hostChange, manualTask, viewer)
            ? new TaskInHand(
                hostChange,
                manualTask,
                site,
                directory,
                viewer.Person,
                viewer.MayAct ? viewer.Actor().As : null,
                sees
            )
            : null;
    }

    public static bool Concern(HostChange hostChange, ManualTask manualTask, Viewer viewer) =>
        manualTask.To == viewer.Person || hostChange.By == viewer.Person;
}
