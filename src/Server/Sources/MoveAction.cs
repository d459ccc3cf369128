using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Confirms that a site that is no longer reported is now another row, or undoes that.</summary>
/// <param name="other">The other row; null for the one that was confirmed.</param>
internal sealed class MoveAction(
    ActionName name,
    long site,
    long? other,
    Viewer viewer,
    Func<SiteFacts, SiteFacts, DateTimeOffset, Decided<Moved>> decide
) : RequestedAction<Moved, ActionDone>
{
    public override ActionName Name => name;

    public override async Task<Decided<Moved>> Decide(FactReader facts)
    {
        var scope = viewer.ScopeOn(await facts.PeopleDirectory());
        if (await facts.Site(new SiteId(site), scope) is not { } gone)
        {
            return new Decided<Moved>.NotSeen("site");
        }

        return (other is { } id ? new SiteId(id) : gone.MovedTo) is { } to && await facts.Site(to, scope) is { } now
            ? decide(gone, now, facts.Now)
            : Decided<Moved>.Refuse(other is null ? new MoveNotConfirmed() : new TargetMissing());
    }

    public override async Task<Written<ActionDone>> Write(Change change, Moved plan)
    {
        await change.UpdateSite(plan.From);
        await change.UpdateSite(plan.To);
        var numbers = await change.Append(plan.Entries);
        return ActionDone.Written(numbers[^1]);
    }
}
