using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The state of a change at a host. Queued is not done, and confirmed is not verified.</summary>
public enum ChangeState : byte
{
    Queued,
    Sent,
    Confirmed,
    Verified,

    /// <summary>The host had confirmed it, and a later sync shows something different.</summary>
    Contradicted,
    Refused,
    Withdrawn,
    Superseded,
    GivenUp,
}

public enum ChangeEvent : byte
{
    Send,
    Confirm,
    Refuse,

    /// <summary>No response, or "later": the change is tried again.</summary>
    Wait,
    Verify,
    Contradict,
    Withdraw,
    Supersede,
    GiveUp,

    /// <summary>It was assigned to a person, who is told to stop.</summary>
    Cancel,

    /// <summary>A person reported it done and it is not: it is returned.</summary>
    Return,
}

public enum ChangePurpose : byte
{
    Reach,
    Owners,
    MoveToAttic,
    Restore,

    /// <summary>Name, description or logo.</summary>
    Look,
    Address,
}

/// <summary>The states of a change, as a table.</summary>
public static class ChangeStates
{
    public static readonly StateTable<ChangeState, ChangeEvent> Table = new(
        "a change",
        new()
        {
            [(ChangeState.Queued, ChangeEvent.Send)] = ChangeState.Sent,
            [(ChangeState.Queued, ChangeEvent.Withdraw)] = ChangeState.Withdrawn,
            [(ChangeState.Queued, ChangeEvent.Supersede)] = ChangeState.Superseded,
            [(ChangeState.Sent, ChangeEvent.Send)] = ChangeState.Sent,
            [(ChangeState.Sent, ChangeEvent.Wait)] = ChangeState.Sent,
            [(ChangeState.Sent, ChangeEvent.Confirm)] = ChangeState.Confirmed,
            [(ChangeState.Sent, ChangeEvent.Refuse)] = ChangeState.Refused,
            [(ChangeState.Sent, ChangeEvent.GiveUp)] = ChangeState.GivenUp,
            [(ChangeState.Sent, ChangeEvent.Cancel)] = ChangeState.Withdrawn,
            [(ChangeState.Confirmed, ChangeEvent.Verify)] = ChangeState.Verified,
            [(ChangeState.Confirmed, ChangeEvent.Contradict)] = ChangeState.Contradicted,
            [(ChangeState.Contradicted, ChangeEvent.Return)] = ChangeState.Sent,
        }
    );

    /// <summary>The work of the change queue: what still has to be sent to the host.</summary>
    public static bool IsOpen(this ChangeState state) => state is ChangeState.Queued or ChangeState.Sent;

    public static bool HadEffect(this ChangeState state) => state is ChangeState.Confirmed or ChangeState.Verified;
}

/// <summary>A change at a host. It names the wanted end state and not a step, so it is idempotent. Its id is the idempotency key
/// at the host.
/// </summary>
public sealed record HostChange
{
    public required ChangeId Id { get; init; }

    public required SiteId Site { get; init; }

    /// <summary>The place in the site's change queue: the number of the journal entry that requested it.</summary>
    public long Place { get; init; }

    public required WantedState WantedState { get; init; }

    /// <summary>The previous state of the grants that the request names: what undoing restores.</summary>
    public required IReadOnlyList<GrantChange> Before { get; init; }

    /// <summary>The previous look and address, as far as the request names them: what undoing restores.</summary>
    public WantedState? Former { get; init; }

    public ChangeState State { get; init; } = ChangeState.Queued;

    public required PersonId By { get; init; }

    public string? Reason { get; init; }

    public ChangeId? UndoOf { get; init; }

    /// <summary>The action it serves: decides what follows from the host's response, and whether it can be undone
    /// alone.</summary>
    public ChangePurpose Purpose { get; init; }

    public required DateTimeOffset RequestedAt { get; init; }

    /// <summary>If not confirmed by then, the change is shown as overdue.</summary>
    public required DateTimeOffset DueAt { get; init; }

    public int Attempts { get; init; }

    public DateTimeOffset NextTry { get; init; }

    public string? Lease { get; init; }

    public DateTimeOffset? LeaseUntil { get; init; }

    public DateTimeOffset? SentAt { get; init; }

    public DateTimeOffset? ConfirmedAt { get; init; }

    public DateTimeOffset? SeenAt { get; init; }

    /// <summary>The latest message of the host, verbatim.</summary>
    public string? Words { get; init; }

    public bool IsOverdue(DateTimeOffset now) => State.IsOpen() && now > DueAt;

    /// <exception cref="InvalidOperationException">The state table has no such transition: an error in the product, never of a
    /// host.</exception>
    public HostChange Move(ChangeEvent happened) => this with { State = ChangeStates.Table.Next(State, happened) };
}
