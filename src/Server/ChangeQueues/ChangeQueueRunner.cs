using System.Collections.Concurrent;
using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Sources;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.ChangeQueues;

/// <summary>Sends changes to their hosts: one queue per site, the oldest first, taken by lease. No lock is held during a request
/// to a host; if a server is killed there, its lease expires and the next server sends the same change under the same key.
/// </summary>
public sealed class ChangeQueueRunner(
    Database database,
    IEnumerable<ISiteHost> hosts,
    SourceSync sources,
    ILogger<ChangeQueueRunner> log
) : Worker(log)
{
    private const int AtOnce = 4;
    private static readonly TimeSpan LongestSleep = TimeSpan.FromSeconds(5);
    private readonly string worker = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";
    private readonly OneEach loops = new(
        (host, fault) => log.LogError(fault, "The change queues of {Host} failed; the schedule retries", host)
    );

    public override WorkKind Kind => WorkKind.HostChanges;

    /// <summary>Sends due changes, and continues while changes wait for a retry: each host separately, so that a slow one delays
    /// only its own changes.</summary>
    protected override async Task Work(CancellationToken stop)
    {
        foreach (var host in await database.Read(connection => connection.HostsWithChanges(), stop))
        {
            loops.Wake(host, () => Loop(host, stop), stop);
        }
    }

    /// <summary>One pass: the oldest change of every queue that can be taken now.</summary>
    /// <returns>The number of changes sent.</returns>
    public async Task<int> RunDue(CancellationToken stop) =>
        (
            await Task.WhenAll(
                (await database.Read(connection => connection.HostsWithChanges(), stop)).Select(host => RunDue(host, stop))
            )
        ).Sum();

    private async Task<int> RunDue(string host, CancellationToken stop)
    {
        var due = (await database.Read(connection => connection.OpenHostChanges(host), stop))
            .GroupBy(hostChange => hostChange.Site)
            .Select(changeQueue => ChangeQueue.Next(changeQueue, database.Now))
            .OfType<HostChange>()
            .ToList();
        var faults = new ConcurrentQueue<Exception>();
        await Parallel.ForEachAsync(
            due,
            new ParallelOptions { MaxDegreeOfParallelism = AtOnce, CancellationToken = stop },
            async (hostChange, token) =>
            {
                try
                {
                    await Bring(hostChange.Id, token);
                }
                catch (Exception fault) when (fault is not OperationCanceledException)
                {
                    // The other changes of this pass are still sent.
                    faults.Enqueue(fault);
                }
            }
        );
        return faults.IsEmpty ? due.Count : throw new AggregateException(faults);
    }

    private async Task Loop(string host, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            await RunDue(host, stop);
            var waiting = (await database.Read(connection => connection.OpenHostChanges(host), stop))
                .GroupBy(hostChange => hostChange.Site)
                .Select(changeQueue => ChangeQueue.MayBeTaken(ChangeQueue.Oldest(changeQueue)!))
                .Where(at => at < ManualTaskSteps.Never)
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

    private async Task Bring(ChangeId id, CancellationToken stop)
    {
        if (await database.Change(change => Take(change, id), stop) is not { } taken)
        {
            return;
        }

        var host = hosts.FirstOrDefault(host => host.Name == taken.Site.Host);
        HostReply reply = host is null
            ? new HostReply.Later(TimeSpan.FromMinutes(1), $"{taken.Site.Host} is not connected to this server.")
            : await host.Bring(
                taken.HostChange,
                taken.Site.HostKey,
                () =>
                    database.Read(
                        connection => SiteIntake.Resolution(connection, database.PeopleDirectories, database.Now),
                        stop
                    ),
                hash => database.Read(connection => connection.LogoPicture(hash), stop),
                database.Now,
                stop
            );
        var isOver = await database.Change(change => Answer(change, id, reply), stop);
        if (isOver && host is not null)
        {
            await sources.ReadSite(host, taken.Site.Id, stop);
            if (
                taken.HostChange.WantedState.SwapWith is { } swapped
                && await database.Read(connection => connection.SiteAt(taken.Site.Host, swapped), stop) is { } other
            )
            {
                await sources.ReadSite(host, other.Id, stop);
            }
        }
    }

    private async Task<(HostChange HostChange, SiteFacts Site)?> Take(Change change, ChangeId id)
    {
        if (
            await change.Connection.HostChange(id) is not { } hostChange
            || ChangeQueue.Next(await change.Connection.HostChangesOf(hostChange.Site), change.Now)?.Id != id
        )
        {
            return null;
        }

        var site = (await change.Connection.Sites(new Scope.Everything(), [hostChange.Site])).Single();
        if (
            ChangeQueue.Withdrawn(hostChange, await change.PeopleDirectory(await change.Connection.OrganisationTime())) is
            { } withdrawn
        )
        {
            await change.Put(withdrawn);
            await change.End(withdrawn, site, EntryActor.Product);
            return null;
        }

        if ((await change.Connection.Organisation()).CapabilitiesOf(site.Host).ManualProcedure is { } how)
        {
            var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
            await change.Keep(
                ManualTaskSteps.Give(hostChange, site, how, directory),
                directory.Time,
                JournalAction.TaskAssigned,
                EntryActor.Product
            );
            return null;
        }

        var taken = ChangeQueue.Take(hostChange, worker, change.Now);
        await change.Put(taken);
        if (hostChange.State == ChangeState.Queued)
        {
            await change.Append([ChangeOutcomes.Entry(JournalAction.ChangeSent, EntryActor.OfSource(site.Host), taken)]);
        }

        return (taken, site);
    }

    /// <returns>True if the host has confirmed.</returns>
    private async Task<bool> Answer(Change change, ChangeId id, HostReply reply)
    {
        if (await change.Connection.HostChange(id) is not { State: ChangeState.Sent } hostChange || hostChange.Lease != worker)
        {
            // The lease expired and another server has sent the change since.
            return false;
        }

        var site = (await change.Connection.Sites(new Scope.Everything(), [hostChange.Site])).Single();
        var answer = (await SiteIntake.Resolution(change)).Answer(reply, site.Expected.Or([]));
        var answered = ChangeQueue.Answered(hostChange, answer, change.Now);
        await change.Put(answered);
        var before = site;
        if (answer is HostAnswer.Done done)
        {
            site = Intake.Confirm(site, hostChange.WantedState, done, change.Now);
            await change.UpdateSite(site);
        }

        if (!answered.State.IsOpen())
        {
            await change.End(answered, site, EntryActor.OfSource(site.Host), before);
        }

        // A refused change may have had half its effect; a confirmed one has to be verified.
        return !answered.State.IsOpen();
    }
}
