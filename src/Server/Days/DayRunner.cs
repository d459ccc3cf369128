using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Days;

/// <summary>
/// Carries out what falls due with the days: found from the database and the moment, in the order in which it fell due,
/// each in a transaction of its own that looks again first. Run late, or twice, or on two servers, it comes to the same.
/// </summary>
public sealed class DayRunner(Database database, ILogger<DayRunner> log)
{
    private readonly SemaphoreSlim running = new(1, 1);

    /// <returns>How much was due and is done now.</returns>
    public async Task<int> RunDue(CancellationToken stop)
    {
        await running.WaitAsync(stop);
        try
        {
            var done = 0;

            // What is done can make something else due, so it is looked for until there is nothing.
            while (await database.Read(connection => Find(connection, database.Now), stop) is { Count: > 0 } due)
            {
                var carried = 0;
                foreach (var one in due)
                {
                    carried += await database.Change(change => Carry(change, one), stop) ? 1 : 0;
                }

                done += carried;
                if (carried == 0)
                {
                    log.LogWarning("{Count} due things could not be carried out", due.Count);
                    break;
                }
            }

            await database.SendHeads(stop);
            return done;
        }
        finally
        {
            running.Release();
        }
    }

    private async Task<IReadOnlyList<Due>> Find(NpgsqlConnection connection, DateTimeOffset now)
    {
        var time = await connection.HouseTime();
        var stays = await connection.OpenStays();
        var house = await connection.House();
        var holds = await connection.Holds();
        var sites =
            stays.Count == 0
                ? []
                : (await connection.Sites(new Sight.Everything(), [.. stays.Select(stay => stay.Site)])).ToDictionary(site =>
                    site.Id
                );
        return DueNow.Of(
            new DueFacts(
                await connection.OpenOffers(),
                await connection.OpenApprovals(),
                [
                    .. stays.Select(stay =>
                        (
                            stay,
                            stay.State.IsInAttic()
                                ? Clock.Of(stay.ClockFacts(sites[stay.Site], house, [.. holds[stay.Site]]), time, now)
                                : null
                        )
                    ),
                ],
                await database.Rolls.Of(connection, now, time),
                await connection.Reminders()
            )
            {
                ByHand = await connection.HandOrdersSince(now),
            }
        );
    }

    private static async Task<bool> Carry(Change change, Due due)
    {
        var time = await change.Connection.HouseTime();
        switch (due)
        {
            case Due.PersonLeft(var at, var left):
                var roll = await change.Roll(time);
                if (roll.Find(left.Id) is not { Standing: Core.People.Standing.Leaving } person || person.Day != left.Day)
                {
                    return false;
                }

                var leaves = DueNow.Leave(person, at);
                await change.UpdatePerson(leaves.Person!);
                await change.Append([.. leaves.Entries, .. await change.EndSessionsOfLeft()]);
                return true;
            case Due.ApprovalEnds(var at, var approval):
                if (await change.Connection.Approval(approval.Id) is not { State: ApprovalState.Asked } open)
                {
                    return false;
                }

                var lapsed = open.Move(ApprovalEvent.Lapse) with { EndedAt = change.Now };
                await change.Put(lapsed);
                await change.Append([DueNow.Lapsed(lapsed, at)]);
                return true;
            default:
                if (
                    await change.Facts(_ => new Sight.Everything(), SiteOf(due)) is not { } facts
                    || DueNow.Carry(due, facts, new OrderId(Guid.NewGuid())) is not { } plan
                )
                {
                    return false;
                }

                await change.Keep(facts.Site.Id, plan, time);
                return true;
        }
    }

    private static SiteId SiteOf(Due due) =>
        due switch
        {
            Due.OfferEnds(_, var offer, _) => offer.Site,
            Due.OfferReminder(_, var offer) => offer.Site,
            Due.StopTimeOver(_, var stay) => stay.Site,
            Due.ClockTurned(_, var stay, _) => stay.Site,
            Due.LossNear(_, var stay, _) => stay.Site,
            Due.HandLeft(_, var order, _) => order.Site,
            Due.HandNear(_, var order, _) => order.Site,
            Due.HandOverdue(_, var order, _) => order.Site,
            _ => throw new InvalidOperationException("This is not due on a site."),
        };
}
