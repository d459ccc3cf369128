using System.Collections.Concurrent;
using System.Globalization;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Sources;
using AtticLedger.Store;

namespace AtticLedger.Server.Lanes;

/// <summary>
/// Brings orders to their hosts: one lane a site, oldest first, taken by lease. No lock is held while a host is asked; a
/// server that dies there leaves a lease that runs out, and the next one brings the same order under the same key.
/// </summary>
public sealed class OrderLanes(Database database, IEnumerable<ISiteHost> hosts, SourceReader sources, ILogger<OrderLanes> log)
{
    private const int AtOnce = 4;
    private static readonly TimeSpan LongestSleep = TimeSpan.FromSeconds(5);
    private readonly string worker = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";
    private readonly OneEach loops = new();

    /// <summary>
    /// Works off what is due, in the background, and goes on while orders wait for a later try: each host by itself, so that
    /// one that is slow keeps nobody waiting but its own orders.
    /// </summary>
    public void Wake(CancellationToken stop) => _ = Task.Run(() => WakeEach(stop), stop);

    /// <summary>One pass: every lane's oldest order that may be taken now.</summary>
    /// <returns>How many orders were brought to a host.</returns>
    public async Task<int> RunDue(CancellationToken stop) =>
        (
            await Task.WhenAll(
                (await database.Read(connection => connection.HostsWithOrders(), stop)).Select(host => RunDue(host, stop))
            )
        ).Sum();

    private async Task<int> RunDue(string host, CancellationToken stop)
    {
        var due = (await database.Read(connection => connection.OpenOrders(host), stop))
            .GroupBy(order => order.Site)
            .Select(lane => Lane.Next(lane, database.Now))
            .OfType<Order>()
            .ToList();
        var faults = new ConcurrentQueue<Exception>();
        await Parallel.ForEachAsync(
            due,
            new ParallelOptions { MaxDegreeOfParallelism = AtOnce, CancellationToken = stop },
            async (order, token) =>
            {
                try
                {
                    await Bring(order.Id, token);
                }
                catch (Exception fault) when (fault is not OperationCanceledException)
                {
                    // The others of this pass are brought all the same.
                    faults.Enqueue(fault);
                }
            }
        );
        return faults.IsEmpty ? due.Count : throw new AggregateException(faults);
    }

    private async Task WakeEach(CancellationToken stop)
    {
        try
        {
            foreach (var host in await database.Read(connection => connection.HostsWithOrders(), stop))
            {
                loops.Start(host, () => Loop(host, stop), stop);
            }
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogWarning(fault, "The orders could not be looked up; the schedule wakes them again");
        }
    }

    private async Task Loop(string host, CancellationToken stop)
    {
        try
        {
            while (!stop.IsCancellationRequested)
            {
                await RunDue(host, stop);
                var waiting = (await database.Read(connection => connection.OpenOrders(host), stop))
                    .GroupBy(order => order.Site)
                    .Select(lane => Lane.MayBeTaken(Lane.Oldest(lane)!))
                    .Where(at => at < ByHand.Never)
                    .ToList();
                if (waiting.Count == 0)
                {
                    break;
                }

                var next = waiting.Min() - database.Now;
                await Task.Delay(
                    next < TimeSpan.FromMilliseconds(20) ? TimeSpan.FromMilliseconds(20)
                        : next < LongestSleep ? next
                        : LongestSleep,
                    stop
                );
            }
        }
        catch (OperationCanceledException)
        {
            // The server stops; leases run out.
        }
        catch (Exception fault)
        {
            log.LogError(fault, "The orders for {Host} stopped; the schedule wakes them again", host);
        }
    }

    private async Task Bring(OrderId id, CancellationToken stop)
    {
        if (await database.Change(change => Take(change, id), stop) is not { } taken)
        {
            return;
        }

        var host = hosts.FirstOrDefault(host => host.Name == taken.Site.Host);
        HostReply reply = host is null
            ? new HostReply.Later(TimeSpan.FromMinutes(1), $"{taken.Site.Host} is not connected to this server.")
            : await host.Bring(
                taken.Order,
                taken.Site.HostKey,
                () => database.Read(connection => SiteIntake.Resolution(connection, database.Rolls, database.Now), stop),
                database.Now,
                stop
            );
        var isOver = await database.Change(change => Answer(change, id, reply), stop);
        if (isOver && host is not null)
        {
            await sources.ReadSite(host, taken.Site.Id, stop);
        }
    }

    private async Task<(Order Order, SiteFacts Site)?> Take(Change change, OrderId id)
    {
        if (
            await change.Connection.Order(id) is not { } order
            || Lane.Next(await change.Connection.OrdersOf(order.Site), change.Now)?.Id != id
        )
        {
            return null;
        }

        var site = (await change.Connection.Sites(new Sight.Everything(), [order.Site])).Single();
        if (Lane.Withdrawn(order, await change.Roll(await change.Connection.HouseTime())) is { } withdrawn)
        {
            await change.Put(withdrawn);
            await End(change, withdrawn, site, "house");
            return null;
        }

        if ((await change.Connection.House()).HabitsOf(site.Host).ByHand is { } how)
        {
            var roll = await change.Roll(await change.Connection.HouseTime());
            await change.Keep(ByHand.Give(order, site, how, roll), roll.Time, "given", "house");
            return null;
        }

        var taken = Lane.Take(order, worker, change.Now);
        await change.Put(taken);
        if (order.State == OrderState.Asked)
        {
            await change.Append([Entry("order.sent", Draft.ActorOf(site.Host), taken)]);
        }

        return (taken, site);
    }

    /// <returns>Whether the host has confirmed.</returns>
    private async Task<bool> Answer(Change change, OrderId id, HostReply reply)
    {
        if (await change.Connection.Order(id) is not { State: OrderState.Sent } order || order.Lease != worker)
        {
            // The lease ran out and somebody else has brought the order since.
            return false;
        }

        var site = (await change.Connection.Sites(new Sight.Everything(), [order.Site])).Single();
        var answer = (await SiteIntake.Resolution(change)).Answer(reply, site.Expected.Or([]));
        var answered = Lane.Answered(order, answer, change.Now);
        await change.Put(answered);
        var before = site;
        if (answer is HostAnswer.Done done)
        {
            site = Intake.Confirm(site, order.Wish, done, change.Now);
            await change.UpdateSite(site);
        }

        if (!answered.State.IsOpen())
        {
            await End(change, answered, site, Draft.ActorOf(site.Host), before);
        }

        // What was refused may have had half its effect before; what was confirmed is to be seen.
        return !answered.State.IsOpen();
    }

    /// <summary>What follows for the deed that the order served is written with it.</summary>
    /// <param name="before">The site before the answer, where the entry of the order is what tells of its change.</param>
    internal static async Task End(Change change, Order order, SiteFacts site, string actor, SiteFacts? before = null)
    {
        var roll = await change.Roll(await change.Connection.HouseTime());
        var stay = (await change.Connection.LatestStays([order.Site])).GetValueOrDefault(order.Site);
        var after = Aftermath.Answered(order, site, await change.Connection.OfferOfOrder(order.Id), stay, roll, change.Now);
        await change.Keep(
            after,
            roll.Time,
            [Entry($"order.{order.State.ToString().ToLowerInvariant()}", actor, order).Telling(before ?? site, site)]
        );
    }

    public static Draft Entry(string deed, string actor, Order order) =>
        new(deed, actor, $"site:{order.Site.Value.ToString(CultureInfo.InvariantCulture)}")
        {
            OnBehalf = $"person:{order.By.Value.ToString(CultureInfo.InvariantCulture)}",
            After = JournalValue.Of(
                ("order", JournalValue.Of(order.Id.ToString())),
                ("attempts", JournalValue.Of(order.Attempts)),
                ("words", JournalValue.Of(order.Words))
            ),
        };
}
