using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.People;

/// <summary>A member of a group, also of groups in it.</summary>
public sealed record GroupMember(PersonResponse Person, Standing Standing);

/// <summary>A site on which a group is granted something.</summary>
public sealed record GroupSite(long Id, string Title, string? Address, Power Power);

/// <summary>A group, with what the viewer may see.</summary>
/// <param name="IsComplete">False if its source reported only a part of the members.</param>
/// <param name="Members">Those who have left first, then by name; 500 at the most.</param>
/// <param name="People">The number of all.</param>
/// <param name="Sites">In use and in the viewer's scope; the strongest power first.</param>
public sealed record GroupPage(
    long Id,
    string Name,
    bool IsComplete,
    int People,
    IReadOnlyList<GroupMember> Members,
    IReadOnlyList<GroupSite> Sites
);

internal static class GroupEndpoints
{
    private const int MostMembers = 500;

    public static void MapGroups(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/groups/{group:long}", Look)
            .WithTags("People")
            .RequireAuthorization(Policies.Read)
            .WithName("group")
            .WithSummary("A group: its members, and the sites on which it is granted something, within the viewer's scope.");

    private static async Task<Results<Ok<GroupPage>, ProblemHttpResult>> Look(
        long group,
        SeenRegister register,
        Database database
    )
    {
        var (directory, id) = (register.State.PeopleDirectory, new GroupId(group));

        // Owners learn about other people through common sites.
        if (directory.Find(id) is not { } known || register.Viewer.Role == Role.Owner)
        {
            return TypedResults.Problem(statusCode: 404, title: "There is no such group.");
        }

        var expansion = directory.Expand(id);
        var granted = await database.Read(connection => connection.GrantedTo(null, [id], [], directory.Today));
        var seen = register.Visible;
        return TypedResults.Ok(
            new GroupPage(
                group,
                known.Name,
                expansion.Complete,
                expansion.People.Count,
                [
                    .. expansion
                        .People.Places()
                        .OrderByDescending(place => directory.Standings[place] == Standing.Left)
                        .ThenBy(place => directory.People[place].Name, StringComparer.OrdinalIgnoreCase)
                        .Take(MostMembers)
                        .Select(place => new GroupMember(
                            PersonResponse.Of(directory.People[place].Id, directory),
                            directory.Standings[place]
                        )),
                ],
                [
                    .. from grant in granted
                    group grant by grant.Site into ofSite
                    let line = seen.Find(ofSite.Key)
                    where line is { Existence: Existence.InUse, NoLongerReported: false }
                    let power = ofSite.Max(grant => grant.Power)
                    orderby power descending, line.Value.Title.ToUpperInvariant(), line.Value.Id.Value
                    select new GroupSite(
                        line.Value.Id.Value,
                        line.Value.Title,
                        line.Value.Address.Has(out var address) ? address : null,
                        power
                    ),
                ]
            )
        );
    }
}
