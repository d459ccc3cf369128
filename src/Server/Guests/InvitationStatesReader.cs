using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Guests;

/// <summary>Reads what has become of invitations: from their changes and the accounts of the guests.</summary>
internal static class InvitationStatesReader
{
    public static async Task<InvitationState> StateOf(
        this NpgsqlConnection connection,
        Invitation invitation,
        PeopleDirectory directory
    ) => (await connection.StatesOf([invitation], directory))[0].State;

    public static async Task<IReadOnlyList<(Invitation Invitation, InvitationState State, HostChange? Sent)>> StatesOf(
        this NpgsqlConnection connection,
        IReadOnlyCollection<Invitation> invitations,
        PeopleDirectory directory
    )
    {
        var joined =
            invitations.Count == 0
                ? []
                : (await connection.GuestAccounts())
                    .Where(account => account.JoinedAt is not null)
                    .Select(account => account.Guest)
                    .ToHashSet();
        var granted =
            invitations.Count == 0
                ? []
                : (await connection.GuestGrants(directory.Today)).Select(grant => (grant.Guest, grant.Site)).ToHashSet();
        var states = new List<(Invitation, InvitationState, HostChange?)>(invitations.Count);
        foreach (var invitation in invitations)
        {
            var sent = invitation.HostChange is { } id ? await connection.HostChange(id) : null;
            var guest = directory.ByMail.GetValueOrDefault(invitation.Mail.ToLowerInvariant());
            states.Add(
                (
                    invitation,
                    invitation.StateOn(directory.Today, sent, granted.Contains((guest, invitation.Site)), joined.Contains(guest)),
                    sent
                )
            );
        }

        return states;
    }
}
