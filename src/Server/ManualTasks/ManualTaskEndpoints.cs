using System.Security.Cryptography;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Npgsql;

namespace AtticLedger.Server.ManualTasks;

using StepResult = Results<
    Ok<ManualTaskResponse>,
    Conflict<ManualTaskResponse>,
    UnprocessableEntity<RefusalResponse>,
    ProblemHttpResult
>;

/// <summary>Manual tasks: read, reported done with evidence or failed, verified, reassigned, cancelled.</summary>
internal static class ManualTaskEndpoints
{
    private const int LargestPicture = 4 * 1024 * 1024;
    private static readonly TimeSpan Lately = TimeSpan.FromDays(14);
    private static readonly (string Type, byte[] Begins)[] Pictures =
    [
        ("image/png", [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]),
        ("image/jpeg", [0xFF, 0xD8, 0xFF]),
    ];

    public static void MapManualTasks(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/manual-tasks", List)
            .WithTags("Manual tasks")
            .RequireAuthorization(Policies.Read)
            .WithName("manualTasks")
            .WithSummary("The manual tasks that concern the viewer: to do, to check, and those that ended recently.");
        var read = app.MapGroup("/api/manual-tasks/{task:guid}").WithTags("Manual tasks").RequireAuthorization(Policies.Read);
        var api = app.MapGroup("/api/manual-tasks/{task:guid}").WithTags("Manual tasks").RequireAuthorization(Policies.Act);
        read.MapGet("", Look).WithName("manualTask").WithSummary("A manual task: the wanted result, the steps, the progress.");
        read.MapGet("/picture", Picture).WithName("manualTaskPicture").WithSummary("The picture of the result.");
        api.MapPut("/picture", SetPicture)
            .Accepts<byte[]>("image/png", "image/jpeg")
            .WithMetadata(new RequestSizeLimitAttribute(LargestPicture))
            .Carries(ActionName.TaskPicture)
            .WithName("setManualTaskPicture")
            .WithSummary("Adds a picture of the result, PNG or JPEG, before the task is reported done.");
        api.MapPost("/done", Done)
            .Carries(ActionName.TaskDone)
            .WithName("manualTaskDone")
            .WithSummary("Reports a task done; the next import or a second person verifies it.");
        api.MapPost("/report-failure", Failed)
            .Carries(ActionName.TaskFailed)
            .WithName("manualTaskFailed")
            .WithSummary("Reports that a task failed, and why.");
        api.MapPost("/check", Check)
            .Carries(ActionName.TaskCheck)
            .WithName("manualTaskCheck")
            .WithSummary("A second person confirms the result, or returns the task.");
        api.MapPost("/reassign", Reassign)
            .Carries(ActionName.TaskReassign)
            .WithName("reassignManualTask")
            .WithSummary("Reassigns a task to another person.");
        api.MapPost("/cancel", Cancel).Carries(ActionName.TaskCancel).WithName("cancelManualTask").WithSummary("Cancels a task.");
    }

    private static async Task<Ok<IReadOnlyList<ManualTaskRow>>> List(SeenRegister register, Database database)
    {
        var state = register.State;
        var viewer = register.Viewer;
        var seen = register.Visible;
        var (hostChanges, sites) = await database.Read(async connection =>
        {
            var concerned = (await connection.ManualTasksSince(database.Now - Lately))
                .Where(pair =>
                    ConcernedTasks.Concern(pair.HostChange, pair.ManualTask, viewer)
                    || seen.Find(pair.HostChange.Site) is not null
                )
                .ToList();
            return (
                concerned,
                (
                    await connection.Sites(new Scope.Everything(), [.. concerned.Select(pair => pair.HostChange.Site).Distinct()])
                ).ToDictionary(site => site.Id)
            );
        });
        return TypedResults.Ok<IReadOnlyList<ManualTaskRow>>([
            .. hostChanges
                .OrderBy(pair => pair.HostChange.State)
                .ThenBy(pair => pair.ManualTask.Through)
                .Select(pair =>
                    Line(pair.HostChange, pair.ManualTask, sites[pair.HostChange.Site], state.PeopleDirectory, database.Now)
                ),
        ]);
    }

    private static async Task<Results<Ok<ManualTaskResponse>, ProblemHttpResult>> Look(
        Guid task,
        HttpContext context,
        Database database
    ) =>
        await database.Read(connection => FactReader.Of(database, connection).Task(task, Viewer.Of(context))) is { } found
            ? TypedResults.Ok(found.ToResponse())
            : ActionEndpoint.NotThere("task");

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Picture(
        Guid task,
        HttpContext context,
        Database database
    ) =>
        await database.Read(async connection =>
            await FactReader.Of(database, connection).Task(task, Viewer.Of(context)) is { } found
            && await connection.Picture(found.HostChange.Id) is { } picture
                ? (Results<FileContentHttpResult, ProblemHttpResult>)TypedResults.File(picture.Bytes, picture.Type)
                : ActionEndpoint.NotThere("task")
        );

    private static async Task<StepResult> SetPicture(Guid task, HttpContext context)
    {
        using var bytes = new MemoryStream();
        await context.Request.Body.CopyToAsync(bytes, context.RequestAborted);
        var picture = bytes.ToArray();
        return Array.Find(Pictures, kind => picture.AsSpan().StartsWith(kind.Begins)).Type is not { } type
            ? TypedResults.UnprocessableEntity(RefusalResponse.Of(new PictureUnreadable()))
            : await context.Carry(
                new SetTaskPicture(task, new ProofPicture(type, picture), Viewer.Of(context)),
                null,
                new { task, digest = Convert.ToHexStringLower(SHA256.HashData(picture)) },
                found => Task.FromResult(found.ToResponse())
            );
    }

    private static Task<StepResult> Done(Guid task, ManualTaskDoneRequest request, HttpContext context) =>
        Step(ActionName.TaskDone, task, request, context, found => found.Done(SiteActionAnswers.Reason(request.Report)));

    private static Task<StepResult> Failed(Guid task, ManualTaskNoteRequest request, HttpContext context) =>
        Step(ActionName.TaskFailed, task, request, context, found => found.Failed(SiteActionAnswers.Reason(request.Words)));

    private static Task<StepResult> Check(Guid task, ManualTaskCheckRequest request, HttpContext context) =>
        Step(ActionName.TaskCheck, task, request, context, found =>
            request.IsSo ? found.Verify() : found.Return(SiteActionAnswers.Reason(request.Words))
        );

    private static Task<StepResult> Reassign(Guid task, ReassignRequest request, HttpContext context) =>
        Step(ActionName.TaskReassign, task, request, context, found => found.Reassign(request.To));

    private static Task<StepResult> Cancel(Guid task, ManualTaskNoteRequest request, HttpContext context) =>
        Step(ActionName.TaskCancel, task, request, context, found => found.Cancel(SiteActionAnswers.Reason(request.Words)));

    private static Task<StepResult> Step(
        ActionName name,
        Guid task,
        object request,
        HttpContext context,
        Func<TaskInHand, StepDecision> decide
    ) =>
        context.Carry(new TaskAction(name, task, Viewer.Of(context), decide), null, request, plan =>
            Task.FromResult(plan.Found.ToResponse())
        );

    public static ManualTaskResponse ToResponse(this TaskInHand found)
    {
        var (hostChange, manualTask, site, directory) = (found.HostChange, found.ManualTask, found.Site, found.PeopleDirectory);
        return new ManualTaskResponse(
            Line(hostChange, manualTask, site, directory, directory.Now),
            found.SeesSite ? site.Id.Value : null,
            site.Address.Has(out var address) ? address : null,
            site.HostKey,
            hostChange.Reason,
            hostChange.RequestedAt,
            manualTask.GivenAt,
            manualTask.Steps,
            manualTask.Account,
            manualTask.Support,
            hostChange.Words,
            manualTask.DoneBy is { } actor ? PersonResponse.Of(actor, directory) : null,
            hostChange.ConfirmedAt,
            manualTask.Report,
            manualTask.HasPicture,
            manualTask.CheckedBy is { } other ? PersonResponse.Of(other, directory) : null,
            hostChange.SeenAt,
            found.MayDo,
            found.NoCheck is null,
            hostChange.State == ChangeState.Confirmed && found.NoCheck is { } noCheck ? RemarkSentence.Of(noCheck) : null,
            found.MayReassign,
            found.MayCancel,
            hostChange.WantedState.Look?.Logo is { Source: LogoSource.KeptWithSite, From: { } picture } ? picture : null
        );
    }

    private static ManualTaskRow Line(
        HostChange hostChange,
        ManualTask manualTask,
        SiteFacts site,
        PeopleDirectory directory,
        DateTimeOffset now
    ) =>
        new(
            hostChange.Id.Value,
            site.Title,
            site.Host,
            hostChange.State,
            hostChange.Purpose,
            ManualTaskSteps.Wanted(hostChange, directory),
            PersonResponse.Of(manualTask.To, directory),
            PersonResponse.Of(hostChange.By, directory),
            manualTask.Through,
            hostChange.IsOverdue(now),
            manualTask.Returned
        );
}
