using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Attic;

using CarryResult = Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>;
using PreviewResult = Results<Ok<PreviewWire>, ProblemHttpResult>;

/// <param name="Typed">The site's name as it was typed; empty where none is asked for.</param>
public sealed record PutAwayWire(string Typed, string Fingerprint, string? Reason = null);

public sealed record BringBackPlanWire(long? NewOwner = null, string? Address = null, string? Reason = null);

public sealed record BringBackWire(string Fingerprint, long? NewOwner = null, string? Address = null, string? Reason = null);

/// <param name="Link">The token of the mail's link, where it is stopped through it.</param>
public sealed record StopWire(string? Link = null);

public sealed record HoldPlanWire(string Reason, DateOnly? Through = null);

public sealed record HoldWishWire(string Reason, string Fingerprint, DateOnly? Through = null);

public sealed record ReleaseWire(string Reason);

internal static class AtticEndpoints
{
    private const int ForecastDays = 60;

    public static void MapAttic(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/attic", List)
            .WithTags("Attic")
            .RequireAuthorization(Policies.Read)
            .WithName("attic")
            .WithSummary("What is put away, the soonest lost first, and when its storage is freed.");
        app.MapGet("/api/sites/{site:long}/stay", Look)
            .WithTags("Attic")
            .RequireAuthorization(Policies.Read)
            .WithName("stay")
            .WithSummary(
                "A site's latest stay in the attic: its clocks, what coming back needs, and afterwards the comparison; 204 where it never was there."
            );
        var sites = app.MapGroup("/api/sites/{site:long}").WithTags("Attic").RequireAuthorization(Policies.Act);
        sites
            .MapPost("/put-away/plan", PlanPutAway)
            .WithName("planPutAway")
            .WithSummary("What blocks putting a site away, all that goes with it, and how sure it wants to be.");
        sites
            .MapPost("/put-away", Put)
            .WithName("putAway")
            .WithSummary("Puts a site away; what reaches the whole organisation waits for a second person.");
        sites
            .MapPost("/put-away/stop", Stop)
            .WithName("stopPutAway")
            .WithSummary("Stops an owner's deletion that is announced and not yet asked of the host.");
        sites.MapPost("/bring-back/plan", PlanBack).WithName("planBringBack").WithSummary("What coming back would change.");
        sites.MapPost("/bring-back", Back).WithName("bringBack").WithSummary("Brings a site back, no wider than is allowed now.");
        sites.MapPost("/hold/plan", PlanHold).WithName("planHold").WithSummary("What a hold would come to.");
        sites.MapPost("/hold", Hold).WithName("placeHold").WithSummary("Forbids clearing a site, with a reason.");
        sites
            .MapPost("/holds/{hold:long}/release", Release)
            .WithName("releaseHold")
            .WithSummary("Releases a hold; at least seven days are left afterwards.");
    }

    private static async Task<Ok<AtticWire>> List(HttpContext context, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var sight = viewer.SightOn(state.Roll);
        var now = database.Now;
        var (stays, holds, sites) = await database.Read(async connection =>
        {
            var open = await connection.OpenStays();
            return (
                open,
                await connection.Holds(),
                open.Count == 0
                    ? []
                    : (await connection.Sites(sight, [.. open.Select(stay => stay.Site)])).ToDictionary(site => site.Id)
            );
        });
        var seen = stays.Where(stay => sites.ContainsKey(stay.Site)).ToList();
        var clocks = seen.Where(stay => stay.State.IsInAttic())
            .Select(stay =>
                (
                    Site: sites[stay.Site],
                    Clock: Clock.Of(stay.ClockFacts(sites[stay.Site], state.House, [.. holds[stay.Site]]), state.Roll.Time, now)
                )
            )
            .ToList();
        var frees = clocks
            .Select(pair =>
                (
                    End: pair.Site.Bin is { } bin && bin.ErasedBy.Has(out var erased)
                        ? erased
                        : pair.Clock.RecoverableUntil ?? DateTimeOffset.MaxValue,
                    pair.Site.Content.Bytes
                )
            )
            .ToList();
        return TypedResults.Ok(
            new AtticWire(
                [
                    .. seen.Select(stay =>
                            StayWriter.Stay(
                                stay,
                                sites[stay.Site],
                                [.. holds[stay.Site]],
                                state.House,
                                state.Roll,
                                Capacity(viewer),
                                now
                            )
                        )
                        .OrderBy(stay => stay.Clock?.RecoverableUntil ?? DateTimeOffset.MinValue)
                        .ThenBy(stay => stay.Title, StringComparer.OrdinalIgnoreCase),
                ],
                [
                    .. Forecast
                        .Of(frees, ForecastDays, state.Roll.Time, now)
                        .Select(day => new FreedWire(day.Day, day.Sites, day.Bytes, day.Unmeasured, day.BytesSoFar)),
                ],
                clocks.Sum(pair => pair.Site.Content.Bytes.Or(0)),
                clocks.Count(pair => pair.Site.Content.Bytes.IsUnknown)
            )
        );
    }

    private static async Task<Results<Ok<StayPageWire>, NoContent, ProblemHttpResult>> Look(
        long site,
        HttpContext context,
        Database database
    )
    {
        var viewer = Viewer.Of(context);
        var (facts, stay) = await database.Read(async connection =>
            await database.Facts(connection, viewer.SightOn, new SiteId(site)) is { } seen
                ? (seen, (await connection.StaysOf(new SiteId(site))).FirstOrDefault())
                : ((DeedFacts?)null, null)
        );
        if (facts is null)
        {
            return Carrying.NotThere();
        }

        if (stay is null)
        {
            return TypedResults.NoContent();
        }

        return TypedResults.Ok(
            new StayPageWire(
                StayWriter.Stay(stay, facts.Site, facts.Holds, facts.House, facts.Roll, Capacity(viewer), facts.Now),
                stay.EndedAt,
                stay.Came is { } came
                    ?
                    [
                        .. Comparison
                            .Of(stay.Went, came, stay.Return ?? new Wish([]), grant => GrantWords.Who(grant, facts.Roll))
                            .Select(one => new DifferenceWire(one.What, one.Before, one.After, one.Meant)),
                    ]
                    : null,
                stay.State.IsInAttic() && BringBack.NeedsOwner(facts),
                stay.State.IsInAttic() && BringBack.AddressIsHeld(facts),
                stay.State.IsInAttic() ? BringBack.FreeAddresses(facts) : []
            )
        );
    }

    private static Task<PreviewResult> PlanPutAway(long site, HttpContext context, DeedDesk desk) =>
        desk.PlanOf(Putting(site, new PutAwayWish(null), context));

    private static Task<CarryResult> Put(
        long site,
        PutAwayWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    ) =>
        desk.Carry(
            Putting(site, new PutAwayWish(Carrying.Reason(wish.Reason), wish.Typed), context),
            wish.Fingerprint,
            key,
            wish,
            context
        );

    private static Task<CarryResult> Stop(
        long site,
        StopWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    )
    {
        var viewer = Viewer.Of(context);
        return desk.Carry(
            new WishedDeed(
                new SiteId(site),
                viewer.Doer(),
                viewer.SightOn,
                (facts, _) => PutAway.Stop(facts, viewer.Doer()),
                Link: wish.Link
            ),
            Decision.Plan.NothingPredicted,
            key,
            wish,
            context
        );
    }

    private static Task<PreviewResult> PlanBack(long site, BringBackPlanWire wish, HttpContext context, DeedDesk desk) =>
        desk.PlanOf(Bringing(site, wish.NewOwner, wish.Address, wish.Reason, context));

    private static Task<CarryResult> Back(
        long site,
        BringBackWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    ) => desk.Carry(Bringing(site, wish.NewOwner, wish.Address, wish.Reason, context), wish.Fingerprint, key, wish, context);

    private static Task<PreviewResult> PlanHold(long site, HoldPlanWire wish, HttpContext context, DeedDesk desk) =>
        desk.PlanOf(Holding(site, wish.Reason, wish.Through, context));

    private static Task<CarryResult> Hold(
        long site,
        HoldWishWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    ) => desk.Carry(Holding(site, wish.Reason, wish.Through, context), wish.Fingerprint, key, wish, context);

    private static async Task<CarryResult> Release(
        long site,
        long hold,
        ReleaseWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    )
    {
        var viewer = Viewer.Of(context);
        return await desk.CarryAtOnce(
            new WishedDeed(
                new SiteId(site),
                viewer.Doer(),
                viewer.SightOn,
                (facts, _) => HoldDeeds.Release(facts, hold, Carrying.Reason(wish.Reason), viewer.Doer()),
                WithNeighbours: false
            ),
            key,
            wish,
            context
        );
    }

    private static WishedDeed Putting(long site, PutAwayWish wish, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new WishedDeed(
            new SiteId(site),
            viewer.Doer(),
            viewer.SightOn,
            (facts, id) => PutAway.Decide(facts, wish, new OrderId(id), viewer.Doer()),
            PutAway.Deed,
            wish,
            wish.Reason
        );
    }

    private static WishedDeed Bringing(long site, long? newOwner, string? address, string? reason, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        var wish = new BringBackWish(
            Carrying.Reason(reason),
            newOwner is { } id ? new PersonId(id) : null,
            string.IsNullOrWhiteSpace(address) ? null : address.Trim()
        );
        return new WishedDeed(new SiteId(site), viewer.Doer(), viewer.SightOn, (facts, order) =>
            BringBack.Decide(facts, wish, new OrderId(order), viewer.Doer())
        );
    }

    private static WishedDeed Holding(long site, string reason, DateOnly? through, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new WishedDeed(
            new SiteId(site),
            viewer.Doer(),
            viewer.SightOn,
            (facts, _) => HoldDeeds.Place(facts, new HoldWish(Carrying.Reason(reason) ?? "", through), viewer.Doer()),
            WithNeighbours: false
        );
    }

    private static Capacity? Capacity(Viewer viewer) => viewer.MayAct ? viewer.Doer().As : null;
}
