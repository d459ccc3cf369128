using AtticLedger.Core.Actions;

namespace AtticLedger.Server.Actions;

/// <summary>The names of the actions that can wait for a second person, as screens show them.</summary>
internal static class ActionLabels
{
    public static string Of(ActionName action) =>
        action switch
        {
            ActionName.SiteMoveToAttic => "Move to the attic",
            ActionName.AccessGrant => "Grant access",
            ActionName.GuestInvite => "Invite a guest",
            ActionName.AccessRemove => "Remove access",
            ActionName.OwnerOffer => "Assign an owner in another's place",
            _ => action.Text(),
        };
}
