using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Hosting;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Guests;

using KeepAnswer = Results<Ok<ActionDone>, Conflict<GuestKept>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>Why somebody should look at a guest.</summary>
public enum GuestMark : byte
{
    /// <summary>No sponsor, or none who is still on the staff.</summary>
    NoSponsor,

    /// <summary>The guest has the name of a member of staff: perhaps a private address.</summary>
    NamedLikeStaff,

    /// <summary>The guest has the name of somebody who has left.</summary>
    NamedLikeFormerStaff,

    /// <summary>Invited, and has never signed in.</summary>
    NeverJoined,

    /// <summary>Has not been seen for half a year.</summary>
    NotSeen,

    /// <summary>Not reviewed for a year.</summary>
    NotReviewed,
}

/// <summary>A person from outside, over all sites in the viewer's scope.</summary>
/// <param name="JoinedAt">When they first signed in; null if they have not, or that is not reported.</param>
/// <param name="IsReported">False where no host reports whether they have signed in.</param>
/// <param name="Sites">The number of sites in use where they have access by name.</param>
/// <param name="Groups">The number of groups that contain them.</param>
/// <param name="Edits">The number of those sites that they can edit.</param>
/// <param name="Through">The last day of the last access by name; null if some has no end.</param>
/// <param name="Invitations">Invitations that are open.</param>
public sealed record GuestResponse(
    PersonResponse Person,
    IReadOnlyList<GuestSponsor> Sponsors,
    DateTimeOffset? JoinedAt,
    DateTimeOffset? LastSeenAt,
    bool IsReported,
    int Sites,
    int Edits,
    int Groups,
    DateOnly? Through,
    IReadOnlyList<InvitationResponse> Invitations,
    DateTimeOffset? ReviewedAt,
    PersonResponse? ReviewedBy,
    IReadOnlyList<GuestMark> Marks
);

public sealed record GuestSponsor(PersonResponse Person, bool HasLeft);

/// <summary>The number of guests with a mark.</summary>
public sealed record MarkedGuests(GuestMark Mark, int Count);

/// <param name="Guests">Those from <c>from</c> on, 100 at the most.</param>
/// <param name="Pending">Open invitations of people who are not in the register yet.</param>
public sealed record GuestsResponse(
    int Total,
    int All,
    IReadOnlyList<MarkedGuests> Marks,
    IReadOnlyList<GuestResponse> Guests,
    IReadOnlyList<InvitationResponse> Pending
);

public sealed record KeepGuestRequest(string? Reason = null);

/// <summary>What a second answer about a guest would find.</summary>
public sealed record GuestKept(string Fingerprint);

internal static class GuestEndpoints
{
    private const int Window = 100;
    private static readonly TimeSpan SeenWithin = TimeSpan.FromDays(182);
    private static readonly TimeSpan ReviewedWithin = TimeSpan.FromDays(365);

    public static void MapGuests(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/guests", Look)
            .WithTags("Guests")
            .RequireAuthorization(Policies.Read)
            .WithName("guests")
            .WithSummary(
                "Every person from outside once, with sponsor, account, what they have within the viewer's scope and what should be looked at."
            );
        app.MapPost("/api/guests/{person:long}/keep", Keep)
            .WithTags("Guests")
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.GuestKeep)
            .WithName("keepGuest")
            .WithSummary("Records that a guest was reviewed and is still needed.");
    }

    /// <param name="mark">Only guests with this mark.</param>
    /// <param name="from">The place of the first, from 0 on.</param>
    private static async Task<Results<Ok<GuestsResponse>, ProblemHttpResult>> Look(
        SeenRegister register,
        Database database,
        string? text = null,
        string? mark = null,
        int from = 0
    )
    {
        var only = QueryWords.Read<GuestMark>(mark);
        if (mark is not null && only is null)
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: $"There is no mark \"{mark}\". It is one of: {QueryWords.All<GuestMark>()}."
            );
        }

        var directory = register.State.PeopleDirectory;
        var (facts, pending) = await database.Read(async connection =>
            (
                await GuestFacts.Read(connection, directory),
                await connection.StatesOf(await connection.Invitations(directory.Today), directory.Today)
            )
        );
        var seen = register.Visible;
        var invitations = pending
            .Where(one => one.State.IsOpen() && seen.Find(one.Invitation.Site) is not null)
            .Select(one => InvitationEndpoints.Of(one, seen.Find(one.Invitation.Site)!.Value.Title, directory))
            .ToLookup(one => one.Guest?.Id);
        var everybody = register.Viewer.ScopeOn(directory) is Scope.Everything;
        var all = directory
            .Guests.Places()
            .Select(place =>
                facts.Of(place, directory, site => seen.Find(site) is not null, invitations[directory.People[place].Id.Value])
            )
            .Where(guest => everybody || guest.Sites > 0 || guest.Invitations.Count > 0)
            .ToList();
        var found = all.Where(guest =>
                (only is null || guest.Marks.Contains(only.Value))
                && (
                    string.IsNullOrWhiteSpace(text)
                    || guest.Person.Name.Contains(text.Trim(), StringComparison.OrdinalIgnoreCase)
                    || guest.Person.Mail.Contains(text.Trim(), StringComparison.OrdinalIgnoreCase)
                )
            )
            .OrderByDescending(guest => guest.Sites + guest.Groups > 0)
            .ThenByDescending(guest => guest.Marks.Count)
            .ThenByDescending(guest => guest.Sites)
            .ThenBy(guest => guest.Person.Mail, StringComparer.Ordinal)
            .ToList();
        return TypedResults.Ok(
            new GuestsResponse(
                found.Count,
                all.Count,
                [
                    .. Enum.GetValues<GuestMark>()
                        .Select(one => new MarkedGuests(one, all.Count(guest => guest.Marks.Contains(one)))),
                ],
                [.. found.Skip(Math.Max(0, from)).Take(Window)],
                [.. invitations[null]]
            )
        );
    }

    private static Task<KeepAnswer> Keep(long person, KeepGuestRequest request, HttpContext context) =>
        context.Carry(
            new KeepGuest(new PersonId(person), SiteActionAnswers.Reason(request.Reason), Viewer.Of(context)),
            null,
            request,
            _ => Task.FromResult(new GuestKept(""))
        );

    /// <summary>What the store knows of all guests.</summary>
    private sealed class GuestFacts(
        ILookup<PersonId, Sponsorship> sponsors,
        ILookup<PersonId, GuestAccount> accounts,
        ILookup<PersonId, GuestGrant> grants,
        Dictionary<PersonId, GuestReview> reviews,
        ILookup<string, Standing> insiders,
        Dictionary<int, int> groups
    )
    {
        public static async Task<GuestFacts> Read(Npgsql.NpgsqlConnection connection, PeopleDirectory directory)
        {
            var groups = new Dictionary<int, int>();
            foreach (var group in directory.Groups)
            {
                foreach (var place in directory.Expand(group.Id).People.Intersect(directory.Guests).Places())
                {
                    groups[place] = groups.GetValueOrDefault(place) + 1;
                }
            }

            return new GuestFacts(
                (await connection.Sponsorships()).ToLookup(one => one.Guest),
                (await connection.GuestAccounts()).ToLookup(one => one.Guest),
                (await connection.GuestGrants(directory.Today)).ToLookup(one => one.Guest),
                (await connection.GuestReviews()).ToDictionary(one => one.Guest),
                directory
                    .People.Select((person, place) => (person, standing: directory.Standings[place]))
                    .Where(one => one.person.Kind == PersonKind.Staff)
                    .ToLookup(one => one.person.Name.ToUpperInvariant(), one => one.standing),
                groups
            );
        }

        public GuestResponse Of(
            int place,
            PeopleDirectory directory,
            Func<SiteId, bool> sees,
            IEnumerable<InvitationResponse> invitations
        )
        {
            var person = directory.People[place];
            var by = sponsors[person.Id].Select(one => one.Sponsor).Distinct().ToList();
            var reported = accounts[person.Id].ToList();
            var has = grants[person.Id].Where(grant => sees(grant.Site)).ToList();
            var review = reviews.GetValueOrDefault(person.Id);
            var joined = reported.Min(one => one.JoinedAt);
            var lastSeen = reported.Max(one => one.LastSeenAt);
            return new GuestResponse(
                PersonResponse.Of(person.Id, directory),
                [.. by.Select(one => new GuestSponsor(PersonResponse.Of(one, directory), !directory.IsHere(one)))],
                joined,
                lastSeen,
                reported.Count > 0,
                has.Count,
                has.Count(grant => grant.Power >= Power.Edit),
                groups.GetValueOrDefault(place),
                has.Count > 0 && has.TrueForAll(grant => grant.Through is not null) ? has.Max(grant => grant.Through) : null,
                [.. invitations],
                review?.AnsweredAt,
                review is null ? null : PersonResponse.Of(review.By, directory),
                [.. Marks()]
            );

            IEnumerable<GuestMark> Marks()
            {
                var names = insiders[person.Name.ToUpperInvariant()].ToList();
                if (!by.Exists(directory.IsHere))
                {
                    yield return GuestMark.NoSponsor;
                }

                if (names.Exists(standing => standing != Standing.Left))
                {
                    yield return GuestMark.NamedLikeStaff;
                }

                if (names.Contains(Standing.Left))
                {
                    yield return GuestMark.NamedLikeFormerStaff;
                }

                if (reported.Count > 0 && joined is null)
                {
                    yield return GuestMark.NeverJoined;
                }

                if (lastSeen is { } at && directory.Now - at > SeenWithin)
                {
                    yield return GuestMark.NotSeen;
                }

                if (review is null || directory.Now - review.AnsweredAt > ReviewedWithin)
                {
                    yield return GuestMark.NotReviewed;
                }
            }
        }
    }
}
