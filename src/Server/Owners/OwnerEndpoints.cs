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

/// <param name="Reasons">Why no owner is active.</param>
/// <param name="DaysLeft">Days until no active owner is left: 0 if none is now, null if one stays or it cannot be told.</param>
/// <param name="Offered">The open offer of ownership, to whom and until when.</param>
public sealed record OwnersRow(
    long Site,
    string Title,
    string? Address,
    UnitResponse? Unit,
    OwnershipState State,
    IReadOnlyList<InactiveReason> Reasons,
    int? DaysLeft,
    DateOnly? LastDay,
    bool IsComplete,
    IReadOnlyList<SiteOwnerResponse> Holders,
    OpenOffer? Offered
);

public sealed record OpenOffer(Guid Offer, PersonResponse To, DateOnly Through);

/// <param name="Lines">The sites that do not have two active owners for sure.</param>
/// <param name="Unknown">The number of sites whose owners are not all reported, where those decide it.</param>
/// <param name="Whole">The number of sites in use in the viewer's scope.</param>
public sealed record OwnersResponse(IReadOnlyList<OwnersRow> Lines, int None, int Single, int Active, int Unknown, int Whole);

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

internal static class OwnerEndpoints
{
    private const int MostCandidates = 8;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5);

    public static void MapKeys(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/owners", List)
            .WithTags("Owners")
            .RequireAuthorization(Policies.Read)
            .WithName("owners")
            .WithSummary("Sites with fewer than 2 active owners; the ones that lose their last owner soonest first.");
        app.MapGet("/api/sites/{site:long}/successors", Who)
            .WithTags("Owners")
            .RequireAuthorization(Policies.Read)
            .WithName("successors")
            .WithSummary(
                "Possible new owners of a site with the evidence, and people who cannot own it with the reasons; or a search by a part of a name."
            );
    }

    private static async Task<Ok<OwnersResponse>> List(SeenRegister register, Database database)
    {
        var state = register.State;
        var seen = register.Visible;
        var offers = (await database.Read(connection => connection.OpenOffers())).ToLookup(offer => offer.Site);
        var owned = seen.Lines(seen.InUse)
            .Select(line => (Line: line, OwnershipStatus: OwnershipStatus.Of(line.Owners, state.PeopleDirectory)))
            .ToList();
        return TypedResults.Ok(
            new OwnersResponse(
                [
                    .. owned
                        .Where(pair => pair.OwnershipStatus.State != OwnershipState.Active)
                        .OrderBy(pair => pair.OwnershipStatus.DaysLeft ?? int.MaxValue)
                        .ThenBy(pair => pair.OwnershipStatus.State)
                        .ThenBy(pair => pair.Line.Title, StringComparer.OrdinalIgnoreCase)
                        .Select(pair => Line(pair.Line, pair.OwnershipStatus, offers[pair.Line.Id].FirstOrDefault(), state)),
                ],
                owned.Count(pair => pair.OwnershipStatus.State == OwnershipState.None),
                owned.Count(pair => pair.OwnershipStatus.State == OwnershipState.Single),
                owned.Count(pair => pair.OwnershipStatus.State == OwnershipState.Active),
                owned.Count(pair => pair.OwnershipStatus.State == OwnershipState.Unknown),
                owned.Count
            )
        );
    }

    private static OwnersRow Line(RegisterRow line, OwnershipStatus ownership, Core.Actions.Offer? offer, LedgerState state) =>
        new(
            line.Id.Value,
            line.Title,
            line.Address.Has(out var address) ? address : null,
            RegisterRowWriter.Unit(line.Unit, state),
            ownership.State,
            ownership.Reasons,
            ownership.DaysLeft,
            ownership.LastDay,
            ownership.IsComplete,
            [.. line.Owners.Holders.Select(holder => SitePageWriter.Holder(holder, state.PeopleDirectory))],
            offer is null
                ? null
                : new OpenOffer(offer.Id.Value, PersonResponse.Of(offer.To, state.PeopleDirectory), offer.Through)
        );

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
            : all.Where(candidate =>
                    candidate.Person.Name.Contains(find.Trim(), StringComparison.OrdinalIgnoreCase)
                    || candidate.Person.Mail.StartsWith(find.Trim(), StringComparison.OrdinalIgnoreCase)
                )
                .Take(MostCandidates);
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
}
