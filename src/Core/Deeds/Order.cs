using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>How far an order to a host has come. Asked is not done, and done is not seen.</summary>
public enum OrderState : byte
{
    Asked,
    Sent,
    Confirmed,
    Seen,

    /// <summary>The host had confirmed it, and a later read shows something else.</summary>
    Contradicted,
    Refused,
    Withdrawn,
    Superseded,
    GivenUp,
}

public enum OrderEvent : byte
{
    Send,
    Confirm,
    Refuse,

    /// <summary>No answer, or "later": the order is tried again.</summary>
    Wait,
    SeenSo,
    SeenOtherwise,
    Withdraw,
    Supersede,
    GiveUp,

    /// <summary>It was given to a person, who is told to leave it.</summary>
    CallBack,

    /// <summary>A person had done it, and it is not so: it goes back to them.</summary>
    GiveBack,
}

public enum OrderPurpose : byte
{
    Reach,
    Key,
    PutAway,
    BringBack,
}

/// <summary>Which events an order's state allows and where they lead. The screens' buttons come from this table too.</summary>
public static class OrderStates
{
    private static readonly Dictionary<(OrderState, OrderEvent), OrderState> Moves = new()
    {
        [(OrderState.Asked, OrderEvent.Send)] = OrderState.Sent,
        [(OrderState.Asked, OrderEvent.Withdraw)] = OrderState.Withdrawn,
        [(OrderState.Asked, OrderEvent.Supersede)] = OrderState.Superseded,
        [(OrderState.Sent, OrderEvent.Send)] = OrderState.Sent,
        [(OrderState.Sent, OrderEvent.Wait)] = OrderState.Sent,
        [(OrderState.Sent, OrderEvent.Confirm)] = OrderState.Confirmed,
        [(OrderState.Sent, OrderEvent.Refuse)] = OrderState.Refused,
        [(OrderState.Sent, OrderEvent.GiveUp)] = OrderState.GivenUp,
        [(OrderState.Sent, OrderEvent.CallBack)] = OrderState.Withdrawn,
        [(OrderState.Confirmed, OrderEvent.SeenSo)] = OrderState.Seen,
        [(OrderState.Confirmed, OrderEvent.SeenOtherwise)] = OrderState.Contradicted,
        [(OrderState.Contradicted, OrderEvent.GiveBack)] = OrderState.Sent,
    };

    public static OrderState? After(OrderState state, OrderEvent happened) =>
        Moves.TryGetValue((state, happened), out var next) ? next : null;

    /// <summary>The lane's work: what is still to be brought to the host.</summary>
    public static bool IsOpen(this OrderState state) => state is OrderState.Asked or OrderState.Sent;

    public static bool HadEffect(this OrderState state) => state is OrderState.Confirmed or OrderState.Seen;
}

/// <summary>
/// An order to a host. It names the wanted end state and not a step, so that carrying it out twice is carrying it out
/// once. Its id is the key by which the host knows it again.
/// </summary>
public sealed record Order
{
    public required OrderId Id { get; init; }

    public required SiteId Site { get; init; }

    /// <summary>The place in the site's lane: the number of the journal entry that asked for it.</summary>
    public long Place { get; init; }

    public required Wish Wish { get; init; }

    /// <summary>The grants that the wish names, as they were: what undoing restores.</summary>
    public required IReadOnlyList<GrantChange> Before { get; init; }

    public OrderState State { get; init; } = OrderState.Asked;

    public required PersonId By { get; init; }

    public string? Reason { get; init; }

    public OrderId? UndoOf { get; init; }

    /// <summary>Which deed it serves: what follows from the host's answer, and whether it can be undone by itself.</summary>
    public OrderPurpose Purpose { get; init; }

    public required DateTimeOffset AskedAt { get; init; }

    /// <summary>Not confirmed by then, the order is shown as overdue.</summary>
    public required DateTimeOffset DueAt { get; init; }

    public int Attempts { get; init; }

    public DateTimeOffset NextTry { get; init; }

    public string? Lease { get; init; }

    public DateTimeOffset? LeaseUntil { get; init; }

    public DateTimeOffset? SentAt { get; init; }

    public DateTimeOffset? ConfirmedAt { get; init; }

    public DateTimeOffset? SeenAt { get; init; }

    /// <summary>What the host last said, in its own words.</summary>
    public string? Words { get; init; }

    public bool IsOverdue(DateTimeOffset now) => State.IsOpen() && now > DueAt;

    /// <exception cref="InvalidOperationException">The state table has no such move: a fault of ours, never of a host.</exception>
    public Order Move(OrderEvent happened) =>
        OrderStates.After(State, happened) is { } next
            ? this with
            {
                State = next,
            }
            : throw new InvalidOperationException($"An order that is {State} cannot {happened}.");
}
