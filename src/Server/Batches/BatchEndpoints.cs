using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Hosting;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Batches;

using BatchAnswer = Results<Ok<BatchIdResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using SteerAnswer = Results<
    Ok<BatchIdResponse>,
    Conflict<BatchIdResponse>,
    UnprocessableEntity<RefusalResponse>,
    ProblemHttpResult
>;

internal static class BatchEndpoints
{
    private const int MostLines = 500;
    private const int LongestName = 1000;
    private static readonly TimeSpan Lately = TimeSpan.FromDays(7);

    public static void MapBatches(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/batches").WithTags("Batches");
        api.MapPost("", Plan)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planBatch")
            .WithSummary("Plans one action for many sites. Nothing is changed; the plan is deleted after a day.");
        api.MapPost("/remedies", PlanRemedies)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planRemedies")
            .WithSummary(
                "Plans an action for each site with findings of one cause: what ends most of them. Nothing is changed; the plan is deleted after a day."
            );
        api.MapGet("", List)
            .RequireAuthorization(Policies.Read)
            .WithName("batches")
            .WithSummary(
                "Batches under way and those that ended within a week: one's own, or all for administrators and auditors."
            );
        app.MapGet("/api/named-access", NamedAccess)
            .WithTags("Batches")
            .RequireAuthorization(Policies.Act)
            .WithName("namedAccess")
            .WithSummary("On how many sites of each host a person or a group is granted something by name.");
        api.MapGet("/{batch:guid}", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("batch")
            .WithSummary("A batch: its effect and its progress.");
        api.MapGet("/{batch:guid}/lines", Lines)
            .RequireAuthorization(Policies.Read)
            .WithName("batchLines")
            .WithSummary("A window of a batch's rows, all or those with one outcome.");
        api.MapGet("/{batch:guid}/choices", Choices)
            .RequireAuthorization(Policies.Act)
            .WithName("batchChoices")
            .WithSummary("What can be done on one site about the cause of a batch, with the effect of each on today's facts.");
        api.MapPost("/{batch:guid}/adjust", Adjust)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("adjustBatch")
            .WithSummary("Plans a batch again with another action on some of its sites, or without them. Nothing is changed.");
        api.MapPost("/{batch:guid}/start", Start)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.BatchStart)
            .WithName("startBatch")
            .WithSummary("Starts a planned batch; it runs on the server, row by row.");
        api.MapPost("/{batch:guid}/stop", Stop)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.BatchStop)
            .WithName("stopBatch")
            .WithSummary("Stops a batch before the next row. What was done stays done.");
        api.MapPost("/{batch:guid}/resume", Resume)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.BatchResume)
            .WithName("resumeBatch")
            .WithSummary("Continues a batch with the remaining rows.");
        api.MapPost("/{batch:guid}/again", Again)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planBatchAgain")
            .WithSummary("Plans the action again for the sites on which it was not done.");
        api.MapPost("/{batch:guid}/undo/plan", PlanUndo)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planBatchUndo")
            .WithSummary("Plans a batch that undoes this one on every site where it was done; nothing is changed.");
    }

    private static async Task<BatchAnswer> Plan(
        BatchPlanRequest request,
        HttpContext context,
        BatchActions desk,
        SeenRegister register
    )
    {
        if (BulkActions.All.Where(one => one.Text() == request.Action).ToList() is not [var action])
        {
            return Problem(
                $"The action \"{request.Action}\" is not possible for many sites at once.",
                $"Choose one of {string.Join(", ", BulkActions.All.Select(one => one.Text()))}."
            );
        }

        var bulk = new BulkRequest(
            action,
            request.Person is { } person ? new PersonId(person) : null,
            request.Group is { } group ? new GroupId(group) : null,
            SiteActionAnswers.Reason(request.Reason),
            request.Rule is { } rule ? new RuleId(rule) : null,
            request.Through
        );
        if ((NotNamed(bulk, register.State.PeopleDirectory) ?? NoRule(bulk, register.State.Rules)) is { } problem)
        {
            return problem;
        }

        if (request.Sites is null && !BulkActions.WantsPersonOrGroup(action))
        {
            return Problem("The list of sites is missing.", "Name the sites.");
        }

        // An owner learns of other people through common sites only.
        if (
            action == ActionName.AccessRemove
            && register.Viewer.Role == Role.Owner
            && (await desk.Named(bulk, null, register.Visible, register.State.PeopleDirectory.Today)).Count == 0
        )
        {
            return Problem("The person or group has no access to your sites.", "Open the site to see who has.");
        }

        List<BatchTarget> sites =
        [
            .. (
                request.Sites is not { } chosen
                    ? await desk.Named(bulk, request.Host, register.Visible, register.State.PeopleDirectory.Today)
                : request.WithBelow == true && action == ActionName.SiteMoveToAttic ? await desk.WithBelow(chosen)
                : chosen.Distinct().Select(site => new SiteId(site))
            ).Select(site => new BatchTarget(site, Own: BulkActions.WantsRule(action) ? bulk : null)),
        ];
        return sites.Count switch
        {
            0 when request.Sites is null => Problem(
                "There is no such site.",
                "Nothing is granted to them by name on a site in your scope."
            ),
            0 => Problem("The list of sites is empty.", "Name at least one site."),
            > Batch.MostSites => Problem(
                $"{sites.Count} sites are too many.",
                $"Name at most {Batch.MostSites}, and the others in a later batch."
            ),
            _ => Answer(await desk.Plan(Viewer.Of(context), bulk, sites), context),
        };
    }

    private static async Task<BatchAnswer> PlanRemedies(
        RemediesRequest request,
        HttpContext context,
        BatchActions desk,
        SeenRegister register
    ) =>
        FindingGroups
            .InUse(register.Visible, register.State.PeopleDirectory)
            .FirstOrDefault(group => group.Cause.Name == request.Cause)
            is not { } found
            ? Problem("There is no such cause.", "Its findings have ended, or its name is another. The desk shows today's.")
            : await PlanGroup(found, context, desk);

    private static async Task<BatchAnswer> PlanGroup(FindingGroup group, HttpContext context, BatchActions desk) =>
        Answer(
            await desk.Plan(
                Viewer.Of(context),
                new BulkRequest(ActionName.FindingsRemedy, group.Cause.Person?.Id, Cause: group.Cause.Name),
                [.. group.Sites.Take(Batch.MostSites).Select(line => new BatchTarget(line.Id))]
            ),
            context
        );

    private static async Task<Results<Ok<IReadOnlyList<BatchLineResponse>>, ProblemHttpResult>> Choices(
        Guid batch,
        long site,
        BatchActions desk,
        SeenRegister register
    )
    {
        var viewer = register.Viewer;
        return
            await desk.Look(new BatchId(batch), viewer) is var (found, lines)
            && found is { Cause: not null, Undoes: null }
            && lines.Any(row => row.Line.Site.Value == site)
            && register.Visible.Find(new SiteId(site)) is { } seen
            && await desk.Choices(found, viewer, [new SiteId(site)]) is [var (_, choices)]
            ? TypedResults.Ok<IReadOnlyList<BatchLineResponse>>([
                .. choices.Select(choice =>
                    BatchLineResponse.Of(
                        found,
                        new BatchLineRow(
                            BatchLine.Planned(found.Id, 0, new BatchTarget(seen.Id, Own: choice.Request), choice.Decision),
                            null,
                            null,
                            null
                        ),
                        seen,
                        register.State
                    )
                ),
            ])
            : NotThere();
    }

    private static async Task<BatchAnswer> Adjust(
        Guid batch,
        BatchAdjustRequest request,
        HttpContext context,
        BatchActions desk,
        SeenRegister register
    ) =>
        request.Person is { } person
        && register.State.PeopleDirectory.Find(new PersonId(person)) is not { Kind: PersonKind.Staff }
            ? Problem("The person is not on the staff.", "Only a member of staff can own a site.")
        : request.Name is not null && request.Sites is not [_] ? Problem("A new name is for one site.", "Name that site alone.")
        : request.Name?.Length > LongestName
            ? Problem("The name is too long.", $"It has {request.Name.Length} characters; {LongestName} are the maximum.")
        : Answer(
            await desk.Adjust(
                new BatchId(batch),
                Viewer.Of(context),
                request.Sites?.Select(site => new SiteId(site)).ToHashSet(),
                request.Action,
                request.Person is { } asked ? new PersonId(asked) : null,
                request.Through,
                request.Name is { } name ? Renaming.OneLine(name.Normalize().Replace('\0', '\uFFFD')) : null
            ),
            context
        );

    private static async Task<Results<Ok<NamedAccessResponse>, ProblemHttpResult>> NamedAccess(
        BatchActions desk,
        SeenRegister register,
        long? person = null,
        long? group = null,
        long? site = null
    )
    {
        var (directory, seen) = (register.State.PeopleDirectory, register.Visible);
        var bulk = new BulkRequest(
            ActionName.AccessRemove,
            person is { } id ? new PersonId(id) : null,
            group is { } of ? new GroupId(of) : null
        );
        if (NotNamed(bulk, directory) is { } problem)
        {
            return problem;
        }

        var sites = await desk.Named(bulk, null, seen, directory.Today);

        // Owners learn of other people through their own sites only.
        if (sites.Count == 0 && register.Viewer.Role == Role.Owner)
        {
            return Problem("The person or group has no access to your sites.", "Open the site to see who has.");
        }

        var place = bulk.Person is { } one ? directory.PlaceOf(one) : null;
        return TypedResults.Ok(
            new NamedAccessResponse(
                bulk.Person is { } named ? directory.Find(named)!.Name : directory.Find(bulk.Group!.Value)!.Name,
                place is { } at && directory.Standings[at] == Standing.Left,
                [
                    .. sites
                        .CountBy(each => seen.Find(each)!.Value.Host)
                        .OrderBy(pair => pair.Key, StringComparer.Ordinal)
                        .Select(pair => new NamedAtHost(pair.Key, pair.Value)),
                ],
                site is { } from && seen.Find(new SiteId(from)) is { } line ? line.Title : null
            )
        );
    }

    private static ProblemHttpResult? NoRule(BulkRequest request, RuleBook rules) =>
        (BulkActions.WantsRule(request.Action), request.Rule, request.Through)
            is not ((true, not null, not null) or (false, null, null))
            ? Problem(
                "An exception, and nothing else, needs a rule and a last day.",
                "Name both for exception.grant, and neither for other actions."
            )
        : request.Rule is { } rule && rules.Find(rule) is null
            ? Problem($"No rule {rule} is in force.", "The rule book shows the rules that are.")
        : null;

    // Some actions need a person or a group that is in the register, and the others have none.
    private static ProblemHttpResult? NotNamed(BulkRequest request, PeopleDirectory directory) =>
        BulkActions.WantsPerson(request.Action) && (request.Person is null || request.Group is not null)
            ? Problem("The person is missing.", "Name the person who is to become an owner.")
        : BulkActions.WantsPersonOrGroup(request.Action) && request.Person is null == request.Group is null
            ? Problem("The person or group is missing.", "Name a person or a group, not both.")
        : (request.Person is { } person && directory.Find(person) is null)
        || (request.Group is { } group && directory.Find(group) is null)
            ? Problem("The person or group is not in the register.", "Name one that a staff list or a host reports.")
        : BulkActions.WantsPerson(request.Action) && directory.Find(request.Person!.Value) is not { Kind: PersonKind.Staff }
            ? Problem("The person is not on the staff.", "Only a member of staff can own a site.")
        : (request.Person ?? (object?)request.Group) is not null
        && !BulkActions.WantsPerson(request.Action)
        && !BulkActions.WantsPersonOrGroup(request.Action)
            ? Problem($"The action \"{request.Action.Text()}\" is about no person or group.", "Leave them out.")
        : null;

    private static async Task<Ok<IReadOnlyList<BatchSummary>>> List(BatchActions desk, SeenRegister register)
    {
        var state = register.State;
        var viewer = register.Viewer;
        return TypedResults.Ok<IReadOnlyList<BatchSummary>>([
            .. (await desk.Lately(viewer, Lately)).Select(found => BatchSummary.Of(found.Batch, found.Counts, state)),
        ]);
    }

    private static async Task<Results<Ok<BatchResponse>, ProblemHttpResult>> Look(
        Guid batch,
        BatchActions desk,
        SeenRegister register
    )
    {
        var state = register.State;
        var viewer = register.Viewer;
        return await desk.Look(new BatchId(batch), viewer) is var (found, lines)
            ? TypedResults.Ok(BatchResponse.Of(found, lines, await desk.UndoneBy(found.Id, viewer), state, viewer))
            : NotThere();
    }

    private static async Task<Results<Ok<BatchLines>, ProblemHttpResult>> Lines(
        Guid batch,
        BatchActions desk,
        SeenRegister register,
        string? outcome = null,
        int offset = 0,
        int limit = 100
    )
    {
        var state = register.State;
        var viewer = register.Viewer;
        var only = QueryWords.Read<BatchOutcome>(outcome);
        if (outcome is not null && only is null)
        {
            return Problem($"There is no outcome \"{outcome}\".", "Leave it out, or name one that the batch counts.");
        }

        if (await desk.Look(new BatchId(batch), viewer) is not var (found, lines))
        {
            return NotThere();
        }

        var wanted = BatchLineResponse
            .Seen(found, lines, state, viewer)
            .Where(one => only is null || one.Row.Outcome == only)
            .ToList();
        return TypedResults.Ok(
            new BatchLines(
                wanted.Count,
                [
                    .. wanted
                        .Skip(Math.Max(0, offset))
                        .Take(Math.Clamp(limit, 0, MostLines))
                        .Select(one => BatchLineResponse.Of(found, one.Row, one.Site, state)),
                ]
            )
        );
    }

    private static async Task<SteerAnswer> Start(
        Guid batch,
        BatchStartRequest request,
        HttpContext context,
        BatchActions desk,
        SignIn signIn
    ) =>
        await desk.Look(new BatchId(batch), Viewer.Of(context)) is var (found, lines)
        && found
            .Actions(lines.Select(row => row.Line).Where(line => line.State == BatchLineState.Waiting))
            .Any(BulkActions.WantsPassword)
        && !await signIn.Confirms(Viewer.Of(context), request.Password ?? "")
            ? TypedResults.UnprocessableEntity(RefusalResponse.Of(new PasswordWrong()))
            : await Steer(
                new SteerBatch(ActionName.BatchStart, batch, Viewer.Of(context), BatchEvent.Start, JournalAction.BatchStarted)
                {
                    Number = request.Number,
                    Reason = SiteActionAnswers.Reason(request.Reason),
                },
                request with
                {
                    Password = null,
                },
                context
            );

    private static Task<SteerAnswer> Stop(Guid batch, HttpContext context) =>
        Steer(
            new SteerBatch(ActionName.BatchStop, batch, Viewer.Of(context), BatchEvent.Stop, JournalAction.BatchStopped),
            new { batch },
            context
        );

    private static Task<SteerAnswer> Resume(Guid batch, HttpContext context) =>
        Steer(
            new SteerBatch(ActionName.BatchResume, batch, Viewer.Of(context), BatchEvent.Resume, JournalAction.BatchResumed),
            new { batch },
            context
        );

    private static Task<SteerAnswer> Steer(SteerBatch action, object request, HttpContext context) =>
        context.Carry(action, null, request, plan => Task.FromResult(new BatchIdResponse(plan.Batch.Id.Value)));

    private static async Task<BatchAnswer> Again(Guid batch, HttpContext context, BatchActions desk) =>
        Answer(await desk.Again(new BatchId(batch), Viewer.Of(context)), context);

    private static async Task<BatchAnswer> PlanUndo(Guid batch, HttpContext context, BatchActions desk) =>
        Answer(await desk.PlanUndo(new BatchId(batch), Viewer.Of(context)), context);

    internal static BatchAnswer Answer(BatchResult result, HttpContext context)
    {
        switch (result)
        {
            case BatchResult.Done(var id):
                return TypedResults.Ok(new BatchIdResponse(id.Value));
            case BatchResult.Refused(var reason):
                return TypedResults.UnprocessableEntity(RefusalResponse.Of(reason));
            default:
                return NotThere();
        }
    }

    internal static ProblemHttpResult Problem(string title, string detail) =>
        TypedResults.Problem(statusCode: 400, title: title, detail: detail);

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such batch.");
}
