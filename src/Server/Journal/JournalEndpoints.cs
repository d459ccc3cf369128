using System.Globalization;
using System.Text;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Journal;

/// <param name="Actor">The actor's name, if known and not erased.</param>
/// <param name="Label">What happened; the name of an action that this version does not know.</param>
/// <param name="Changed">The facts that a sync found changed.</param>
/// <param name="Details">What it records, in words.</param>
/// <param name="Undo">Null if it cannot be undone from here, or not any more.</param>
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
    IReadOnlyList<JournalDetail> Details,
    JournalUndo? Undo,
    string Text,
    string Hash
);

/// <summary>How what an entry records can be undone now.</summary>
/// <param name="HostChange">The change to undo; null for a site that can be restored from the attic.</param>
/// <param name="State">The state of the change.</param>
/// <param name="Until">Until when; null if there is no end.</param>
public sealed record JournalUndo(Guid? HostChange, ChangeState? State, DateTimeOffset? Until);

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
        var (rows, undo) = await database.Read(async connection =>
        {
            var found = await connection.Journal(query);
            return (found, viewer.MayAct ? await Undoable(found, viewer, state, connection, database.Now) : []);
        });
        return TypedResults.Ok(
            new JournalResponse(
                [.. rows.Select(row => Entry(row, state.PeopleDirectory, seen, undo.GetValueOrDefault(row.Number)))],
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

    // What a viewer can undo: changes of access at a host, and moves to the attic while the site can be restored.
    private static async Task<Dictionary<long, JournalUndo>> Undoable(
        IReadOnlyList<JournalRow> rows,
        Viewer viewer,
        LedgerState state,
        NpgsqlConnection connection,
        DateTimeOffset now
    )
    {
        var changes = rows.Where(row => row.Known is { } known && Reaching.Contains(known))
            .Select(row => (row.Number, Change: ChangeOf(row)))
            .Where(pair => pair.Change is not null)
            .ToDictionary(pair => pair.Number, pair => pair.Change!.Value);
        var byId = (await connection.HostChanges([.. changes.Values])).ToDictionary(change => change.Id);
        var undo = changes
            .Where(pair => byId.TryGetValue(pair.Value, out var change) && UndoHostChange.IsPossible(change))
            .ToDictionary(pair => pair.Key, pair => new JournalUndo(pair.Value.Value, byId[pair.Value].State, null));
        var moves = rows.Where(row => row.Known is { } known && Moving.Contains(known) && row.Site is not null).ToList();
        var sites = moves.Select(row => row.Site!.Value).Distinct().ToList();
        if (sites.Count == 0)
        {
            return undo;
        }

        var entries = await connection.OpenAtticEntries(sites);
        var facts = (await connection.Sites(viewer.ScopeOn(state.PeopleDirectory), sites)).ToDictionary(site => site.Id);
        var holds = await connection.Holds(sites);
        foreach (var row in moves)
        {
            if (
                entries.TryGetValue(row.Site!.Value, out var open)
                && open.State.IsInAttic()
                && facts.TryGetValue(row.Site.Value, out var site)
            )
            {
                var clock = Clock.Of(
                    open.ClockFacts(site, state.Organisation, [.. holds[site.Id]]),
                    state.PeopleDirectory.Time,
                    now
                );
                undo[row.Number] = new JournalUndo(null, null, clock.RecoverableUntil);
            }
        }

        return undo;
    }

    private static readonly HashSet<JournalAction> Reaching =
    [
        JournalAction.SiteRestrict,
        JournalAction.AccessRemove,
        JournalAction.AccessGrant,
        JournalAction.SiteLook,
        JournalAction.SiteAddress,
    ];
    private static readonly HashSet<JournalAction> Moving =
    [
        JournalAction.SiteMoveToAttic,
        JournalAction.AtticMoved,
        JournalAction.AtticFound,
    ];

    private static ChangeId? ChangeOf(JournalRow row)
    {
        using var json = JsonDocument.Parse(row.Text);
        return
            json.RootElement.GetProperty("after") is { ValueKind: JsonValueKind.Object } after
            && after.TryGetProperty("change", out var change)
            && Guid.TryParse(change.GetString(), out var id)
            ? new ChangeId(id)
            : null;
    }

    private static JournalEntry Entry(JournalRow row, PeopleDirectory directory, VisibleRegister seen, JournalUndo? undo)
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
            EntryDetails.Of(json.RootElement, directory, seen),
            undo,
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
