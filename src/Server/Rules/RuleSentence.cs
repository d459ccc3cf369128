using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Rules;

/// <param name="Expression">The scope or the demand of a rule.</param>
/// <param name="Place">The part to replace, or the number of parts to add one; null to change nothing.</param>
/// <param name="Clause">What takes its place, as a <c>where</c> of the register's address; null to remove it.</param>
public sealed record RuleSentenceRequest(string Expression, int? Place, string? Clause);

/// <summary>A condition of the expression.</summary>
/// <param name="Clause">The same as a clause; null if only an expression can say it.</param>
public sealed record RuleSentencePart(string Text, string? Clause, string? Words);

/// <param name="Expression">The expression as changed.</param>
/// <param name="Parts">The conditions that all have to hold, in sequence; none in an empty expression.</param>
public sealed record RuleSentenceResponse(string Expression, IReadOnlyList<RuleSentencePart> Parts);

/// <summary>An expression of a rule as a sentence of parts. A change of a part changes only its text, so both stay in step.
/// </summary>
internal static class RuleSentence
{
    public static void MapRuleSentence(this IEndpointRouteBuilder app) =>
        app.MapGroup("/api/rules")
            .WithTags("Rules")
            .RequireAuthorization(Policies.Read)
            .MapPost("/sentence", Change)
            .Previews()
            .WithName("ruleSentence")
            .WithSummary(
                "The conditions of a rule's scope or demand, in words where a clause can say them, after a change of one of them. 400 names the column and what was expected there."
            );

    private static Results<Ok<RuleSentenceResponse>, BadRequest<FilterProblem>> Change(
        RuleSentenceRequest request,
        SeenRegister register
    )
    {
        var directory = register.State.PeopleDirectory;
        try
        {
            if (request.Expression.Length > RuleExpression.LongestExpression)
            {
                throw new FilterError(
                    RuleExpression.LongestExpression + 1,
                    $"an expression has at most {RuleExpression.LongestExpression} characters"
                );
            }

            var conditions = Conditions(request.Expression);
            if (request.Place is not { } place)
            {
                return TypedResults.Ok(new RuleSentenceResponse(request.Expression, Parts(conditions, directory)));
            }

            var texts = conditions.Select(condition => condition.Text).ToList();
            if (place < 0 || place > texts.Count)
            {
                throw new FilterError(1, $"there are {texts.Count} conditions, and none at {place}");
            }

            texts.RemoveRange(place, place < texts.Count ? 1 : 0);
            if (request.Clause is { } clause)
            {
                texts.Insert(place, Clause.Parse(clause).Filter(directory, keepsPeriods: true));
            }

            var expression = string.Join(" and ", texts.Count > 1 ? texts.Select(InAnd) : texts);
            return TypedResults.Ok(new RuleSentenceResponse(expression, Parts(Conditions(expression), directory)));
        }
        catch (FilterError error)
        {
            return TypedResults.BadRequest(new FilterProblem("expression", error.Column, error.Message));
        }
    }

    private static IReadOnlyList<(string Text, FilterSyntax Syntax)> Conditions(string expression) =>
        string.IsNullOrWhiteSpace(expression) ? [] : FilterParser.Conditions(expression);

    // "or" binds after "and", so what it joins is set in parentheses.
    private static string InAnd(string text) =>
        FilterParser.Conditions($"{text} and existence pr")[0].Text == text ? text : $"({text})";

    private static List<RuleSentencePart> Parts(
        IReadOnlyList<(string Text, FilterSyntax Syntax)> conditions,
        PeopleDirectory directory
    ) =>
        [
            .. conditions.Select(condition =>
            {
                var clause = ClauseReader.Of(condition.Syntax, directory.Time);
                return new RuleSentencePart(condition.Text, clause?.ToString(), clause?.Words(directory, keepsPeriods: true));
            }),
        ];
}
