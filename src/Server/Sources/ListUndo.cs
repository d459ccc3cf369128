using System.Globalization;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>A list that was taken in.</summary>
/// <param name="Sites">How many sites it changed or brought.</param>
/// <param name="IsUnderWay">Whether it is still being taken in; it is gone on with whatever stops a server.</param>
/// <param name="MayUndo">Whether it can be taken back: the latest one can, once.</param>
public sealed record ListTakingWire(
    long Id,
    DateTimeOffset TakenAt,
    PersonWire By,
    int Sites,
    bool IsUnderWay,
    bool IsEnded,
    DateTimeOffset? UndoneAt,
    bool MayUndo
);

/// <summary>What taking a list back would come to.</summary>
/// <param name="Restored">How many sites become what they were before it.</param>
/// <param name="Gone">How many it brought: they stay, marked as vanished.</param>
/// <param name="Left">Sites that have changed since, and are left as they are.</param>
public sealed record ListUndoPlanWire(string Fingerprint, int Restored, int Gone, IReadOnlyList<string> Left);

public sealed record ListUndoWire(string Fingerprint);

/// <summary>Taking back what a list did.</summary>
internal static class ListUndo
{
    private const int Together = 500;

    public static void MapListUndo(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources/{name}/list/takings").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapGet("", Takings)
            .WithName("listTakings")
            .WithSummary("The lists of such a host that were taken in last, the latest first.");
        api.MapPost("/{taking:long}/undo/plan", Plan)
            .WithName("planListUndo")
            .WithSummary("What taking a list back would come to; nothing is changed.");
        api.MapPost("/{taking:long}/undo", Undo)
            .WithName("undoList")
            .WithSummary(
                "Makes the sites that a list changed what they were before it; 409 with the new plan where it would come to something else by now."
            );
    }

    private static async Task<Ok<IReadOnlyList<ListTakingWire>>> Takings(string name, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        var takings = await database.Read(connection => connection.Takings(name));
        return TypedResults.Ok<IReadOnlyList<ListTakingWire>>([
            .. takings.Select(taking => new ListTakingWire(
                taking.Id,
                taking.TakenAt,
                PersonWire.Of(taking.By, state.Roll),
                taking.Sites,
                taking.IsOpen,
                taking.IsEnded,
                taking.UndoneAt,
                MayUndo(taking, takings)
            )),
        ]);
    }

    private static Task<Results<Ok<ListUndoPlanWire>, ProblemHttpResult>> Plan(string name, long taking, Database database) =>
        database.Read<Results<Ok<ListUndoPlanWire>, ProblemHttpResult>>(async connection =>
            await Refused(name, taking, connection) is { } fault
                ? fault
                : TypedResults.Ok((await Planned(taking, connection)).Wire)
        );

    private static async Task<Results<Ok<ListTakenWire>, Conflict<ListUndoPlanWire>, ProblemHttpResult>> Undo(
        string name,
        long taking,
        ListUndoWire wish,
        HttpContext context,
        Database database
    ) =>
        await database.Change<Results<Ok<ListTakenWire>, Conflict<ListUndoPlanWire>, ProblemHttpResult>>(async change =>
        {
            if (await Refused(name, taking, change.Connection) is { } fault)
            {
                return fault;
            }

            var (plan, sites) = await Planned(taking, change.Connection);
            if (plan.Fingerprint != wish.Fingerprint)
            {
                return TypedResults.Conflict(plan);
            }

            var actor = Viewer.Of(context).InJournal;
            foreach (var few in sites.Chunk(Together))
            {
                var before = await change.Connection.Sites(new Sight.Everything(), few);
                await change.TakeBack(taking, few);
                var after = (await change.Connection.Sites(new Sight.Everything(), few)).ToDictionary(site => site.Id);
                await change.Append([
                    .. before.Select(site =>
                        new Draft(
                            SiteRecord.ListUndone,
                            actor,
                            $"site:{site.Id.Value.ToString(CultureInfo.InvariantCulture)}"
                        ).Telling(site, after[site.Id])
                    ),
                ]);
            }

            await change.Undone(taking);
            var numbers = await change.Append([
                new Draft(SiteRecord.ListUndone, actor, Draft.SubjectOf(name))
                {
                    After = JournalValue.Of(("taking", JournalValue.Of(taking)), ("sites", JournalValue.Of(sites.Count))),
                },
            ]);
            SheetAt.Say(context, numbers[^1]);
            return TypedResults.Ok(new ListTakenWire(numbers[^1]));
        });

    private static bool MayUndo(ListTaking taking, IReadOnlyList<ListTaking> all) =>
        taking is { IsEnded: true, UndoneAt: null, Sites: > 0 }
        && all.First(other => other is { UndoneAt: null, Sites: > 0 }).Id == taking.Id;

    private static async Task<ProblemHttpResult?> Refused(string name, long wanted, NpgsqlConnection connection)
    {
        var all = await connection.Takings(name);
        return all.Find(one => one.Id == wanted) is not { } taking
                ? TypedResults.Problem(
                    statusCode: 404,
                    title: "There is no such list, or it was taken in too long ago to be taken back."
                )
            : MayUndo(taking, all) ? null
            : TypedResults.Problem(
                statusCode: 422,
                title: taking.UndoneAt is not null ? "It was taken back already."
                    : !taking.IsEnded ? "It was not taken in to its end. Take it in again; then it can be taken back."
                    : taking.Sites == 0 ? "It changed nothing, so there is nothing to take back."
                    : "A later list was taken in. Take that one back first."
            );
    }

    private static async Task<(ListUndoPlanWire Wire, IReadOnlyList<SiteId> Sites)> Planned(
        long taking,
        NpgsqlConnection connection
    )
    {
        var sites = await connection.TakenSites(taking);
        var (back, changed) = (sites.FindAll(site => site.IsAsLeft), sites.FindAll(site => !site.IsAsLeft));
        var left = (await connection.Sites(new Sight.Everything(), [.. changed.Select(site => site.Site)])).Select(site =>
            site.Title
        );
        var digest = JournalValue.Of(back.Select(site => JournalValue.Of(site.Site.Value)));
        return (
            new ListUndoPlanWire(
                Head.HashOf(digest.Canonical()),
                back.Count(site => !site.IsNew),
                back.Count(site => site.IsNew),
                [.. left]
            ),
            [.. back.Select(site => site.Site)]
        );
    }
}
