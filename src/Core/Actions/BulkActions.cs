using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The actions that can be done on many sites at once, each with a request that fits every site.</summary>
public static class BulkActions
{
    public static readonly IReadOnlyList<ActionName> All =
    [
        ActionName.SiteRestrict,
        ActionName.SiteMoveToAttic,
        ActionName.OwnersAsk,
    ];

    /// <summary>True if the number of sites has to be typed before it starts, because it removes what others use.</summary>
    public static bool WantsNumber(ActionName action) => action == ActionName.SiteMoveToAttic;

    /// <summary>True if it depends on the other sites of the host.</summary>
    public static bool LooksAround(ActionName action) => action is ActionName.SiteMoveToAttic or ActionName.SiteRestore;

    /// <summary>The action that undoes another on every site where it was done; null if none can.</summary>
    public static ActionName? UndoOf(ActionName action) =>
        action switch
        {
            ActionName.SiteRestrict or ActionName.ChangeUndo => ActionName.ChangeUndo,
            ActionName.SiteMoveToAttic => ActionName.SiteRestore,
            _ => null,
        };

    /// <param name="undone">The change to undo, if that is the action.</param>
    public static Decision Decide(
        ActionName action,
        ActionFacts facts,
        string? reason,
        Guid newHostChange,
        Actor actor,
        ChangeId? undone = null
    ) =>
        action switch
        {
            ActionName.ChangeUndo => facts.ChangeQueue.FirstOrDefault(hostChange => hostChange.Id == undone) is { } hostChange
                ? UndoHostChange.Decide(facts, hostChange, new ChangeId(newHostChange), actor, reason)
                : new Decision.Refusal([new ChangeNotSent()]),
            ActionName.SiteRestore => Restore.Decide(facts, new RestoreRequest(reason), new ChangeId(newHostChange), actor),
            ActionName.SiteRestrict => RestrictReach
                .Remedy(new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory))
                .Has(out var permitted)
                ? RestrictReach.Decide(facts, new RestrictRequest(permitted, reason), new ChangeId(newHostChange), actor)
                : new Decision.Refusal([new LimitUnknown()]),
            ActionName.SiteMoveToAttic when actor.As == Capacity.Owner => new Decision.Refusal([new OwnersMoveSingly()]),
            ActionName.SiteMoveToAttic => MoveToAttic.Decide(facts, Away(reason), new ChangeId(newHostChange), actor),
            ActionName.OwnersAsk => AskOwners.Decide(facts, reason, actor),
            _ => throw new InvalidOperationException($"The action {action.Text()} is not possible for many sites at once."),
        };

    /// <summary>The request as it is stored while a row waits for a second person.</summary>
    public static object Request(ActionName action, string? reason) =>
        action == ActionName.SiteMoveToAttic
            ? Away(reason)
            : throw new InvalidOperationException($"The action {action.Text()} needs no second person.");

    private static MoveToAtticRequest Away(string? reason) => new(reason);
}
