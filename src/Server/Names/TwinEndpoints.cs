using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Names;

using TwinsAnswer = Results<Ok<TwinsDone>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>Pairs of sites that may be one site made twice, by their names.</summary>
internal static class TwinEndpoints
{
    private const int MostRows = 100;

    public static void MapTwins(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/twins").WithTags("Names");
        api.MapGet("", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("twins")
            .WithSummary(
                "Pairs of sites whose names are the same or nearly so, the attic included, within the viewer's scope: a window of at most 100. Names that differ by numbers alone are no pair."
            );
        api.MapPost("/both-right", Say)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.TwinsBothRight)
            .WithName("sayBothRight")
            .WithSummary("Says of two sites with near names that both are right, until one of them gets another name.");
        api.MapPost("/open-again", OpenAgain)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.TwinsOpenAgain)
            .WithName("openTwinsAgain")
            .WithSummary("Undoes that two sites are both right: the pair is open again.");
    }

    /// <param name="from">The place of the first row.</param>
    /// <param name="right">True for the pairs that are both right, false for the others.</param>
    private static async Task<Ok<TwinsResponse>> Look(
        SeenRegister register,
        LiveTwins twins,
        Database database,
        int from = 0,
        int limit = MostRows,
        bool right = false
    )
    {
        var seen = register.Visible;
        var all = await twins.Of(register.State);
        var decided = new DecidedPairs(all, await database.Read(connection => connection.BothRight()), seen);
        var pairs = all
            .All.Where(pair => seen.All.IsYes(pair.One) && seen.All.IsYes(pair.Other))
            .ToLookup(pair => decided.Of(pair) is not null);
        return TypedResults.Ok(
            new TwinsResponse(
                pairs[false].Count(),
                pairs[true].Count(),
                [
                    .. pairs[right]
                        .OrderBy(pair => pair.Nearness)
                        .ThenBy(pair => all.MeaningAt(pair.One), StringComparer.Ordinal)
                        .ThenBy(pair => pair.One)
                        .ThenBy(pair => pair.Other)
                        .Skip(Math.Max(0, from))
                        .Take(Math.Clamp(limit, 0, MostRows))
                        .Select(pair => new TwinRow(
                            Of(seen.Find(seen.IdAt(pair.One))!.Value, register.State),
                            Of(seen.Find(seen.IdAt(pair.Other))!.Value, register.State),
                            pair.Nearness,
                            decided.Of(pair) is { } its
                                ? new SaidBothRight(PersonResponse.Of(its.By, register.State.PeopleDirectory), its.At, its.Reason)
                                : null
                        )),
                ]
            )
        );
    }

    private static Task<TwinsAnswer> Say(BothRightRequest request, HttpContext context) =>
        context.Carry(new SayBothRight(request, Viewer.Of(context)), null, request, plan => Task.FromResult(plan.Meaning));

    private static Task<TwinsAnswer> OpenAgain(OpenTwinsAgainRequest request, HttpContext context) =>
        context.Carry(new OpenTwinsAgain(request, Viewer.Of(context)), null, request, plan => Task.FromResult(plan.Meaning));

    private static Twin Of(RegisterRow row, LedgerState state)
    {
        var owners = row.Owners;
        return new Twin(
            row.Id.Value,
            row.Title,
            row.Address.Has(out var address) ? address : null,
            row.Host,
            RegisterRowWriter.Unit(row.Unit, state),
            row.Existence,
            owners.Holders.Count,
            owners.Complete,
            row.LastEdit.Has(out var edited) ? edited : null,
            row.Visits.Has(out var visits) ? visits : null
        );
    }
}
