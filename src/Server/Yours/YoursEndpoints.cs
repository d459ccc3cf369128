using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Keys;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Register;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Yours;

/// <summary>An offer in a list: to the viewer, or of a key of theirs.</summary>
public sealed record OfferLineWire(
    Guid Id,
    long Site,
    string Title,
    string? Address,
    OfferState State,
    PersonWire To,
    PersonWire? Giver,
    DateOnly Through,
    DateTimeOffset? EndedAt
);

/// <summary>A site to which the viewer holds a key.</summary>
/// <param name="ByName">Whether the key is held by name, so that it can be handed over.</param>
/// <param name="Others">The other fit owners.</param>
/// <param name="Stay">Its stay in the attic, where it is on its way in, in it, or on its way out.</param>
/// <param name="Offered">To whom the viewer's key is offered.</param>
public sealed record YourSiteWire(
    long Id,
    string Title,
    string? Address,
    Stage? Stage,
    ReachWire? Live,
    IReadOnlyList<FindingWire> Findings,
    bool ByName,
    IReadOnlyList<PersonWire> Others,
    StayWire? Stay,
    OfferedToWire? Offered,
    int UnderWay
);

public sealed record OfferedToWire(Guid Offer, PersonWire To, DateOnly Through);

/// <param name="Offers">Offers to the viewer that are open, and those that were answered of late.</param>
public sealed record YoursWire(
    long Person,
    IReadOnlyList<OfferLineWire> Offers,
    IReadOnlyList<OfferLineWire> Given,
    IReadOnlyList<YourSiteWire> Sites
);

internal static class YoursEndpoints
{
    private static readonly TimeSpan Lately = TimeSpan.FromDays(14);

    public static void MapYours(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/yours", List)
            .WithTags("Your sites")
            .RequireAuthorization(Policies.Read)
            .WithName("yours")
            .WithSummary("The offers made to whoever asks, and their own sites with the state of each.");

    private static async Task<Ok<YoursWire>> List(HttpContext context, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var own = viewer.OwnSites(state.Roll);
        var seen = state.Seen(own);
        var lines = seen.Lines(seen.All).Where(line => line.Existence != Existence.Cleared && !line.Vanished).ToList();
        var now = database.Now;
        var ids = lines.Select(line => line.Id).ToList();
        var (offers, titles, stays, holds, sites, since) = await database.Read(async connection =>
        {
            var with = await connection.OffersWith(viewer.Person);
            var named =
                with.Count == 0
                    ? []
                    : (
                        await connection.Sites(new Sight.Everything(), [.. with.Select(offer => offer.Site).Distinct()])
                    ).ToDictionary(site => site.Id);
            return (
                with,
                named,
                ids.Count == 0 ? [] : await connection.LatestStays(ids),
                await connection.Holds(ids),
                (await connection.Sites(own, ids)).ToDictionary(site => site.Id),
                await connection.Since(ids)
            );
        });
        OfferLineWire Line(Offer offer) =>
            new(
                offer.Id.Value,
                offer.Site.Value,
                titles[offer.Site].Title,
                titles[offer.Site].Address.Has(out var address) ? address : null,
                offer.State,
                PersonWire.Of(offer.To, state.Roll),
                offer.Giver is { } giver ? PersonWire.Of(giver, state.Roll) : null,
                offer.Through,
                offer.EndedAt
            );
        var shown = offers.Where(offer => offer.State.IsOpen() || offer.EndedAt > now - Lately).ToList();
        return TypedResults.Ok(
            new YoursWire(
                viewer.Person.Value,
                [.. shown.Where(offer => offer.To == viewer.Person).Select(Line)],
                [.. shown.Where(offer => offer.To != viewer.Person).Select(Line)],
                [
                    .. lines
                        .Where(line => sites.ContainsKey(line.Id))
                        .OrderBy(line => line.Existence)
                        .ThenBy(line => line.Title, StringComparer.OrdinalIgnoreCase)
                        .Select(line =>
                        {
                            var site = sites[line.Id];
                            var stay = stays.GetValueOrDefault(site.Id) is { } latest && latest.State.IsOpen() ? latest : null;
                            var offered = offers.Find(offer =>
                                offer.Site == site.Id && offer.Giver == viewer.Person && offer.State.IsOpen()
                            );
                            return new YourSiteWire(
                                site.Id.Value,
                                site.Title,
                                site.Address.Has(out var address) ? address : null,
                                site.Stage.Has(out var stage) ? stage : null,
                                LineWriter.Reach(line, Power.View),
                                [
                                    .. line
                                        .Breaks.OrderBy(rule => rule.Level)
                                        .Select(rule => LineWriter.Finding(line.Id, rule, false, since)),
                                ],
                                HandOver.Holds(site, viewer.Person),
                                [
                                    .. line
                                        .Keys.Holders.Where(holder => holder.Person.Id != viewer.Person && holder.IsFit)
                                        .Select(holder => PersonWire.Of(holder.Person.Id, state.Roll)),
                                ],
                                stay is null
                                    ? null
                                    : StayWriter.Stay(
                                        stay,
                                        site,
                                        [.. holds[site.Id]],
                                        state.House,
                                        state.Roll,
                                        viewer.MayAct ? viewer.Doer().As : null,
                                        now
                                    ),
                                offered is null
                                    ? null
                                    : new OfferedToWire(offered.Id.Value, PersonWire.Of(offered.To, state.Roll), offered.Through),
                                site.UnderWay.Count
                            );
                        }),
                ]
            )
        );
    }
}
