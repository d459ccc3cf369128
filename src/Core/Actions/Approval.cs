using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The state of a request for approval by a second person.</summary>
public enum ApprovalState : byte
{
    Requested,
    Approved,
    Declined,
    Withdrawn,
    Lapsed,

    /// <summary>The action can no longer be done on today's facts.</summary>
    Void,
}

public enum ApprovalEvent : byte
{
    Approve,
    Decline,
    Withdraw,
    Lapse,

    /// <summary>The effect has changed, so the request asks again.</summary>
    FactsChanged,
    NotPossible,
}

/// <summary>The states of an approval, as a table.</summary>
public static class ApprovalStates
{
    public static readonly StateTable<ApprovalState, ApprovalEvent> Table = new(
        "an approval",
        new()
        {
            [(ApprovalState.Requested, ApprovalEvent.Approve)] = ApprovalState.Approved,
            [(ApprovalState.Requested, ApprovalEvent.Decline)] = ApprovalState.Declined,
            [(ApprovalState.Requested, ApprovalEvent.Withdraw)] = ApprovalState.Withdrawn,
            [(ApprovalState.Requested, ApprovalEvent.Lapse)] = ApprovalState.Lapsed,
            [(ApprovalState.Requested, ApprovalEvent.FactsChanged)] = ApprovalState.Requested,
            [(ApprovalState.Requested, ApprovalEvent.NotPossible)] = ApprovalState.Void,
        }
    );
}

/// <summary>An action that waits for a second person. It is decided again when they agree; if the effect differs, it asks
/// again.</summary>
public sealed record Approval
{
    public required ApprovalId Id { get; init; }

    public required SiteId Site { get; init; }

    public ApprovalState State { get; init; }

    /// <summary>The action's name and its original request.</summary>
    public required ActionName Action { get; init; }

    public required string Request { get; init; }

    public required PersonId By { get; init; }

    public required Capacity As { get; init; }

    public string? Reason { get; init; }

    /// <summary>Why a second person has to agree.</summary>
    public required Remark Because { get; init; }

    public required DateTimeOffset RequestedAt { get; init; }

    public required DateOnly Through { get; init; }

    /// <summary>The fingerprint of the plan to approve.</summary>
    public required string Fingerprint { get; init; }

    /// <summary>How often the facts have changed since the request.</summary>
    public int Renewed { get; init; }

    public PersonId? AnsweredBy { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <exception cref="InvalidOperationException">The state table has no such transition.</exception>
    public Approval Move(ApprovalEvent happened) => this with { State = ApprovalStates.Table.Next(State, happened) };

    public static Approval Ask(
        ApprovalId id,
        ActionFacts facts,
        ActionName action,
        string wanted,
        string? reason,
        Actor actor,
        Decision.Plan plan
    ) =>
        new()
        {
            Id = id,
            Site = facts.Site.Id,
            Action = action,
            Request = wanted,
            By = actor.Person,
            As = actor.As,
            Reason = reason,
            Because = plan.NeedsSecond ?? throw new InvalidOperationException("This action needs no second person."),
            RequestedAt = facts.Now,
            Through = facts.PeopleDirectory.Time.DayOf(facts.Now).Plus(facts.Organisation.ApprovalDays),
            Fingerprint = plan.Fingerprint,
        };

    /// <summary>Nobody approves their own request.</summary>
    public bool MayBeAnsweredBy(PersonId person) => State == ApprovalState.Requested && person != By;

    /// <summary>The result of an agreement on today's facts: granted if the effect is the one that was requested and
    /// previewed.</summary>
    /// <param name="seen">The fingerprint that they saw.</param>
    public Approval Answer(Decision today, string seen, PersonId by, DateTimeOffset now) =>
        today switch
        {
            Decision.Plan plan when plan.Fingerprint == Fingerprint && seen == Fingerprint => Move(ApprovalEvent.Approve) with
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

    public Draft Entry(JournalAction what, EntryActor actor) =>
        new(what, actor, EntrySubject.Of(Site))
        {
            OnBehalf = EntryActor.Of(By),
            After = JournalValue.Of(
                ("approval", JournalValue.Of(Id.ToString())),
                ("action", JournalValue.Of(Action.Text())),
                ("effect", JournalValue.Of(Fingerprint)),
                ("through", JournalValue.Of(Through.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)))
            ),
            Reason = Reason,
        };
}
