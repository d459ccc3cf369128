using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What has become of an invitation: decided from what is stored, so that no step can be missed.</summary>
public enum InvitationState : byte
{
    /// <summary>A limit stops the guest, or it is about to be sent: nothing has been sent yet.</summary>
    Waiting,

    /// <summary>The host has not confirmed it yet.</summary>
    Sending,

    /// <summary>The guest has not signed in yet.</summary>
    Sent,
    Accepted,

    /// <summary>The host refused it, or its change was given up or replaced.</summary>
    NotSent,

    /// <summary>The guest did not sign in within <see cref="Invitation.AcceptWithin"/>.</summary>
    Expired,
    Withdrawn,

    /// <summary>Its last day has passed, or the access was removed since.</summary>
    Over,
}

/// <summary>How an invitation was ended before its last day.</summary>
public enum InvitationEnding : byte
{
    Withdrawn,
    Expired,
}

/// <summary>The invitation of somebody from outside to one site. It is sent by a change at the host, once all layers let the guest
/// in.</summary>
/// <param name="Mail">The address as written. The person is in the register once it is sent.</param>
/// <param name="Through">The last day of the access.</param>
/// <param name="Sponsor">The member of staff who answers for the guest.</param>
public sealed record Invitation(
    InvitationId Id,
    SiteId Site,
    string Mail,
    Power Power,
    DateOnly Through,
    PersonId Sponsor,
    PersonId By,
    DateTimeOffset AskedAt,
    string? Reason
)
{
    /// <summary>How long a guest has to sign in.</summary>
    public const int AcceptWithin = 30;

    /// <summary>What stopped it when it was last tried, in sentences; empty once it is sent.</summary>
    public IReadOnlyList<string> StoppedBy { get; init; } = [];

    /// <summary>The change that sends it; null while it waits.</summary>
    public ChangeId? HostChange { get; init; }

    public InvitationEnding? Ending { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <param name="sent">The change that sends it; null while it waits.</param>
    /// <param name="hasAccess">True if the site grants something to the guest by name.</param>
    /// <param name="hasJoined">True if the host has reported that the guest signed in.</param>
    public InvitationState StateOn(DateOnly today, HostChange? sent, bool hasAccess, bool hasJoined) =>
        (Ending, sent?.State) switch
        {
            (InvitationEnding.Withdrawn, _) => InvitationState.Withdrawn,
            (InvitationEnding.Expired, _) => InvitationState.Expired,
            _ when Through < today => InvitationState.Over,
            (_, null) => InvitationState.Waiting,
            (_, ChangeState.Queued or ChangeState.Sent) => InvitationState.Sending,
            (_, ChangeState.Confirmed or ChangeState.Verified or ChangeState.Contradicted) => !hasAccess ? InvitationState.Over
            : hasJoined ? InvitationState.Accepted
            : InvitationState.Sent,
            _ => InvitationState.NotSent,
        };

    /// <summary>True if it was sent so long ago that it is no longer waited for.</summary>
    public bool HasExpired(HostChange sent, OrganisationTime time, DateTimeOffset now) =>
        sent.ConfirmedAt is { } at && time.DayOf(now).DayNumber - time.DayOf(at).DayNumber > AcceptWithin;

    /// <param name="second">The second person who agreed, if one had to.</param>
    public Draft Entry(JournalAction action, EntryActor actor, PersonId? second = null) =>
        new(action, actor, EntrySubject.Of(Site))
        {
            After = JournalValue.Of(
                ("invitation", JournalValue.Of(Id.ToString())),
                ("guest", JournalValue.Of(Mail)),
                ("power", JournalValue.Of(Power.Word())),
                ("through", JournalValue.Of(Through.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture))),
                ("sponsor", JournalValue.Of(EntryActor.Of(Sponsor))),
                ("change", JournalValue.Of(HostChange?.ToString())),
                ("second", JournalValue.Of(second is { } other ? EntryActor.Of(other) : null))
            ),
            Reason = Reason,
        };
}

public static class InvitationStates
{
    /// <summary>True if it is being sent or may still be accepted.</summary>
    public static bool IsOpen(this InvitationState state) =>
        state is InvitationState.Waiting or InvitationState.Sending or InvitationState.Sent;
}
