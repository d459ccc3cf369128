using AtticLedger.Core.Actions;
using AtticLedger.Core.People;

namespace AtticLedger.Server.Contracts;

/// <summary>A question to the owners of a site about a finding.</summary>
/// <param name="Rule">The id of the rule that the site breaks.</param>
/// <param name="Through">The last day on which an answer changes what follows.</param>
/// <param name="Restricts">True if access is restricted after the last day, unless somebody answers.</param>
/// <param name="Asked">The owners who were asked; empty if none was active.</param>
/// <param name="Words">What the owner wrote with the answer.</param>
public sealed record QuestionResponse(
    Guid Id,
    string Rule,
    QuestionState State,
    DateTimeOffset AskedAt,
    DateOnly Through,
    bool Restricts,
    IReadOnlyList<PersonResponse> Asked,
    QuestionAnswer? Answer,
    PersonResponse? AnsweredBy,
    DateTimeOffset? AnsweredAt,
    string? Words
)
{
    public static QuestionResponse Of(OwnerQuestion question, PeopleDirectory directory) =>
        new(
            question.Id.Value,
            question.Rule.Value,
            question.State,
            question.AskedAt,
            question.Through,
            question.Restricts,
            [.. question.Asked.Select(person => PersonResponse.Of(person, directory))],
            question.Answer,
            question.AnsweredBy is { } by ? PersonResponse.Of(by, directory) : null,
            question.AnsweredAt,
            question.Words
        );
}
