using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The state of a question to the owners of a site about a finding.</summary>
public enum QuestionState : byte
{
    Asked,
    Answered,

    /// <summary>Its last day has passed, or there was nobody to ask: an administrator decides.</summary>
    Overdue,

    /// <summary>Its last day has passed, and restricting access was requested.</summary>
    Restricted,

    /// <summary>There is nothing to answer any more: the finding has ended, or the rule asks nobody.</summary>
    Ended,
}

public enum QuestionEvent : byte
{
    Answer,
    AskAgain,
    LastDayPassed,
    Restrict,
    NothingToAnswer,
}

public enum QuestionAnswer : byte
{
    Fixed,
    NeedsException,
    NotMine,
}

public static class QuestionStates
{
    public static readonly StateTable<QuestionState, QuestionEvent> Table = new(
        "a question to owners",
        new()
        {
            [(QuestionState.Asked, QuestionEvent.Answer)] = QuestionState.Answered,
            [(QuestionState.Answered, QuestionEvent.Answer)] = QuestionState.Answered,
            [(QuestionState.Overdue, QuestionEvent.Answer)] = QuestionState.Answered,
            [(QuestionState.Answered, QuestionEvent.AskAgain)] = QuestionState.Asked,
            [(QuestionState.Overdue, QuestionEvent.AskAgain)] = QuestionState.Asked,
            // The change was undone before it was sent, or the host refused it.
            [(QuestionState.Restricted, QuestionEvent.AskAgain)] = QuestionState.Asked,
            [(QuestionState.Asked, QuestionEvent.LastDayPassed)] = QuestionState.Overdue,
            // Who says that it is fixed has not answered for good while it is found.
            [(QuestionState.Answered, QuestionEvent.LastDayPassed)] = QuestionState.Overdue,
            [(QuestionState.Asked, QuestionEvent.Restrict)] = QuestionState.Restricted,
            [(QuestionState.Answered, QuestionEvent.Restrict)] = QuestionState.Restricted,
            [(QuestionState.Asked, QuestionEvent.NothingToAnswer)] = QuestionState.Ended,
            [(QuestionState.Answered, QuestionEvent.NothingToAnswer)] = QuestionState.Ended,
            [(QuestionState.Overdue, QuestionEvent.NothingToAnswer)] = QuestionState.Ended,
            [(QuestionState.Restricted, QuestionEvent.NothingToAnswer)] = QuestionState.Ended,
        }
    );
}

/// <summary>The owners of a site are asked about one finding, until it ends.</summary>
public sealed record OwnerQuestion
{
    public required QuestionId Id { get; init; }

    public required SiteId Site { get; init; }

    public required RuleId Rule { get; init; }

    public QuestionState State { get; init; }

    public required DateTimeOffset AskedAt { get; init; }

    /// <summary>The last day on which an answer changes what follows.</summary>
    public required DateOnly Through { get; init; }

    /// <summary>Who put the rule in force that restricts access after the last day, as the owners are told; null if it does not.</summary>
    public PersonId? RestrictsFor { get; init; }

    public bool Restricts => RestrictsFor is not null;

    /// <summary>The owners who were asked; empty if none is active.</summary>
    public required ValueList<PersonId> Asked { get; init; }

    public QuestionAnswer? Answer { get; init; }

    public PersonId? AnsweredBy { get; init; }

    public DateTimeOffset? AnsweredAt { get; init; }

    /// <summary>What they wrote.</summary>
    public string? Words { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>True if the last day decides: nobody has answered otherwise than that it is fixed.</summary>
    public bool WaitsForLastDay =>
        State == QuestionState.Asked || (State == QuestionState.Answered && Answer == QuestionAnswer.Fixed);

    /// <exception cref="InvalidOperationException">The state table has no such transition.</exception>
    public OwnerQuestion Move(QuestionEvent happened) => this with { State = QuestionStates.Table.Next(State, happened) };
}
