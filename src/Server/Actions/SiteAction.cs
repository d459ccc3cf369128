using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Actions;

/// <summary>The plan of an action on one site, with the facts on which it was decided.</summary>
public sealed record PlanOnSite(Decision.Plan Plan, ActionFacts Facts);

/// <summary>Decides, from facts and an id for a new change or offer.</summary>
public delegate Decision DecideOnSite(ActionFacts facts, Guid newId);

/// <summary>An action on one site.</summary>
/// <param name="locate">Finds the site; null if there is none.</param>
public sealed class SiteAction(ActionName name, Func<FactReader, Task<SiteId?>> locate, Viewer viewer, DecideOnSite decide)
    : RequestedAction<PlanOnSite, ActionDone>
{
    private static readonly JsonSerializerOptions Stored = new();

    private readonly Actor actor = viewer.Actor();

    public SiteAction(ActionName name, long site, Viewer viewer, DecideOnSite decide)
        : this(name, _ => Task.FromResult<SiteId?>(new SiteId(site)), viewer, decide) { }

    public override ActionName Name => name;

    /// <summary>What there is none of if it is not seen.</summary>
    public string What { get; init; } = "site";

    /// <summary>Who may see it; by default those with the site in their scope. The recipient of an offer sees the one site
    /// offered.</summary>
    public Func<ActionFacts, bool>? Sees { get; init; }

    public override string? Link => FromLink;

    /// <summary>The token of the link in a mail through which it was requested.</summary>
    public string? FromLink { get; init; }

    /// <summary>The request and its reason, stored if it has to wait for a second person.</summary>
    public object? Request { get; init; }

    public string? Reason { get; init; }

    /// <summary>False if it does not depend on the names and addresses of the host's other sites: then it does not wait for changes
    /// of them.</summary>
    public bool WithNeighbours { get; init; } = true;

    /// <summary>Reads what this action has to know beside the facts of every action.</summary>
    public Func<FactReader, ActionFacts, Task<ActionFacts>>? Completing { get; init; }

    public override async Task<Decided<PlanOnSite>> Decide(FactReader facts)
    {
        if (
            await locate(facts) is not { } site
            || await facts.OfSite(Sees is null ? viewer.ScopeOn : _ => new Scope.Everything(), site, WithNeighbours)
                is not { } found
            || Sees?.Invoke(found) == false
        )
        {
            return new Decided<PlanOnSite>.NotSeen(What);
        }

        if (Completing is not null)
        {
            found = await Completing(facts, found);
        }

        return decide(found, Guid.NewGuid()) switch
        {
            Decision.Plan plan => new Decided<PlanOnSite>.Planned(new PlanOnSite(plan, found), plan.Fingerprint),
            Decision.Refusal(var reasons) => new Decided<PlanOnSite>.Refused(reasons),
            _ => throw new InvalidOperationException("A decision is a plan or a refusal."),
        };
    }

    public override async Task<Written<ActionDone>?> AskSecond(Change change, PlanOnSite plan) =>
        plan.Plan.NeedsSecond is null || actor.Second is not null
            ? null
            : await AskSecond(change, plan, name, Request, Reason, actor);

    public override Task<Written<ActionDone>> Write(Change change, PlanOnSite plan) => Commit(change, plan);

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.HostChanges, WorkKind.Mail, .. AlsoWakes];

    /// <summary>What else has work to do once it is committed.</summary>
    public IReadOnlyList<WorkKind> AlsoWakes { get; init; } = [];

    /// <summary>Writes all that a plan changes.</summary>
    public static async Task<Written<ActionDone>> Commit(Change change, PlanOnSite plan)
    {
        var numbers = await change.Keep(plan.Facts.Site.Id, plan.Plan, plan.Facts.PeopleDirectory.Time);
        return new Written<ActionDone>(
            numbers[^1],
            new ActionDone(
                numbers[^1],
                plan.Plan.HostChanges.Count == 0 ? null : plan.Plan.HostChanges[^1].Id.Value,
                plan.Plan.Offers.Count == 0 ? null : plan.Plan.Offers[0].Id.Value,
                null
            )
        );
    }

    /// <summary>Stores the request until a second person answers; nothing else is done. A repeated request replaces the earlier
    /// one.</summary>
    public static async Task<Written<ActionDone>> AskSecond(
        Change change,
        PlanOnSite plan,
        ActionName action,
        object? request,
        string? reason,
        Actor actor
    )
    {
        var approval = Approval.Ask(
            new ApprovalId(Guid.NewGuid()),
            plan.Facts,
            action,
            JsonSerializer.Serialize(request, Stored),
            reason,
            actor,
            plan.Plan
        );
        if (
            (await change.Connection.OpenApprovals()).Find(open =>
                open.Site == approval.Site && open.Action == approval.Action
            ) is
            { } open
        )
        {
            await change.Put(open.Move(ApprovalEvent.Withdraw) with { EndedAt = change.Now });
            await change.Append([open.Entry(JournalAction.ApprovalWithdrawn, actor.InJournal)]);
        }

        await change.Put(approval);
        await change.Write(ApprovalActions.Notifications(approval, plan.Facts), plan.Facts.PeopleDirectory.Time);
        var numbers = await change.Append([approval.Entry(JournalAction.ApprovalRequested, actor.InJournal)]);
        return new Written<ActionDone>(numbers[^1], new ActionDone(numbers[^1], null, null, approval.Id.Value));
    }
}
