using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.ChangeQueues;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Mail;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Npgsql;

namespace AtticLedger.Server.ManualTasks;

using StepResult = Results<Ok<ManualTaskResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

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
            .WithName("setManualTaskPicture")
            .WithSummary("Adds a picture of the result, PNG or JPEG, before the task is reported done.");
        api.MapPost("/done", Done)
            .WithName("manualTaskDone")
            .WithSummary("Reports a task done; the next import or a second person verifies it.");
        api.MapPost("/report-failure", Cannot).WithName("manualTaskFailed").WithSummary("Reports that a task failed, and why.");
        api.MapPost("/check", Check)
            .WithName("manualTaskCheck")
            .WithSummary("A second person confirms the result, or returns the task.");
        api.MapPost("/reassign", Reassign).WithName("reassignManualTask").WithSummary("Reassigns a task to another person.");
        api.MapPost("/cancel", Cancel).WithName("cancelManualTask").WithSummary("Cancels a task.");
    }

    private static async Task<Ok<IReadOnlyList<ManualTaskRow>>> List(HttpContext context, LiveRegister index, Database database)
    {
        var state = await index.Current();
        RegisterAt.SetFact(context, state.Place);
        var viewer = Viewer.Of(context);
        var seen = state.Seen(viewer.ScopeOn(state.PeopleDirectory));
        var (hostChanges, sites) = await database.Read(async connection =>
        {
            var concerned = (await connection.ManualTasksSince(database.Now - Lately))
                .Where(pair => Concerns(pair.HostChange, pair.ManualTask, viewer) || seen.Find(pair.HostChange.Site) is not null)
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
        await database.Read(async connection =>
            await Found(new ChangeId(task), Viewer.Of(context), connection, database.PeopleDirectories, database.Now) is { } found
                ? (Results<Ok<ManualTaskResponse>, ProblemHttpResult>)TypedResults.Ok(found.ToResponse())
                : NotThere()
        );

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Picture(
        Guid task,
        HttpContext context,
        Database database
    ) =>
        await database.Read(async connection =>
            await Found(new ChangeId(task), Viewer.Of(context), connection, database.PeopleDirectories, database.Now) is { } found
            && await connection.Picture(found.HostChange.Id) is { } picture
                ? (Results<FileContentHttpResult, ProblemHttpResult>)TypedResults.File(picture.Bytes, picture.Type)
                : NotThere()
        );

    private static async Task<StepResult> SetPicture(Guid task, HttpContext context, Database database)
    {
        using var bytes = new MemoryStream();
        await context.Request.Body.CopyToAsync(bytes, context.RequestAborted);
        var picture = bytes.ToArray();
        if (Array.Find(Pictures, kind => picture.AsSpan().StartsWith(kind.Begins)).Type is not { } type)
        {
            return TypedResults.Problem(statusCode: 422, title: "This file is not a picture in PNG or JPEG format.");
        }

        return await Change(task, context, database, async (found, change) =>
        {
            if (!found.MayDo)
            {
                return Refused(
                    found.HostChange.State == ChangeState.Sent
                        ? "Only the assignee can add a picture."
                        : "The task is no longer open."
                );
            }

            await change.SetPicture(found.HostChange.Id, new ProofPicture(type, picture));
            return null;
        });
    }

    private static Task<StepResult> Done(Guid task, ManualTaskDoneRequest request, HttpContext context, Database database) =>
        Change(task, context, database, async (found, change) =>
        {
            if (!found.MayDo)
            {
                return Refused(NotToDo(found));
            }

            if (TooLong(request.Report) is { } fault)
            {
                return fault;
            }

            // A picture from before the task was returned does not show what was done since.
            if (ActionAnswers.Reason(request.Report) is null && (!found.ManualTask.HasPicture || found.ManualTask.Returned > 0))
            {
                return Refused(
                    found.ManualTask.Returned > 0
                        ? "The task was returned. Describe what you did since and how it can be checked."
                        : "Describe what you did and how it can be checked, or add a picture."
                );
            }

            var step = ManualTaskSteps.Done(
                found.HostChange,
                found.ManualTask,
                found.Site,
                found.Viewer.Person,
                ActionAnswers.Reason(request.Report),
                change.Now
            );
            await change.Keep(step, found.PeopleDirectory.Time, JournalAction.TaskDone, found.Viewer.InJournal);
            await ChangeQueueRunner.End(change, step.HostChange, step.Site!, found.Viewer.InJournal);
            return null;
        });

    private static Task<StepResult> Cannot(Guid task, ManualTaskNoteRequest request, HttpContext context, Database database) =>
        Change(task, context, database, async (found, change) =>
        {
            if (!found.MayDo)
            {
                return Refused(NotToDo(found));
            }

            if (TooLong(request.Words) is { } fault)
            {
                return fault;
            }

            if (ActionAnswers.Reason(request.Words) is not { } words)
            {
                return Refused("Describe why it failed: the person who requested it reads this.");
            }

            var step = ManualTaskSteps.Cannot(
                found.HostChange,
                found.ManualTask,
                found.Site,
                found.Viewer.Person,
                words,
                found.PeopleDirectory
            );
            await change.Keep(step, found.PeopleDirectory.Time, JournalAction.TaskFailed, found.Viewer.InJournal);
            await ChangeQueueRunner.End(change, step.HostChange, found.Site, found.Viewer.InJournal);
            return null;
        });

    private static Task<StepResult> Check(Guid task, ManualTaskCheckRequest request, HttpContext context, Database database) =>
        Change(task, context, database, async (found, change) =>
        {
            if (found.NoCheck is { } why)
            {
                return Refused(why);
            }

            if (request.IsSo)
            {
                var seen = ManualTaskSteps.Checked(found.HostChange, found.ManualTask, found.Viewer.Person, change.Now);
                await change.Keep(seen, found.PeopleDirectory.Time, JournalAction.TaskVerified, found.Viewer.InJournal);
                return null;
            }

            if (TooLong(request.Words) is { } fault)
            {
                return fault;
            }

            if (ActionAnswers.Reason(request.Words) is not { } words)
            {
                return Refused("Describe what you found: the assignee reads this.");
            }

            var back = ManualTaskSteps.NotSo(
                found.HostChange,
                found.ManualTask,
                found.Site,
                found.Viewer.Person,
                words,
                found.PeopleDirectory
            );
            var entry = await change.KeepAllBut(
                back,
                found.PeopleDirectory.Time,
                JournalAction.TaskReturned,
                found.Viewer.InJournal
            );
            var atticEntry = (await change.Connection.LatestAtticEntries([found.Site.Id])).GetValueOrDefault(found.Site.Id);
            await change.Keep(
                Aftermath.GivenBack(
                    back.HostChange,
                    back.Site!,
                    atticEntry,
                    await change.Connection.OfferOfHostChange(back.HostChange.Id),
                    change.Now
                ),
                found.PeopleDirectory.Time,
                [entry]
            );
            return null;
        });

    private static Task<StepResult> Reassign(Guid task, ReassignRequest request, HttpContext context, Database database) =>
        Change(task, context, database, async (found, change) =>
        {
            if (!found.MayReassign)
            {
                return Refused(NotToDo(found));
            }

            if (
                !found.PeopleDirectory.ByMail.TryGetValue(request.To.Trim().ToLowerInvariant(), out var to)
                || !found.PeopleDirectory.IsHere(to)
            )
            {
                return Refused($"No member of staff has the mail address {request.To.Trim()}.");
            }

            if (to == found.ManualTask.To)
            {
                return Refused("They already have the task.");
            }

            await change.Keep(
                ManualTaskSteps.Reassign(
                    found.HostChange,
                    found.ManualTask,
                    found.Site,
                    to,
                    found.Viewer.Person,
                    found.PeopleDirectory
                ),
                found.PeopleDirectory.Time,
                JournalAction.TaskReassigned,
                found.Viewer.InJournal
            );
            return null;
        });

    private static Task<StepResult> Cancel(Guid task, ManualTaskNoteRequest request, HttpContext context, Database database) =>
        Change(task, context, database, async (found, change) =>
        {
            if (!found.MayCancel)
            {
                return Refused(
                    found.HostChange.State == ChangeState.Sent
                        ? "Only the person who requested it or an administrator can cancel it."
                        : "The task is no longer open."
                );
            }

            if (TooLong(request.Words) is { } fault)
            {
                return fault;
            }

            var step = ManualTaskSteps.Cancel(
                found.HostChange,
                found.ManualTask,
                found.Site,
                found.Viewer.Person,
                ActionAnswers.Reason(request.Words),
                found.PeopleDirectory
            );
            await change.Keep(step, found.PeopleDirectory.Time, JournalAction.TaskCancelled, found.Viewer.InJournal);
            await ChangeQueueRunner.End(change, step.HostChange, found.Site, found.Viewer.InJournal);
            return null;
        });

    /// <param name="step">Carries it out, or returns why not.</param>
    private static async Task<StepResult> Change(
        Guid task,
        HttpContext context,
        Database database,
        Func<Concerned, Change, Task<StepResult?>> step
    )
    {
        var viewer = Viewer.Of(context);
        var result = await database.Change<StepResult>(async change =>
        {
            if (await Found(new ChangeId(task), viewer, change.Connection, change.PeopleDirectories, change.Now) is not { } found)
            {
                return NotThere();
            }

            if (await step(found, change) is { } refused)
            {
                return refused;
            }

            RegisterAt.SetFact(context, (await change.Connection.JournalHead()).Number);
            return TypedResults.Ok(
                (await Found(new ChangeId(task), viewer, change.Connection, change.PeopleDirectories, change.Now))!.ToResponse()
            );
        });
        if (result.Result is Ok<ManualTaskResponse>)
        {
            var stop = context.RequestServices.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping;
            context.RequestServices.GetRequiredService<ChangeQueueRunner>().Wake(stop);
            context.RequestServices.GetRequiredService<Outbox>().Wake(stop);
        }

        return result;
    }

    private static async Task<Concerned?> Found(
        ChangeId id,
        Viewer viewer,
        NpgsqlConnection connection,
        PeopleDirectories directories,
        DateTimeOffset now
    )
    {
        if (await connection.ManualTask(id) is not { } manualTask || await connection.HostChange(id) is not { } hostChange)
        {
            return null;
        }

        var directory = await directories.Of(connection, now, await connection.OrganisationTime());
        var site = (await connection.Sites(new Scope.Everything(), [hostChange.Site])).Single();
        var sees = viewer.ScopeOn(directory).Sees(site);
        return sees || Concerns(hostChange, manualTask, viewer)
            ? new Concerned(hostChange, manualTask, site, directory, viewer, sees)
            : null;
    }

    private static bool Concerns(HostChange hostChange, ManualTask manualTask, Viewer viewer) =>
        manualTask.To == viewer.Person || hostChange.By == viewer.Person;

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

    private static string NotToDo(Concerned found) =>
        found.HostChange.State == ChangeState.Sent
            ? $"The task is assigned to {found.PeopleDirectory.Find(found.ManualTask.To)?.Name}. Reassign it to yourself first."
            : "The task is no longer open.";

    private static StepResult? TooLong(string? text) =>
        text?.Length > ManualTask.LongestText
            ? Refused($"The text has {text.Length} characters; the maximum is {ManualTask.LongestText}.")
            : null;

    private static StepResult Refused(string reason) => TypedResults.UnprocessableEntity(new RefusalResponse([reason]));

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such task.");

    /// <summary>A manual task with what the viewer may do about it.</summary>
    private sealed record Concerned(
        HostChange HostChange,
        ManualTask ManualTask,
        SiteFacts Site,
        PeopleDirectory PeopleDirectory,
        Viewer Viewer,
        bool SeesSite
    )
    {
        private bool Answers => Viewer.Role == Role.Administrator || (Viewer.Role == Role.Steward && SeesSite);

        private bool IsWithPerson => Viewer.MayAct && HostChange.State == ChangeState.Sent;

        public bool MayDo => IsWithPerson && (ManualTask.To == Viewer.Person || Viewer.Role == Role.Administrator);

        public bool MayReassign => IsWithPerson && (ManualTask.To == Viewer.Person || Answers);

        public bool MayCancel => IsWithPerson && (HostChange.By == Viewer.Person || Answers);

        public string? NoCheck =>
            ManualTaskSteps.NoCheck(HostChange, ManualTask, Viewer.Person)
            ?? (Viewer.MayAct && SeesSite ? null : "Only people who may act on this site can check the result.");

        public ManualTaskResponse ToResponse() =>
            new(
                Line(HostChange, ManualTask, Site, PeopleDirectory, PeopleDirectory.Now),
                SeesSite ? Site.Id.Value : null,
                Site.Address.Has(out var address) ? address : null,
                Site.HostKey,
                HostChange.Reason,
                HostChange.RequestedAt,
                ManualTask.GivenAt,
                ManualTask.Steps,
                ManualTask.Account,
                ManualTask.Support,
                HostChange.Words,
                ManualTask.DoneBy is { } actor ? PersonResponse.Of(actor, PeopleDirectory) : null,
                HostChange.ConfirmedAt,
                ManualTask.Report,
                ManualTask.HasPicture,
                ManualTask.CheckedBy is { } other ? PersonResponse.Of(other, PeopleDirectory) : null,
                HostChange.SeenAt,
                MayDo,
                NoCheck is null,
                HostChange.State == ChangeState.Confirmed ? NoCheck : null,
                MayReassign,
                MayCancel
            );
    }
}
