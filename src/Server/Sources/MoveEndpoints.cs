using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Sources;

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
            .WithName("siteMoved")
            .WithSummary("Confirms that a site that is no longer reported is now another row; facts set for it move with it.");
        api.MapPost("/undo", Undo).WithName("siteNotMoved").WithSummary("Undoes a confirmed move: they are two sites.");
    }

    private static async Task<Results<Ok<SiteMoves>, ProblemHttpResult>> Look(
        long site,
        HttpContext context,
        LiveRegister index,
        Database database
    )
    {
        var state = await index.Current();
        RegisterAt.SetFact(context, state.Place);
        var viewer = Viewer.Of(context);
        var viewerScope = viewer.ScopeOn(state.PeopleDirectory);
        var seen = state.Seen(viewerScope);
        return await database.Read(async connection =>
        {
            if (await connection.Sites(viewerScope, [new SiteId(site)]) is not [var facts])
            {
                return (Results<Ok<SiteMoves>, ProblemHttpResult>)ActionAnswers.NotThere();
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

    private static Task<Results<Ok<ActionDone>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Decide(
        long site,
        MovedRequest request,
        HttpContext context,
        Database database
    ) =>
        Change(site, request.To, context, database, (from, to, by, at) =>
            Moving.Refusals(from, to) is { Count: > 0 } reasons
                ? (null, reasons)
                : (Moving.Decide(from, to, by, ActionAnswers.Reason(request.Reason), at), [])
        );

    private static Task<Results<Ok<ActionDone>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Undo(
        long site,
        HttpContext context,
        Database database
    ) => Change(site, null, context, database, (from, to, by, _) => (Moving.Undo(from, to, by, null), []));

    private static Task<Results<Ok<ActionDone>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Change(
        long site,
        long? other,
        HttpContext context,
        Database database,
        Func<SiteFacts, SiteFacts, PersonId, DateTimeOffset, (Moved? Moved, IReadOnlyList<string> Refused)> decide
    ) =>
        database.Change<Results<Ok<ActionDone>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>>(async change =>
        {
            if (await Line(change.Connection, site) is not { } gone)
            {
                return ActionAnswers.NotThere();
            }

            if ((other ?? gone.MovedTo?.Value) is not { } id || await Line(change.Connection, id) is not { } now)
            {
                return TypedResults.UnprocessableEntity(
                    new RefusalResponse([
                        other is null ? "No move is confirmed for this site." : "The target site does not exist.",
                    ])
                );
            }

            var (moved, refused) = decide(gone, now, Viewer.Of(context).Person, change.Now);
            if (moved is null)
            {
                return TypedResults.UnprocessableEntity(new RefusalResponse(refused));
            }

            await change.UpdateSite(moved.From);
            await change.UpdateSite(moved.To);
            var numbers = await change.Append(moved.Entries);
            RegisterAt.SetFact(context, numbers[^1]);
            return TypedResults.Ok(new ActionDone(numbers[^1], null, null, null));
        });

    private static async Task<SiteFacts?> Line(NpgsqlConnection connection, long site) =>
        (await connection.Sites(new Scope.Everything(), [new SiteId(site)])).SingleOrDefault();

    private static SiteMove ToResponse(SiteFacts site, IReadOnlyList<string> because) =>
        new(site.Id.Value, site.Title, site.Address.Has(out var address) ? address : null, site.Host, because);
}
