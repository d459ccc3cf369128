using AtticLedger.Core.Deeds;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Deeds;

using CarryResult = Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>;
using PreviewResult = Results<Ok<PreviewWire>, ProblemHttpResult>;

/// <param name="Covers">Whether it covers what is so: the site stands no worse than when it was excused.</param>
public sealed record ExcuseWire(long Id, string Reason, PersonWire By, DateTimeOffset From, DateOnly Through, bool Covers)
{
    /// <summary>The excuses in force from one rule, those that cover it first.</summary>
    internal static IReadOnlyList<ExcuseWire> Of(Rule rule, SiteLine line, LedgerState state) =>
        [
            .. line
                .Excuses.Where(excuse => excuse.Rule == rule.Id)
                .Select(excuse => new ExcuseWire(
                    excuse.Id,
                    excuse.Reason,
                    PersonWire.Of(excuse.By, state.Roll),
                    excuse.From,
                    excuse.Through,
                    rule.IsCovered(excuse, line)
                ))
                .OrderByDescending(excuse => excuse.Covers),
        ];
}

public sealed record ExcusePlanWire(string Rule, string Reason, DateOnly Through);

public sealed record ExcuseWishWire(string Rule, string Reason, DateOnly Through, string Fingerprint);

public sealed record EndExcuseWire(string Reason);

/// <summary>Dated exceptions from rules.</summary>
internal static class ExcuseEndpoints
{
    public static void MapExcuses(this IEndpointRouteBuilder app)
    {
        var sites = app.MapGroup("/api/sites/{site:long}").WithTags("Deeds").RequireAuthorization(Policies.Act);
        sites.MapPost("/excuse/plan", Plan).WithName("planExcuse").WithSummary("What excusing a site from a rule would come to.");
        sites
            .MapPost("/excuse", Excuse)
            .WithName("excuse")
            .WithSummary("Excuses a site from a rule that it breaks, with a reason, through the end of a day.");
        sites.MapPost("/excuses/{excuse:long}/end", End).WithName("endExcuse").WithSummary("Ends an excuse before its day.");
    }

    private static Task<PreviewResult> Plan(long site, ExcusePlanWire wish, HttpContext context, DeedDesk desk) =>
        desk.PlanOf(Excusing(site, wish.Rule, wish.Reason, wish.Through, context));

    private static Task<CarryResult> Excuse(
        long site,
        ExcuseWishWire wish,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        HttpContext context,
        DeedDesk desk
    ) => desk.Carry(Excusing(site, wish.Rule, wish.Reason, wish.Through, context), wish.Fingerprint, key, wish, context);

    private static async Task<CarryResult> End(
        long site,
        long excuse,
        EndExcuseWire wish,
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
                (facts, _) => ExcuseDeeds.End(facts, excuse, Carrying.Reason(wish.Reason), viewer.Doer()),
                WithNeighbours: false
            ),
            key,
            wish,
            context
        );
    }

    private static WishedDeed Excusing(long site, string rule, string reason, DateOnly through, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new WishedDeed(
            new SiteId(site),
            viewer.Doer(),
            viewer.SightOn,
            (facts, _) =>
                ExcuseDeeds.Excuse(
                    facts,
                    new ExcuseWish(new RuleId(rule), Carrying.Reason(reason) ?? "", through),
                    viewer.Doer()
                ),
            WithNeighbours: false
        );
    }
}
