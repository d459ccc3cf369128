using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Find;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Sources;

/// <param name="Read">How many sites have been taken in so far.</param>
/// <param name="Refused">What the source would not tell of.</param>
/// <param name="Sites">How many sites in use the register has from it; null where it tells of people alone, or to those who see only a part.</param>
/// <param name="Attic">How many put-away ones.</param>
/// <param name="Vanished">How many of them its last complete read no longer listed.</param>
/// <param name="Gaps">Facts that it does not give of all its sites.</param>
/// <param name="Habits">How it behaves, a sentence each.</param>
/// <param name="AskedAt">When it was last asked for what changed since it was read as a whole; null where it was not.</param>
/// <param name="Changes">How many sites it has named since.</param>
/// <param name="GoesOn">Whether the next read goes on where the last one broke off.</param>
/// <param name="HeldBack">How many sites it no longer lists, where that is so many that a person has to say whether they are gone; 0 otherwise.</param>
/// <param name="Hand">How it is worked by hand, where people are its reader and its writer; told to those who see everything.</param>
public sealed record SourceWire(
    string Name,
    DateTimeOffset? Began,
    DateTimeOffset? Ended,
    bool? Complete,
    int Read,
    int? Expected,
    IReadOnlyList<string> Refused,
    string? Error,
    bool IsReading,
    int? Sites,
    int Attic,
    int Vanished,
    IReadOnlyList<GapWire> Gaps,
    IReadOnlyList<string> Habits,
    HandKeptWire? Hand,
    DateTimeOffset? AskedAt,
    int Changes,
    bool GoesOn,
    BudgetWire? Budget,
    int HeldBack
);

/// <param name="Allowed">How many requests it allows in its span of time.</param>
public sealed record BudgetWire(int Allowed, int Left);

/// <param name="Fact">In words.</param>
/// <param name="Sites">Of how many sites in use it is not known.</param>
/// <param name="Filter">An expression that is unknown for just these.</param>
public sealed record GapWire(string Fact, int Sites, string Filter);

/// <summary>Why a site is not where somebody looks for it.</summary>
/// <param name="Refused">What sources would not tell of that may be it.</param>
/// <param name="Words">What can be said where nothing is found, a sentence each.</param>
public sealed record WhyNotWire(
    IReadOnlyList<FoundSiteWire> Sites,
    int MoreSites,
    IReadOnlyList<string> Refused,
    IReadOnlyList<string> Words
);

internal static class SourceEndpoints
{
    // What rules and reach stand on, so that what is not said of it makes verdicts that cannot be told.
    private static readonly (string Attribute, string Words)[] Asked =
    [
        ("unit", "the unit"),
        ("class", "the class"),
        ("stage", "the stage"),
        ("address", "the address"),
        ("edited", "the last edit"),
        ("visits", "visits"),
        ("pages", "the number of pages"),
        ("storage", "storage"),
        ("domains", "web domains"),
        ("owners", "all its owners"),
    ];

    private static readonly Filter<JudgedLine> Here = Filter.Parse("existence eq \"here\"", JudgedLine.Attributes);
    private static readonly Filter<JudgedLine> Away = Filter.Parse("existence eq \"attic\"", JudgedLine.Attributes);
    private static readonly Filter<JudgedLine> Vanished = Filter.Parse("vanished eq true", JudgedLine.Attributes);

    public static void MapSources(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources").WithTags("Sources");
        api.MapGet("", List)
            .RequireAuthorization(Policies.Read)
            .WithName("sources")
            .WithSummary("Each source: when it was last read and how completely, what it does not say, and how it behaves.");
        api.MapGet("/why-not", WhyNot)
            .RequireAuthorization(Policies.Read)
            .WithName("whyNot")
            .WithSummary("Why a site is not where somebody looks for it.");
        api.MapPost("/{name}/gone", Gone)
            .RequireAuthorization(Policies.Administer)
            .WithName("confirmGone")
            .WithSummary(
                "Says that the sites which a source no longer lists, and which are too many to vanish by themselves, are gone: the next read lets them vanish."
            );
        api.MapPost("/{name}/read", Read)
            .RequireAuthorization(Policies.Administer)
            .WithName("readSource")
            .WithSummary("Asks for a read now; it goes on in the background.");
    }

    private static async Task<Ok<IReadOnlyList<SourceWire>>> List(
        HttpContext context,
        Database database,
        LedgerSheet sheet,
        IEnumerable<ISiteHost> hosts
    )
    {
        // What a source refused names sites, which only those who see everything may know of.
        var seesAll = SeesAll(context);
        var sources = await database.Read(connection => connection.Sources(database.Now));
        var state = await sheet.Current();
        var seen = state.Seen(new Sight.Everything());
        var connected = hosts.Select(host => host.Name).ToHashSet();
        return TypedResults.Ok<IReadOnlyList<SourceWire>>([
            .. sources.Select(source =>
                Wire(source, connected.Contains(source.Name) || state.House.Hosts.ContainsKey(source.Name))
            ),
        ]);

        SourceWire Wire(SourceRow source, bool isHost)
        {
            var sites =
                isHost && seesAll ? seen.Where(Filter.Parse($"host eq {Quoted(source.Name)}", JudgedLine.Attributes)) : null;
            return new SourceWire(
                source.Name,
                source.Began,
                source.Ended,
                source.Complete,
                seesAll ? source.Read : 0,
                seesAll ? source.Expected : null,
                seesAll ? source.Refused : [],
                seesAll ? source.Error : null,
                source.IsReading || source.Wanted,
                sites?.And(seen.Where(Here)).CountYes,
                sites?.And(seen.Where(Away)).CountYes ?? 0,
                sites?.And(seen.Where(Vanished)).CountYes ?? 0,
                sites is null ? [] : [.. Gaps(source.Name, sites.And(seen.Where(Here)), state)],
                isHost
                    ? [.. Habits(state.House.HabitsOf(source.Name))]
                    : ["Says who is inside and who has left: whoever only a host knows is from outside."],
                seesAll && state.House.HabitsOf(source.Name).ByHand is { } kept ? HandKeptWire.Of(kept, state.Roll) : null,
                source.AskedAt,
                seesAll ? source.Changes : 0,
                source.Resume is not null,
                seesAll && source is { RequestsAllowed: { } allowed, RequestsLeft: { } left }
                    ? new BudgetWire(allowed, left)
                    : null,
                seesAll ? source.HeldBack : 0
            );
        }
    }

    private static async Task<Results<Ok<WhyNotWire>, ProblemHttpResult>> WhyNot(
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        string text
    )
    {
        var wanted = text.Trim();
        if (wanted.Length is 0 or > FindEndpoints.LongestText)
        {
            return TypedResults.Problem(statusCode: 400, title: $"Name 1 to {FindEndpoints.LongestText} characters.");
        }

        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var seesAll = SeesAll(context);
        var (found, more) = FindEndpoints.Sites(wanted, state, state.Seen(Viewer.Of(context).SightOn(state.Roll)));
        var sources = await database.Read(connection => connection.Sources(database.Now));
        return TypedResults.Ok(
            new WhyNotWire(
                found,
                more,
                seesAll
                    ?
                    [
                        .. sources.SelectMany(source =>
                            source
                                .Refused.Where(words => words.Contains(wanted, StringComparison.OrdinalIgnoreCase))
                                .Select(words => $"{source.Name} withheld {words}")
                        ),
                    ]
                    : [],
                found.Count > 0
                    ? []
                    : [.. Nowhere(sources.FindAll(source => state.House.Hosts.ContainsKey(source.Name)), seesAll)]
            )
        );
    }

    private static IEnumerable<string> Nowhere(List<SourceRow> hosts, bool seesAll)
    {
        if (!seesAll)
        {
            yield return "No site that you may see is called so or stands at such an address. It may belong to another unit, or to none that is known.";
            yield break;
        }

        foreach (var host in hosts)
        {
            yield return host switch
            {
                { Complete: true, Refused.Count: 0 } => $"{host.Name} was read to the end and names no such site.",
                { Complete: true } => $"{host.Name} names no such site, but withheld {host.Refused.Count}; it may be among them.",
                { Ended: null } => $"{host.Name} is being read, or has not been read yet.",
                _ => $"{host.Name} could not be read to the end, so it may be there: {host.Error}",
            };
        }

        yield return "Where it lives on a host that is not connected, nobody has told the register of it.";
    }

    private static IEnumerable<GapWire> Gaps(string host, Mask sites, LedgerState state)
    {
        foreach (var (attribute, words) in Asked)
        {
            var unsaid = state
                .Seen(new Sight.Everything())
                .Where(Filter.Parse($"{attribute} pr", JudgedLine.Attributes))
                .And(sites)
                .CountUnknown;
            if (unsaid > 0)
            {
                yield return new GapWire(words, unsaid, $"host eq {Quoted(host)} and {attribute} pr");
            }
        }
    }

    private static IEnumerable<string> Habits(HostHabits habits)
    {
        if (!habits.AtticIsOurs)
        {
            yield return habits.BinDays is { } days
                ? $"Keeps what is deleted in its bin for {days} days."
                : "Has a bin, and does not say for how long it keeps what is deleted.";
        }

        if (habits.TellsChanges)
        {
            yield return "Tells what changed, so it is asked for that every few minutes, and read as a whole twice a day.";
        }

        if (habits.StateDays is { } states)
        {
            yield return states == 0
                ? "Keeps no earlier states of a site."
                : $"Keeps earlier states of a site for {states} days.";
        }

        foreach (var note in habits.Notes)
        {
            yield return note;
        }
    }

    private static string Quoted(string text) => System.Text.Json.JsonSerializer.Serialize(text);

    private static bool SeesAll(HttpContext context) => Viewer.Of(context).Role is Role.Administrator or Role.Auditor;

    private static async Task<Results<Accepted, ProblemHttpResult>> Gone(
        string name,
        HttpContext context,
        SourceReader reader,
        Database database,
        IHostApplicationLifetime life
    )
    {
        var viewer = Viewer.Of(context);
        var sites = await database.Change(async change =>
        {
            await change.AskStill(viewer);
            var held = await change.LetVanish(name);
            if (held > 0)
            {
                await change.Append([
                    new Draft("source.gone", viewer.InJournal, Draft.SubjectOf(name))
                    {
                        After = JournalValue.Of(("sites", JournalValue.Of(held))),
                    },
                ]);
            }

            return held;
        });
        if (sites == 0)
        {
            return TypedResults.Problem(
                statusCode: 409,
                title: "Nothing waits to be said here.",
                detail: $"{name} was read again meanwhile, or lists its sites."
            );
        }

        reader.Wake(life.ApplicationStopping);
        return TypedResults.Accepted((string?)null);
    }

    private static async Task<Results<Accepted, ProblemHttpResult>> Read(
        string name,
        SourceReader reader,
        Database database,
        IHostApplicationLifetime life
    )
    {
        if (!reader.Names.Contains(name))
        {
            return TypedResults.Problem(
                statusCode: 404,
                title: $"There is no source \"{name}\".",
                detail: $"There are: {string.Join(", ", reader.Names)}."
            );
        }

        await database.Change(change => change.Want(name));
        reader.Wake(life.ApplicationStopping);
        return TypedResults.Accepted((string?)null);
    }
}
