using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Feed;
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
        api.MapGet("", SiteImports).WithName("peopleImports").WithSummary("The latest imports of people, newest first.");
        api.MapPost("/{peopleImport:long}/undo/plan", Plan)
            .WithName("planUndoPeopleImport")
            .WithSummary("The plan to undo an import of people; nothing is changed.");
        api.MapPost("/{peopleImport:long}/undo", Undo)
            .WithName("undoPeopleImport")
            .WithSummary("Undoes an import of people; 409 with the new plan where the effect differs.");
    }

    private static async Task<Ok<IReadOnlyList<PeopleImportResponse>>> SiteImports(LiveRegister index, Database database)
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

    private static Task<Results<Ok<UndoImportPlan>, ProblemHttpResult>> Plan(long peopleImport, Database database) =>
        database.Read<Results<Ok<UndoImportPlan>, ProblemHttpResult>>(async connection =>
            await Refused(peopleImport, connection) is { } fault
                ? fault
                : TypedResults.Ok((await Planned(peopleImport, connection, await database.PeopleDirectory(connection))).Plan)
        );

    private static Task<Results<Ok<ImportDone>, Conflict<UndoImportPlan>, ProblemHttpResult>> Undo(
        long peopleImport,
        UndoImportRequest request,
        HttpContext context,
        Database database
    ) =>
        database.Change<Results<Ok<ImportDone>, Conflict<UndoImportPlan>, ProblemHttpResult>>(async change =>
        {
            if (await Refused(peopleImport, change.Connection) is { } fault)
            {
                return fault;
            }

            var before = await database.PeopleDirectory(change.Connection);
            var (plan, people) = await Planned(peopleImport, change.Connection, before);
            if (plan.Fingerprint != request.Fingerprint)
            {
                return TypedResults.Conflict(plan);
            }

            var actor = Viewer.Of(context).InJournal;
            await change.UndoPeople(peopleImport, people);
            var after = await database.PeopleDirectory(change.Connection);
            var numbers = await change.Append([
                .. await change.EndSessionsOfLeft(),
                .. people.Select(person => PeopleLists.Entry(before.Find(person), after.Find(person)!, actor)),
                new Draft(JournalAction.PeopleUndone, actor, EntrySubject.OfSource(PeopleImportActions.SourceName))
                {
                    After = JournalValue.Of(("import", JournalValue.Of(peopleImport)), ("people", JournalValue.Of(people.Count))),
                },
            ]);
            RegisterAt.SetFact(context, numbers[^1]);
            return TypedResults.Ok(new ImportDone(numbers[^1]));
        });

    private static bool MayUndo(PeopleImport peopleImport, IReadOnlyList<PeopleImport> all) =>
        peopleImport is { UndoneAt: null, People: > 0 }
        && all.First(other => other is { UndoneAt: null, People: > 0 }).Id == peopleImport.Id;

    private static async Task<ProblemHttpResult?> Refused(long wanted, NpgsqlConnection connection)
    {
        var all = await connection.PeopleImports();
        return all.Find(one => one.Id == wanted) is not { } peopleImport
                ? TypedResults.Problem(statusCode: 404, title: "There is no such import, or it is too old to be undone.")
            : MayUndo(peopleImport, all) ? null
            : TypedResults.Problem(
                statusCode: 422,
                title: peopleImport.UndoneAt is not null ? "It is already undone."
                    : peopleImport.People == 0 ? "It changed nothing, so there is nothing to undo."
                    : "A later list was imported. Undo that import first."
            );
    }

    private static async Task<(UndoImportPlan Plan, IReadOnlyList<PersonId> People)> Planned(
        long peopleImport,
        NpgsqlConnection connection,
        PeopleDirectory directory
    )
    {
        var people = await connection.ImportedPeople(peopleImport);
        var back = people.FindAll(person => person.IsAsLeft);
        var left = people.Where(person => !person.IsAsLeft).Select(person => directory.Find(person.Person)?.Name ?? "").ToList();
        var digest = JournalValue.Of(back.Select(person => JournalValue.Of(person.Person.Value)));
        return (
            new UndoImportPlan(
                Head.HashOf(digest.Canonical()),
                back.Count(person => !person.IsNew),
                back.Count(person => person.IsNew),
                left
            ),
            [.. back.Select(person => person.Person)]
        );
    }
}
