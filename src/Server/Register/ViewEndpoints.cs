using System.Text.Json;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Register;

/// <param name="Show">Attributes that stand in columns of their own.</param>
public sealed record ViewSentenceWire(SentenceQuery Sentence, IReadOnlyList<string>? Show = null);

/// <summary>A view that is kept, as whoever asks sees it.</summary>
/// <param name="Count">How many sites it shows now; null where its sentence can no longer be read.</param>
/// <param name="Grown">How many more than when the viewer last looked; 0 where it has not grown or they never looked.</param>
/// <param name="Problem">Why its sentence can no longer be read.</param>
public sealed record ViewWire(
    long Id,
    string Name,
    ViewSentenceWire View,
    bool IsShared,
    bool IsMine,
    PersonWire By,
    int? Count,
    int Grown,
    DateTimeOffset? SeenAt,
    string? Problem
);

/// <param name="Name">Up to 80 characters. One's own view of the same name is replaced.</param>
/// <param name="IsShared">Whether everybody may use it; each sees by it what they may see.</param>
public sealed record KeepViewWire(string Name, ViewSentenceWire View, bool IsShared);

public sealed record ViewIdWire(long Id);

internal static class ViewEndpoints
{
    private const int LongestName = 80;
    private const int MostViews = 100;
    private const int LongestSentence = 8000;

    public static void MapViews(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/views").WithTags("Register").RequireAuthorization(Policies.Read);
        api.MapGet("", List)
            .WithName("views")
            .WithSummary("The views that one keeps and those that others share, with how many sites each shows.");
        api.MapPost("", Keep).WithName("keepView").WithSummary("Keeps a view of the register under a name.");
        api.MapPost("/{view:long}/seen", Seen)
            .WithName("seeView")
            .WithSummary("Notes how many sites a view shows now, so that it can be told when it grows.");
        api.MapDelete("/{view:long}", Forget).WithName("forgetView").WithSummary("Forgets a view of one's own.");
    }

    private static async Task<Ok<IReadOnlyList<ViewWire>>> List(HttpContext context, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var views = await database.Read(connection => connection.Views(viewer.Account));
        return TypedResults.Ok<IReadOnlyList<ViewWire>>([.. views.Select(view => Wire(view, state, viewer))]);
    }

    private static async Task<Results<Ok<ViewIdWire>, BadRequest<FilterProblemWire>, ProblemHttpResult>> Keep(
        KeepViewWire wish,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        var viewer = Viewer.Of(context);
        if (Carrying.Reason(wish.Name) is not { Length: <= LongestName } name)
        {
            return TypedResults.Problem(statusCode: 422, title: $"A view needs a name of 1 to {LongestName} characters.");
        }

        var sentence = JsonSerializer.Serialize(wish.View, JsonSerializerOptions.Web);
        if (sentence.Length > LongestSentence)
        {
            return TypedResults.Problem(
                statusCode: 422,
                title: $"The sentence is {sentence.Length} characters long as it is kept; {LongestSentence} is the most."
            );
        }

        var state = await sheet.Current();
        try
        {
            var count = Count(wish.View, state, viewer);
            return await database.Change<Results<Ok<ViewIdWire>, BadRequest<FilterProblemWire>, ProblemHttpResult>>(
                async change =>
                {
                    var own = (await change.Connection.Views(viewer.Account))
                        .Where(view => view.Account == viewer.Account)
                        .ToList();
                    if (own.Count >= MostViews && !own.Exists(view => view.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
                    {
                        return TypedResults.Problem(
                            statusCode: 422,
                            title: $"{MostViews} views are the most that one keeps.",
                            detail: "Forget one first."
                        );
                    }

                    var id = await change.Keep(
                        new KeptView(0, viewer.Account, viewer.Person, name, sentence, wish.IsShared, null)
                    );
                    await change.Saw(id, viewer.Account, count);
                    return TypedResults.Ok(new ViewIdWire(id));
                }
            );
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblemWire(error.Part, error.Column, error.Message));
        }
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Seen(
        long view,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        var state = await sheet.Current();
        var viewer = Viewer.Of(context);
        return await database.Change<Results<NoContent, ProblemHttpResult>>(async change =>
        {
            if ((await change.Connection.Views(viewer.Account)).Find(one => one.Id == view) is not { } found)
            {
                return NotThere();
            }

            if (Wire(found, state, viewer).Count is { } count)
            {
                await change.Saw(view, viewer.Account, count);
            }

            return TypedResults.NoContent();
        });
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Forget(long view, HttpContext context, Database database)
    {
        var viewer = Viewer.Of(context);
        return await database.Change<Results<NoContent, ProblemHttpResult>>(async change =>
        {
            if (
                (await change.Connection.Views(viewer.Account)).Find(one => one.Id == view && one.Account == viewer.Account)
                is null
            )
            {
                return NotThere();
            }

            await change.Forget(view);
            return TypedResults.NoContent();
        });
    }

    private static ViewWire Wire(KeptView view, LedgerState state, Viewer viewer)
    {
        var sentence = JsonSerializer.Deserialize<ViewSentenceWire>(view.Sentence, JsonSerializerOptions.Web)!;
        int? count = null;
        string? problem = null;
        try
        {
            count = Count(sentence, state, viewer);
        }
        catch (SentenceError error)
        {
            problem = error.Message;
        }

        return new ViewWire(
            view.Id,
            view.Name,
            sentence,
            view.IsShared,
            view.Account == viewer.Account,
            PersonWire.Of(view.By, state.Roll),
            count,
            count is { } now && view.Seen is var (before, _) ? Math.Max(0, now - before) : 0,
            view.Seen?.At,
            problem
        );
    }

    /// <exception cref="SentenceError">The sentence cannot be read.</exception>
    private static int Count(ViewSentenceWire view, LedgerState state, Viewer viewer)
    {
        _ = Sentence.Order(view.Sentence.Sort ?? "worst");
        _ = RegisterEndpoints.Columns([.. view.Show ?? []]);
        var seen = state.Seen(viewer.SightOn(state.Roll));
        return RegisterEndpoints
            .Found(Sentence.Of(view.Sentence, state.Roll).Evaluate(seen.Columns), view.Sentence)
            .And(seen.All)
            .CountYes;
    }

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such view.");
}
