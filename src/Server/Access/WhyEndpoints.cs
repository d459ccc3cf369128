using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Hosting;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Access;

internal static class WhyEndpoints
{
    public static void MapWhy(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/sites/{site:long}/why", Look)
            .WithTags("Access")
            .RequireAuthorization(Policies.Read)
            .WithName("why")
            .WithSummary(
                "Whether a person, or a kind of person, has a power at a site, through what or stopped by what, and the smallest set of changes that would let them in."
            );

    /// <param name="person">The person; or <paramref name="kind"/>, one of the two.</param>
    /// <param name="kind">new-guest, partner or not-signed-in.</param>
    /// <param name="power">view, preview, edit, publish, invite, manage or own.</param>
    private static async Task<Results<Ok<WhyResponse>, ProblemHttpResult>> Look(
        long site,
        SeenRegister register,
        Database database,
        CancellationToken stop,
        long? person = null,
        string? kind = null,
        string power = "view"
    )
    {
        var (state, viewer) = (register.State, register.Viewer);
        var scope = viewer.ScopeOn(state.PeopleDirectory);
        if (await database.Read(connection => connection.Sites(scope, [new SiteId(site)]), stop) is not [var facts])
        {
            return ActionEndpoint.NotThere("site");
        }

        if (QueryWords.Read<Power>(power) is not { } asksFor)
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: $"There is no power \"{power}\". It is one of: {QueryWords.All<Power>()}."
            );
        }

        var ofKind = QueryWords.Read<VisitorKind>(kind);
        if (kind is not null && ofKind is null)
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: $"There is no kind of person \"{kind}\". It is one of: {QueryWords.All<VisitorKind>()}."
            );
        }

        if ((person is null) == (ofKind is null))
        {
            return TypedResults.Problem(statusCode: 400, title: "Name a person or a kind of person, one of the two.");
        }

        if (facts.Fault is { } fault)
        {
            return TypedResults.Problem(statusCode: 422, title: $"This site cannot be computed: {fault}");
        }

        if (person is { } id && !MayAskAbout(new PersonId(id), facts, viewer, state.PeopleDirectory))
        {
            return ActionEndpoint.NotThere("person");
        }

        Visitor visitor = ofKind switch
        {
            VisitorKind.NewGuest => new Visitor.NewGuest(),
            VisitorKind.Partner => new Visitor.Partner(),
            VisitorKind.NotSignedIn => new Visitor.NotSignedIn(),
            _ => new Visitor.OnePerson(new PersonId(person!.Value)),
        };
        var asked = new AccessFacts(facts, state.Organisation, state.PeopleDirectory);
        var answer = Why.Of(asked, visitor, asksFor);
        var joined = answer
            .Others.Prepend(answer.Smallest)
            .OfType<LetIn>()
            .SelectMany(set => set.Changes)
            .OfType<AccessChange.JoinGroup>()
            .Select(join => join.Group)
            .Distinct()
            .ToList();
        var opened =
            joined.Count == 0
                ? []
                : await database.Read(connection => connection.GrantedTo(null, joined, [], state.PeopleDirectory.Today), stop);
        var seen = register.Visible;
        return TypedResults.Ok(
            new WhyWriter(asked, visitor, asksFor, viewer)
            {
                Kind = ofKind,
                OtherSites = joined.ToDictionary(
                    group => group,
                    group =>
                        opened
                            .Where(grant => grant.Subject == new Subject.OneGroup(group) && grant.Site != facts.Id)
                            .Select(grant => grant.Site)
                            .Distinct()
                            .Count(other => seen.Find(other) is { Existence: Existence.InUse })
                ),
            }.Write(answer)
        );
    }

    // Owners learn about other people through common sites.
    private static bool MayAskAbout(PersonId person, SiteFacts site, Viewer viewer, PeopleDirectory directory) =>
        directory.PlaceOf(person) is not null
        && (
            viewer.Role != Role.Owner
            || viewer.Person == person
            || site.Sharing.Select(sharing => sharing.Grants).Or([]).Any(grant => grant.Subject == new Subject.OnePerson(person))
        );
}
