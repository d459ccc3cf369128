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
public sealed record FoundSite(
    long Id,
    string Title,
    string? Address,
    string Host,
    UnitResponse? Unit,
    Existence Existence,
    Status? Status,
    bool NoLongerReported
);

/// <param name="Sites">The number of sites in the viewer's scope that the person owns.</param>
public sealed record FoundPerson(PersonResponse Person, Standing Standing, int Sites);

/// <param name="MoreSites">The number of sites not listed.</param>
public sealed record FindResult(IReadOnlyList<FoundSite> Sites, int MoreSites, IReadOnlyList<FoundPerson> People);

/// <summary>Sites and people with a text in name or address, the likeliest first.</summary>
internal static class FindEndpoints
{
    internal const int LongestText = 100;
    private const int MostSites = 8;
    private const int MostPeople = 5;

    public static void MapFind(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/find", Look)
            .WithTags("Finder")
            .RequireAuthorization(Policies.Read)
            .WithName("find")
            .WithSummary("Finds sites by name or address and people by name or mail address, in the viewer's scope.");

    private static async Task<Results<Ok<FindResult>, ProblemHttpResult>> Look(SeenRegister register, string text)
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
        return TypedResults.Ok(new FindResult(sites, more, viewer.Role == Role.Owner ? [] : People(wanted, state, seen)));
    }

    /// <summary>The likeliest sites by name or address, in any state, and the number of others.</summary>
    internal static (IReadOnlyList<FoundSite> Sites, int More) Sites(string wanted, LedgerState state, VisibleRegister seen)
    {
        var quoted = System.Text.Json.JsonSerializer.Serialize(wanted);
        var found = seen.Where(
            Filter.Parse(
                $"title co {quoted} or name co {quoted} or address co {System.Text.Json.JsonSerializer.Serialize(wanted.ToLowerInvariant())}",
                JudgedSite.Attributes
            )
        );
        var sites = seen.Lines(found)
            .OrderBy(line => Rank(line.Title, wanted))
            .ThenBy(line => line.Existence)
            .ThenBy(line => line.Title, StringComparer.OrdinalIgnoreCase)
            .Take(MostSites)
            .ToList();
        return (
            sites.ConvertAll(line => new FoundSite(
                line.Id.Value,
                line.Title,
                line.Address.Has(out var address) ? address : null,
                line.Host,
                RegisterRowWriter.Unit(line.Unit, state),
                line.Existence,
                line.Status.Has(out var status) ? status : null,
                line.NoLongerReported
            )),
            found.CountYes - sites.Count
        );
    }

    private static List<FoundPerson> People(string wanted, LedgerState state, VisibleRegister seen)
    {
        // The finder links a person to the list of the sites they own: the same sites are counted.
        var inUse = seen.Where(Filter.Parse("existence eq \"in-use\"", JudgedSite.Attributes));
        var found = Enumerable
            .Range(0, state.PeopleDirectory.People.Count)
            .Where(place =>
                state.PeopleDirectory.People[place] is { Mail.Length: > 0 } person
                && (
                    person.Name.Contains(wanted, StringComparison.OrdinalIgnoreCase)
                    || person.Mail.StartsWith(wanted, StringComparison.OrdinalIgnoreCase)
                )
            )
            .OrderBy(place => Rank(state.PeopleDirectory.People[place].Name, wanted))
            .ThenBy(place => state.PeopleDirectory.People[place].Name, StringComparer.OrdinalIgnoreCase)
            .ThenBy(place => place)
            .Take(MostPeople)
            .ToList();
        return found.ConvertAll(place => new FoundPerson(
            PersonResponse.Of(state.PeopleDirectory.People[place].Id, state.PeopleDirectory),
            state.PeopleDirectory.Standings[place],
            inUse.And(state.Seen(Viewer.OwnSites(state.PeopleDirectory.People[place].Id, state.PeopleDirectory)).All).CountYes
        ));
    }

    // An exact name first, then a name that begins with the text, then a name with a word that does.
    private static int Rank(string name, string wanted) =>
        name.Equals(wanted, StringComparison.OrdinalIgnoreCase) ? 0
        : name.StartsWith(wanted, StringComparison.OrdinalIgnoreCase) ? 1
        : name.Contains($" {wanted}", StringComparison.OrdinalIgnoreCase) ? 2
        : 3;
}
