using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Actions;

/// <summary>The result of an action.</summary>
public abstract record ActionOutcome
{
    public sealed record NotSeen : ActionOutcome;

    public sealed record Refused(IReadOnlyList<string> Reasons) : ActionOutcome;

    /// <summary>The plan, for a preview; or the new plan, if the effect differs from the previewed one.</summary>
    public sealed record Planned(Decision.Plan Plan, ActionFacts Facts, bool IsAnother) : ActionOutcome;

    /// <param name="Place">The place in the feed: a client that sends it back sees the action.</param>
    /// <param name="Approval">The request that waits for a second person: nothing else was done.</param>
    public sealed record Done(long Place, Guid? HostChange, Guid? Offer, Guid? Approval) : ActionOutcome;

    /// <summary>The link in the mail is not valid.</summary>
    public sealed record BadLink(LinkFault Fault) : ActionOutcome;

    /// <summary>The key was used before for another request.</summary>
    public sealed record KeyUsed : ActionOutcome;
}

/// <summary>A requested action: its name, its site, and how it is decided.</summary>
/// <param name="Action">Its name; stored together with <paramref name="Request"/> if it has to wait for a second person.</param>
/// <param name="Scope">The actor's scope; the recipient of an offer sees the one site offered.</param>
/// <param name="Link">The token of the link in the mail, which the action uses up.</param>
/// <param name="WithNeighbours">True if it depends on the names and addresses of all sites of the host: then it waits for
/// changes of any of them.</param>
public sealed record RequestedAction(
    SiteId Site,
    Actor Actor,
    Func<PeopleDirectory, Scope> Scope,
    ActionExecutor.Decide Decide,
    string Action = "",
    object? Request = null,
    string? Reason = null,
    string? Link = null,
    bool WithNeighbours = true
);

/// <summary>Previews and carries out actions. Both decide on facts from the database, never from the index; carrying out decides
/// again in the committing transaction.
/// </summary>
public sealed class ActionExecutor(Database database)
{
    private static readonly JsonSerializerOptions Stored = new();

    /// <summary>Decides, from facts and an id for a new change or offer.</summary>
    public delegate Decision Decide(ActionFacts facts, Guid newId);

    public Task<ActionOutcome> Preview(RequestedAction requested) =>
        database.Read<ActionOutcome>(async connection =>
            await database.Facts(connection, requested.Scope, requested.Site, requested.WithNeighbours) is not { } facts
                ? new ActionOutcome.NotSeen()
            : requested.Decide(facts, Guid.Empty) is var decision && decision is Decision.Plan plan
                ? new ActionOutcome.Planned(plan, facts, IsAnother: false)
            : new ActionOutcome.Refused(((Decision.Refusal)decision).Reasons)
        );

    /// <param name="fingerprint">The fingerprint of the previewed plan.</param>
    /// <param name="key">The Idempotency-Key: the same request under the same key gets the same response and is done
    /// once.</param>
    public Task<ActionOutcome> Carry(
        Viewer viewer,
        RequestedAction requested,
        string fingerprint,
        string key,
        string requestHash
    ) =>
        database.Change<ActionOutcome>(async change =>
        {
            await change.AskStill(viewer);
            if (await change.Connection.Answered(viewer.Account, key) is { } before)
            {
                return before.RequestHash == requestHash
                    ? JsonSerializer.Deserialize<ActionOutcome.Done>(before.Body, Stored)!
                    : new ActionOutcome.KeyUsed();
            }

            if (requested.Link is { } token && await Links.Fault(change, token, viewer.Person) is { } fault)
            {
                await change.Append([Links.Refused(viewer, fault)]);
                return new ActionOutcome.BadLink(fault);
            }

            if (await change.Facts(requested.Scope, requested.Site, requested.WithNeighbours) is not { } facts)
            {
                return new ActionOutcome.NotSeen();
            }

            switch (requested.Decide(facts, Guid.NewGuid()))
            {
                case Decision.Refusal(var reasons):
                    return new ActionOutcome.Refused(reasons);
                case Decision.Plan plan when plan.Fingerprint != fingerprint:
                    return new ActionOutcome.Planned(plan, facts, IsAnother: true);
                case Decision.Plan { NeedsSecond: not null } plan when requested.Actor.Second is null:
                    return await Answered(
                        change,
                        viewer,
                        key,
                        requestHash,
                        await AskSecond(
                            change,
                            facts,
                            requested.Action,
                            requested.Request,
                            requested.Reason,
                            requested.Actor,
                            plan
                        )
                    );
                case Decision.Plan plan:
                    if (requested.Link is { } used)
                    {
                        await change.UseLink(LinkTokens.HashOf(used));
                    }

                    return await Answered(change, viewer, key, requestHash, await Commit(change, plan, facts));
                default:
                    throw new InvalidOperationException("A decision is a plan or a refusal.");
            }
        });

    /// <summary>The change with its site.</summary>
    public Task<HostChange?> HostChange(ChangeId id) => database.Read(connection => connection.HostChange(id));

    internal static async Task<ActionOutcome.Done> Commit(Change change, Decision.Plan plan, ActionFacts facts)
    {
        var numbers = await change.Keep(facts.Site.Id, plan, facts.PeopleDirectory.Time);
        return new ActionOutcome.Done(
            numbers[^1],
            plan.HostChanges.Count == 0 ? null : plan.HostChanges[^1].Id.Value,
            plan.Offers.Count == 0 ? null : plan.Offers[0].Id.Value,
            null
        );
    }

    /// <summary>Stores the request until a second person answers; nothing else is done.</summary>
    internal static async Task<ActionOutcome.Done> AskSecond(
        Change change,
        ActionFacts facts,
        string action,
        object? request,
        string? reason,
        Actor actor,
        Decision.Plan plan
    )
    {
        var approval = Approval.Ask(
            new ApprovalId(Guid.NewGuid()),
            facts,
            action,
            JsonSerializer.Serialize(request, Stored),
            reason,
            actor,
            plan
        );
        if (
            (await change.Connection.OpenApprovals()).Find(open =>
                open.Site == approval.Site && open.Action == approval.Action
            ) is
            { } open
        )
        {
            // A repeated request replaces the earlier one.
            await change.Put(open.Move(ApprovalEvent.Withdraw) with { EndedAt = change.Now });
            await change.Append([open.Entry(JournalAction.ApprovalWithdrawn, actor.InJournal)]);
        }

        await change.Put(approval);
        await change.Write(ApprovalActions.Notifications(approval, facts), facts.PeopleDirectory.Time);
        var numbers = await change.Append([approval.Entry(JournalAction.ApprovalRequested, actor.InJournal)]);
        return new ActionOutcome.Done(numbers[^1], null, null, approval.Id.Value);
    }

    private static async Task<ActionOutcome.Done> Answered(
        Change change,
        Viewer viewer,
        string key,
        string requestHash,
        ActionOutcome.Done done
    )
    {
        await change.Answer(viewer.Account, key, requestHash, 200, JsonSerializer.Serialize(done, Stored));
        return done;
    }
}
