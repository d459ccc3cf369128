using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The state of an offer of ownership. Offered is not accepted, and accepted is not completed.</summary>
public enum OfferState : byte
{
    Offered,

    /// <summary>Accepted; the change of owner is queued for the host.</summary>
    Completing,
    HandedOver,
    Declined,
    Lapsed,
    Withdrawn,

    /// <summary>The site was moved to the attic, or the recipient can no longer become owner.</summary>
    Void,

    /// <summary>The host refused the change of owner.</summary>
    NotDone,
}

public enum OfferEvent : byte
{
    Accept,
    Decline,
    Lapse,
    Withdraw,
    SiteMovedToAttic,
    RecipientNotActive,
    Switched,
    CompletionRefused,

    /// <summary>The handover was reported done by hand and is not: its task was returned.</summary>
    GivenBack,
}

/// <summary>The states of an offer.</summary>
public static class OfferStates
{
    public static readonly StateTable<OfferState, OfferEvent> Table = new(
        "an offer",
        new()
        {
            [(OfferState.Offered, OfferEvent.Accept)] = OfferState.Completing,
            [(OfferState.Offered, OfferEvent.Decline)] = OfferState.Declined,
            [(OfferState.Offered, OfferEvent.Lapse)] = OfferState.Lapsed,
            [(OfferState.Offered, OfferEvent.Withdraw)] = OfferState.Withdrawn,
            [(OfferState.Offered, OfferEvent.SiteMovedToAttic)] = OfferState.Void,
            [(OfferState.Offered, OfferEvent.RecipientNotActive)] = OfferState.Void,
            // The last check before sending withdrew the change.
            [(OfferState.Completing, OfferEvent.RecipientNotActive)] = OfferState.Void,
            [(OfferState.Completing, OfferEvent.Switched)] = OfferState.HandedOver,
            [(OfferState.Completing, OfferEvent.CompletionRefused)] = OfferState.NotDone,
            [(OfferState.HandedOver, OfferEvent.GivenBack)] = OfferState.Completing,
        }
    );

    public static bool IsOpen(this OfferState state) => state is OfferState.Offered or OfferState.Completing;
}

/// <summary>What the current owner becomes.</summary>
public enum CurrentOwnerAfter : byte
{
    /// <summary>Stays as an editor.</summary>
    Stays,

    /// <summary>Leaves: keeps no access by name.</summary>
    Leaves,

    /// <summary>Stays an owner: the offer adds one.</summary>
    Owns,
}

/// <summary>The offer of ownership of a site to one person, until they answer or its last day passes.</summary>
public sealed record Offer
{
    public required OfferId Id { get; init; }

    public required SiteId Site { get; init; }

    public OfferState State { get; init; }

    public required PersonId To { get; init; }

    /// <summary>The owner who hands over, or who offers that somebody becomes an owner too; null if nobody stops being one, or if the
    /// site had none.</summary>
    public PersonId? CurrentOwner { get; init; }

    public CurrentOwnerAfter After { get; init; }

    /// <summary>Who offered it: the current owner, or an administrator in place of one who has left.</summary>
    public required PersonId By { get; init; }

    /// <summary>The second person who agreed, if one was needed.</summary>
    public PersonId? Second { get; init; }

    public string? Reason { get; init; }

    public required DateTimeOffset OfferedAt { get; init; }

    /// <summary>The last day on which it can be answered.</summary>
    public required DateOnly Through { get; init; }

    public DateTimeOffset? AnsweredAt { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>The change that completes the handover.</summary>
    public ChangeId? HostChange { get; init; }

    /// <summary>The host's message, or why the offer ended.</summary>
    public string? Words { get; init; }

    /// <exception cref="InvalidOperationException">The state table has no such transition.</exception>
    public Offer Move(OfferEvent happened) => this with { State = OfferStates.Table.Next(State, happened) };
}
