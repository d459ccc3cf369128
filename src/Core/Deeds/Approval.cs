using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>How far the asking of a second person has come.</summary>
public enum ApprovalState : byte
{
    Asked,
    Given,
    TurnedDown,
    Withdrawn,
    Lapsed,

    /// <summary>The deed can no longer be done on today's facts.</summary>
    Void,
}

public enum ApprovalEvent : byte
{
    Give,
    TurnDown,
    Withdraw,
    Lapse,

    /// <summary>The deed would come to something else by now: it is asked anew.</summary>
    FactsChanged,
    NotPossible,
}

/// <summary>Which events an approval's state allows and where they lead. The screens' buttons come from this table too.</summary>
public static class ApprovalStates
{
    private static readonly Dictionary<(ApprovalState, ApprovalEvent), ApprovalState> Moves = new()
    {
        [(ApprovalState.Asked, ApprovalEvent.Give)] = ApprovalState.Given,
        [(ApprovalState.Asked, ApprovalEvent.TurnDown)] = ApprovalState.TurnedDown,
        [(ApprovalState.Asked, ApprovalEvent.Withdraw)] = ApprovalState.Withdrawn,
        [(ApprovalState.Asked, ApprovalEvent.Lapse)] = ApprovalState.Lapsed,
        [(ApprovalState.Asked, ApprovalEvent.FactsChanged)] = ApprovalState.Asked,
        [(ApprovalState.Asked, ApprovalEvent.NotPossible)] = ApprovalState.Void,
    };

    public static ApprovalState? After(ApprovalState state, ApprovalEvent happened) =>
        Moves.TryGetValue((state, happened), out var next) ? next : null;
}

/// <summary>A deed that waits for a second person. It is decided again when they agree; another effect is asked anew.</summary>
public sealed record Approval
{
    public required ApprovalId Id { get; init; }

    public required SiteId Site { get; init; }

    public ApprovalState State { get; init; }

    /// <summary>The deed's name, and its wish as it was put.</summary>
    public required string Deed { get; init; }

    public required string Wish { get; init; }

    public required PersonId By { get; init; }

    public required Capacity As { get; init; }

    public string? Reason { get; init; }

    /// <summary>Why a second person has to agree.</summary>
    public required string Because { get; init; }

    public required DateTimeOffset AskedAt { get; init; }

    public required DateOnly Through { get; init; }

    /// <summary>Of the plan that is asked for.</summary>
    public required string Fingerprint { get; init; }

    /// <summary>How often the facts have changed since it was first asked.</summary>
    public int Renewed { get; init; }

    public PersonId? AnsweredBy { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <exception cref="InvalidOperationException">The state table has no such move.</exception>
    public Approval Move(ApprovalEvent happened) =>
        ApprovalStates.After(State, happened) is { } next
            ? this with
            {
                State = next,
            }
            : throw new InvalidOperationException($"An approval that is {State} cannot {happened}.");

    public static Approval Ask(
        ApprovalId id,
        DeedFacts facts,
        string deed,
        string wish,
        string? reason,
        Doer doer,
        Decision.Plan plan
    ) =>
        new()
        {
            Id = id,
            Site = facts.Site.Id,
            Deed = deed,
            Wish = wish,
            By = doer.Person,
            As = doer.As,
            Reason = reason,
            Because = plan.NeedsSecond ?? throw new InvalidOperationException("This deed needs no second person."),
            AskedAt = facts.Now,
            Through = facts.Roll.Time.DayOf(facts.Now).Plus(facts.House.ApprovalDays),
            Fingerprint = plan.Fingerprint,
        };

    /// <summary>Nobody approves what they asked for.</summary>
    public bool MayBeAnsweredBy(PersonId person) => State == ApprovalState.Asked && person != By;

    /// <summary>What somebody who agrees comes to on today's facts: given where the effect is the one they saw and it was asked for.</summary>
    /// <param name="seen">The fingerprint that they saw.</param>
    public Approval Answer(Decision today, string seen, PersonId by, DateTimeOffset now) =>
        today switch
        {
            Decision.Plan plan when plan.Fingerprint == Fingerprint && seen == Fingerprint => Move(ApprovalEvent.Give) with
            {
                AnsweredBy = by,
                EndedAt = now,
            },
            Decision.Plan plan when plan.Fingerprint != Fingerprint => Move(ApprovalEvent.FactsChanged) with
            {
                Fingerprint = plan.Fingerprint,
                Renewed = Renewed + 1,
            },
            Decision.Plan => this,
            _ => Move(ApprovalEvent.NotPossible) with { EndedAt = now },
        };

    public Draft Entry(string what, string actor) =>
        new($"approval.{what}", actor, $"site:{Site.Value}")
        {
            OnBehalf = $"person:{By.Value}",
            After = JournalValue.Of(
                ("approval", JournalValue.Of(Id.ToString())),
                ("deed", JournalValue.Of(Deed)),
                ("effect", JournalValue.Of(Fingerprint)),
                ("through", JournalValue.Of(Through.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)))
            ),
            Reason = Reason,
        };
}
