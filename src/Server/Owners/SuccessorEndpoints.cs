using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Owners;

/// <summary>The evidence for a new owner; null where it is not known.</summary>
/// <param name="UnitSteps">0 in the site's own unit, 1 in the unit above it, and so on; null in an unrelated unit.</param>
public sealed record CandidateResponse(
    PersonResponse Person,
    string? Unit,
    int? Edits,
    DateTimeOffset? LastEdit,
    int? UnitSteps,
    string? Power,
    int Load,
    IReadOnlyList<string> WhyNot
);

/// <param name="EditsUnknown">Why the editor is not known; null if known.</param>
public sealed record SuccessorsResponse(IReadOnlyList<CandidateResponse> Candidates, int EvidenceDays, string? EditsUnknown);

/// <param name="Sites">Up to 5,000 ids.</param>
/// <param name="Find">A part of a name, or the beginning of a mail address.</param>
public sealed record CandidatesRequest(IReadOnlyList<long> Sites, string? Find = null);

/// <summary>The evidence for one more owner of many sites.</summary>
/// <param name="Owns">On how many of the sites they are an owner by name already; <paramref name="Edits"/>: edit by name;
/// <paramref name="InUnit"/>: are in the site's unit.</param>
/// <param name="Load">The number of sites they own already.</param>
public sealed record CandidateForManyResponse(
    PersonResponse Person,
    string? Unit,
    int Owns,
    int Edits,
    int InUnit,
    int Load,
    IReadOnlyList<string> WhyNot
);

public sealed record CandidatesResponse(IReadOnlyList<CandidateForManyResponse> Candidates);

/// <summary>Possible new owners, with the evidence for each.</summary>
internal static class SuccessorEndpoints
{
    private const int MostCandidates = 8;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5);

    public static void MapSuccessors(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/sites/{site:long}/successors", Who)
            .WithTags("Owners")
            .RequireAuthorization(Policies.Read)
            .WithName("successors")
            .WithSummary(
                "Possible new owners of a site with the evidence, and people who cannot own it with the reasons; or a search by a part of a name."
            );
        app.MapPost("/api/owners/candidates", WhoForMany)
            .WithTags("Owners")
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("candidates")
            .WithSummary("Possible owners of many sites, in addition to those they have, with the evidence.");
    }

    private static async Task<Results<Ok<SuccessorsResponse>, ProblemHttpResult>> Who(
        long site,
        SeenRegister register,
        IEnumerable<ISiteHost> hosts,
        Database database,
        CancellationToken stop,
        string? find = null
    )
    {
        var state = register.State;
        var viewer = register.Viewer;
        var viewerScope = viewer.ScopeOn(state.PeopleDirectory);
        if (await database.Read(connection => connection.Sites(viewerScope, [new SiteId(site)]), stop) is not [var facts])
        {
            return ActionEndpoint.NotThere("site");
        }

        var line = state.Judge(facts).Line;
        var (edits, unknown) = await Edits(line.Site, hosts, database, stop);
        var load = state.Load(viewerScope);
        var all = Successors.Of(
            line.Site,
            line.Owners,
            edits,
            load,
            state.PeopleDirectory,
            state.Organisation.ActiveDays,
            viewer.Role != Role.Owner
        );
        var shown = string.IsNullOrWhiteSpace(find)
            ? all.Where(candidate => candidate.IsEligible).Take(MostCandidates)
            : all.Where(candidate => IsFound(candidate.Person, find)).Take(MostCandidates);
        return TypedResults.Ok(
            new SuccessorsResponse(
                [
                    .. shown.Select(candidate => new CandidateResponse(
                        PersonResponse.Of(candidate.Person.Id, state.PeopleDirectory),
                        candidate.Person.Unit.Has(out var unit) ? state.PeopleDirectory.Find(unit)?.Name ?? unit.Value : null,
                        candidate.Edits.Has(out var count) ? count : null,
                        candidate.LastEdit.Has(out var last) ? last : null,
                        candidate.UnitSteps,
                        candidate.Power?.Word(),
                        candidate.Load,
                        [.. candidate.WhyNot.Select(why => Phrases.Ineligible(why.Because, why.Day))]
                    )),
                ],
                Successors.EvidenceDays,
                unknown
            )
        );
    }

    // The host is asked for recent editors on demand; this is advice, never a fact of the action.
    private static async Task<(Known<IReadOnlyList<EditsBy>> Edits, string? Unknown)> Edits(
        SiteFacts site,
        IEnumerable<ISiteHost> hosts,
        Database database,
        CancellationToken stop
    )
    {
        if (hosts.FirstOrDefault(host => host.Name == site.Host) is not IKeepsStates host || site.Existence != Existence.InUse)
        {
            return (Known<IReadOnlyList<EditsBy>>.Unknown, $"{site.Host} does not report edits.");
        }

        using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
        patience.CancelAfter(Patience);
        try
        {
            var states = await host.ReadStates(site.HostKey, database.Now.AddDays(-Successors.EvidenceDays), patience.Token);
            var resolution = await database.Read(
                connection => SiteIntake.Resolution(connection, database.PeopleDirectories, database.Now),
                stop
            );
            return (
                Known<IReadOnlyList<EditsBy>>.Of([
                    .. states
                        .Select(one => (one.At, Person: one.ByMail is { } mail ? resolution.Person(mail) : null))
                        .Where(one => one.Person is not null)
                        .GroupBy(one => one.Person!.Value)
                        .Select(by => new EditsBy(by.Key, by.Count(), by.Max(one => one.At))),
                ]),
                null
            );
        }
        catch (Exception fault) when (fault is HostException or OperationCanceledException && !stop.IsCancellationRequested)
        {
            return (Known<IReadOnlyList<EditsBy>>.Unknown, $"{site.Host} did not report who edited it.");
        }
    }

    private static async Task<Results<Ok<CandidatesResponse>, ProblemHttpResult>> WhoForMany(
        CandidatesRequest request,
        SeenRegister register,
        Database database,
        CancellationToken stop
    )
    {
        if (request.Sites.Count is 0 or > Core.Actions.Batch.MostSites)
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: "The list of sites is empty or too long.",
                detail: $"Name between 1 and {Core.Actions.Batch.MostSites} sites."
            );
        }

        var (state, viewer) = (register.State, register.Viewer);
        var viewerScope = viewer.ScopeOn(state.PeopleDirectory);
        var sites = await database.Read(
            connection => connection.Sites(viewerScope, [.. request.Sites.Distinct().Select(site => new SiteId(site))]),
            stop
        );
        var all = Successors.OfMany(
            sites,
            state.Load(viewerScope),
            state.PeopleDirectory,
            state.Organisation.ActiveDays,
            viewer.Role != Role.Owner
        );
        return TypedResults.Ok(
            new CandidatesResponse([
                .. (
                    string.IsNullOrWhiteSpace(request.Find)
                        ? all.Where(candidate => candidate.WhyNot.Count == 0)
                        : all.Where(candidate => IsFound(candidate.Person, request.Find))
                )
                    .Take(MostCandidates)
                    .Select(candidate => new CandidateForManyResponse(
                        PersonResponse.Of(candidate.Person.Id, state.PeopleDirectory),
                        candidate.Person.Unit.Has(out var unit) ? state.PeopleDirectory.Find(unit)?.Name ?? unit.Value : null,
                        candidate.Owns,
                        candidate.Edits,
                        candidate.InUnit,
                        candidate.Load,
                        [.. candidate.WhyNot.Select(why => Phrases.Ineligible(why.Because, why.Day))]
                    )),
            ])
        );
    }

    private static bool IsFound(Person person, string find) =>
        person.Name.Contains(find.Trim(), StringComparison.OrdinalIgnoreCase)
        || person.Mail.StartsWith(find.Trim(), StringComparison.OrdinalIgnoreCase);
}
