using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Keys;

/// <param name="Reasons">Why nobody who holds a key is fit.</param>
/// <param name="DaysLeft">Days until nobody is left who could act: 0 where nobody is, null where somebody stays or it cannot be told.</param>
/// <param name="Asked">The open offer of a key, to whom and until when.</param>
public sealed record KeyLineWire(
    long Site,
    string Title,
    string? Address,
    UnitWire? Unit,
    OwnershipState State,
    IReadOnlyList<Unfit> Reasons,
    int? DaysLeft,
    DateOnly? LastDay,
    bool Sure,
    IReadOnlyList<KeyHolderWire> Holders,
    OfferedWire? Asked
);

public sealed record OfferedWire(Guid Offer, PersonWire To, DateOnly Through);

/// <param name="Whole">How many sites in use the viewer may see.</param>
public sealed record KeysWire(IReadOnlyList<KeyLineWire> Lines, int None, int Single, int Fit, int Whole);

/// <summary>What speaks for a successor; null where nobody could say.</summary>
/// <param name="UnitSteps">0 in the site's own unit, 1 in the one above it; null for another line.</param>
public sealed record CandidateWire(
    PersonWire Person,
    string? Unit,
    int? Edits,
    DateTimeOffset? LastEdit,
    int? UnitSteps,
    string? Power,
    int Load,
    IReadOnlyList<string> WhyNot
);

/// <param name="EditsUnknown">Why nobody could say who edited it, or null.</param>
public sealed record SuccessorsWire(IReadOnlyList<CandidateWire> Candidates, int EvidenceDays, string? EditsUnknown);

internal static class KeyEndpoints
{
    private const int MostCandidates = 8;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5);

    public static void MapKeys(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/keys", List)
            .WithTags("Keys")
            .RequireAuthorization(Policies.Read)
            .WithName("keys")
            .WithSummary("Sites without two fit owners, the soonest without anybody first.");
        app.MapGet("/api/sites/{site:long}/successors", Who)
            .WithTags("Keys")
            .RequireAuthorization(Policies.Read)
            .WithName("successors")
            .WithSummary(
                "Who could take a site's key, by evidence, and who cannot and why; with a part of a name, whoever has it."
            );
    }

    private static async Task<Ok<KeysWire>> List(HttpContext context, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var seen = state.Seen(Viewer.Of(context).SightOn(state.Roll));
        var offers = (await database.Read(connection => connection.OpenOffers())).ToLookup(offer => offer.Site);
        var owned = seen.Lines(seen.InUse).Select(line => (Line: line, Ownership: Ownership.Of(line.Keys, state.Roll))).ToList();
        return TypedResults.Ok(
            new KeysWire(
                [
                    .. owned
                        .Where(pair => pair.Ownership.State != OwnershipState.Fit)
                        .OrderBy(pair => pair.Ownership.DaysLeft ?? int.MaxValue)
                        .ThenBy(pair => pair.Ownership.State)
                        .ThenBy(pair => pair.Line.Title, StringComparer.OrdinalIgnoreCase)
                        .Select(pair => Line(pair.Line, pair.Ownership, offers[pair.Line.Id].FirstOrDefault(), state)),
                ],
                owned.Count(pair => pair.Ownership.State == OwnershipState.None),
                owned.Count(pair => pair.Ownership.State == OwnershipState.Single),
                owned.Count(pair => pair.Ownership.State == OwnershipState.Fit),
                owned.Count
            )
        );
    }

    private static KeyLineWire Line(SheetLine line, Ownership ownership, Core.Deeds.Offer? offer, LedgerState state) =>
        new(
            line.Id.Value,
            line.Title,
            line.Address.Has(out var address) ? address : null,
            LineWriter.Unit(line.Unit, state),
            ownership.State,
            ownership.Reasons,
            ownership.DaysLeft,
            ownership.LastDay,
            ownership.Sure,
            [.. line.Keys.Holders.Select(holder => FolioWriter.Holder(holder, state.Roll))],
            offer is null ? null : new OfferedWire(offer.Id.Value, PersonWire.Of(offer.To, state.Roll), offer.Through)
        );

    private static async Task<Results<Ok<SuccessorsWire>, ProblemHttpResult>> Who(
        long site,
        HttpContext context,
        LedgerSheet sheet,
        IEnumerable<ISiteHost> hosts,
        Database database,
        CancellationToken stop,
        string? find = null
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var sight = viewer.SightOn(state.Roll);
        if (await database.Read(connection => connection.Sites(sight, [new SiteId(site)]), stop) is not [var facts])
        {
            return Carrying.NotThere();
        }

        var line = state.Judge(facts).Line;
        var (edits, unknown) = await Edits(line.Site, hosts, database, stop);
        var load = state.Load(sight);
        var all = Successors.Of(line.Site, line.Keys, edits, load, state.Roll, state.House.FitDays, viewer.Role != Role.Owner);
        var shown = string.IsNullOrWhiteSpace(find)
            ? all.Where(candidate => candidate.IsEligible).Take(MostCandidates)
            : all.Where(candidate =>
                    candidate.Person.Name.Contains(find.Trim(), StringComparison.OrdinalIgnoreCase)
                    || candidate.Person.Mail.StartsWith(find.Trim(), StringComparison.OrdinalIgnoreCase)
                )
                .Take(MostCandidates);
        return TypedResults.Ok(
            new SuccessorsWire(
                [
                    .. shown.Select(candidate => new CandidateWire(
                        PersonWire.Of(candidate.Person.Id, state.Roll),
                        candidate.Person.Unit.Has(out var unit) ? state.Roll.Find(unit)?.Name ?? unit.Value : null,
                        candidate.Edits.Has(out var count) ? count : null,
                        candidate.LastEdit.Has(out var last) ? last : null,
                        candidate.UnitSteps,
                        candidate.Power?.Word(),
                        candidate.Load,
                        candidate.WhyNot
                    )),
                ],
                Successors.EvidenceDays,
                unknown
            )
        );
    }

    // Who edited is asked of the host when somebody wants to know it; advice, and never a fact of the deed.
    private static async Task<(Known<IReadOnlyList<EditsBy>> Edits, string? Unknown)> Edits(
        SiteFacts site,
        IEnumerable<ISiteHost> hosts,
        Database database,
        CancellationToken stop
    )
    {
        if (hosts.FirstOrDefault(host => host.Name == site.Host) is not { } host || site.Existence != Existence.Here)
        {
            return (Known<IReadOnlyList<EditsBy>>.Unknown, $"{site.Host} is not asked who edited it.");
        }

        using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
        patience.CancelAfter(Patience);
        try
        {
            var states = await host.ReadStates(site.HostKey, database.Now.AddDays(-Successors.EvidenceDays), patience.Token);
            var resolution = await database.Read(
                connection => SiteIntake.Resolution(connection, database.Rolls, database.Now),
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
            return (Known<IReadOnlyList<EditsBy>>.Unknown, $"{site.Host} did not say who edited it.");
        }
    }
}
