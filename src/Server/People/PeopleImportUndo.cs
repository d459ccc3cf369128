using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.People;

/// <summary>Undoes an import of people.</summary>
internal static class PeopleImportUndo
{
    public static void MapPeopleListUndo(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/people/imports").WithTags("People").RequireAuthorization(Policies.Administer);
        api.MapGet("", Imports).WithName("peopleImports").WithSummary("The latest imports of people, newest first.");
        api.MapPost("/{peopleImport:long}/undo/plan", Plan)
            .Previews()
            .WithName("planUndoPeopleImport")
            .WithSummary("The plan to undo an import of people; nothing is changed.");
        api.MapPost("/{peopleImport:long}/undo", Undo)
            .Carries(ActionName.PeopleImportUndo)
            .WithName("undoPeopleImport")
            .WithSummary("Undoes an import of people; 409 with the new plan where the effect differs.");
    }

    private static async Task<Ok<IReadOnlyList<PeopleImportResponse>>> Imports(LiveRegister index, Database database)
    {
        var state = await index.Current();
        var peopleImports = await database.Read(connection => connection.PeopleImports());
        return TypedResults.Ok<IReadOnlyList<PeopleImportResponse>>([
            .. peopleImports.Select(peopleImport => new PeopleImportResponse(
                peopleImport.Id,
                peopleImport.ImportedAt,
                PersonResponse.Of(peopleImport.By, state.PeopleDirectory),
                peopleImport.People,
                peopleImport.UndoneAt,
                MayUndo(peopleImport, peopleImports)
            )),
        ]);
    }

    private static async Task<Results<Ok<UndoImportPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Plan(
        long peopleImport,
        HttpContext context,
        ActionExecutor executor
    ) => UndoAnswers.Plan(await executor.Preview(new UndoPeopleImport(peopleImport, Viewer.Of(context))), plan => plan.Shown);

    private static Task<
        Results<Ok<ImportDone>, Conflict<UndoImportPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > Undo(long peopleImport, UndoImportRequest request, HttpContext context) =>
        context.Carry(new UndoPeopleImport(peopleImport, Viewer.Of(context)), request.Fingerprint, request, plan =>
            Task.FromResult(plan.Shown)
        );

    internal static bool MayUndo(PeopleImport peopleImport, IReadOnlyList<PeopleImport> all) =>
        peopleImport is { UndoneAt: null, People: > 0 }
        && all.First(other => other is { UndoneAt: null, People: > 0 }).Id == peopleImport.Id;
}
