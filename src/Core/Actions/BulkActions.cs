using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A request that fits many sites.</summary>
/// <param name="Person">The person it is about: who becomes an owner, or whose access is removed. <paramref name="Group"/>: the
/// group whose access is removed.</param>
/// <param name="Rule">The rule from which an exception is granted, through <paramref name="Through"/>.</param>
/// <param name="Name">The new name of one site; null if none is proposed.</param>
/// <param name="Cause">The name of the cause whose findings are to end: each site then has a request of its own.</param>
public sealed record BulkRequest(
    ActionName Action,
    PersonId? Person = null,
    GroupId? Group = null,
    string? Reason = null,
    RuleId? Rule = null,
    DateOnly? Through = null,
    string? Cause = null,
    string? Name = null
);

/// <summary>The actions that can be done on many sites at once.</summary>
public static class BulkActions
{
    public static readonly IReadOnlyList<ActionName> All =
    [
        ActionName.SiteRestrict,
        ActionName.SiteMoveToAttic,
        ActionName.OwnersAsk,
        ActionName.OwnerOffer,
        ActionName.AccessRemove,
        ActionName.OfferAccept,
        ActionName.ExceptionGrant,
    ];

    /// <summary>True if the number of sites has to be typed before it starts, because it removes what others use.</summary>
    public static bool WantsNumber(ActionName action) => action == ActionName.SiteMoveToAttic;

    /// <summary>True if the password has to be entered before it starts, as for one site.</summary>
    public static bool WantsPassword(ActionName action) => action == ActionName.OwnerOffer;

    /// <summary>True if nobody does it without a reason; an owner adds an owner without one.</summary>
    public static bool WantsReason(ActionName action, Actor actor) =>
        action is ActionName.ExceptionGrant or ActionName.ExceptionEnd
        || (action == ActionName.OwnerOffer && actor.As != Capacity.Owner);

    /// <summary>True if it needs a person.</summary>
    public static bool WantsPerson(ActionName action) => action == ActionName.OwnerOffer;

    /// <summary>True if it needs a person or a group.</summary>
    public static bool WantsPersonOrGroup(ActionName action) => action == ActionName.AccessRemove;

    /// <summary>True if it needs a rule and a last day.</summary>
    public static bool WantsRule(ActionName action) => action == ActionName.ExceptionGrant;

    /// <summary>True if it depends on the other sites of the host; of remedies each that is possible is tried.</summary>
    public static bool LooksAround(ActionName action) =>
        action is ActionName.SiteMoveToAttic or ActionName.SiteRestore or ActionName.FindingsRemedy or ActionName.SiteLook;

    /// <summary>The facts of a site once other sites of the batch are done: sites below it that are moved to the attic first do not
    /// block it.</summary>
    public static ActionFacts After(this ActionFacts facts, ActionName action, IReadOnlySet<SiteId> done) =>
        action == ActionName.SiteMoveToAttic && facts.Around.Children.Count > 0
            ? facts with
            {
                Around = facts.Around with { Children = [.. facts.Around.Children.Where(child => !done.Contains(child.Id))] },
            }
            : facts;

    /// <summary>True if its turn has not come: a site below it is on its way to the attic, and its host has not answered, or that one's
    /// own turn has not come or a second person has not answered.</summary>
    /// <param name="undecided">The sites of the batch before it that wait for their turn or for a second person.</param>
    public static bool WaitsForOthers(ActionName action, ActionFacts facts, IReadOnlySet<SiteId> undecided) =>
        action == ActionName.SiteMoveToAttic
        && facts.Around.Children.Any(child =>
            undecided.Contains(child.Id) || child.UnderWay.Any(change => change.WantedState.Existence == Existence.Attic)
        );

    /// <summary>True if a person may plan it for a site outside their scope: the recipient of an offer answers it.</summary>
    public static bool Concerns(ActionName action, ActionFacts facts, PersonId person) =>
        action == ActionName.OfferAccept && facts.Offers.Any(offer => offer.To == person);

    /// <summary>The action that undoes another on every site where it was done; null if none can.</summary>
    public static ActionName? UndoOf(ActionName action) =>
        action switch
        {
            ActionName.SiteRestrict or ActionName.AccessRemove or ActionName.SiteLook or ActionName.ChangeUndo =>
                ActionName.ChangeUndo,
            ActionName.SiteMoveToAttic => ActionName.SiteRestore,
            ActionName.OwnerOffer => ActionName.OfferWithdraw,
            ActionName.ExceptionGrant => ActionName.ExceptionEnd,
            _ => null,
        };

    /// <param name="newId">The id of the new change or offer.</param>
    /// <param name="undone">The change to undo, if that is the action.</param>
    public static Decision Decide(BulkRequest request, ActionFacts facts, Guid newId, Actor actor, ChangeId? undone = null)
    {
        var (reason, change) = (request.Reason, new ChangeId(newId));
        return request.Action switch
        {
            ActionName.ChangeUndo => facts.ChangeQueue.FirstOrDefault(hostChange => hostChange.Id == undone) is { } hostChange
                ? UndoHostChange.Decide(facts, hostChange, change, actor, reason)
                : new Decision.Refusal([new ChangeNotSent()]),
            ActionName.SiteRestore => Restore.Decide(facts, new RestoreRequest(reason), change, actor),
            ActionName.SiteRestrict => RestrictReach
                .Remedy(new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory))
                .Has(out var permitted)
                ? RestrictReach.Decide(facts, new RestrictRequest(permitted, reason), change, actor)
                : new Decision.Refusal([new LimitUnknown()]),
            ActionName.SiteMoveToAttic when actor.As == Capacity.Owner => new Decision.Refusal([new OwnersMoveSingly()]),
            ActionName.SiteMoveToAttic => MoveToAttic.Decide(facts, Away(reason), change, actor),
            ActionName.SiteLook => ChangeLook.Decide(
                facts,
                new LookRequest(new WantedLook(request.Name ?? facts.Site.Name.Or("")), reason),
                change,
                actor
            ),
            ActionName.OwnersAsk => AskOwners.Decide(facts, reason, actor),
            ActionName.OwnerOffer => HandOver.Offer(facts, Added(request, actor), new OfferId(newId), actor),
            ActionName.OfferAccept => facts.Offers.FirstOrDefault(offer => offer.To == actor.Person) is { } mine
                ? HandOver.Accept(facts, mine, change, actor)
                : new Decision.Refusal([new OfferAnswered()]),
            ActionName.OfferWithdraw => facts.Offers.FirstOrDefault(offer =>
                offer.To == request.Person && offer.After == CurrentOwnerAfter.Owns
            )
                is { } open
                ? HandOver.Withdraw(facts, open, actor)
                : new Decision.Refusal([new OfferAnswered()]),
            ActionName.AccessRemove => RemoveAccess.Decide(facts, Removed(request), change, actor),
            ActionName.ExceptionGrant => ExceptionActions.Grant(facts, Excepted(request), actor),
            ActionName.ExceptionEnd => facts.Site.Exceptions.LastOrDefault(exception =>
                exception.Rule == request.Rule && exception.IsInForce(facts.Now, facts.PeopleDirectory.Time)
            )
                is { } given
                ? ExceptionActions.End(facts, given.Id, reason, actor)
                : new Decision.Refusal([new ExceptionEnded()]),
            _ => throw new InvalidOperationException(
                $"The action {request.Action.Text()} is not possible for many sites at once."
            ),
        };
    }

    /// <summary>The request as it is stored while a row waits for a second person.</summary>
    public static object Request(BulkRequest request, Actor actor) =>
        request.Action switch
        {
            ActionName.SiteMoveToAttic => Away(request.Reason),
            ActionName.OwnerOffer => Added(request, actor),
            ActionName.AccessRemove => Removed(request),
            _ => throw new InvalidOperationException($"The action {request.Action.Text()} needs no second person."),
        };

    private static MoveToAtticRequest Away(string? reason) => new(reason);

    // An owner asks on each of their own sites; an administrator in addition to all owners.
    private static OfferRequest Added(BulkRequest request, Actor actor) =>
        new(
            request.Person ?? throw new InvalidOperationException("Nobody is named as a new owner."),
            actor.As == Capacity.Owner ? actor.Person : null,
            CurrentOwnerAfter.Owns,
            request.Reason
        );

    private static ExceptionRequest Excepted(BulkRequest request) =>
        new(
            request.Rule ?? throw new InvalidOperationException("No rule is named for an exception."),
            request.Reason ?? "",
            request.Through ?? throw new InvalidOperationException("No last day is named for an exception.")
        );

    private static RemoveAccessRequest Removed(BulkRequest request) => new(request.Person, request.Group, request.Reason);
}
