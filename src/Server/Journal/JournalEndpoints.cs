using System.Globalization;
using System.Text;
using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Journal;

/// <param name="Actor">Who did it, by name where the name is known and not erased.</param>
/// <param name="Changed">Which facts a read of a host found changed.</param>
/// <param name="Text">The canonical text that is hashed.</param>
public sealed record EntryWire(
    long Number,
    DateTimeOffset At,
    string Actor,
    string Deed,
    string Subject,
    string SubjectName,
    long? Site,
    string? Reason,
    IReadOnlyList<string> Changed,
    string Text,
    string Hash
);

public sealed record JournalWire(IReadOnlyList<EntryWire> Entries, long? Next, IReadOnlyList<string> Deeds);

/// <param name="Line">The first bad line, or null where the chain is unbroken.</param>
public sealed record ChainWire(bool IsUnbroken, long Number, string Head, long? Line, string? What);

internal static class JournalEndpoints
{
    private const int MostEntries = 200;
    private const int MostFacts = 6;

    public static void MapJournal(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/journal").WithTags("Journal");
        api.MapGet("", List)
            .RequireAuthorization(Policies.Read)
            .WithName("journal")
            .WithSummary(
                "The journal, newest first: whole for administrators and auditors, of the sites one may see for others."
            );
        api.MapGet("/check", Check)
            .RequireAuthorization(Policies.Evidence)
            .WithName("checkJournal")
            .WithSummary("Checks the chain from the first entry to the head.");
        api.MapGet("/export", Export)
            .RequireAuthorization(Policies.Evidence)
            .WithName("exportJournal")
            .WithSummary("All entries as JSON Lines, closed by a line that carries the head.")
            .Produces<string>(contentType: "application/jsonl");
    }

    private static async Task<Results<Ok<JournalWire>, ProblemHttpResult>> List(
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        long? site = null,
        string? deed = null,
        string? source = null,
        DateOnly? since = null,
        long? before = null,
        int limit = 50
    )
    {
        var viewer = Viewer.Of(context);
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        if (site is { } wanted && state.Seen(viewer.SightOn(state.Roll)).Find(new SiteId(wanted)) is null)
        {
            return TypedResults.Problem(statusCode: 404, title: "There is no such site.");
        }

        var query = new JournalQuery(
            Subjects(viewer, state, site),
            deed is null || Deeds.Contains(deed) ? deed : "",
            before,
            Math.Clamp(limit, 1, MostEntries),
            source is null ? null : Draft.ActorOf(source),
            since is { } day ? state.Roll.Time.StartOf(day) : null
        );
        var seen = state.Seen(viewer.SightOn(state.Roll));
        var rows = await database.Read(connection => connection.Journal(query));
        return TypedResults.Ok(
            new JournalWire(
                [.. rows.Select(row => Entry(row, state.Roll, seen))],
                rows.Count == query.Limit ? rows[^1].Number : null,
                Deeds
            )
        );
    }

    /// <summary>What a filter by deed can ask for.</summary>
    private static readonly string[] Deeds =
    [
        "site.narrow",
        "order.undo",
        "order.sent",
        "order.confirmed",
        "order.seen",
        "order.contradicted",
        "order.refused",
        "order.givenup",
        "key.ask",
        "key.offered",
        "key.countersigned",
        "key.handed-over",
        "key.not-done",
        "key.declined",
        "key.withdrawn",
        "key.lapsed",
        "key.void",
        "approval.asked",
        "approval.given",
        "approval.turned-down",
        "approval.withdrawn",
        "approval.lapsed",
        "approval.renewed",
        "approval.void",
        "attic.announced",
        "attic.stopped",
        "site.put-away",
        "attic.kept",
        "attic.found",
        "attic.due",
        "attic.extended",
        "site.bring-back",
        "attic.back",
        "attic.not-done",
        "attic.not-back",
        "attic.cleared",
        "by-hand.given",
        "by-hand.done",
        "by-hand.cannot",
        "by-hand.seen",
        "by-hand.returned",
        "by-hand.handed-on",
        "by-hand.called-back",
        "by-hand.overdue",
        "batch.started",
        "batch.stopped",
        "batch.resumed",
        "batch.ended",
        "hold.placed",
        "hold.released",
        "excuse.given",
        "excuse.ended",
        "words.changed",
        "person.left",
        "site.said",
        "site.moved",
        "site.not-moved",
        "site.seen",
        "site.vanished",
        "register.loaded",
        "people.seen",
        "person.changed",
        "people.taken",
        "people.undone",
        "host.seen",
        "host.by-hand",
        "list.taken",
        "list.undone",
        "account.given",
        "account.changed",
        "account.removed",
        "administrators.none",
        "source.gone",
        "calendar.made",
        "calendar.revoked",
        "session.began",
        "session.revoked",
        "password.chosen",
        "sign-in.refused",
        "link.refused",
        "refused",
        "clock.moved",
    ];

    private static List<string>? Subjects(Viewer viewer, LedgerState state, long? site)
    {
        if (site is { } one)
        {
            return [Subject(one)];
        }

        if (viewer.Role is Role.Administrator or Role.Auditor)
        {
            return null;
        }

        var seen = state.Seen(viewer.SightOn(state.Roll));
        return [.. seen.Lines(seen.All).Select(line => Subject(line.Id.Value)), $"account:{viewer.Account}"];
    }

    private static string Subject(long site) => $"site:{site.ToString(CultureInfo.InvariantCulture)}";

    private static async Task<Ok<ChainWire>> Check(Database database) =>
        TypedResults.Ok(
            await database.Read(async connection =>
            {
                var checker = new ChainChecker((await connection.JournalHead()).Hash);
                await foreach (var row in connection.JournalRows())
                {
                    if (!checker.Take(row.Text, row.Projection))
                    {
                        break;
                    }
                }

                return checker.End() switch
                {
                    ChainCheck.Unbroken(var head) => new ChainWire(true, head.Number, head.Hash, null, null),
                    ChainCheck.Broken(var line, var what) => new ChainWire(false, 0, "", line, what),
                    _ => throw new InvalidOperationException("A chain is unbroken or broken."),
                };
            })
        );

    private static PushStreamHttpResult Export(HttpContext context, Database database)
    {
        context.Response.Headers.ContentDisposition = "attachment; filename=\"journal.jsonl\"";
        return TypedResults.Stream(
            stream =>
                database.Read(async connection =>
                {
                    await using var writer = new StreamWriter(stream, new UTF8Encoding(false), leaveOpen: true)
                    {
                        NewLine = "\n",
                    };
                    await Formats.JournalFile.Write(writer, connection.JournalTexts(), await connection.JournalHead());
                    return 0;
                }),
            "application/jsonl"
        );
    }

    private static EntryWire Entry(JournalRow row, Roll roll, SeenSheet seen)
    {
        using var json = JsonDocument.Parse(row.Text);
        return new EntryWire(
            row.Number,
            row.At,
            EntryWords.Actor(row, roll),
            row.Deed,
            row.Subject,
            EntryWords.Subject(row, seen, roll),
            row.Site?.Value,
            json.RootElement.GetProperty("reason").GetString(),
            row.Deed is Intake.Deed or PeopleLists.Changed ? Changed(json.RootElement) : [],
            row.Text,
            row.Hash
        );
    }

    // Which facts a read found changed; of a site that is new, none.
    private static List<string> Changed(JsonElement entry) =>
        entry.GetProperty("before") is { ValueKind: JsonValueKind.Object } before
        && entry.GetProperty("after") is { ValueKind: JsonValueKind.Object } after
            ? [.. before.EnumerateObject().Concat(after.EnumerateObject()).Select(field => field.Name).Distinct().Take(MostFacts)]
            : [];
}
