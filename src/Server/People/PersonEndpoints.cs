using AtticLedger.Core.Deeds;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Register;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.People;

/// <summary>A site at which somebody is granted something.</summary>
/// <param name="Power">The strongest that is granted.</param>
/// <param name="Through">By which group or unit; null where by name.</param>
/// <param name="OnlyFit">Whether nobody else holds a fit key of it.</param>
public sealed record GrantedSiteWire(
    long Id,
    string Title,
    string? Address,
    UnitWire? Unit,
    Existence Existence,
    Power Power,
    string? Through,
    bool OnlyFit
);

/// <summary>An offer of a key to this person or of this person's.</summary>
public sealed record PersonOfferWire(Guid Id, long Site, string Title, OfferState State, bool IsToThem, DateOnly Through);

/// <summary>Somebody who answers for a guest, or a guest for whom somebody does.</summary>
/// <param name="Source">Who says so.</param>
public sealed record SponsorshipWire(PersonWire Person, Standing Standing, string Source);

/// <summary>Somebody as far as whoever asks may see what they have.</summary>
/// <param name="Day">The last day in, or the last day away.</param>
/// <param name="Sites">The strongest power first; 500 at the most.</param>
/// <param name="Total">How many sites there are in all.</param>
/// <param name="Sponsors">Of a guest: who asked them in and answers for them.</param>
/// <param name="Sponsored">The guests for whom this one answers.</param>
public sealed record PersonPageWire(
    PersonWire Person,
    PersonKind Kind,
    Standing Standing,
    DateOnly? Day,
    UnitWire? Unit,
    bool MailFails,
    int Owns,
    int Edits,
    int Total,
    IReadOnlyList<GrantedSiteWire> Sites,
    IReadOnlyList<PersonOfferWire> Offers,
    IReadOnlyList<SponsorshipWire> Sponsors,
    IReadOnlyList<SponsorshipWire> Sponsored
);

internal static class PersonEndpoints
{
    private const int MostSites = 500;

    public static void MapPeople(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/people/{person:long}", Look)
            .WithTags("People")
            .RequireAuthorization(Policies.Read)
            .WithName("person")
            .WithSummary(
                "What somebody owns, edits and sees by name, group or unit, and what keys are offered to them or by them: of the sites that one may see."
            );

    private static async Task<Results<Ok<PersonPageWire>, ProblemHttpResult>> Look(
        long person,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var (viewer, id) = (Viewer.Of(context), new PersonId(person));

        // Owners know of other people by the sites they share; they look up themselves only.
        if (state.Roll.PlaceOf(id) is not { } place || (viewer.Role == Role.Owner && viewer.Person != id))
        {
            return TypedResults.Problem(statusCode: 404, title: "There is no such person.");
        }

        List<GroupId> groups =
        [
            .. state.Roll.Groups.Select(group => group.Id).Where(group => state.Roll.Expand(group).People.Contains(place)),
        ];
        List<UnitCode> units =
        [
            .. state.Roll.Units.Select(unit => unit.Code).Where(unit => state.Roll.OfUnit(unit).Contains(place)),
        ];
        var (granted, offers, sponsorships) = await database.Read(async connection =>
            (
                await connection.GrantedTo(id, groups, units),
                await connection.OffersWith(id),
                await connection.SponsorshipsWith(id)
            )
        );
        var seen = state.Seen(viewer.SightOn(state.Roll));
        List<GrantedSiteWire> sites =
        [
            .. from grant in granted
            group grant by grant.Site into ofSite
            let line = seen.Find(ofSite.Key)
            where line is { Existence: not Existence.Cleared, Vanished: false }
            let strongest = ofSite
                .OrderByDescending(grant => grant.Power)
                .ThenBy(grant => grant.Subject is Subject.OnePerson ? 0 : 1)
                .First()
            orderby strongest.Power descending, line.Value.Existence, line.Value.Title.ToUpperInvariant(), line.Value.Id.Value
            select Wire(line.Value, strongest, id, state),
        ];
        var (known, standing) = (state.Roll.People[place], state.Roll.Standings[place]);
        return TypedResults.Ok(
            new PersonPageWire(
                PersonWire.Of(id, state.Roll),
                known.Kind,
                standing,
                known.Day,
                LineWriter.Unit(known.Unit, state),
                known.MailFails,
                sites.Count(site => site.Power == Power.Own && site.Existence == Existence.Here),
                sites.Count(site => site.Power is >= Power.Edit and < Power.Own && site.Existence == Existence.Here),
                sites.Count,
                [.. sites.Take(MostSites)],
                [
                    .. offers
                        .Where(offer => offer.State.IsOpen() && seen.Find(offer.Site) is not null)
                        .Select(offer => new PersonOfferWire(
                            offer.Id.Value,
                            offer.Site.Value,
                            seen.Find(offer.Site)!.Value.Title,
                            offer.State,
                            offer.To == id,
                            offer.Through
                        )),
                ],
                [.. sponsorships.Where(said => said.Guest == id).Select(said => Wire(said.Sponsor, said, state.Roll))],
                [
                    .. sponsorships
                        .Where(said => said.Sponsor == id)
                        .Select(said => Wire(said.Guest, said, state.Roll))
                        .OrderBy(one => one.Person.Name, StringComparer.OrdinalIgnoreCase),
                ]
            )
        );
    }

    private static SponsorshipWire Wire(PersonId other, Sponsorship said, Roll roll) =>
        new(PersonWire.Of(other, roll), roll.PlaceOf(other) is { } place ? roll.Standings[place] : Standing.Left, said.Source);

    private static GrantedSiteWire Wire(SheetLine line, SiteGrant grant, PersonId person, LedgerState state)
    {
        var fit = line.Keys.Holders.Where(holder => holder.IsFit).ToList();
        return new GrantedSiteWire(
            line.Id.Value,
            line.Title,
            line.Address.Has(out var address) ? address : null,
            LineWriter.Unit(line.Unit, state),
            line.Existence,
            grant.Power,
            grant.Subject switch
            {
                Subject.OneGroup(var group) => state.Roll.Find(group)?.Name ?? "a group",
                Subject.WholeUnit(var unit) => $"all of {state.Roll.Find(unit)?.Name ?? unit.Value}",
                _ => null,
            },
            fit.Count == 1 && fit[0].Person.Id == person
        );
    }
}
