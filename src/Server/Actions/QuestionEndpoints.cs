using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Actions;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <param name="Words">What an administrator reads; only the answer that it is fixed needs none.</param>
public sealed record AnswerRequest(QuestionAnswer Answer, string? Words);

public sealed record AskAgainRequest(string? Reason);

/// <summary>Questions to owners about findings.</summary>
internal static class QuestionEndpoints
{
    public static void MapQuestions(this IEndpointRouteBuilder app)
    {
        var questions = app.MapGroup("/api/questions/{question:guid}").WithTags("Actions").RequireAuthorization(Policies.Act);
        questions
            .MapPost("/answer", Answer)
            .Carries(ActionName.QuestionAnswer)
            .WithName("answerQuestion")
            .WithSummary("Answers a question about a finding, as an owner of the site; a later answer replaces it.");
        questions
            .MapPost("/ask-again", AskAgain)
            .Carries(ActionName.QuestionAskAgain)
            .WithName("askOwnersAgain")
            .WithSummary("Asks the owners again, with the days of the rule from today on; not by owners.");
    }

    private static Task<ActionAnswer> Answer(Guid question, AnswerRequest request, HttpContext context) =>
        About(question, ActionName.QuestionAnswer, request, context, (facts, id, actor) =>
            AskingOwners.Reply(facts, id, request.Answer, SiteActionAnswers.Reason(request.Words), actor)
        );

    private static Task<ActionAnswer> AskAgain(Guid question, AskAgainRequest request, HttpContext context) =>
        About(question, ActionName.QuestionAskAgain, request, context, (facts, id, actor) =>
            AskingOwners.AskAgain(facts, id, SiteActionAnswers.Reason(request.Reason), actor)
        );

    private static Task<ActionAnswer> About(
        Guid question,
        ActionName action,
        object request,
        HttpContext context,
        Func<ActionFacts, QuestionId, Actor, Decision> decide
    )
    {
        var (id, viewer) = (new QuestionId(question), Viewer.Of(context));
        return context.Carry(
            new SiteAction(
                action,
                facts => facts.Connection.SiteOfQuestion(id),
                viewer,
                (facts, _) => decide(facts, id, viewer.Actor())
            )
            {
                What = "question",
                // A steward may own a site of another unit, and answers as its owner.
                Sees =
                    action == ActionName.QuestionAnswer
                        ? facts =>
                            viewer.ScopeOn(facts.PeopleDirectory).Sees(facts.Site)
                            || viewer.OwnSites(facts.PeopleDirectory).Sees(facts.Site)
                        : null,
                WithNeighbours = false,
            },
            null,
            request
        );
    }
}
