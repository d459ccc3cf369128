using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
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

namespace AtticLedger.Server.Starting;

using StartAnswer = Results<Ok<StartDone>, Conflict<AnotherVerdict>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>Requests to start a site: the list, one of them with its verdict and its progress, its answer.</summary>
internal static class SiteRequestEndpoints
{
    private static readonly TimeSpan Lately = TimeSpan.FromDays(14);

    public static void MapSiteRequests(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/site-requests").WithTags("Starting a site");
        api.MapGet("", List)
            .RequireAuthorization(Policies.Read)
            .WithName("siteRequests")
            .WithSummary(
                "Requests to start a site: those of the viewer, and those that the viewer may grant; open ones and those that ended in the last 14 days."
            );
        api.MapGet("/{request:guid}", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("siteRequest")
            .WithSummary("A request as it was filled in, the verdict of today, how far it is made, and what the viewer may do.");
        var acting = api.MapGroup("/{request:guid}").RequireAuthorization(Policies.Act);
        acting
            .MapPost("/grant", Grant)
            .Carries(ActionName.RequestGrant)
            .WithName("grantSiteRequest")
            .WithSummary("Grants a request: the site is made. Another verdict than the one shown is not granted.");
        acting
            .MapPost("/refuse", Refuse)
            .Carries(ActionName.RequestRefuse)
            .WithName("refuseSiteRequest")
            .WithSummary("Refuses a request, with a reason that the requester reads; its address is free again.");
        acting
            .MapPost("/withdraw", Withdraw)
            .Carries(ActionName.RequestWithdraw)
            .WithName("withdrawSiteRequest")
            .WithSummary("Withdraws one's own request before it is answered.");
        acting
            .MapPost("/resume", Resume)
            .Carries(ActionName.MakingResume)
            .WithName("resumeMaking")
            .WithSummary("Goes on with making a site at the step where it stopped.");
        acting
            .MapPost("/give-up", GiveUp)
            .Carries(ActionName.MakingGiveUp)
            .WithName("giveUpMaking")
            .WithSummary("Ends a request whose making stopped. What was made at the host stays there.");
        acting
            .MapPost("/report", Report)
            .Carries(ActionName.MakingReport)
            .WithName("reportMade")
            .WithSummary("Reports that a site was made by hand at a host without a connector; the next list has to name it.");
    }

    private static async Task<Ok<SiteRequestsResponse>> List(SeenRegister register, Database database)
    {
        var (viewer, directory) = (register.Viewer, register.State.PeopleDirectory);
        var seen = (await database.Read(connection => connection.SiteRequests(database.Now - Lately)))
            .Where(request => viewer.Sees(request, directory))
            .ToLookup(request => request.State.IsOpen());
        return TypedResults.Ok(
            new SiteRequestsResponse(
                [.. seen[true].Select(request => Line(request, register))],
                [.. seen[false].Select(request => Line(request, register))]
            )
        );
    }

    private static async Task<Results<Ok<SiteRequestResponse>, ProblemHttpResult>> Look(
        Guid request,
        SeenRegister register,
        Database database
    )
    {
        var (viewer, directory) = (register.Viewer, register.State.PeopleDirectory);
        var (found, facts) = await database.Read(async connection =>
            await connection.SiteRequest(new RequestId(request)) is { } one
                ? (
                    one,
                    await FactReader.Of(database, connection).StartFacts(one.Wanted, viewer, one.State.IsOpen() ? one.Id : null)
                )
                : ((SiteRequest?)null, (StartFacts?)null)
        );
        if (found is null || facts is null || !viewer.Sees(found, directory))
        {
            return ActionEndpoint.NotThere("request");
        }

        var verdict = StartSite.Judge(
            facts,
            found.Wanted,
            new Actor(found.By, viewer.Grants(found.Wanted.Unit, directory) ? Capacity.Administrator : viewer.Actor().As)
        );
        var wanted = Wanted(found.Wanted, directory);
        return TypedResults.Ok(
            new SiteRequestResponse(
                Line(found, register),
                wanted,
                StartEndpoints.People(wanted, directory),
                StartEndpoints.Reach(verdict, found.Wanted, directory),
                verdict.Granting(false),
                found.State == SiteRequestState.Requested ? RemarkOnField.Of(verdict) : [],
                verdict.Fingerprint(),
                found.AnsweredBy is { } by ? PersonResponse.Of(by, directory) : null,
                found.AnsweredAt,
                found.Answer,
                [.. found.Steps.Select((step, place) => new StepOfMaking(step, place < found.Done))],
                found.Attempts,
                found.State == SiteRequestState.BeingMade && found.NextTry > database.Now ? found.NextTry : null,
                found.Words,
                [.. ActionsOf(found, viewer, directory)],
                found.Restriction is not null,
                found.IsByHand ? ByHand(found.Host, facts.Organisation, directory) : null
            )
        );
    }

    private static ByHandResponse ByHand(string host, Organisation organisation, PeopleDirectory directory) =>
        organisation.CapabilitiesOf(host).ManualProcedure is { } how
            ? new ByHandResponse(
                how.Assignee is { } person ? PersonResponse.Of(person, directory) : null,
                how.Account,
                how.Support
            )
            : new ByHandResponse(null, "", "");

    private static SiteRequestLine Line(SiteRequest request, SeenRegister register)
    {
        var (organisation, directory) = (register.State.Organisation, register.State.PeopleDirectory);
        return new SiteRequestLine(
            request.Id.Value,
            request.State,
            request.Wanted.Name,
            StartSite.NameOf(request.Wanted.Kind, organisation),
            request.Host,
            request.Address,
            PersonResponse.Of(request.By, directory),
            request.RequestedAt,
            request.Through,
            request.Step,
            request.Done,
            request.Steps.Count,
            request.IsByHand,
            request.State == SiteRequestState.Requested
                && register.Viewer.MayAct
                && register.Viewer.Grants(request.Wanted.Unit, directory),
            request.Site is { } site && register.Visible.Find(site) is not null ? site.Value : null
        );
    }

    private static IEnumerable<RequestActionKind> ActionsOf(SiteRequest request, Viewer viewer, PeopleDirectory directory)
    {
        if (!viewer.MayAct)
        {
            yield break;
        }

        var grants = viewer.Grants(request.Wanted.Unit, directory);
        switch (request.State)
        {
            case SiteRequestState.Requested:
                if (grants)
                {
                    yield return RequestActionKind.Grant;
                    yield return RequestActionKind.Refuse;
                }

                if (request.By == viewer.Person)
                {
                    yield return RequestActionKind.Withdraw;
                }

                break;
            case SiteRequestState.Stopped:
                yield return RequestActionKind.Resume;
                yield return RequestActionKind.GiveUp;
                break;
            case SiteRequestState.BeingMade when request is { IsByHand: true, Step: MakingStep.Site }:
                yield return RequestActionKind.Report;
                break;
        }
    }

    private static NewSiteRequest Wanted(NewSite wanted, PeopleDirectory directory) =>
        new(
            wanted.Kind,
            wanted.Name,
            wanted.Address,
            wanted.Alias,
            wanted.Unit?.Value,
            wanted.Purpose,
            wanted.Classification,
            [.. wanted.Tags],
            wanted.Language,
            wanted.Description,
            wanted.ContentNotice,
            wanted.Ends,
            [.. wanted.Owners.Select(person => directory.Find(person)?.Mail ?? "")],
            [.. wanted.Editors.Select(person => directory.Find(person)?.Mail ?? "")],
            ViewReachResponse.Of(wanted.Reach)
        );

    private static Task<StartAnswer> Grant(Guid request, GrantSiteRequest body, HttpContext context, Database database) =>
        Carry(
            SteerRequest.Grant(new RequestId(request), SiteActionAnswers.Reason(body.Reason), Viewer.Of(context), database.Now),
            body.Fingerprint,
            body,
            context
        );

    private static Task<StartAnswer> Refuse(Guid request, RefuseSiteRequest body, HttpContext context, Database database) =>
        Carry(
            SteerRequest.Refuse(new RequestId(request), SiteActionAnswers.Reason(body.Reason), Viewer.Of(context), database.Now),
            null,
            body,
            context
        );

    private static Task<StartAnswer> Withdraw(Guid request, SteerSiteRequest body, HttpContext context, Database database) =>
        Carry(SteerRequest.Withdraw(new RequestId(request), Viewer.Of(context), database.Now), null, body, context);

    private static Task<StartAnswer> Resume(Guid request, SteerSiteRequest body, HttpContext context, Database database) =>
        Carry(SteerRequest.Resume(new RequestId(request), Viewer.Of(context), database.Now), null, body, context);

    private static Task<StartAnswer> GiveUp(Guid request, SteerSiteRequest body, HttpContext context, Database database) =>
        Carry(SteerRequest.GiveUp(new RequestId(request), Viewer.Of(context), database.Now), null, body, context);

    private static Task<StartAnswer> Report(Guid request, SteerSiteRequest body, HttpContext context, Database database) =>
        Carry(SteerRequest.Report(new RequestId(request), Viewer.Of(context), database.Now), null, body, context);

    private static Task<StartAnswer> Carry(SteerRequest action, string? fingerprint, object body, HttpContext context) =>
        context.Carry(action, fingerprint, body, plan => Task.FromResult(AnotherVerdict.Of(plan.Verdict)));
}
