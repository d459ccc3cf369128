using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>A list that was imported.</summary>
/// <param name="Sites">The number of sites it changed or added.</param>
/// <param name="IsUnderWay">True while the import runs; it resumes after a server stops.</param>
/// <param name="MayUndo">True if it can be undone: only the latest import can, once.</param>
public sealed record SiteImportResponse(
    long Id,
    DateTimeOffset ImportedAt,
    PersonResponse By,
    int Sites,
    bool IsUnderWay,
    bool IsEnded,
    DateTimeOffset? UndoneAt,
    bool MayUndo
);

/// <summary>The plan to undo an import.</summary>
/// <param name="Restored">The number of sites that return to their state before the import.</param>
/// <param name="Gone">The number of sites it added: they stay, as no longer reported.</param>
/// <param name="Left">Sites that have changed since and stay as they are.</param>
public sealed record UndoImportPlan(string Fingerprint, int Restored, int Gone, IReadOnlyList<string> Left)
{
    /// <param name="back">The ids that return or go.</param>
    /// <param name="added">How many of them the import added.</param>
    public static UndoImportPlan Of(IReadOnlyList<long> back, int added, IReadOnlyList<string> left) =>
        new(Head.HashOf(JournalValue.Of(back.Select(id => JournalValue.Of(id))).Canonical()), back.Count - added, added, left);
}

public sealed record UndoImportRequest(string Fingerprint);

/// <summary>Undoes an import of sites.</summary>
internal static class ImportUndo
{
    public static void MapListUndo(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources/{name}/imports").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapGet("", SiteImports).WithName("siteImports").WithSummary("The latest imports of a host, newest first.");
        api.MapPost("/{siteImport:long}/undo/plan", Plan)
            .Previews()
            .WithName("planUndoSiteImport")
            .WithSummary("The plan to undo an import; nothing is changed.");
        api.MapPost("/{siteImport:long}/undo", Undo)
            .Carries(ActionName.SitesImportUndo)
            .WithName("undoSiteImport")
            .WithSummary("Undoes an import; 409 with the new plan where the effect differs.");
    }

    private static async Task<Ok<IReadOnlyList<SiteImportResponse>>> SiteImports(
        string name,
        LiveRegister index,
        Database database
    )
    {
        var state = await index.Current();
        var siteImports = await database.Read(connection => connection.SiteImports(name));
        return TypedResults.Ok<IReadOnlyList<SiteImportResponse>>([
            .. siteImports.Select(siteImport => new SiteImportResponse(
                siteImport.Id,
                siteImport.ImportedAt,
                PersonResponse.Of(siteImport.By, state.PeopleDirectory),
                siteImport.Sites,
                siteImport.IsOpen,
                siteImport.IsEnded,
                siteImport.UndoneAt,
                MayUndo(siteImport, siteImports)
            )),
        ]);
    }

    private static async Task<Results<Ok<UndoImportPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Plan(
        string name,
        long siteImport,
        HttpContext context,
        ActionExecutor executor
    ) => UndoAnswers.Plan(await executor.Preview(new UndoSiteImport(name, siteImport, Viewer.Of(context))), plan => plan.Shown);

    private static Task<
        Results<Ok<ImportDone>, Conflict<UndoImportPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > Undo(string name, long siteImport, UndoImportRequest request, HttpContext context) =>
        context.Carry(new UndoSiteImport(name, siteImport, Viewer.Of(context)), request.Fingerprint, request, plan =>
            Task.FromResult(plan.Shown)
        );

    internal static bool MayUndo(SiteImport siteImport, IReadOnlyList<SiteImport> all) =>
        siteImport is { IsEnded: true, UndoneAt: null, Sites: > 0 }
        && all.First(other => other is { UndoneAt: null, Sites: > 0 }).Id == siteImport.Id;
}

/// <summary>The response of the plan to undo an import.</summary>
internal static class UndoAnswers
{
    public static Results<Ok<UndoImportPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult> Plan<TPlan>(
        Decided<TPlan> decided,
        Func<TPlan, UndoImportPlan> shown
    ) =>
        decided switch
        {
            Decided<TPlan>.Planned(var plan, _) => TypedResults.Ok(shown(plan)),
            Decided<TPlan>.Refused(var reasons, _) => TypedResults.UnprocessableEntity(RefusalResponse.Of(reasons)),
            Decided<TPlan>.NotSeen(var what) => ActionEndpoint.NotThere(what),
            _ => throw new InvalidOperationException("An undo has no other plan."),
        };
}
