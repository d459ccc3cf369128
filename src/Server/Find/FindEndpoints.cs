using AtticLedger.Core.Filters;
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

namespace AtticLedger.Server.Find;

/// <param name="Existence">Whether it is in use, in the attic or cleared for good.</param>
public sealed record FoundSiteWire(
    long Id,
    string Title,
    string? Address,
    string Host,
    UnitWire? Unit,
    Existence Existence,
    Stage? Stage,
    bool Vanished
);

/// <param name="Sites">Of how many sites that the viewer may see the person holds a key.</param>
public sealed record FoundPersonWire(PersonWire Person, Standing Standing, int Sites);

/// <param name="MoreSites">How many sites are not listed.</param>
public sealed record FoundWire(IReadOnlyList<FoundSiteWire> Sites, int MoreSites, IReadOnlyList<FoundPersonWire> People);

/// <summary>What has a text in its name or address, the likeliest first.</summary>
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
            .WithSummary(
                "Sites by name or address and people by name or mail, in whatever state, as far as the viewer may see them."
            );

    private static async Task<Results<Ok<FoundWire>, ProblemHttpResult>> Look(HttpContext context, LedgerSheet sheet, string text)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var wanted = text.Trim();
        if (wanted.Length is 0 or > LongestText)
        {
            return TypedResults.Problem(statusCode: 400, title: $"Name 1 to {LongestText} characters.");
        }

        var viewer = Viewer.Of(context);
        var seen = state.Seen(viewer.SightOn(state.Roll));
        var (sites, more) = Sites(wanted, state, seen);
        return TypedResults.Ok(new FoundWire(sites, more, viewer.Role == Role.Owner ? [] : People(wanted, state, seen)));
    }

    /// <summary>The likeliest sites by name or address, in whatever state, and how many more there are.</summary>
    internal static (IReadOnlyList<FoundSiteWire> Sites, int More) Sites(string wanted, LedgerState state, SeenSheet seen)
    {
        var quoted = System.Text.Json.JsonSerializer.Serialize(wanted);
        var found = seen.Where(
            Filter.Parse(
                $"title co {quoted} or name co {quoted} or address co {System.Text.Json.JsonSerializer.Serialize(wanted.ToLowerInvariant())}",
                JudgedLine.Attributes
            )
        );
        var sites = seen.Lines(found)
            .OrderBy(line => Rank(line.Title, wanted))
            .ThenBy(line => line.Existence)
            .ThenBy(line => line.Title, StringComparer.OrdinalIgnoreCase)
            .Take(MostSites)
            .ToList();
        return (
            sites.ConvertAll(line => new FoundSiteWire(
                line.Id.Value,
                line.Title,
                line.Address.Has(out var address) ? address : null,
                line.Host,
                LineWriter.Unit(line.Unit, state),
                line.Existence,
                line.Stage.Has(out var stage) ? stage : null,
                line.Vanished
            )),
            found.CountYes - sites.Count
        );
    }

    private static List<FoundPersonWire> People(string wanted, LedgerState state, SeenSheet seen)
    {
        // Where the finder leads from a person is the sentence about what they own: the same sites are counted.
        var inUse = seen.Where(Filter.Parse("existence eq \"here\"", JudgedLine.Attributes));
        var found = Enumerable
            .Range(0, state.Roll.People.Count)
            .Where(place =>
                state.Roll.People[place] is { Mail.Length: > 0 } person
                && (
                    person.Name.Contains(wanted, StringComparison.OrdinalIgnoreCase)
                    || person.Mail.StartsWith(wanted, StringComparison.OrdinalIgnoreCase)
                )
            )
            .OrderBy(place => Rank(state.Roll.People[place].Name, wanted))
            .ThenBy(place => state.Roll.People[place].Name, StringComparer.OrdinalIgnoreCase)
            .ThenBy(place => place)
            .Take(MostPeople)
            .ToList();
        return found.ConvertAll(place => new FoundPersonWire(
            PersonWire.Of(state.Roll.People[place].Id, state.Roll),
            state.Roll.Standings[place],
            inUse.And(state.Seen(Viewer.OwnSites(state.Roll.People[place].Id, state.Roll)).All).CountYes
        ));
    }

    // The very name, then one that begins so, then one in which a word does.
    private static int Rank(string name, string wanted) =>
        name.Equals(wanted, StringComparison.OrdinalIgnoreCase) ? 0
        : name.StartsWith(wanted, StringComparison.OrdinalIgnoreCase) ? 1
        : name.Contains($" {wanted}", StringComparison.OrdinalIgnoreCase) ? 2
        : 3;
}
