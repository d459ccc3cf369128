using AtticLedger.Core.Actions;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Guests;

/// <summary>An invitation and what has become of it.</summary>
/// <param name="Sent">The change that sends it; null while it waits.</param>
internal sealed record FollowedInvitation(Invitation Invitation, InvitationState State, HostChange? Sent, bool IsReported);

/// <summary>Reads what has become of invitations: from their changes, the grants of their sites and the accounts of the
/// guests.</summary>
internal static class InvitationStatesReader
{
    public static async Task<InvitationState> StateOf(this NpgsqlConnection connection, Invitation invitation, DateOnly today) =>
        (await connection.StatesOf([invitation], today))[0].State;

    public static async Task<IReadOnlyList<FollowedInvitation>> StatesOf(
        this NpgsqlConnection connection,
        IReadOnlyCollection<Invitation> invitations,
        DateOnly today
    )
    {
        var guests = (await connection.InvitedGuests([.. invitations.Select(one => one.Id)], today)).ToDictionary(guest =>
            guest.Invitation
        );
        var changes = (
            await connection.HostChanges([.. invitations.Select(one => one.HostChange).OfType<Core.Terms.ChangeId>()])
        ).ToDictionary(change => change.Id);
        return
        [
            .. from invitation in invitations
            let guest = guests[invitation.Id]
            let sent = invitation.HostChange is { } id ? changes[id] : null
            select new FollowedInvitation(
                invitation,
                invitation.StateOn(today, sent, guest.HasAccess, guest.HasJoined),
                sent,
                guest.IsReported
            ),
        ];
    }
}
