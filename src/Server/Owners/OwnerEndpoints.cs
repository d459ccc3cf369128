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

internal static class OwnerEndpoints
{
    public static void MapKeys(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/owners", List)
            .WithTags("Owners")
            .RequireAuthorization(Policies.Read)
            .WithName("owners")
            .WithSummary("Sites with fewer than 2 active owners; the ones that lose their last owner soonest first.");
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
}
