using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Register;

/// <summary>A part of a filter.</summary>
/// <param name="Part">unit, reach, rule, status, where, filter, or in-use for the default.</param>
/// <param name="Place">Of a clause, counted from 0; null for the other parts.</param>
/// <param name="Without">The number of sites that match all other parts.</param>
/// <param name="LeavesOut">True if this part does not match the site that was asked for; null without one, or if it cannot be
/// told.</param>
public sealed record FilterPart(string Part, int? Place, string Words, int Without, bool? LeavesOut);

/// <summary>Which part of a filter leaves sites out.</summary>
internal static class LeftOutEndpoint
{
    public static void MapLeftOut(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/register/left-out", Look)
            .WithTags("Register")
            .RequireAuthorization(Policies.Read)
            .WithName("leftOut")
            .WithSummary("For each part of a filter, how many sites match all other parts, and whether it leaves a site out.");

    private static Results<Ok<IReadOnlyList<FilterPart>>, BadRequest<FilterProblem>> Look(
        SeenRegister register,
        [AsParameters] SentenceQuery query,
        long? site = null
    )
    {
        var (seen, directory) = (register.Visible, register.State.PeopleDirectory);
        try
        {
            var sentence = Sentence.Of(query, directory);
            var place = site is { } id && seen.Find(new SiteId(id)) is { } line ? line.Place : (int?)null;
            return TypedResults.Ok<IReadOnlyList<FilterPart>>([
                .. sentence
                    .PartsInWords(register.State)
                    .Select(part => new FilterPart(
                        part.Part,
                        part.Place,
                        part.Words,
                        sentence.Without(part.Name, seen.Columns).And(seen.All).CountYes,
                        place is { } at
                            ? sentence.Only(part.Name, seen.Columns)[at] switch
                            {
                                Truth.Yes => false,
                                Truth.No => true,
                                _ => null,
                            }
                            : null
                    )),
            ]);
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }
}
