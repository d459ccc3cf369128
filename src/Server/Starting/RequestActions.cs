using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Starting;

/// <summary>The verdict on a request, with the request as it becomes.</summary>
internal sealed record PlannedRequest(StartVerdict Verdict, SiteRequest Request, IReadOnlyList<Notification> Notifications);

/// <summary>Asks for a site. What the rules grant is made at once; the rest waits for an administrator or steward.</summary>
internal sealed class MakeRequest(NewSiteRequest request, Viewer viewer) : RequestedAction<PlannedRequest, StartDone>
{
    public override ActionName Name => ActionName.RequestMake;

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.Making, WorkKind.Mail];

    public override async Task<Decided<PlannedRequest>> Decide(FactReader facts)
    {
        var directory = await facts.PeopleDirectory();
        var wanted = request.ToSite(directory);
        var start = await facts.StartFacts(wanted, viewer);
        var verdict = StartSite.Judge(start, wanted, viewer.Actor());
        var grants = viewer.Grants(wanted.Unit, directory);
        if (verdict.Granting(grants) == Granting.NotAllowed)
        {
            return new Decided<PlannedRequest>.Refused([.. verdict.Refusals.Select(one => one.Remark)]);
        }

        var kind = start.Organisation.KindsToStart.First(one => one.Kind == wanted.Kind);
        var asked = new SiteRequest
        {
            Id = new RequestId(Guid.NewGuid()),
            Wanted = wanted,
            Host = kind.Host,
            Address = kind.Address.Whole(wanted.Address),
            MailAlias = kind.AliasDomain is { } domain ? $"{wanted.AliasPart}@{domain}" : null,
            By = viewer.Person,
            RequestedAt = facts.Now,
            NextTry = facts.Now,
            Through = directory.Today.Plus(start.Organisation.RequestDays),
            Steps = Making.StepsOf(wanted, kind, start.Organisation.CapabilitiesOf(kind.Host)),
        };
        return new Decided<PlannedRequest>.Planned(
            verdict.Granting(grants) == Granting.ByAdministrator
                ? new PlannedRequest(verdict, asked, await Waiting(facts, asked, directory))
                : new PlannedRequest(
                    verdict,
                    // What the rules leave to somebody who may grant it, they have decided by asking.
                    verdict.Because.Count > 0
                        ? SteerRequest.Answered(asked, SiteRequestEvent.Grant, null, viewer, facts.Now)
                        : asked.Move(SiteRequestEvent.Grant),
                    [.. ToAssignee(asked, start.Organisation)]
                ),
            verdict.Fingerprint()
        );
    }

    public override async Task<Written<StartDone>> Write(Change change, PlannedRequest plan)
    {
        await change.Put(plan.Request);
        await change.Write(plan.Notifications, await change.Connection.OrganisationTime());
        var place = (
            await change.Append([
                plan.Request.Entry(JournalAction.RequestMade, viewer.InJournal),
                .. plan.Request.State == SiteRequestState.BeingMade
                    ?
                    [
                        plan.Request.Entry(
                            JournalAction.RequestGranted,
                            plan.Request.AnsweredBy is null ? EntryActor.Product : viewer.InJournal
                        ),
                    ]
                    : Array.Empty<Draft>(),
            ])
        )[^1];
        return new Written<StartDone>(place, new StartDone(place, plan.Request.Id.Value, plan.Request.State));
    }

    /// <summary>Where a person makes sites by hand, they hear of it.</summary>
    public static IEnumerable<Notification> ToAssignee(SiteRequest request, Organisation organisation) =>
        request.IsByHand && organisation.CapabilitiesOf(request.Host).ManualProcedure?.Assignee is { } person
            ?
            [
                new Notification(
                    person,
                    $"by-hand:{request.Id}",
                    $"A site to make at {request.Host}: {request.Wanted.Name}",
                    [
                        $"The site {request.Wanted.Name} was granted and has to be made at {request.Host} by hand, at {request.Address}. An administrator can show you what was asked for. Tell them once it is made.",
                    ],
                    Urgent: true
                ),
            ]
            : [];

    private static async Task<IReadOnlyList<Notification>> Waiting(FactReader facts, SiteRequest asked, PeopleDirectory directory)
    {
        var by = directory.Find(asked.By)?.Name ?? "Somebody";
        return
        [
            .. (await facts.Connection.Administrators(facts.Now))
                .Where(person => person != asked.By)
                .Select(person => new Notification(
                    person,
                    $"request:{asked.Id}",
                    $"{by} asks for a site: {asked.Wanted.Name}",
                    [
                        $"{by} asks for the site {asked.Wanted.Name} at {asked.Address}. Grant or refuse it on the desk until the end of {asked.Through.InWords()}.",
                    ]
                )),
        ];
    }
}

/// <summary>An action on a request that was made: its answer, or how its making goes on.</summary>
/// <param name="decide">The request as it becomes, or why it cannot.</param>
/// <param name="entry">The journal entry of it.</param>
internal sealed class SteerRequest(
    ActionName name,
    RequestId id,
    Viewer viewer,
    Func<SiteRequest, StartVerdict, PeopleDirectory, SteeredRequest> decide,
    JournalAction entry
) : RequestedAction<PlannedRequest, StartDone>
{
    public override ActionName Name => name;

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.Making, WorkKind.Mail];

    public override async Task<Decided<PlannedRequest>> Decide(FactReader facts)
    {
        var directory = await facts.PeopleDirectory();
        if (await facts.Connection.SiteRequest(id) is not { } request || !viewer.Sees(request, directory))
        {
            return new Decided<PlannedRequest>.NotSeen("request");
        }

        var start = await facts.StartFacts(request.Wanted, viewer, request.Id);
        var verdict = StartSite.Judge(start, request.Wanted, new Actor(request.By));
        return decide(request, verdict, directory) switch
        {
            SteeredRequest.To(var becomes, var notifications) => new Decided<PlannedRequest>.Planned(
                new PlannedRequest(
                    verdict,
                    becomes,
                    name == ActionName.RequestGrant
                        ? [.. notifications, .. MakeRequest.ToAssignee(becomes, start.Organisation)]
                        : notifications
                ),
                name == ActionName.RequestGrant ? verdict.Fingerprint() : ""
            ),
            SteeredRequest.Not(var why) => new Decided<PlannedRequest>.Refused(why),
            _ => throw new InvalidOperationException("A decision is one of these."),
        };
    }

    public override async Task<Written<StartDone>> Write(Change change, PlannedRequest plan)
    {
        await change.Put(plan.Request);
        await change.Write(plan.Notifications, await change.Connection.OrganisationTime());
        var place = (await change.Append([plan.Request.Entry(entry, viewer.InJournal)]))[^1];
        return new Written<StartDone>(place, new StartDone(place, plan.Request.Id.Value, plan.Request.State));
    }

    public static SteerRequest Grant(RequestId id, string? reason, Viewer viewer, DateTimeOffset now) =>
        new(
            ActionName.RequestGrant,
            id,
            viewer,
            (request, verdict, directory) =>
                NotAnswered(request, viewer, directory)
                ?? (
                    verdict.Refusals.Count > 0
                        ? (SteeredRequest)new SteeredRequest.Not([.. verdict.Refusals.Select(one => one.Remark)])
                        : new SteeredRequest.To(
                            Answered(request, SiteRequestEvent.Grant, reason, viewer, now) with
                            {
                                NextTry = now,
                            },
                            [
                                ToRequester(
                                    request,
                                    "granted",
                                    $"{request.Wanted.Name} was granted",
                                    $"The site {request.Wanted.Name} at {request.Address} was granted and is being made.",
                                    reason
                                ),
                            ]
                        )
                ),
            JournalAction.RequestGranted
        );

    public static SteerRequest Refuse(RequestId id, string? reason, Viewer viewer, DateTimeOffset now) =>
        new(
            ActionName.RequestRefuse,
            id,
            viewer,
            (request, _, directory) =>
                NotAnswered(request, viewer, directory)
                ?? (
                    reason is null
                        ? (SteeredRequest)new SteeredRequest.Not([new RefusalNeedsReason()])
                        : new SteeredRequest.To(
                            Answered(request, SiteRequestEvent.Refuse, reason, viewer, now) with
                            {
                                EndedAt = now,
                            },
                            [
                                ToRequester(
                                    request,
                                    "refused",
                                    $"{request.Wanted.Name} was refused",
                                    $"The site {request.Wanted.Name} at {request.Address} was refused.",
                                    reason
                                ),
                            ]
                        )
                ),
            JournalAction.RequestRefused
        );

    public static SteerRequest Withdraw(RequestId id, Viewer viewer, DateTimeOffset now) =>
        new(
            ActionName.RequestWithdraw,
            id,
            viewer,
            (request, _, _) =>
                request.State != SiteRequestState.Requested ? new SteeredRequest.Not([new RequestAnswered()])
                : request.By != viewer.Person ? new SteeredRequest.Not([new OnlyRequesterWithdraws()])
                : new SteeredRequest.To(request.Move(SiteRequestEvent.Withdraw) with { EndedAt = now }, []),
            JournalAction.RequestWithdrawn
        );

    public static SteerRequest Resume(RequestId id, Viewer viewer, DateTimeOffset now) =>
        new(
            ActionName.MakingResume,
            id,
            viewer,
            (request, _, _) =>
                request.State == SiteRequestState.Stopped
                    ? new SteeredRequest.To(Making.Resumed(request, now), [])
                    : new SteeredRequest.Not([new RequestNotStopped()]),
            JournalAction.MakingResumed
        );

    public static SteerRequest GiveUp(RequestId id, Viewer viewer, DateTimeOffset now) =>
        new(
            ActionName.MakingGiveUp,
            id,
            viewer,
            (request, _, _) =>
                request.State == SiteRequestState.Stopped
                    ? new SteeredRequest.To(request.Move(SiteRequestEvent.GiveUp) with { EndedAt = now }, [])
                    : new SteeredRequest.Not([new RequestNotStopped()]),
            JournalAction.MakingGivenUp
        );

    /// <summary>A person reports that they made it at a host without a connector.</summary>
    public static SteerRequest Report(RequestId id, Viewer viewer, DateTimeOffset now) =>
        new(
            ActionName.MakingReport,
            id,
            viewer,
            (request, _, _) =>
                request is { State: SiteRequestState.BeingMade, Step: MakingStep.Site, IsByHand: true }
                    ? new SteeredRequest.To(Making.Answered(request, new MakingAnswer.Done(null), now), [])
                    : new SteeredRequest.Not([new RequestNotByHand()]),
            JournalAction.MakingStepDone
        );

    private static SteeredRequest? NotAnswered(SiteRequest request, Viewer viewer, PeopleDirectory directory) =>
        request.State != SiteRequestState.Requested || !viewer.Grants(request.Wanted.Unit, directory)
            ? new SteeredRequest.Not([new RequestAnswered()])
            : null;

    public static SiteRequest Answered(
        SiteRequest request,
        SiteRequestEvent how,
        string? reason,
        Viewer viewer,
        DateTimeOffset now
    ) => request.Move(how) with { AnsweredBy = viewer.Person, AnsweredAt = now, Answer = reason };

    private static Notification ToRequester(SiteRequest request, string what, string title, string sentence, string? reason) =>
        new(
            request.By,
            $"request-{what}:{request.Id}",
            title,
            reason is null ? [sentence] : [sentence, $"The reason: {reason}"],
            Urgent: true
        );
}

internal abstract record SteeredRequest
{
    private SteeredRequest() { }

    public sealed record To(SiteRequest Request, IReadOnlyList<Notification> Notifications) : SteeredRequest;

    public sealed record Not(IReadOnlyList<Remark> Why) : SteeredRequest;
}
