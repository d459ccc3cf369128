using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Feed;
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
public sealed record UndoImportPlan(string Fingerprint, int Restored, int Gone, IReadOnlyList<string> Left);

public sealed record UndoImportRequest(string Fingerprint);

/// <summary>Undoes an import of sites.</summary>
internal static class ImportUndo
{
    private const int Together = 500;

    public static void MapListUndo(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources/{name}/imports").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapGet("", SiteImports).WithName("siteImports").WithSummary("The latest imports of a host, newest first.");
        api.MapPost("/{siteImport:long}/undo/plan", Plan)
            .WithName("planUndoSiteImport")
            .WithSummary("The plan to undo an import; nothing is changed.");
        api.MapPost("/{siteImport:long}/undo", Undo)
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

    private static Task<Results<Ok<UndoImportPlan>, ProblemHttpResult>> Plan(string name, long siteImport, Database database) =>
        database.Read<Results<Ok<UndoImportPlan>, ProblemHttpResult>>(async connection =>
            await Refused(name, siteImport, connection) is { } fault
                ? fault
                : TypedResults.Ok((await Planned(siteImport, connection)).Plan)
        );

    private static async Task<Results<Ok<ImportDone>, Conflict<UndoImportPlan>, ProblemHttpResult>> Undo(
        string name,
        long siteImport,
        UndoImportRequest request,
        HttpContext context,
        Database database
    ) =>
        await database.Change<Results<Ok<ImportDone>, Conflict<UndoImportPlan>, ProblemHttpResult>>(async change =>
        {
            if (await Refused(name, siteImport, change.Connection) is { } fault)
            {
                return fault;
            }

            var (plan, sites) = await Planned(siteImport, change.Connection);
            if (plan.Fingerprint != request.Fingerprint)
            {
                return TypedResults.Conflict(plan);
            }

            var actor = Viewer.Of(context).InJournal;
            foreach (var few in sites.Chunk(Together))
            {
                var before = await change.Connection.Sites(new Scope.Everything(), few);
                await change.Undo(siteImport, few);
                var after = (await change.Connection.Sites(new Scope.Everything(), few)).ToDictionary(site => site.Id);
                await change.Append([
                    .. before.Select(site =>
                        new Draft(JournalAction.ListUndone, actor, EntrySubject.Of(site.Id)).Telling(site, after[site.Id])
                    ),
                ]);
            }

            await change.Undone(siteImport);
            var numbers = await change.Append([
                new Draft(JournalAction.ListUndone, actor, EntrySubject.OfSource(name))
                {
                    After = JournalValue.Of(("import", JournalValue.Of(siteImport)), ("sites", JournalValue.Of(sites.Count))),
                },
            ]);
            RegisterAt.SetFact(context, numbers[^1]);
            return TypedResults.Ok(new ImportDone(numbers[^1]));
        });

    private static bool MayUndo(SiteImport siteImport, IReadOnlyList<SiteImport> all) =>
        siteImport is { IsEnded: true, UndoneAt: null, Sites: > 0 }
        && all.First(other => other is { UndoneAt: null, Sites: > 0 }).Id == siteImport.Id;

    private static async Task<ProblemHttpResult?> Refused(string name, long wanted, NpgsqlConnection connection)
    {
        var all = await connection.SiteImports(name);
        return all.Find(one => one.Id == wanted) is not { } siteImport
                ? TypedResults.Problem(statusCode: 404, title: "There is no such import, or it is too old to be undone.")
            : MayUndo(siteImport, all) ? null
            : TypedResults.Problem(
                statusCode: 422,
                title: siteImport.UndoneAt is not null ? "It is already undone."
                    : !siteImport.IsEnded ? "The import did not finish. Import the list again; then it can be undone."
                    : siteImport.Sites == 0 ? "It changed nothing, so there is nothing to undo."
                    : "A later list was imported. Undo that import first."
            );
    }

    private static async Task<(UndoImportPlan Plan, IReadOnlyList<SiteId> Sites)> Planned(
        long siteImport,
        NpgsqlConnection connection
    )
    {
        var sites = await connection.ImportedSites(siteImport);
        var (back, changed) = (sites.FindAll(site => site.IsAsLeft), sites.FindAll(site => !site.IsAsLeft));
        var left = (await connection.Sites(new Scope.Everything(), [.. changed.Select(site => site.Site)])).Select(site =>
            site.Title
        );
        var digest = JournalValue.Of(back.Select(site => JournalValue.Of(site.Site.Value)));
        return (
            new UndoImportPlan(
                Head.HashOf(digest.Canonical()),
                back.Count(site => !site.IsNew),
                back.Count(site => site.IsNew),
                [.. left]
            ),
            [.. back.Select(site => site.Site)]
        );
    }
}
