using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>How far the offer of a key has come. Offered is not accepted, and accepted is not switched.</summary>
public enum OfferState : byte
{
    Offered,

    /// <summary>Countersigned; the host has been asked to switch.</summary>
    Switching,
    HandedOver,
    Declined,
    Lapsed,
    Withdrawn,

    /// <summary>The site was put away, or the recipient can no longer take it.</summary>
    Void,

    /// <summary>The host refused to switch.</summary>
    NotDone,
}

public enum OfferEvent : byte
{
    Countersign,
    Decline,
    Lapse,
    Withdraw,
    SitePutAway,
    RecipientUnfit,
    Switched,
    SwitchRefused,

    /// <summary>The switch was done by hand and is not so: its task went back.</summary>
    GivenBack,
}

/// <summary>Which events an offer's state allows and where they lead. The screens' buttons come from this table too.</summary>
public static class OfferStates
{
    private static readonly Dictionary<(OfferState, OfferEvent), OfferState> Moves = new()
    {
        [(OfferState.Offered, OfferEvent.Countersign)] = OfferState.Switching,
        [(OfferState.Offered, OfferEvent.Decline)] = OfferState.Declined,
        [(OfferState.Offered, OfferEvent.Lapse)] = OfferState.Lapsed,
        [(OfferState.Offered, OfferEvent.Withdraw)] = OfferState.Withdrawn,
        [(OfferState.Offered, OfferEvent.SitePutAway)] = OfferState.Void,
        [(OfferState.Offered, OfferEvent.RecipientUnfit)] = OfferState.Void,
        // Looked at once more before the host is asked: the order was withdrawn.
        [(OfferState.Switching, OfferEvent.RecipientUnfit)] = OfferState.Void,
        [(OfferState.Switching, OfferEvent.Switched)] = OfferState.HandedOver,
        [(OfferState.Switching, OfferEvent.SwitchRefused)] = OfferState.NotDone,
        [(OfferState.HandedOver, OfferEvent.GivenBack)] = OfferState.Switching,
    };

    public static OfferState? After(OfferState state, OfferEvent happened) =>
        Moves.TryGetValue((state, happened), out var next) ? next : null;

    public static bool IsOpen(this OfferState state) => state is OfferState.Offered or OfferState.Switching;
}

/// <summary>What becomes of the giver.</summary>
public enum GiverAfter : byte
{
    /// <summary>Stays on as an editor.</summary>
    Stays,

    /// <summary>Leaves: keeps nothing by name.</summary>
    Leaves,
}

/// <summary>The offer of a site's key to one person, until they answer or its last day passes.</summary>
public sealed record Offer
{
    public required OfferId Id { get; init; }

    public required SiteId Site { get; init; }

    public OfferState State { get; init; }

    public required PersonId To { get; init; }

    /// <summary>Whose key it is; null where nobody held one.</summary>
    public PersonId? Giver { get; init; }

    public GiverAfter After { get; init; }

    /// <summary>Who offered it: the giver, or an administrator in the place of one who is gone.</summary>
    public required PersonId By { get; init; }

    /// <summary>The second person who agreed, where one had to.</summary>
    public PersonId? Second { get; init; }

    public string? Reason { get; init; }

    public required DateTimeOffset OfferedAt { get; init; }

    /// <summary>The last day on which it can be answered.</summary>
    public required DateOnly Through { get; init; }

    public DateTimeOffset? AnsweredAt { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>The order that switches.</summary>
    public OrderId? Order { get; init; }

    /// <summary>What the host said, or why it came to nothing.</summary>
    public string? Words { get; init; }

    /// <exception cref="InvalidOperationException">The state table has no such move.</exception>
    public Offer Move(OfferEvent happened) =>
        OfferStates.After(State, happened) is { } next
            ? this with
            {
                State = next,
            }
            : throw new InvalidOperationException($"An offer that is {State} cannot {happened}.");
}
