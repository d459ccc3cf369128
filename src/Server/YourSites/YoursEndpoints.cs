using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.YourSites;

/// <summary>An offer to the viewer or of a site the viewer owns, as lists show it.</summary>
public sealed record OfferLine(
    Guid Id,
    long Site,
    string Title,
    string? Address,
    OfferState State,
    PersonResponse To,
    PersonResponse? CurrentOwner,
    CurrentOwnerAfter After,
    DateOnly Through,
    DateTimeOffset? EndedAt
);

/// <summary>A site that the viewer owns.</summary>
/// <param name="ByName">True if the viewer is a named owner and can hand it over.</param>
/// <param name="Others">The other active owners.</param>
/// <param name="AtticEntry">Its attic entry, if it is moving to the attic, in it, or being restored.</param>
/// <param name="Questions">Questions to its owners about findings, the earliest last day first.</param>
/// <param name="Offered">The person to whom the viewer offered the site.</param>
public sealed record YourSite(
    long Id,
    string Title,
    string? Address,
    Status? Status,
    ReachCell? Published,
    IReadOnlyList<FindingResponse> Findings,
    bool ByName,
    IReadOnlyList<PersonResponse> Others,
    AtticEntryResponse? AtticEntry,
    OfferedTo? Offered,
    int UnderWay,
    IReadOnlyList<QuestionResponse> Questions
);

/// <summary>A site that the viewer does not own, and may edit or view by name, by a group or by their unit.</summary>
/// <param name="Ask">Active owners, who can be asked about it.</param>
public sealed record UsedSite(long Id, string Title, string? Address, Power Power, IReadOnlyList<PersonResponse> Ask);

public sealed record OfferedTo(Guid Offer, PersonResponse To, DateOnly Through);

/// <param name="Offers">Open offers to the viewer, and recently answered ones.</param>
public sealed record YourSitesResponse(
    long Person,
    IReadOnlyList<OfferLine> Offers,
    IReadOnlyList<OfferLine> Given,
    IReadOnlyList<YourSite> Sites
);

/// <param name="Sites">Sites in use that the viewer may edit or view without being an owner; at most 200.</param>
/// <param name="Total">The number of these.</param>
public sealed record UsedSitesResponse(IReadOnlyList<UsedSite> Sites, int Total);

internal static class YoursEndpoints
{
    private const int MostUsed = 200;
    private const int MostToAsk = 3;
    private static readonly TimeSpan Lately = TimeSpan.FromDays(14);

    public static void MapYours(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/your-sites/used", Used)
            .WithTags("Your sites")
            .RequireAuthorization(Policies.Read)
            .WithName("usedSites")
            .WithSummary("The sites that one may edit or view by name, by a group or by one's unit, and whom to ask about each.");
        app.MapGet("/api/your-sites", List)
            .WithTags("Your sites")
            .RequireAuthorization(Policies.Read)
            .WithName("yourSites")
            .WithSummary("One's own sites with the state of each, and offers to answer.");
    }

    private static async Task<Ok<YourSitesResponse>> List(SeenRegister register, Database database)
    {
        var state = register.State;
        var viewer = register.Viewer;
        var own = viewer.OwnSites(state.PeopleDirectory);
        var seen = state.Seen(own);
        var lines = seen.Lines(seen.All).Where(line => line.Existence != Existence.Erased && !line.NoLongerReported).ToList();
        var now = database.Now;
        var ids = lines.Select(line => line.Id).ToList();
        var (offers, titles, atticEntries, holds, sites, since, questions) = await database.Read(async connection =>
        {
            var with = await connection.OffersWith(viewer.Person);
            var named =
                with.Count == 0
                    ? []
                    : (
                        await connection.Sites(new Scope.Everything(), [.. with.Select(offer => offer.Site).Distinct()])
                    ).ToDictionary(site => site.Id);
            return (
                with,
                named,
                ids.Count == 0 ? [] : await connection.LatestAtticEntries(ids),
                await connection.Holds(ids),
                (await connection.Sites(own, ids)).ToDictionary(site => site.Id),
                await connection.Since(ids),
                await connection.OpenQuestions(ids)
            );
        });
        OfferLine Line(Offer offer) =>
            new(
                offer.Id.Value,
                offer.Site.Value,
                titles[offer.Site].Title,
                titles[offer.Site].Address.Has(out var address) ? address : null,
                offer.State,
                PersonResponse.Of(offer.To, state.PeopleDirectory),
                offer.CurrentOwner is { } currentOwner ? PersonResponse.Of(currentOwner, state.PeopleDirectory) : null,
                offer.After,
                offer.Through,
                offer.EndedAt
            );
        var shown = offers.Where(offer => offer.State.IsOpen() || offer.EndedAt > now - Lately).ToList();
        return TypedResults.Ok(
            new YourSitesResponse(
                viewer.Person.Value,
                [.. shown.Where(offer => offer.To == viewer.Person).Select(Line)],
                [.. shown.Where(offer => offer.To != viewer.Person).Select(Line)],
                [
                    .. lines
                        .Where(line => sites.ContainsKey(line.Id))
                        .OrderBy(line => line.Existence)
                        .ThenByDescending(line => questions[line.Id].Any())
                        .ThenBy(line => line.Title, StringComparer.OrdinalIgnoreCase)
                        .Select(line =>
                        {
                            var site = sites[line.Id];
                            var atticEntry =
                                atticEntries.GetValueOrDefault(site.Id) is { } latest && latest.State.IsOpen() ? latest : null;
                            var offered = offers.Find(offer =>
                                offer.Site == site.Id && offer.CurrentOwner == viewer.Person && offer.State.IsOpen()
                            );
                            return new YourSite(
                                site.Id.Value,
                                site.Title,
                                site.Address.Has(out var address) ? address : null,
                                site.Status.Has(out var status) ? status : null,
                                RegisterRowWriter.Reach(line, Power.View),
                                [
                                    .. line
                                        .Breaks.OrderBy(rule => rule.Level)
                                        .Select(rule => RegisterRowWriter.Finding(line.Id, rule, false, since)),
                                ],
                                HandOver.Holds(site, viewer.Person),
                                [
                                    .. line
                                        .Owners.Holders.Where(holder => holder.Person.Id != viewer.Person && holder.IsActive)
                                        .Select(holder => PersonResponse.Of(holder.Person.Id, state.PeopleDirectory)),
                                ],
                                atticEntry is null
                                    ? null
                                    : AtticEntryWriter.AtticEntry(
                                        atticEntry,
                                        site,
                                        [.. holds[site.Id]],
                                        state.Organisation,
                                        state.PeopleDirectory,
                                        viewer.MayAct ? viewer.Actor().As : null,
                                        now
                                    ),
                                offered is null
                                    ? null
                                    : new OfferedTo(
                                        offered.Id.Value,
                                        PersonResponse.Of(offered.To, state.PeopleDirectory),
                                        offered.Through
                                    ),
                                site.UnderWay.Count,
                                [.. questions[site.Id].Select(question => QuestionResponse.Of(question, state.PeopleDirectory))]
                            );
                        }),
                ]
            )
        );
    }

    // It goes beyond the viewer's scope in the register, and has no more than what they can open at the host, and whom to ask. What all
    // of the staff can view is not listed: that is most of the register.
    private static async Task<Ok<UsedSitesResponse>> Used(SeenRegister register, Database database)
    {
        var (state, viewer) = (register.State, register.Viewer);
        var used = await UsedBy(viewer, state, state.Seen(viewer.OwnSites(state.PeopleDirectory)), database);
        return TypedResults.Ok(new UsedSitesResponse([.. used.Take(MostUsed)], used.Count));
    }

    private static async Task<List<UsedSite>> UsedBy(Viewer viewer, LedgerState state, VisibleRegister own, Database database)
    {
        if (state.PeopleDirectory.PlaceOf(viewer.Person) is not { } place)
        {
            return [];
        }

        var directory = state.PeopleDirectory;
        var granted = await database.Read(connection =>
            connection.GrantedTo(viewer.Person, [.. directory.GroupsOf(place)], [.. directory.UnitsOf(place)], directory.Today)
        );
        var all = state.Seen(new Scope.Everything());
        return
        [
            .. from grant in granted
            group grant by grant.Site into ofSite
            where own.Find(ofSite.Key) is null
            let line = all.Find(ofSite.Key)
            where line is { Existence: Existence.InUse, NoLongerReported: false }
            let power = ofSite.Max(grant => grant.Power)
            orderby power descending, line.Value.Title.ToUpperInvariant(), line.Value.Id.Value
            select new UsedSite(
                line.Value.Id.Value,
                line.Value.Title,
                line.Value.Address.Has(out var address) ? address : null,
                power,
                [
                    .. line
                        .Value.Owners.Holders.Where(holder => holder.IsActive)
                        .Take(MostToAsk)
                        .Select(holder => PersonResponse.Of(holder.Person.Id, directory)),
                ]
            ),
        ];
    }
}
