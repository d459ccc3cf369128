using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Deeds;

/// <summary>What a deed came to.</summary>
public abstract record DeedResult
{
    public sealed record NotSeen : DeedResult;

    public sealed record Refused(IReadOnlyList<string> Reasons) : DeedResult;

    /// <summary>The plan, for a preview; or the new plan, where the effect is no longer the one that was previewed.</summary>
    public sealed record Planned(Decision.Plan Plan, DeedFacts Facts, bool IsAnother) : DeedResult;

    /// <param name="Place">The place in the feed: whoever sends it back sees the deed.</param>
    /// <param name="Approval">What waits for a second person: nothing else was done.</param>
    public sealed record Done(long Place, Guid? Order, Guid? Offer, Guid? Approval) : DeedResult;

    /// <summary>The link in a mail that it was to be done through is not good.</summary>
    public sealed record BadLink(LinkFault Fault) : DeedResult;

    /// <summary>The key was used before for another request.</summary>
    public sealed record KeyUsed : DeedResult;
}

/// <summary>A deed as somebody wishes it: which it is, on which site, and how it is decided.</summary>
/// <param name="Deed">Its name, and with <paramref name="Wish"/> what is kept where it has to wait for a second person.</param>
/// <param name="Sight">What the doer may see; a recipient sees the one site that they are offered.</param>
/// <param name="Link">The token of a link in a mail that it is done through: used up with the deed.</param>
/// <param name="WithNeighbours">Whether the names and addresses of all sites of the host matter to it: whatever changes one of them is then waited for.</param>
public sealed record WishedDeed(
    SiteId Site,
    Doer Doer,
    Func<Roll, Sight> Sight,
    DeedDesk.Decide Decide,
    string Deed = "",
    object? Wish = null,
    string? Reason = null,
    string? Link = null,
    bool WithNeighbours = true
);

/// <summary>
/// Previews and carries out deeds. Both decide on facts read from the database, never from the sheet; carrying out
/// does so again in the transaction that commits.
/// </summary>
public sealed class DeedDesk(Database database)
{
    private static readonly JsonSerializerOptions Stored = new();

    /// <summary>Decides, from facts and an id for a new order or offer.</summary>
    public delegate Decision Decide(DeedFacts facts, Guid newId);

    public Task<DeedResult> Preview(WishedDeed wished) =>
        database.Read<DeedResult>(async connection =>
            await database.Facts(connection, wished.Sight, wished.Site, wished.WithNeighbours) is not { } facts
                ? new DeedResult.NotSeen()
            : wished.Decide(facts, Guid.Empty) is var decision && decision is Decision.Plan plan
                ? new DeedResult.Planned(plan, facts, IsAnother: false)
            : new DeedResult.Refused(((Decision.Refusal)decision).Reasons)
        );

    /// <param name="fingerprint">Of the plan that was previewed.</param>
    /// <param name="key">The Idempotency-Key: the same request under the same key is answered as before and done once.</param>
    public Task<DeedResult> Carry(Viewer viewer, WishedDeed wished, string fingerprint, string key, string requestHash) =>
        database.Change<DeedResult>(async change =>
        {
            await change.AskStill(viewer);
            if (await change.Connection.Answered(viewer.Account, key) is { } before)
            {
                return before.RequestHash == requestHash
                    ? JsonSerializer.Deserialize<DeedResult.Done>(before.Body, Stored)!
                    : new DeedResult.KeyUsed();
            }

            if (wished.Link is { } token && await Links.Fault(change, token, viewer.Person) is { } fault)
            {
                await change.Append([Links.Refused(viewer, fault)]);
                return new DeedResult.BadLink(fault);
            }

            if (await change.Facts(wished.Sight, wished.Site, wished.WithNeighbours) is not { } facts)
            {
                return new DeedResult.NotSeen();
            }

            switch (wished.Decide(facts, Guid.NewGuid()))
            {
                case Decision.Refusal(var reasons):
                    return new DeedResult.Refused(reasons);
                case Decision.Plan plan when plan.Fingerprint != fingerprint:
                    return new DeedResult.Planned(plan, facts, IsAnother: true);
                case Decision.Plan { NeedsSecond: not null } plan when wished.Doer.Second is null:
                    return await Answered(
                        change,
                        viewer,
                        key,
                        requestHash,
                        await AskSecond(change, facts, wished.Deed, wished.Wish, wished.Reason, wished.Doer, plan)
                    );
                case Decision.Plan plan:
                    if (wished.Link is { } used)
                    {
                        await change.UseLink(LinkTokens.HashOf(used));
                    }

                    return await Answered(change, viewer, key, requestHash, await Commit(change, plan, facts));
                default:
                    throw new InvalidOperationException("A decision is a plan or a refusal.");
            }
        });

    /// <summary>The order with its site.</summary>
    public Task<Order?> Order(OrderId id) => database.Read(connection => connection.Order(id));

    internal static async Task<DeedResult.Done> Commit(Change change, Decision.Plan plan, DeedFacts facts)
    {
        var numbers = await change.Keep(facts.Site.Id, plan, facts.Roll.Time);
        return new DeedResult.Done(
            numbers[^1],
            plan.Orders.Count == 0 ? null : plan.Orders[^1].Id.Value,
            plan.Offers.Count == 0 ? null : plan.Offers[0].Id.Value,
            null
        );
    }

    /// <summary>Keeps the wish until a second person answers; nothing else is done.</summary>
    internal static async Task<DeedResult.Done> AskSecond(
        Change change,
        DeedFacts facts,
        string deed,
        object? wish,
        string? reason,
        Doer doer,
        Decision.Plan plan
    )
    {
        var approval = Approval.Ask(
            new ApprovalId(Guid.NewGuid()),
            facts,
            deed,
            JsonSerializer.Serialize(wish, Stored),
            reason,
            doer,
            plan
        );
        if (
            (await change.Connection.OpenApprovals()).Find(open => open.Site == approval.Site && open.Deed == approval.Deed) is
            { } open
        )
        {
            // Asked twice, it waits once: the later wish takes the place of the earlier.
            await change.Put(open.Move(ApprovalEvent.Withdraw) with { EndedAt = change.Now });
            await change.Append([open.Entry("withdrawn", doer.InJournal)]);
        }

        await change.Put(approval);
        await change.Write(ApprovalDesk.Letters(approval, facts), facts.Roll.Time);
        var numbers = await change.Append([approval.Entry("asked", doer.InJournal)]);
        return new DeedResult.Done(numbers[^1], null, null, approval.Id.Value);
    }

    private static async Task<DeedResult.Done> Answered(
        Change change,
        Viewer viewer,
        string key,
        string requestHash,
        DeedResult.Done done
    )
    {
        await change.Answer(viewer.Account, key, requestHash, 200, JsonSerializer.Serialize(done, Stored));
        return done;
    }
}
