using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Actions;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using PreviewResult = Results<Ok<Preview>, ProblemHttpResult>;

internal static class ActionEndpoints
{
    public static void MapActions(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Actions").RequireAuthorization(Policies.Act);
        api.MapPost("/sites/{site:long}/restrict/plan", PlanRestrict)
            .Previews()
            .WithName("planRestrict")
            .WithSummary("The plan to restrict the access of a site; nothing is changed.");
        api.MapPost("/sites/{site:long}/restrict", Restrict)
            .Carries(ActionName.SiteRestrict)
            .WithName("restrict")
            .WithSummary("Restricts the access of a site as planned; 409 with the new plan where the effect differs.");
        api.MapPost("/sites/{site:long}/remove-access/plan", PlanRemove)
            .Previews()
            .WithName("planRemoveAccess")
            .WithSummary("The plan to remove what a person or a group is granted by name on a site; nothing is changed.");
        api.MapPost("/sites/{site:long}/remove-access", Remove)
            .Carries(ActionName.AccessRemove)
            .WithName("removeAccess")
            .WithSummary(
                "Removes what a person or a group is granted by name on a site; removing an active owner waits for a second person."
            );
        api.MapPost("/sites/{site:long}/grant-access/plan", PlanGrant)
            .Previews()
            .WithName("planGrantAccess")
            .WithSummary("The plan to grant a power at a site to a person, a group, a unit or many people; nothing is changed.");
        api.MapPost("/sites/{site:long}/grant-access", Grant)
            .Carries(ActionName.AccessGrant)
            .WithName("grantAccess")
            .WithSummary(
                "Grants a power at a site as planned. What policy does not allow is refused; what breaks a critical rule waits for a second person."
            );
        api.MapPost("/host-changes/{hostChange:guid}/undo/plan", PlanUndo)
            .Previews()
            .WithName("planUndo")
            .WithSummary("The plan to undo a change.");
        api.MapPost("/host-changes/{hostChange:guid}/undo", Undo)
            .Carries(ActionName.ChangeUndo)
            .WithName("undo")
            .WithSummary("Undoes a change: withdraws it, or requests the state before it.");
    }

    private static Task<PreviewResult> PlanRestrict(long site, RestrictPlanRequest request, HttpContext context) =>
        context.PlanOf(Restricting(site, request.Target, request.Reason, context));

    private static Task<ActionAnswer> Restrict(long site, StartRestrictRequest request, HttpContext context) =>
        context.Carry(Restricting(site, request.Target, request.Reason, context), request.Fingerprint, request);

    private static Task<PreviewResult> PlanRemove(long site, RemoveAccessPlanRequest request, HttpContext context) =>
        context.PlanOf(Removing(site, request.Person, request.Group, request.Reason, context));

    private static Task<ActionAnswer> Remove(long site, StartRemoveAccessRequest request, HttpContext context) =>
        context.Carry(Removing(site, request.Person, request.Group, request.Reason, context), request.Fingerprint, request);

    private static async Task<PreviewResult> PlanGrant(
        long site,
        GrantAccessPlanRequest request,
        HttpContext context,
        Database database
    ) => await context.PlanOf(await Granting(site, request, context, database));

    private static async Task<ActionAnswer> Grant(
        long site,
        StartGrantAccessRequest request,
        HttpContext context,
        Database database
    ) => await context.Carry(await Granting(site, request.Planned, context, database), request.Fingerprint, request);

    private static Task<PreviewResult> PlanUndo(Guid hostChange, HttpContext context) =>
        context.PlanOf(Undoing(hostChange, null, context));

    private static Task<ActionAnswer> Undo(Guid hostChange, UndoChangeRequest request, HttpContext context) =>
        context.Carry(Undoing(hostChange, request.Reason, context), request.Fingerprint, request);

    private static SiteAction Restricting(long site, Limits target, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new SiteAction(ActionName.SiteRestrict, site, viewer, (facts, id) =>
            RestrictReach.Decide(
                facts,
                new RestrictRequest(target.ToLimits(), SiteActionAnswers.Reason(reason)),
                new ChangeId(id),
                viewer.Actor()
            )
        )
        {
            WithNeighbours = false,
        };
    }

    private static SiteAction Removing(long site, long? person, long? group, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        var request = new RemoveAccessRequest(
            person is { } id ? new PersonId(id) : null,
            group is { } of ? new GroupId(of) : null,
            SiteActionAnswers.Reason(reason)
        );
        return new SiteAction(ActionName.AccessRemove, site, viewer, (facts, change) =>
            RemoveAccess.Decide(facts, request, new ChangeId(change), viewer.Actor())
        )
        {
            Request = request,
            Reason = request.Reason,
            WithNeighbours = false,
        };
    }

    private static async Task<SiteAction> Granting(
        long site,
        GrantAccessPlanRequest asked,
        HttpContext context,
        Database database
    )
    {
        var viewer = Viewer.Of(context);
        var request = new GrantAccessRequest(
            asked.Person is { } id ? new PersonId(id) : null,
            asked.Group is { } of ? new GroupId(of) : null,
            asked.Unit is { } unit ? new UnitCode(unit) : null,
            asked.All,
            asked.Power,
            asked.SignIn,
            SiteActionAnswers.Reason(asked.Reason)
        )
        {
            GroupKey = asked.Group is { } group
                ? await database.Read(connection => connection.KeyOfGroupAtHostOf(new SiteId(site), new GroupId(group)))
                : null,
        };
        return new SiteAction(ActionName.AccessGrant, site, viewer, (facts, change) =>
            GrantAccess.Decide(facts, request, new ChangeId(change), viewer.Actor())
        )
        {
            Request = request,
            Reason = request.Reason,
            WithNeighbours = false,
        };
    }

    private static SiteAction Undoing(Guid hostChange, string? reason, HttpContext context)
    {
        var (viewer, undone) = (Viewer.Of(context), new ChangeId(hostChange));
        return new SiteAction(
            ActionName.ChangeUndo,
            async facts => (await facts.Connection.HostChange(undone))?.Site,
            viewer,
            (facts, id) =>
                UndoHostChange.Decide(
                    facts,
                    facts.ChangeQueue.Single(one => one.Id == undone),
                    new ChangeId(id),
                    viewer.Actor(),
                    SiteActionAnswers.Reason(reason)
                )
        )
        {
            What = "change",
            Completing = async (facts, found) =>
                found.ChangeQueue.Single(one => one.Id == undone).Former?.Look?.Logo
                    is { Source: LogoSource.KeptWithSite, From: { } hash }
                    ? found with
                    {
                        Around = found.Around with { HasPicture = await facts.Connection.HasPicture(hash) },
                    }
                    : found,
        };
    }
}
