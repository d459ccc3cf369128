using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Sources;

using MoveAnswer = Results<Ok<ActionDone>, Conflict<SiteMove>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>A row that is, was or may be the same site as another row.</summary>
/// <param name="Because">The evidence, one sentence each, without full stop.</param>
public sealed record SiteMove(long Id, string Title, string? Address, string Host, IReadOnlyList<string> Because);

/// <param name="To">The row that was confirmed to be this site now.</param>
/// <param name="Was">The earlier rows that were confirmed to be this site.</param>
/// <param name="Candidates">For a site that is no longer reported, without a confirmed move: candidates, the likeliest
/// first.</param>
public sealed record SiteMoves(SiteMove? To, IReadOnlyList<SiteMove> Was, IReadOnlyList<SiteMove> Candidates, bool MayDecide);

public sealed record MovedRequest(long To, string? Reason = null);

/// <summary>Sites that moved to another host or address: proposed, and confirmed by a person.</summary>
internal static class MoveEndpoints
{
    private const int MostCandidates = 10;

    public static void MapMoves(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/sites/{site:long}/moves", Look)
            .WithTags("Sources")
            .RequireAuthorization(Policies.Read)
            .WithName("moves")
            .WithSummary(
                "Where a site has moved, which row it was before, and candidates for a site that is no longer reported."
            );
        var api = app.MapGroup("/api/sites/{site:long}/moved").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapPost("", Decide)
            .Carries(ActionName.SiteMoved)
            .WithName("siteMoved")
            .WithSummary("Confirms that a site that is no longer reported is now another row; facts set for it move with it.");
        api.MapPost("/undo", Undo)
            .Carries(ActionName.SiteNotMoved)
            .WithName("siteNotMoved")
            .WithSummary("Undoes a confirmed move: they are two sites.");
    }

    private static async Task<Results<Ok<SiteMoves>, ProblemHttpResult>> Look(long site, SeenRegister register, Database database)
    {
        var (viewer, seen) = (register.Viewer, register.Visible);
        var viewerScope = viewer.ScopeOn(register.State.PeopleDirectory);
        return await database.Read(async connection =>
        {
            if (await connection.Sites(viewerScope, [new SiteId(site)]) is not [var facts])
            {
                return (Results<Ok<SiteMoves>, ProblemHttpResult>)ActionEndpoint.NotThere("site");
            }

            var (now, before) = (
                facts.MovedTo is { } to ? await connection.Sites(viewerScope, [to]) : [],
                await connection.Sites(viewerScope, await connection.MovedHere(facts.Id))
            );
            IReadOnlyList<MoveCandidate> candidates = [];
            if (facts is { NoLongerReported: true, MovedTo: null })
            {
                // The index finds similar rows; the database has their facts.
                var bare = LookAlikes.Bare(facts.Title);
                var like = seen.Lines(seen.InUse)
                    .Where(line =>
                        line.Address.Has(out var address) && facts.Address.Has(out var its) && address == its
                        || LookAlikes.Bare(line.Title) == bare
                    )
                    .Select(line => line.Id)
                    .Take(100)
                    .ToList();
                candidates = like.Count == 0 ? [] : Moving.Candidates(facts, await connection.Sites(viewerScope, like));
            }

            return TypedResults.Ok(
                new SiteMoves(
                    now is [var moved] ? ToResponse(moved, []) : null,
                    [.. before.Select(one => ToResponse(one, []))],
                    [.. candidates.Take(MostCandidates).Select(one => ToResponse(one.Site, one.Because))],
                    viewer.Role == Role.Administrator
                )
            );
        });
    }

    private static Task<MoveAnswer> Decide(long site, MovedRequest request, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return context.Carry(
            new MoveAction(ActionName.SiteMoved, site, request.To, viewer, (from, to, at) =>
                Moving.Refusals(from, to) is { Count: > 0 } reasons
                    ? new Decided<Moved>.Refused(reasons)
                    : new Decided<Moved>.Planned(
                        Moving.Decide(from, to, viewer.Person, SiteActionAnswers.Reason(request.Reason), at),
                        ""
                    )
            ),
            null,
            request,
            Shown
        );
    }

    private static Task<MoveAnswer> Undo(long site, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return context.Carry(
            new MoveAction(ActionName.SiteNotMoved, site, null, viewer, (from, to, _) =>
                new Decided<Moved>.Planned(Moving.Undo(from, to, viewer.Person, null), "")
            ),
            null,
            new { site },
            Shown
        );
    }

    private static Task<SiteMove> Shown(Moved moved) => Task.FromResult(ToResponse(moved.To, []));

    private static SiteMove ToResponse(SiteFacts site, IReadOnlyList<string> because) =>
        new(site.Id.Value, site.Title, site.Address.Has(out var address) ? address : null, site.Host, because);
}
