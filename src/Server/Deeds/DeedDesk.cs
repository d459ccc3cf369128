using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Deeds;

/// <summary>What a deed came to.</summary>
public abstract record DeedResult
{
    public sealed record NotSeen : DeedResult;

    public sealed record Refused(IReadOnlyList<string> Reasons) : DeedResult;

    /// <summary>The plan, for a preview; or the new plan, where the effect is no longer the one that was previewed.</summary>
    public sealed record Planned(Decision.Plan Plan, DeedFacts Facts, bool IsAnother) : DeedResult;

    /// <param name="Place">The place in the feed: whoever sends it back sees the deed.</param>
    public sealed record Done(long Place, Guid Order) : DeedResult;

    /// <summary>The key was used before for another request.</summary>
    public sealed record KeyUsed : DeedResult;
}

/// <summary>
/// Previews and carries out deeds. Both decide on facts read from the database, never from the sheet; carrying out
/// does so again in the transaction that commits.
/// </summary>
public sealed class DeedDesk(Database database)
{
    private static readonly JsonSerializerOptions Stored = new();

    /// <summary>Decides, from facts and an id for a new order.</summary>
    public delegate Decision Decide(DeedFacts facts, OrderId newOrder);

    public Task<DeedResult> Preview(Viewer viewer, SiteId site, Decide decide) =>
        database.Read<DeedResult>(async connection =>
            await Facts(connection, viewer, site, database.Now) is not { } facts ? new DeedResult.NotSeen()
            : decide(facts, new OrderId(Guid.Empty)) is var decision && decision is Decision.Plan plan ? new DeedResult.Planned(plan, facts, IsAnother: false)
            : new DeedResult.Refused(((Decision.Refusal)decision).Reasons));

    /// <param name="fingerprint">Of the plan that was previewed.</param>
    /// <param name="key">The Idempotency-Key: the same request under the same key is answered as before and done once.</param>
    public Task<DeedResult> Carry(Viewer viewer, SiteId site, Decide decide, string fingerprint, string key, string requestHash) =>
        database.Change<DeedResult>(async change =>
        {
            if (await change.Connection.Answered(viewer.Account, key) is { } before)
            {
                return before.RequestHash == requestHash ? JsonSerializer.Deserialize<DeedResult.Done>(before.Body, Stored)! : new DeedResult.KeyUsed();
            }

            if (await Facts(change.Connection, viewer, site, change.Now) is not { } facts)
            {
                return new DeedResult.NotSeen();
            }

            switch (decide(facts, new OrderId(Guid.NewGuid())))
            {
                case Decision.Refusal(var reasons):
                    return new DeedResult.Refused(reasons);
                case Decision.Plan plan when plan.Fingerprint != fingerprint:
                    return new DeedResult.Planned(plan, facts, IsAnother: true);
                case Decision.Plan plan:
                    var done = await Commit(change, plan);
                    await change.Answer(viewer.Account, key, requestHash, 200, JsonSerializer.Serialize(done, Stored));
                    return done;
                default:
                    throw new InvalidOperationException("A decision is a plan or a refusal.");
            }
        });

    /// <summary>The site of an order, for whoever may see it.</summary>
    public Task<Order?> Order(OrderId id) => database.Read(connection => connection.Order(id));

    private static async Task<DeedResult.Done> Commit(Change change, Decision.Plan plan)
    {
        var numbers = await change.Append(plan.Entries);
        foreach (var order in plan.Orders)
        {
            await change.Put(order.Place == 0 ? order with { Place = numbers[0] } : order);
        }

        return new DeedResult.Done(numbers[^1], plan.Orders[^1].Id.Value);
    }

    private static async Task<DeedFacts?> Facts(NpgsqlConnection connection, Viewer viewer, SiteId id, DateTimeOffset now)
    {
        var time = await connection.HouseTime();
        var roll = await connection.Roll(now, time);
        var site = (await connection.Sites(viewer.SightOn(roll), [id])).SingleOrDefault();
        return site is null
            ? null
            : new DeedFacts(site, await connection.OrdersOf(id), await connection.House(), await connection.Rules(time.DayOf(now)), roll);
    }
}
