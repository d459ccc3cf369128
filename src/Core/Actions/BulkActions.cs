using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The actions that can be done on many sites at once, each with a request that fits every site.</summary>
public static class BulkActions
{
    public static readonly IReadOnlyList<string> All = [RestrictReach.Action, MoveToAttic.Action, AskOwners.Action];

    /// <summary>True if the number of sites has to be typed before it starts, because it removes what others use.</summary>
    public static bool WantsNumber(string action) => action == MoveToAttic.Action;

    /// <summary>True if it depends on the other sites of the host.</summary>
    public static bool LooksAround(string action) => action is MoveToAttic.Action or Restore.Action;

    /// <summary>The action that undoes another on every site where it was done; null if none can.</summary>
    public static string? UndoOf(string action) =>
        action switch
        {
            RestrictReach.Action or UndoHostChange.Action => UndoHostChange.Action,
            MoveToAttic.Action => Restore.Action,
            _ => null,
        };

    /// <param name="undone">The change to undo, if that is the action.</param>
    public static Decision Decide(
        string action,
        ActionFacts facts,
        string? reason,
        Guid newHostChange,
        Actor actor,
        ChangeId? undone = null
    ) =>
        action switch
        {
            UndoHostChange.Action => facts.ChangeQueue.FirstOrDefault(hostChange => hostChange.Id == undone) is { } hostChange
                ? UndoHostChange.Decide(facts, hostChange, new ChangeId(newHostChange), actor, reason)
                : new Decision.Refusal(["No change was sent to the host for this site, so there is nothing to undo."]),
            Restore.Action => Restore.Decide(facts, new RestoreRequest(reason), new ChangeId(newHostChange), actor),
            RestrictReach.Action => RestrictReach
                .Remedy(new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory))
                .Has(out var permitted)
                ? RestrictReach.Decide(facts, new RestrictRequest(permitted, reason), new ChangeId(newHostChange), actor)
                : new Decision.Refusal([
                    "A limit of this site is not known, so what policy allows cannot be told. Restrict it on its own page.",
                ]),
            MoveToAttic.Action when actor.As == Capacity.Owner => new Decision.Refusal([
                "Owners move their sites to the attic one by one, so that each move can be stopped.",
            ]),
            MoveToAttic.Action => MoveToAttic.Decide(facts, Away(reason), new ChangeId(newHostChange), actor),
            AskOwners.Action => AskOwners.Decide(facts, reason, actor),
            _ => throw new InvalidOperationException($"The action {action} is not possible for many sites at once."),
        };

    /// <summary>The request as it is stored while a row waits for a second person.</summary>
    public static object Request(string action, string? reason) =>
        action == MoveToAttic.Action
            ? Away(reason)
            : throw new InvalidOperationException($"The action {action} needs no second person.");

    private static MoveToAtticRequest Away(string? reason) => new(reason);
}
