using System.Collections.Concurrent;
using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Sources;
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
)
{
    private const int AtOnce = 4;
    private static readonly TimeSpan LongestSleep = TimeSpan.FromSeconds(5);
    private readonly string worker = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";
    private readonly OneEach loops = new();

    /// <summary>Sends due changes in the background, and continues while changes wait for a retry: each host separately, so that
    /// a slow one delays only its own changes.
    /// </summary>
    public void Wake(CancellationToken stop) => _ = Task.Run(() => WakeEach(stop), stop);

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

    private async Task WakeEach(CancellationToken stop)
    {
        try
        {
            foreach (var host in await database.Read(connection => connection.HostsWithChanges(), stop))
            {
                loops.Start(host, () => Loop(host, stop), stop);
            }
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogWarning(fault, "The change queues could not be read; the schedule retries");
        }
    }

    private async Task Loop(string host, CancellationToken stop)
    {
        try
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
        catch (OperationCanceledException)
        {
            // The server stops; leases expire.
        }
        catch (Exception fault)
        {
            log.LogError(fault, "The change queues of {Host} failed; the schedule retries", host);
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
                database.Now,
                stop
            );
        var isOver = await database.Change(change => Answer(change, id, reply), stop);
        if (isOver && host is not null)
        {
            await sources.ReadSite(host, taken.Site.Id, stop);
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
            await End(change, withdrawn, site, EntryActor.Product);
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
            await change.Append([Entry(JournalAction.ChangeSent, EntryActor.OfSource(site.Host), taken)]);
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
            await End(change, answered, site, EntryActor.OfSource(site.Host), before);
        }

        // A refused change may have had half its effect; a confirmed one has to be verified.
        return !answered.State.IsOpen();
    }

    /// <summary>The consequences for the action that the change served are written with it.</summary>
    /// <param name="before">The site before the response, if the entry of the change records the difference.</param>
    internal static async Task End(
        Change change,
        HostChange hostChange,
        SiteFacts site,
        EntryActor actor,
        SiteFacts? before = null
    )
    {
        var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
        var atticEntry = (await change.Connection.LatestAtticEntries([hostChange.Site])).GetValueOrDefault(hostChange.Site);
        var after = Aftermath.Answered(
            hostChange,
            site,
            await change.Connection.OfferOfHostChange(hostChange.Id),
            atticEntry,
            directory,
            change.Now
        );
        await change.Keep(after, directory.Time, [StateEntry(actor, hostChange).Telling(before ?? site, site)]);
    }

    private static readonly Dictionary<ChangeState, JournalAction> StateActions = new()
    {
        [ChangeState.Confirmed] = JournalAction.ChangeConfirmed,
        [ChangeState.Verified] = JournalAction.ChangeVerified,
        [ChangeState.Contradicted] = JournalAction.ChangeContradicted,
        [ChangeState.Refused] = JournalAction.ChangeRefused,
        [ChangeState.GivenUp] = JournalAction.ChangeGivenUp,
        [ChangeState.Withdrawn] = JournalAction.ChangeWithdrawn,
        [ChangeState.Superseded] = JournalAction.ChangeSuperseded,
    };

    /// <summary>The entry that a change has reached its state.</summary>
    public static Draft StateEntry(EntryActor actor, HostChange hostChange) =>
        Entry(StateActions[hostChange.State], actor, hostChange);

    private static Draft Entry(JournalAction action, EntryActor actor, HostChange hostChange) =>
        new(action, actor, EntrySubject.Of(hostChange.Site))
        {
            OnBehalf = EntryActor.Of(hostChange.By),
            After = JournalValue.Of(
                ("change", JournalValue.Of(hostChange.Id.ToString())),
                ("attempts", JournalValue.Of(hostChange.Attempts)),
                ("message", JournalValue.Of(hostChange.Words))
            ),
        };
}
