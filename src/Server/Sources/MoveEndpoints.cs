using AtticLedger.Core.Deeds;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>A line that another one is, was, or may be.</summary>
/// <param name="Because">Why it may be, a sentence each without its full stop.</param>
public sealed record MoveWire(long Id, string Title, string? Address, string Host, IReadOnlyList<string> Because);

/// <param name="To">Where somebody said that it is now.</param>
/// <param name="Was">The lines of which somebody said that they are this one now.</param>
/// <param name="Candidates">For a vanished site of which nobody has said it: what it may be now, the likeliest first.</param>
public sealed record MovesWire(MoveWire? To, IReadOnlyList<MoveWire> Was, IReadOnlyList<MoveWire> Candidates, bool MayDecide);

public sealed record MovedWire(long To, string? Reason = null);

/// <summary>Sites that moved from one host, or one address, to another: proposed, and decided by a person.</summary>
internal static class MoveEndpoints
{
    private const int MostCandidates = 10;

    public static void MapMoves(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/sites/{site:long}/moves", Look)
            .WithTags("Sources")
            .RequireAuthorization(Policies.Read)
            .WithName("moves")
            .WithSummary("Where a site has moved to, what it was before, and what a vanished one may be now.");
        var api = app.MapGroup("/api/sites/{site:long}/moved").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapPost("", Decide)
            .WithName("siteMoved")
            .WithSummary("Says that a vanished site is another line now: what was decided of it goes along.");
        api.MapPost("/undo", Undo).WithName("siteNotMoved").WithSummary("Takes that back: they are two sites.");
    }

    private static async Task<Results<Ok<MovesWire>, ProblemHttpResult>> Look(
        long site,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var sight = viewer.SightOn(state.Roll);
        var seen = state.Seen(sight);
        return await database.Read(async connection =>
        {
            if (await connection.Sites(sight, [new SiteId(site)]) is not [var facts])
            {
                return (Results<Ok<MovesWire>, ProblemHttpResult>)Carrying.NotThere();
            }

            var (now, before) = (
                facts.MovedTo is { } to ? await connection.Sites(sight, [to]) : [],
                await connection.Sites(sight, await connection.MovedHere(facts.Id))
            );
            IReadOnlyList<MoveCandidate> candidates = [];
            if (facts is { Vanished: true, MovedTo: null })
            {
                // The sheet says which lines are like it; the database what they are.
                var bare = LookAlikes.Bare(facts.Title);
                var like = seen.Lines(seen.InUse)
                    .Where(line =>
                        line.Address.Has(out var address) && facts.Address.Has(out var its) && address == its
                        || LookAlikes.Bare(line.Title) == bare
                    )
                    .Select(line => line.Id)
                    .Take(100)
                    .ToList();
                candidates = like.Count == 0 ? [] : Moving.Candidates(facts, await connection.Sites(sight, like));
            }

            return TypedResults.Ok(
                new MovesWire(
                    now is [var moved] ? Wire(moved, []) : null,
                    [.. before.Select(one => Wire(one, []))],
                    [.. candidates.Take(MostCandidates).Select(one => Wire(one.Site, one.Because))],
                    viewer.Role == Role.Administrator
                )
            );
        });
    }

    private static Task<Results<Ok<DeedDoneWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>> Decide(
        long site,
        MovedWire wish,
        HttpContext context,
        Database database
    ) =>
        Change(site, wish.To, context, database, (from, to, by, at) =>
            Moving.Refusals(from, to) is { Count: > 0 } reasons
                ? (null, reasons)
                : (Moving.Decide(from, to, by, Carrying.Reason(wish.Reason), at), [])
        );

    private static Task<Results<Ok<DeedDoneWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>> Undo(
        long site,
        HttpContext context,
        Database database
    ) => Change(site, null, context, database, (from, to, by, _) => (Moving.Undo(from, to, by, null), []));

    private static Task<Results<Ok<DeedDoneWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>> Change(
        long site,
        long? other,
        HttpContext context,
        Database database,
        Func<SiteFacts, SiteFacts, PersonId, DateTimeOffset, (Moved? Moved, IReadOnlyList<string> Refused)> decide
    ) =>
        database.Change<Results<Ok<DeedDoneWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>>(async change =>
        {
            if (await Line(change.Connection, site) is not { } gone)
            {
                return Carrying.NotThere();
            }

            if ((other ?? gone.MovedTo?.Value) is not { } id || await Line(change.Connection, id) is not { } now)
            {
                return TypedResults.UnprocessableEntity(
                    new RefusalWire([
                        other is null ? "Nobody has said that it moved." : "There is no such site to have moved to.",
                    ])
                );
            }

            var (moved, refused) = decide(gone, now, Viewer.Of(context).Person, change.Now);
            if (moved is null)
            {
                return TypedResults.UnprocessableEntity(new RefusalWire(refused));
            }

            await change.UpdateSite(moved.From);
            await change.UpdateSite(moved.To);
            var numbers = await change.Append(moved.Entries);
            SheetAt.Say(context, numbers[^1]);
            return TypedResults.Ok(new DeedDoneWire(numbers[^1], null, null, null));
        });

    private static async Task<SiteFacts?> Line(NpgsqlConnection connection, long site) =>
        (await connection.Sites(new Sight.Everything(), [new SiteId(site)])).SingleOrDefault();

    private static MoveWire Wire(SiteFacts site, IReadOnlyList<string> because) =>
        new(site.Id.Value, site.Title, site.Address.Has(out var address) ? address : null, site.Host, because);
}
