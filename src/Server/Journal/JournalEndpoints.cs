using System.Globalization;
using System.Text;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Journal;

/// <param name="Actor">The actor's name, if known and not erased.</param>
/// <param name="Label">What happened; the name of an action that this version does not know.</param>
/// <param name="Changed">The facts that a sync found changed.</param>
/// <param name="Text">The canonical text that is hashed.</param>
public sealed record JournalEntry(
    long Number,
    DateTimeOffset At,
    string Actor,
    string Action,
    string Label,
    string Subject,
    string SubjectName,
    long? Site,
    string? Reason,
    IReadOnlyList<string> Changed,
    string Text,
    string Hash
);

public sealed record JournalResponse(IReadOnlyList<JournalEntry> Entries, long? Next, IReadOnlyList<ActionLabel> Actions);

/// <param name="Label">What happened, to follow the word "where".</param>
public sealed record ActionLabel(string Name, string Label);

/// <param name="Line">The first bad line; null if the chain is unbroken.</param>
public sealed record ChainCheckResult(bool IsUnbroken, long Number, string Head, long? Line, string? What);

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
                "The journal, newest first: complete for administrators and auditors, for others the entries of sites in their scope."
            );
        api.MapGet("/check", Check)
            .RequireAuthorization(Policies.Evidence)
            .WithName("checkJournal")
            .WithSummary("Verifies the hash chain from the first entry to the head.");
        api.MapGet("/export", Export)
            .RequireAuthorization(Policies.Evidence)
            .WithName("exportJournal")
            .WithSummary("All entries as JSON Lines; the last line has the head.")
            .Produces<string>(contentType: "application/jsonl");
    }

    private static async Task<Results<Ok<JournalResponse>, ProblemHttpResult>> List(
        SeenRegister register,
        Database database,
        long? site = null,
        string? action = null,
        string? source = null,
        DateOnly? since = null,
        long? before = null,
        int limit = 50
    )
    {
        var viewer = register.Viewer;
        var state = register.State;
        if (site is { } wanted && register.Visible.Find(new SiteId(wanted)) is null)
        {
            return TypedResults.Problem(statusCode: 404, title: "There is no such site.");
        }

        var query = new JournalQuery(
            Subjects(viewer, state, site),
            action is null ? null : JournalAction.Find(action)?.Name ?? "",
            before,
            Math.Clamp(limit, 1, MostEntries),
            source is null ? null : EntryActor.OfSource(source).Text,
            since is { } day ? state.PeopleDirectory.Time.StartOf(day) : null
        );
        var seen = register.Visible;
        var rows = await database.Read(connection => connection.Journal(query));
        return TypedResults.Ok(
            new JournalResponse(
                [.. rows.Select(row => Entry(row, state.PeopleDirectory, seen))],
                rows.Count == query.Limit ? rows[^1].Number : null,
                [.. JournalAction.All.Select(one => new ActionLabel(one.Name, one.Label))]
            )
        );
    }

    private static List<string>? Subjects(Viewer viewer, LedgerState state, long? site)
    {
        if (site is { } one)
        {
            return [EntrySubject.Of(new SiteId(one)).Text];
        }

        if (viewer.Role is Role.Administrator or Role.Auditor)
        {
            return null;
        }

        var seen = state.Seen(viewer.ScopeOn(state.PeopleDirectory));
        return
        [
            .. seen.Lines(seen.All).Select(line => EntrySubject.Of(line.Id).Text),
            new EntrySubject.Account(viewer.Account).Text,
        ];
    }

    private static async Task<Ok<ChainCheckResult>> Check(Database database) =>
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
                    ChainCheck.Unbroken(var head) => new ChainCheckResult(true, head.Number, head.Hash, null, null),
                    ChainCheck.Broken(var line, var what) => new ChainCheckResult(false, 0, "", line, what),
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

    private static JournalEntry Entry(JournalRow row, PeopleDirectory directory, VisibleRegister seen)
    {
        using var json = JsonDocument.Parse(row.Text);
        return new JournalEntry(
            row.Number,
            row.At,
            EntryLabels.Actor(row, directory),
            row.Action,
            row.Known?.Label ?? row.Action,
            row.Subject,
            EntryLabels.Subject(row, seen, directory),
            row.Site?.Value,
            json.RootElement.GetProperty("reason").GetString(),
            row.Known is { } known && (known == JournalAction.SiteSynced || known == JournalAction.PersonChanged)
                ? Changed(json.RootElement)
                : [],
            row.Text,
            row.Hash
        );
    }

    // The facts that a sync found changed; none for a new site.
    private static List<string> Changed(JsonElement entry) =>
        entry.GetProperty("before") is { ValueKind: JsonValueKind.Object } before
        && entry.GetProperty("after") is { ValueKind: JsonValueKind.Object } after
            ? [.. before.EnumerateObject().Concat(after.EnumerateObject()).Select(field => field.Name).Distinct().Take(MostFacts)]
            : [];
}
