using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
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
    public static void MapViews(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/views").WithTags("Register").RequireAuthorization(Policies.Read);
        api.MapGet("", List)
            .WithName("views")
            .WithSummary("One's own saved views and those that others share, with the number of sites in each.");
        api.MapPost("", Keep)
            .Carries(ActionName.ViewSave)
            .WithName("saveView")
            .WithSummary("Saves a view of the register under a name.");
        api.MapPost("/{view:long}/seen", Seen)
            .OutsideActions("one's own mark of what was read")
            .WithName("countView")
            .WithSummary("Records the number of sites that a view shows now, to show later growth.");
        api.MapDelete("/{view:long}", Forget)
            .Carries(ActionName.ViewDelete)
            .WithName("deleteView")
            .WithSummary("Deletes one's own view.");
    }

    private static async Task<Ok<IReadOnlyList<ViewResponse>>> List(SeenRegister register, Database database)
    {
        var state = register.State;
        var viewer = register.Viewer;
        var views = await database.Read(connection => connection.Views(viewer.Account));
        return TypedResults.Ok<IReadOnlyList<ViewResponse>>([.. views.Select(view => ToResponse(view, state, viewer))]);
    }

    private static async Task<
        Results<Ok<ViewId>, Conflict<string>, UnprocessableEntity<RefusalResponse>, BadRequest<FilterProblem>, ProblemHttpResult>
    > Keep(SaveViewRequest request, HttpContext context, LiveRegister index)
    {
        var viewer = Viewer.Of(context);
        try
        {
            var count = Count(request.View, await index.Current(), viewer);
            return (await context.Carry(new SaveView(request, count, viewer), null, request, Task.FromResult)).Result switch
            {
                Ok<ViewId> saved => saved,
                Conflict<string> conflict => conflict,
                UnprocessableEntity<RefusalResponse> refused => refused,
                ProblemHttpResult problem => problem,
                _ => throw new InvalidOperationException("An answer is one of these."),
            };
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

    private static Task<Results<Ok<ViewId>, Conflict<ViewId>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Forget(
        long view,
        HttpContext context
    ) => context.Carry(new DeleteView(view, Viewer.Of(context)), null, "", id => Task.FromResult(new ViewId(id)));

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
