using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Find;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Sources;

using SourceAnswer = Results<Ok<ActionDone>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <param name="Read">The number of sites imported so far.</param>
/// <param name="Refused">What the last sync left out: what the source withheld, and what could not be understood.</param>
/// <param name="Sites">The number of its sites in use; null for a source of people, and for viewers with a limited scope.</param>
/// <param name="Attic">The number of its sites in the attic.</param>
/// <param name="NoLongerReported">The number of them that the last complete sync no longer reported.</param>
/// <param name="Gaps">Facts that it does not report for all its sites.</param>
/// <param name="Capabilities">Its capabilities, one sentence each.</param>
/// <param name="RequestedAt">The last sync of changes since the last complete sync; null if there was none.</param>
/// <param name="Changes">The number of sites it has reported since.</param>
/// <param name="GoesOn">True if the next sync continues where the last one broke off.</param>
/// <param name="HeldBack">The number of sites it no longer reports, if so many that a person has to confirm that they are gone;
/// otherwise 0.</param>
/// <param name="ManualProcedure">The manual procedure of a host without a connector; only for viewers who see everything.</param>
public sealed record SourceResponse(
    string Name,
    DateTimeOffset? Began,
    DateTimeOffset? Ended,
    bool? Complete,
    int Read,
    int? Expected,
    IReadOnlyList<string> Refused,
    string? Error,
    bool IsSyncing,
    int? Sites,
    int Attic,
    int NoLongerReported,
    IReadOnlyList<FactGap> Gaps,
    IReadOnlyList<string> Capabilities,
    ManualProcedureSettings? ManualProcedure,
    DateTimeOffset? RequestedAt,
    int Changes,
    bool GoesOn,
    Budget? Budget,
    int HeldBack
);

/// <param name="Allowed">The number of requests allowed per window.</param>
public sealed record Budget(int Allowed, int Left);

/// <param name="Fact">In words.</param>
/// <param name="Sites">The number of sites in use for which it is unknown.</param>
/// <param name="Filter">A filter expression that is unknown for exactly these sites.</param>
public sealed record FactGap(string Fact, int Sites, string Filter);

/// <summary>Explains why a site is not in the register's list.</summary>
/// <param name="Refused">What syncs left out that may be this site.</param>
/// <param name="Words">Advice if nothing is found, one sentence each.</param>
public sealed record WhyNotListed(
    IReadOnlyList<FoundSite> Sites,
    int MoreSites,
    IReadOnlyList<string> Refused,
    IReadOnlyList<string> Words
);

internal static class SourceEndpoints
{
    // The facts on which rules and reach depend: without them a rule cannot tell.
    private static readonly (string Attribute, string Words)[] Asked =
    [
        ("unit", "the unit"),
        ("classification", "the classification"),
        ("status", "the status"),
        ("address", "the address"),
        ("edited", "the last edit"),
        ("visits", "visits"),
        ("pages", "the number of pages"),
        ("storage", "storage"),
        ("domains", "web domains"),
        ("owners", "all its owners"),
    ];

    private static readonly Filter<JudgedSite> Here = Filter.Parse("existence eq \"in-use\"", JudgedSite.Attributes);
    private static readonly Filter<JudgedSite> Away = Filter.Parse("existence eq \"attic\"", JudgedSite.Attributes);
    private static readonly Filter<JudgedSite> NoLongerReported = Filter.Parse(
        "no-longer-reported eq true",
        JudgedSite.Attributes
    );

    public static void MapSources(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources").WithTags("Sources");
        api.MapGet("", List)
            .RequireAuthorization(Policies.Read)
            .WithName("sources")
            .WithSummary("All sources: the last sync and its completeness, facts not reported, and capabilities.");
        api.MapGet("/why-not", WhyNot)
            .RequireAuthorization(Policies.Read)
            .WithName("whyNot")
            .WithSummary("Explains why a site is not in the register's list.");
        api.MapPost("/{name}/gone", Gone)
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.SourceConfirmMissing)
            .WithName("confirmGone")
            .WithSummary("Confirms that the many sites which a source no longer reports are gone: the next sync marks them.");
        api.MapPost("/{name}/sync", Read)
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.SourceSync)
            .WithName("syncSource")
            .WithSummary("Requests a sync; it runs in the background.");
    }

    private static async Task<Ok<IReadOnlyList<SourceResponse>>> List(
        HttpContext context,
        Database database,
        LiveRegister index,
        IEnumerable<ISiteHost> hosts
    )
    {
        // Refusals of a source name sites, so they are only for those who see everything.
        var seesAll = SeesAll(context);
        var sources = await database.Read(connection => connection.Sources(database.Now));
        var state = await index.Current();
        var seen = state.Seen(new Scope.Everything());
        var connected = hosts.Select(host => host.Name).ToHashSet();
        return TypedResults.Ok<IReadOnlyList<SourceResponse>>([
            .. sources.Select(source =>
                ToResponse(source, connected.Contains(source.Name) || state.Organisation.Hosts.ContainsKey(source.Name))
            ),
        ]);

        SourceResponse ToResponse(SourceRow source, bool isHost)
        {
            var sites =
                isHost && seesAll ? seen.Where(Filter.Parse($"host eq {Quoted(source.Name)}", JudgedSite.Attributes)) : null;
            return new SourceResponse(
                source.Name,
                source.Began,
                source.Ended,
                source.Complete,
                seesAll ? source.Read : 0,
                seesAll ? source.Expected : null,
                seesAll ? source.Refused : [],
                seesAll ? source.Error : null,
                source.IsSyncing || source.Wanted,
                sites?.And(seen.Where(Here)).CountYes,
                sites?.And(seen.Where(Away)).CountYes ?? 0,
                sites?.And(seen.Where(NoLongerReported)).CountYes ?? 0,
                sites is null ? [] : [.. Gaps(source.Name, sites.And(seen.Where(Here)), state)],
                isHost
                    ? [.. Capabilities(state.Organisation.CapabilitiesOf(source.Name))]
                    : ["Reports the staff and who has left. A person known only from a host counts as from outside."],
                seesAll && state.Organisation.CapabilitiesOf(source.Name).ManualProcedure is { } kept
                    ? ManualProcedureSettings.Of(kept, state.PeopleDirectory)
                    : null,
                source.RequestedAt,
                seesAll ? source.Changes : 0,
                source.Resume is not null,
                seesAll && source is { RequestsAllowed: { } allowed, RequestsLeft: { } left } ? new Budget(allowed, left) : null,
                seesAll ? source.HeldBack : 0
            );
        }
    }

    private static async Task<Results<Ok<WhyNotListed>, ProblemHttpResult>> WhyNot(
        HttpContext context,
        SeenRegister register,
        Database database,
        string text
    )
    {
        var wanted = text.Trim();
        if (wanted.Length is 0 or > FindEndpoints.LongestText)
        {
            return TypedResults.Problem(statusCode: 400, title: $"Name 1 to {FindEndpoints.LongestText} characters.");
        }

        var state = register.State;
        var seesAll = SeesAll(context);
        var (found, more) = FindEndpoints.Sites(wanted, state, register.Visible);
        var sources = await database.Read(connection => connection.Sources(database.Now));
        return TypedResults.Ok(
            new WhyNotListed(
                found,
                more,
                seesAll
                    ?
                    [
                        .. sources.SelectMany(source =>
                            source
                                .Refused.Where(words => words.Contains(wanted, StringComparison.OrdinalIgnoreCase))
                                .Select(words => $"{source.Name} left out: {words}")
                        ),
                    ]
                    : [],
                found.Count > 0
                    ? []
                    : [.. Nowhere(sources.FindAll(source => state.Organisation.Hosts.ContainsKey(source.Name)), seesAll)]
            )
        );
    }

    private static IEnumerable<string> Nowhere(List<SourceRow> hosts, bool seesAll)
    {
        if (!seesAll)
        {
            yield return "No site in your scope has this name or address. It may belong to another unit, or its unit is not known.";
            yield break;
        }

        foreach (var host in hosts)
        {
            yield return host switch
            {
                { Complete: true, Refused.Count: 0 } => $"{host.Name} was synced completely and reports no such site.",
                { Complete: true } =>
                    $"{host.Name} reports no such site, but its last sync left something out ({host.Refused.Count}); it may be there.",
                { Ended: null } => $"{host.Name} is being synced, or has not been synced yet.",
                _ => $"{host.Name} could not be synced completely, so it may be there: {host.Error}",
            };
        }

        yield return "It may also be on a host that is not connected to the register.";
    }

    private static IEnumerable<FactGap> Gaps(string host, Mask sites, LedgerState state)
    {
        foreach (var (attribute, words) in Asked)
        {
            var unsaid = state
                .Seen(new Scope.Everything())
                .Where(Filter.Parse($"{attribute} pr", JudgedSite.Attributes))
                .And(sites)
                .CountUnknown;
            if (unsaid > 0)
            {
                yield return new FactGap(words, unsaid, $"host eq {Quoted(host)} and {attribute} pr");
            }
        }
    }

    private static IEnumerable<string> Capabilities(HostCapabilities capabilities)
    {
        if (!capabilities.AtticIsOurs)
        {
            yield return capabilities.BinDays is { } days
                ? $"Keeps deleted sites in its bin for {days} days."
                : "Has a bin, but does not report for how long it keeps deleted sites.";
        }

        if (capabilities.TellsChanges)
        {
            yield return "Reports changes: they are synced every few minutes, and everything twice a day.";
        }

        if (capabilities.StateDays is { } states)
        {
            yield return states == 0
                ? "Keeps no earlier states of a site."
                : $"Keeps earlier states of a site for {states} days.";
        }

        foreach (var note in capabilities.Notes)
        {
            yield return note;
        }
    }

    private static string Quoted(string text) => System.Text.Json.JsonSerializer.Serialize(text);

    private static bool SeesAll(HttpContext context) => Viewer.Of(context).Role is Role.Administrator or Role.Auditor;

    private static Task<SourceAnswer> Gone(string name, HttpContext context) =>
        context.Carry(new ConfirmMissing(name, Viewer.Of(context)), null, new { name }, Shown);

    private static Task<SourceAnswer> Read(string name, HttpContext context, SourceSync reader) =>
        context.Carry(new WantSync(name, [.. reader.Names]), null, new { name }, Shown);

    private static Task<string> Shown(string source) => Task.FromResult(source);
}
