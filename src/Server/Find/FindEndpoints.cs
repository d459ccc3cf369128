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

namespace AtticLedger.Server.Find;

/// <param name="Existence">In use, in the attic or erased.</param>
/// <param name="Former">The name or address that it had before, if it is found by that.</param>
public sealed record FoundSite(
    long Id,
    string Title,
    string? Address,
    string Host,
    UnitResponse? Unit,
    Existence Existence,
    Status? Status,
    bool NoLongerReported,
    string? Former = null
);

/// <param name="Sites">The number of sites in the viewer's scope that the person owns.</param>
public sealed record FoundPerson(PersonResponse Person, Standing Standing, int Sites);

/// <param name="People">The number of people in it, at least.</param>
public sealed record FoundGroup(long Id, string Name, int People, bool IsComplete);

/// <param name="MoreSites">The number of sites not listed; <paramref name="MorePeople"/> and <paramref name="MoreGroups"/>
/// likewise.</param>
public sealed record FindResult(
    IReadOnlyList<FoundSite> Sites,
    int MoreSites,
    IReadOnlyList<FoundPerson> People,
    int MorePeople,
    IReadOnlyList<FoundGroup> Groups,
    int MoreGroups
);

/// <summary>Sites, people and groups with a text in name or address, the likeliest first.</summary>
internal static class FindEndpoints
{
    internal const int LongestText = 100;
    private const int MostSites = 8;
    private const int MostPeople = 5;
    private const int MostGroups = 3;

    public static void MapFind(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/find", Look)
            .WithTags("Finder")
            .RequireAuthorization(Policies.Read)
            .WithName("find")
            .WithSummary(
                "Finds sites by name or address, also by former ones, people by name or mail address, and groups by name, in the viewer's scope."
            );

    private static async Task<Results<Ok<FindResult>, ProblemHttpResult>> Look(
        SeenRegister register,
        Database database,
        string text
    )
    {
        var state = register.State;
        var wanted = text.Trim();
        if (wanted.Length is 0 or > LongestText)
        {
            return TypedResults.Problem(statusCode: 400, title: $"Name 1 to {LongestText} characters.");
        }

        var viewer = register.Viewer;
        var seen = register.Visible;
        var (sites, more) = Sites(wanted, state, seen);
        if (sites.Count < MostSites)
        {
            var former = await database.Read(connection => connection.FormerlyNamed(wanted));
            sites =
            [
                .. sites,
                .. former
                    .Where(one => sites.All(site => site.Id != one.Site.Value) && seen.Find(one.Site) is not null)
                    .Take(MostSites - sites.Count)
                    .Select(one => Found(seen.Find(one.Site)!.Value, state) with { Former = one.Former }),
            ];
        }

        if (viewer.Role == Role.Owner)
        {
            return TypedResults.Ok(new FindResult(sites, more, [], 0, [], 0));
        }

        var (people, morePeople) = People(wanted, state, seen);
        var (groups, moreGroups) = Groups(wanted, state);
        return TypedResults.Ok(new FindResult(sites, more, people, morePeople, groups, moreGroups));
    }

    /// <summary>The likeliest sites by name or address, in any state, and the number of others.</summary>
    internal static (IReadOnlyList<FoundSite> Sites, int More) Sites(string wanted, LedgerState state, VisibleRegister seen)
    {
        var found = seen.Where(Filter.Parse(string.Join(" or ", Forms(wanted).Select(Containing)), JudgedSite.Attributes));
        var sites = seen.Lines(found)
            .OrderBy(line => Forms(wanted).Min(form => Rank(line.Title, form)))
            .ThenBy(line => line.Existence)
            .ThenBy(line => line.Title, StringComparer.OrdinalIgnoreCase)
            .Take(MostSites)
            .ToList();
        return (sites.ConvertAll(line => Found(line, state)), found.CountYes - sites.Count);
    }

    private static string Containing(string wanted)
    {
        var quoted = System.Text.Json.JsonSerializer.Serialize(wanted);
        return $"title co {quoted} or name co {quoted} or address co {System.Text.Json.JsonSerializer.Serialize(wanted.ToLowerInvariant())}";
    }

    // "rotas" also finds "rota", and "copies" finds "copy".
    private static IReadOnlyList<string> Forms(string wanted) =>
        wanted.Length > 4 && wanted.EndsWith("ies", StringComparison.OrdinalIgnoreCase) ? [wanted, $"{wanted[..^3]}y"]
        : wanted.Length > 3 && wanted.EndsWith('s') && !wanted.EndsWith("ss", StringComparison.Ordinal) ? [wanted, wanted[..^1]]
        : [wanted];

    private static FoundSite Found(RegisterRow line, LedgerState state) =>
        new(
            line.Id.Value,
            line.Title,
            line.Address.Has(out var address) ? address : null,
            line.Host,
            RegisterRowWriter.Unit(line.Unit, state),
            line.Existence,
            line.Status.Has(out var status) ? status : null,
            line.NoLongerReported
        );

    private static (List<FoundPerson> People, int More) People(string wanted, LedgerState state, VisibleRegister seen)
    {
        // The finder links a person to the list of the sites they own: the same sites are counted.
        var inUse = seen.Where(Filter.Parse("existence eq \"in-use\"", JudgedSite.Attributes));
        var words = wanted.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        var found = Enumerable
            .Range(0, state.PeopleDirectory.People.Count)
            .Where(place =>
                state.PeopleDirectory.People[place] is { Mail.Length: > 0 } person
                && (
                    Array.TrueForAll(words, word => person.Name.Contains(word, StringComparison.OrdinalIgnoreCase))
                    || person.Mail.Contains(wanted, StringComparison.OrdinalIgnoreCase)
                )
            )
            .OrderBy(place => Rank(state.PeopleDirectory.People[place].Name, wanted))
            .ThenBy(place => state.PeopleDirectory.People[place].Name, StringComparer.OrdinalIgnoreCase)
            .ThenBy(place => place)
            .ToList();
        return (
            [
                .. found
                    .Take(MostPeople)
                    .Select(place => new FoundPerson(
                        PersonResponse.Of(state.PeopleDirectory.People[place].Id, state.PeopleDirectory),
                        state.PeopleDirectory.Standings[place],
                        inUse
                            .And(state.Seen(Viewer.OwnSites(state.PeopleDirectory.People[place].Id, state.PeopleDirectory)).All)
                            .CountYes
                    )),
            ],
            Math.Max(0, found.Count - MostPeople)
        );
    }

    private static (List<FoundGroup> Groups, int More) Groups(string wanted, LedgerState state)
    {
        var found = state
            .PeopleDirectory.Groups.Where(group => group.Name.Contains(wanted, StringComparison.OrdinalIgnoreCase))
            .OrderBy(group => Rank(group.Name, wanted))
            .ThenBy(group => group.Name, StringComparer.OrdinalIgnoreCase)
            .ToList();
        return (
            [
                .. found
                    .Take(MostGroups)
                    .Select(group => (group, Expansion: state.PeopleDirectory.Expand(group.Id)))
                    .Select(pair => new FoundGroup(
                        pair.group.Id.Value,
                        pair.group.Name,
                        pair.Expansion.People.Count,
                        pair.Expansion.Complete
                    )),
            ],
            Math.Max(0, found.Count - MostGroups)
        );
    }

    // The exact name first, then a name with the text as a whole word, one that begins with it, and one with a word that does.
    private static int Rank(string name, string wanted) =>
        name.Equals(wanted, StringComparison.OrdinalIgnoreCase) ? 0
        : IsWholeWord(name, wanted) ? 1
        : name.StartsWith(wanted, StringComparison.OrdinalIgnoreCase) ? 2
        : name.Contains($" {wanted}", StringComparison.OrdinalIgnoreCase) ? 3
        : 4;

    private static bool IsWholeWord(string name, string wanted)
    {
        for (
            var at = name.IndexOf(wanted, StringComparison.OrdinalIgnoreCase);
            at >= 0;
            at = name.IndexOf(wanted, at + 1, StringComparison.OrdinalIgnoreCase)
        )
        {
            if (
                (at == 0 || !char.IsLetterOrDigit(name[at - 1]))
                && (at + wanted.Length == name.Length || !char.IsLetterOrDigit(name[at + wanted.Length]))
            )
            {
                return true;
            }
        }

        return false;
    }
}
