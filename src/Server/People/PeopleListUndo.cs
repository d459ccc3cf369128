using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.People;

/// <summary>Taking back what a list of people did.</summary>
internal static class PeopleListUndo
{
    public static void MapPeopleListUndo(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/people/list/takings").WithTags("People").RequireAuthorization(Policies.Administer);
        api.MapGet("", Takings)
            .WithName("peopleTakings")
            .WithSummary("The lists of people that were taken in last, the latest first.");
        api.MapPost("/{taking:long}/undo/plan", Plan)
            .WithName("planPeopleUndo")
            .WithSummary("What taking a list of people back would come to; nothing is changed.");
        api.MapPost("/{taking:long}/undo", Undo)
            .WithName("undoPeople")
            .WithSummary(
                "Makes the people whom a list changed what they were before it; 409 with the new plan where it would come to something else by now."
            );
    }

    private static async Task<Ok<IReadOnlyList<PeopleTakingWire>>> Takings(LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        var takings = await database.Read(connection => connection.PeopleTakings());
        return TypedResults.Ok<IReadOnlyList<PeopleTakingWire>>([
            .. takings.Select(taking => new PeopleTakingWire(
                taking.Id,
                taking.TakenAt,
                PersonWire.Of(taking.By, state.Roll),
                taking.People,
                taking.UndoneAt,
                MayUndo(taking, takings)
            )),
        ]);
    }

    private static Task<Results<Ok<ListUndoPlanWire>, ProblemHttpResult>> Plan(long taking, Database database) =>
        database.Read<Results<Ok<ListUndoPlanWire>, ProblemHttpResult>>(async connection =>
            await Refused(taking, connection) is { } fault
                ? fault
                : TypedResults.Ok((await Planned(taking, connection, await database.Roll(connection))).Wire)
        );

    private static Task<Results<Ok<ListTakenWire>, Conflict<ListUndoPlanWire>, ProblemHttpResult>> Undo(
        long taking,
        ListUndoWire wish,
        HttpContext context,
        Database database
    ) =>
        database.Change<Results<Ok<ListTakenWire>, Conflict<ListUndoPlanWire>, ProblemHttpResult>>(async change =>
        {
            if (await Refused(taking, change.Connection) is { } fault)
            {
                return fault;
            }

            var before = await database.Roll(change.Connection);
            var (plan, people) = await Planned(taking, change.Connection, before);
            if (plan.Fingerprint != wish.Fingerprint)
            {
                return TypedResults.Conflict(plan);
            }

            var actor = Viewer.Of(context).InJournal;
            await change.TakeBackPeople(taking, people);
            var after = await database.Roll(change.Connection);
            var numbers = await change.Append([
                .. await change.EndSessionsOfLeft(),
                .. people.Select(person => PeopleLists.Entry(before.Find(person), after.Find(person)!, actor)),
                new Draft(PeopleLists.Undone, actor, Draft.SubjectOf(PeopleListDesk.SourceName))
                {
                    After = JournalValue.Of(("taking", JournalValue.Of(taking)), ("people", JournalValue.Of(people.Count))),
                },
            ]);
            SheetAt.Say(context, numbers[^1]);
            return TypedResults.Ok(new ListTakenWire(numbers[^1]));
        });

    private static bool MayUndo(PeopleTaking taking, IReadOnlyList<PeopleTaking> all) =>
        taking is { UndoneAt: null, People: > 0 } && all.First(other => other is { UndoneAt: null, People: > 0 }).Id == taking.Id;

    private static async Task<ProblemHttpResult?> Refused(long wanted, NpgsqlConnection connection)
    {
        var all = await connection.PeopleTakings();
        return all.Find(one => one.Id == wanted) is not { } taking
                ? TypedResults.Problem(
                    statusCode: 404,
                    title: "There is no such list, or it was taken in too long ago to be taken back."
                )
            : MayUndo(taking, all) ? null
            : TypedResults.Problem(
                statusCode: 422,
                title: taking.UndoneAt is not null ? "It was taken back already."
                    : taking.People == 0 ? "It changed nothing, so there is nothing to take back."
                    : "A later list was taken in. Take that one back first."
            );
    }

    private static async Task<(ListUndoPlanWire Wire, IReadOnlyList<PersonId> People)> Planned(
        long taking,
        NpgsqlConnection connection,
        Roll roll
    )
    {
        var people = await connection.TakenPeople(taking);
        var back = people.FindAll(person => person.IsAsLeft);
        var left = people.Where(person => !person.IsAsLeft).Select(person => roll.Find(person.Person)?.Name ?? "").ToList();
        var digest = JournalValue.Of(back.Select(person => JournalValue.Of(person.Person.Value)));
        return (
            new ListUndoPlanWire(
                Head.HashOf(digest.Canonical()),
                back.Count(person => !person.IsNew),
                back.Count(person => person.IsNew),
                left
            ),
            [.. back.Select(person => person.Person)]
        );
    }
}
