using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Attic;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using PreviewResult = Results<Ok<Preview>, ProblemHttpResult>;

/// <param name="Typed">The site's name as it was typed; empty if not required.</param>
public sealed record StartMoveToAtticRequest(string Typed, string Fingerprint, string? Reason = null);

public sealed record RestorePlanRequest(long? NewOwner = null, string? Address = null, string? Reason = null);

public sealed record StartRestoreRequest(
    string Fingerprint,
    long? NewOwner = null,
    string? Address = null,
    string? Reason = null
);

/// <param name="Link">The token of the link in the mail, if stopped through it.</param>
public sealed record StopMoveToAtticRequest(string? Link = null);

public sealed record HoldPlanRequest(string Reason, DateOnly? Through = null);

public sealed record PlaceHoldRequest(string Reason, string Fingerprint, DateOnly? Through = null);

public sealed record ReleaseHoldRequest(string Reason);

internal static class AtticEndpoints
{
    private const int ForecastDays = 60;

    public static void MapAttic(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/attic", List)
            .WithTags("Attic")
            .RequireAuthorization(Policies.Read)
            .WithName("attic")
            .WithSummary("The sites in the attic, the first to be erased first, with a forecast of freed storage.");
        app.MapGet("/api/sites/{site:long}/attic-entry", Look)
            .WithTags("Attic")
            .RequireAuthorization(Policies.Read)
            .WithName("atticEntry")
            .WithSummary(
                "The latest attic entry of a site: its deadlines, what restoring needs, and the comparison afterwards; 204 where there is none."
            );
        var sites = app.MapGroup("/api/sites/{site:long}").WithTags("Attic").RequireAuthorization(Policies.Act);
        sites
            .MapPost("/move-to-attic/plan", PlanMoveToAttic)
            .Previews()
            .WithName("planMoveToAttic")
            .WithSummary(
                "The plan to move a site to the attic: blockers, everything removed with it, and the confirmation it needs."
            );
        sites
            .MapPost("/move-to-attic", Put)
            .Carries(ActionName.SiteMoveToAttic)
            .WithName("moveToAttic")
            .WithSummary("Moves a site to the attic; a site that all staff or anonymous visitors use waits for a second person.");
        sites
            .MapPost("/move-to-attic/stop", Stop)
            .Carries(ActionName.AtticStop)
            .WithName("stopMoveToAttic")
            .WithSummary("Stops an owner's announced move to the attic.");
        sites.MapPost("/restore/plan", PlanBack).Previews().WithName("planRestore").WithSummary("The plan to restore a site.");
        sites
            .MapPost("/restore", Back)
            .Carries(ActionName.SiteRestore)
            .WithName("restore")
            .WithSummary("Restores a site, with no more access than policy allows now.");
        sites.MapPost("/hold/plan", PlanHold).Previews().WithName("planHold").WithSummary("The plan of a hold.");
        sites
            .MapPost("/hold", Hold)
            .Carries(ActionName.HoldPlace)
            .WithName("placeHold")
            .WithSummary("Places a hold, which keeps a site from being erased, with a reason.");
        sites
            .MapPost("/holds/{hold:long}/release", Release)
            .Carries(ActionName.HoldRelease)
            .WithName("releaseHold")
            .WithSummary("Releases a hold; the site stays at least 7 more days.");
    }

    private static async Task<Ok<AtticResponse>> List(SeenRegister register, Database database)
    {
        var state = register.State;
        var viewer = register.Viewer;
        var viewerScope = viewer.ScopeOn(state.PeopleDirectory);
        var now = database.Now;
        var (atticEntries, holds, sites) = await database.Read(async connection =>
        {
            var open = await connection.OpenAtticEntries();
            return (
                open,
                await connection.Holds(),
                open.Count == 0
                    ? []
                    : (await connection.Sites(viewerScope, [.. open.Select(atticEntry => atticEntry.Site)])).ToDictionary(site =>
                        site.Id
                    )
            );
        });
        var seen = atticEntries.Where(atticEntry => sites.ContainsKey(atticEntry.Site)).ToList();
        var clocks = seen.Where(atticEntry => atticEntry.State.IsInAttic())
            .Select(atticEntry =>
                (
                    Site: sites[atticEntry.Site],
                    Clock: Clock.Of(
                        atticEntry.ClockFacts(sites[atticEntry.Site], state.Organisation, [.. holds[atticEntry.Site]]),
                        state.PeopleDirectory.Time,
                        now
                    )
                )
            )
            .ToList();
        var frees = clocks
            .Select(pair =>
                (
                    // Only what the host erases by itself is freed: the end of the organisation's period frees nothing.
                    End: pair.Site.Bin is { } bin && bin.ErasedBy.Has(out var erased)
                        ? erased
                        : pair.Clock.HostEnds ?? DateTimeOffset.MaxValue,
                    pair.Site.Bytes
                )
            )
            .ToList();
        return TypedResults.Ok(
            new AtticResponse(
                [
                    .. seen.Select(atticEntry =>
                            AtticEntryWriter.AtticEntry(
                                atticEntry,
                                sites[atticEntry.Site],
                                [.. holds[atticEntry.Site]],
                                state.Organisation,
                                state.PeopleDirectory,
                                Capacity(viewer),
                                now
                            )
                        )
                        .OrderBy(atticEntry => atticEntry.Clock?.RecoverableUntil ?? DateTimeOffset.MinValue)
                        .ThenBy(atticEntry => atticEntry.Title, StringComparer.OrdinalIgnoreCase),
                ],
                [
                    .. Forecast
                        .Of(frees, ForecastDays, state.PeopleDirectory.Time, now)
                        .Select(day => new Freed(day.Day, day.Sites, day.Bytes, day.Unmeasured, day.BytesSoFar)),
                ],
                clocks.Sum(pair => pair.Site.Bytes.Or(0)),
                clocks.Count(pair => pair.Site.Bytes.IsUnknown)
            )
        );
    }

    private static async Task<Results<Ok<AtticEntryPage>, NoContent, ProblemHttpResult>> Look(
        long site,
        HttpContext context,
        Database database
    )
    {
        var viewer = Viewer.Of(context);
        var (facts, atticEntry) = await database.Read(async connection =>
            await FactReader.Of(database, connection).OfSite(viewer.ScopeOn, new SiteId(site)) is { } seen
                ? (seen, (await connection.AtticEntriesOf(new SiteId(site))).FirstOrDefault())
                : ((ActionFacts?)null, null)
        );
        if (facts is null)
        {
            return ActionEndpoint.NotThere("site");
        }

        if (atticEntry is null)
        {
            return TypedResults.NoContent();
        }

        return TypedResults.Ok(
            new AtticEntryPage(
                AtticEntryWriter.AtticEntry(
                    atticEntry,
                    facts.Site,
                    facts.Holds,
                    facts.Organisation,
                    facts.PeopleDirectory,
                    Capacity(viewer),
                    facts.Now
                ),
                atticEntry.EndedAt,
                atticEntry.ContentAfter is { } came
                    ?
                    [
                        .. Comparison
                            .Of(atticEntry.ContentBefore, came, atticEntry.Return ?? new WantedState([]), grant =>
                                GrantText.Who(grant, facts.PeopleDirectory)
                            )
                            .Select(one => new DifferenceResponse(one.What, one.Before, one.After, one.Meant)),
                    ]
                    : null,
                atticEntry.State.IsInAttic() && Restore.NeedsOwner(facts),
                atticEntry.State.IsInAttic() && Restore.AddressIsHeld(facts),
                atticEntry.State.IsInAttic() ? Restore.FreeAddresses(facts) : []
            )
        );
    }

    private static Task<PreviewResult> PlanMoveToAttic(long site, HttpContext context) =>
        context.PlanOf(Requested(site, new MoveToAtticRequest(null), context));

    private static Task<ActionAnswer> Put(long site, StartMoveToAtticRequest request, HttpContext context) =>
        context.Carry(
            Requested(site, new MoveToAtticRequest(SiteActionAnswers.Reason(request.Reason), request.Typed), context),
            request.Fingerprint,
            request
        );

    private static Task<ActionAnswer> Stop(long site, StopMoveToAtticRequest request, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return context.Carry(
            new SiteAction(ActionName.AtticStop, site, viewer, (facts, _) => MoveToAttic.Stop(facts, viewer.Actor()))
            {
                FromLink = request.Link,
            },
            null,
            request
        );
    }

    private static Task<PreviewResult> PlanBack(long site, RestorePlanRequest request, HttpContext context) =>
        context.PlanOf(Dispatch(site, request.NewOwner, request.Address, request.Reason, context));

    private static Task<ActionAnswer> Back(long site, StartRestoreRequest request, HttpContext context) =>
        context.Carry(Dispatch(site, request.NewOwner, request.Address, request.Reason, context), request.Fingerprint, request);

    private static Task<PreviewResult> PlanHold(long site, HoldPlanRequest request, HttpContext context) =>
        context.PlanOf(Holding(site, request.Reason, request.Through, context));

    private static Task<ActionAnswer> Hold(long site, PlaceHoldRequest request, HttpContext context) =>
        context.Carry(Holding(site, request.Reason, request.Through, context), request.Fingerprint, request);

    private static async Task<ActionAnswer> Release(long site, long hold, ReleaseHoldRequest request, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return await context.Carry(
            new SiteAction(ActionName.HoldRelease, site, viewer, (facts, _) =>
                HoldActions.Release(facts, hold, SiteActionAnswers.Reason(request.Reason), viewer.Actor())
            )
            {
                WithNeighbours = false,
            },
            null,
            request
        );
    }

    private static SiteAction Requested(long site, MoveToAtticRequest request, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new SiteAction(ActionName.SiteMoveToAttic, site, viewer, (facts, id) =>
            MoveToAttic.Decide(facts, request, new ChangeId(id), viewer.Actor())
        )
        {
            Request = request,
            Reason = request.Reason,
        };
    }

    private static SiteAction Dispatch(long site, long? newOwner, string? address, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        var request = new RestoreRequest(
            SiteActionAnswers.Reason(reason),
            newOwner is { } id ? new PersonId(id) : null,
            string.IsNullOrWhiteSpace(address) ? null : address.Trim()
        );
        return new SiteAction(ActionName.SiteRestore, site, viewer, (facts, order) =>
            Restore.Decide(facts, request, new ChangeId(order), viewer.Actor())
        );
    }

    private static SiteAction Holding(long site, string reason, DateOnly? through, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new SiteAction(ActionName.HoldPlace, site, viewer, (facts, _) =>
            HoldActions.Place(facts, new HoldRequest(SiteActionAnswers.Reason(reason) ?? "", through), viewer.Actor())
        )
        {
            WithNeighbours = false,
        };
    }

    private static Capacity? Capacity(Viewer viewer) => viewer.MayAct ? viewer.Actor().As : null;
}
