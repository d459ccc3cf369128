using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.People;

/// <summary>A site on which a person has a grant.</summary>
/// <param name="Power">The strongest power granted.</param>
/// <param name="Through">The group or unit that is granted it; null if the person is named.</param>
/// <param name="OnlyActive">True if nobody else is an active owner.</param>
public sealed record GrantedSite(
    long Id,
    string Title,
    string? Address,
    UnitResponse? Unit,
    Existence Existence,
    Power Power,
    string? Through,
    bool OnlyActive
);

/// <summary>An offer of ownership to this person or of this person's.</summary>
public sealed record PersonOffer(Guid Id, long Site, string Title, OfferState State, bool IsToThem, DateOnly Through);

/// <summary>A sponsor of a guest, or a guest with a sponsor.</summary>
/// <param name="Source">The source of it.</param>
public sealed record SponsorshipResponse(PersonResponse Person, Standing Standing, string Source);

/// <summary>What all of the staff can do: the number of sites in use.</summary>
public sealed record StaffAccess(int View, int Edit);

/// <summary>A person, with what the viewer may see.</summary>
/// <param name="Day">The last day of work, or of absence.</param>
/// <param name="Sites">The strongest power first; 500 at the most.</param>
/// <param name="Total">The number of all sites.</param>
/// <param name="AsStaff">What they can do as one of all staff, besides these sites; null if they are none of them.</param>
/// <param name="Sponsors">A guest's sponsors.</param>
/// <param name="Sponsored">The guests whose sponsor this person is.</param>
public sealed record PersonPage(
    PersonResponse Person,
    PersonKind Kind,
    Standing Standing,
    DateOnly? Day,
    UnitResponse? Unit,
    bool MailFails,
    int Owns,
    int Edits,
    int Total,
    IReadOnlyList<GrantedSite> Sites,
    StaffAccess? AsStaff,
    IReadOnlyList<PersonOffer> Offers,
    IReadOnlyList<SponsorshipResponse> Sponsors,
    IReadOnlyList<SponsorshipResponse> Sponsored
);

internal static class PersonEndpoints
{
    private const int MostSites = 500;

    // As the register counts them, which also has those that a host no longer reports.
    private static readonly Filter<JudgedSite> StaffViews = Filter.Parse(
        "existence eq \"in-use\" and view.inside eq \"staff\"",
        JudgedSite.Attributes
    );
    private static readonly Filter<JudgedSite> StaffEdits = Filter.Parse(
        "existence eq \"in-use\" and edit.inside eq \"staff\"",
        JudgedSite.Attributes
    );

    public static void MapPeople(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/people/{person:long}", Look)
            .WithTags("People")
            .RequireAuthorization(Policies.Read)
            .WithName("person")
            .WithSummary(
                "A person: what they own, edit and view by name, group or unit, how much as one of all staff, and offers to them or by them, within the viewer's scope."
            );

    private static async Task<Results<Ok<PersonPage>, ProblemHttpResult>> Look(
        long person,
        SeenRegister register,
        Database database
    )
    {
        var state = register.State;
        var (viewer, id) = (register.Viewer, new PersonId(person));

        // Owners learn about other people through common sites; they can look up only themselves.
        if (state.PeopleDirectory.PlaceOf(id) is not { } place || (viewer.Role == Role.Owner && viewer.Person != id))
        {
            return TypedResults.Problem(statusCode: 404, title: "There is no such person.");
        }

        List<GroupId> groups = [.. state.PeopleDirectory.GroupsOf(place)];
        List<UnitCode> units = [.. state.PeopleDirectory.UnitsOf(place)];
        var (granted, offers, sponsorships) = await database.Read(async connection =>
            (
                await connection.GrantedTo(id, groups, units, state.PeopleDirectory.Today),
                await connection.OffersWith(id),
                await connection.SponsorshipsWith(id)
            )
        );
        var seen = register.Visible;
        List<GrantedSite> sites =
        [
            .. from grant in granted
            group grant by grant.Site into ofSite
            let line = seen.Find(ofSite.Key)
            where line is { Existence: not Existence.Erased, NoLongerReported: false }
            let strongest = ofSite
                .OrderByDescending(grant => grant.Power)
                .ThenBy(grant => grant.Subject is Subject.OnePerson ? 0 : 1)
                .First()
            orderby strongest.Power descending, line.Value.Existence, line.Value.Title.ToUpperInvariant(), line.Value.Id.Value
            select ToResponse(line.Value, strongest, id, state),
        ];
        var (known, standing) = (state.PeopleDirectory.People[place], state.PeopleDirectory.Standings[place]);
        return TypedResults.Ok(
            new PersonPage(
                PersonResponse.Of(id, state.PeopleDirectory),
                known.Kind,
                standing,
                known.Day,
                RegisterRowWriter.Unit(known.Unit, state),
                known.MailFails,
                sites.Count(site => site.Power == Power.Own && site.Existence == Existence.InUse),
                sites.Count(site => site.Power is >= Power.Edit and < Power.Own && site.Existence == Existence.InUse),
                sites.Count,
                [.. sites.Take(MostSites)],
                known.Kind == PersonKind.Staff && standing != Standing.Left
                    ? new StaffAccess(seen.Where(StaffViews).CountYes, seen.Where(StaffEdits).CountYes)
                    : null,
                [
                    .. offers
                        .Where(offer => offer.State.IsOpen() && seen.Find(offer.Site) is not null)
                        .Select(offer => new PersonOffer(
                            offer.Id.Value,
                            offer.Site.Value,
                            seen.Find(offer.Site)!.Value.Title,
                            offer.State,
                            offer.To == id,
                            offer.Through
                        )),
                ],
                [
                    .. sponsorships
                        .Where(said => said.Guest == id)
                        .Select(said => ToResponse(said.Sponsor, said, state.PeopleDirectory)),
                ],
                [
                    .. sponsorships
                        .Where(said => said.Sponsor == id)
                        .Select(said => ToResponse(said.Guest, said, state.PeopleDirectory))
                        .OrderBy(one => one.Person.Name, StringComparer.OrdinalIgnoreCase),
                ]
            )
        );
    }

    private static SponsorshipResponse ToResponse(PersonId other, Sponsorship said, PeopleDirectory directory) =>
        new(
            PersonResponse.Of(other, directory),
            directory.PlaceOf(other) is { } place ? directory.Standings[place] : Standing.Left,
            said.Source
        );

    private static GrantedSite ToResponse(RegisterRow line, SiteGrant grant, PersonId person, LedgerState state)
    {
        var active = line.Owners.Holders.Where(holder => holder.IsActive).ToList();
        return new GrantedSite(
            line.Id.Value,
            line.Title,
            line.Address.Has(out var address) ? address : null,
            RegisterRowWriter.Unit(line.Unit, state),
            line.Existence,
            grant.Power,
            grant.Subject switch
            {
                Subject.OneGroup(var group) => state.PeopleDirectory.Find(group)?.Name ?? "a group",
                Subject.WholeUnit(var unit) => $"all of {state.PeopleDirectory.Find(unit)?.Name ?? unit.Value}",
                _ => null,
            },
            active.Count == 1 && active[0].Person.Id == person
        );
    }
}
