using System.Text.Json;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Register;

/// <param name="Show">Additional columns.</param>
public sealed record ViewSentence(SentenceQuery Sentence, IReadOnlyList<string>? Show = null);

/// <summary>A saved view, as the viewer sees it.</summary>
/// <param name="Count">The number of sites it shows now; null if its filter can no longer be read.</param>
/// <param name="Grown">How many more than at the viewer's last visit; 0 if not grown or never visited.</param>
/// <param name="Problem">Why its filter can no longer be read.</param>
public sealed record ViewResponse(
    long Id,
    string Name,
    ViewSentence View,
    bool IsShared,
    bool IsMine,
    PersonResponse By,
    int? Count,
    int Grown,
    DateTimeOffset? SeenAt,
    string? Problem
);

/// <param name="Name">Up to 80 characters. One's own view of the same name is replaced.</param>
/// <param name="IsShared">True if everybody may use it; each viewer sees their own scope.</param>
public sealed record SaveViewRequest(string Name, ViewSentence View, bool IsShared);

public sealed record ViewId(long Id);

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
            .WithSummary("One's own saved views and those that others share, with the number of sites in each.");
        api.MapPost("", Keep).WithName("saveView").WithSummary("Saves a view of the register under a name.");
        api.MapPost("/{view:long}/seen", Seen)
            .WithName("countView")
            .WithSummary("Records the number of sites that a view shows now, to show later growth.");
        api.MapDelete("/{view:long}", Forget).WithName("deleteView").WithSummary("Deletes one's own view.");
    }

    private static async Task<Ok<IReadOnlyList<ViewResponse>>> List(HttpContext context, LiveRegister index, Database database)
    {
        var state = await index.Current();
        RegisterAt.SetFact(context, state.Place);
        var viewer = Viewer.Of(context);
        var views = await database.Read(connection => connection.Views(viewer.Account));
        return TypedResults.Ok<IReadOnlyList<ViewResponse>>([.. views.Select(view => ToResponse(view, state, viewer))]);
    }

    private static async Task<Results<Ok<ViewId>, BadRequest<FilterProblem>, ProblemHttpResult>> Keep(
        SaveViewRequest request,
        HttpContext context,
        LiveRegister index,
        Database database
    )
    {
        var viewer = Viewer.Of(context);
        if (ActionAnswers.Reason(request.Name) is not { Length: <= LongestName } name)
        {
            return TypedResults.Problem(statusCode: 422, title: $"A view needs a name of 1 to {LongestName} characters.");
        }

        var sentence = JsonSerializer.Serialize(request.View, JsonSerializerOptions.Web);
        if (sentence.Length > LongestSentence)
        {
            return TypedResults.Problem(
                statusCode: 422,
                title: $"The filters need {sentence.Length} characters; the maximum is {LongestSentence}."
            );
        }

        var state = await index.Current();
        try
        {
            var count = Count(request.View, state, viewer);
            return await database.Change<Results<Ok<ViewId>, BadRequest<FilterProblem>, ProblemHttpResult>>(async change =>
            {
                var own = (await change.Connection.Views(viewer.Account)).Where(view => view.Account == viewer.Account).ToList();
                if (own.Count >= MostViews && !own.Exists(view => view.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
                {
                    return TypedResults.Problem(
                        statusCode: 422,
                        title: $"At most {MostViews} views can be saved.",
                        detail: "Delete one first."
                    );
                }

                var id = await change.Keep(
                    new SavedView(0, viewer.Account, viewer.Person, name, sentence, request.IsShared, null)
                );
                await change.Saw(id, viewer.Account, count);
                return TypedResults.Ok(new ViewId(id));
            });
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Seen(
        long view,
        HttpContext context,
        LiveRegister index,
        Database database
    )
    {
        var state = await index.Current();
        var viewer = Viewer.Of(context);
        return await database.Change<Results<NoContent, ProblemHttpResult>>(async change =>
        {
            if ((await change.Connection.Views(viewer.Account)).Find(one => one.Id == view) is not { } found)
            {
                return NotThere();
            }

            if (ToResponse(found, state, viewer).Count is { } count)
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

    private static ViewResponse ToResponse(SavedView view, LedgerState state, Viewer viewer)
    {
        var sentence = JsonSerializer.Deserialize<ViewSentence>(view.Sentence, JsonSerializerOptions.Web)!;
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

        return new ViewResponse(
            view.Id,
            view.Name,
            sentence,
            view.IsShared,
            view.Account == viewer.Account,
            PersonResponse.Of(view.By, state.PeopleDirectory),
            count,
            count is { } now && view.Seen is var (before, _) ? Math.Max(0, now - before) : 0,
            view.Seen?.At,
            problem
        );
    }

    /// <exception cref="SentenceError">The filter sentence cannot be read.</exception>
    private static int Count(ViewSentence view, LedgerState state, Viewer viewer)
    {
        _ = Sentence.Order(view.Sentence.Sort ?? "worst");
        _ = RegisterEndpoints.Columns([.. view.Show ?? []]);
        var seen = state.Seen(viewer.ScopeOn(state.PeopleDirectory));
        return RegisterEndpoints
            .Found(Sentence.Of(view.Sentence, state.PeopleDirectory).Evaluate(seen.Columns), view.Sentence)
            .And(seen.All)
            .CountYes;
    }

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such view.");
}
