using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Syncs the sources: in chunks, each committed with its journal entries, under a lease so that one server syncs a
/// source at a time. An interrupted sync keeps what it has stored and makes no site "no longer reported".
/// </summary>
public sealed partial class SourceSync(
    Database database,
    IEnumerable<ISiteHost> hosts,
    IServiceProvider services,
    ILogger<SourceSync> log
) : Worker(log)
{
    private const int ListPage = 200;
    private const int MostRefused = 200;
    private static readonly TimeSpan LeaseTime = TimeSpan.FromMinutes(1);

    private static readonly TimeSpan StaffAhead = TimeSpan.FromSeconds(5);

    // A complete sync is due after this time, even if the host reports changes.
    private static readonly TimeSpan WholeEvery = TimeSpan.FromHours(12);

    // An older interrupted sync is restarted, because the list may have shifted.
    private static readonly TimeSpan GoOnWithin = TimeSpan.FromHours(1);
    private readonly string worker = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";
    private readonly SiteIntake intake = new(database, log);
    private readonly OneEach reads = new(
        (name, fault) => log.LogWarning(fault, "{Source} could not be synced; the schedule retries", name)
    );

    private StaffList? Staff => services.GetService<StaffList>();

    /// <summary>All connected sources, the staff list first, because hosts name people.</summary>
    public IReadOnlyList<string> Names =>
        [.. Staff is null ? Array.Empty<string>() : [StaffList.SourceName], .. hosts.Select(host => host.Name)];

    public override WorkKind Kind => WorkKind.Syncs;

    /// <summary>Starts the requested syncs.</summary>
    protected override async Task Work(CancellationToken stop)
    {
        var wanted = (await database.Read(connection => connection.Sources(database.Now), stop))
            .Where(source => source is { Wanted: true, IsSyncing: false })
            .Select(source => source.Name)
            .ToHashSet();
        foreach (var name in Names.Where(wanted.Contains))
        {
            // Once more, if it is just ending; not again, if it has just begun.
            reads.Wake(name, () => ReadWanted(name, stop), stop);
        }
    }

    private async Task ReadWanted(string name, CancellationToken stop)
    {
        if (
            (await database.Read(connection => connection.Sources(database.Now), stop)).Exists(source =>
                source.Name == name && source.Wanted
            )
        )
        {
            await Read(name, stop);
            Wake(stop);
        }
    }

    /// <summary>Starts the due sync of each source in the background.</summary>
    public void StartDue(CancellationToken stop)
    {
        var staff = new TaskCompletionSource();
        if (Staff is not null)
        {
            reads.Start(
                StaffList.SourceName,
                async () =>
                {
                    await SyncDue(StaffList.SourceName, stop);
                    staff.SetResult();
                    Wake(stop);
                },
                stop
            );
        }

        foreach (var host in hosts)
        {
            reads.Start(
                host.Name,
                async () =>
                {
                    await Ahead(Staff is null ? Task.CompletedTask : staff.Task, stop);
                    await SyncDue(host.Name, stop);

                    // The staff list may have brought people meanwhile.
                    Wake(stop);
                },
                stop
            );
        }
    }

    public Task ReadAll(CancellationToken stop) => Each(name => Read(name, stop), stop);

    /// <summary>The due sync of each source: hosts that report changes are asked for them and synced completely only from time
    /// to time; all others are synced completely.
    /// </summary>
    public Task SyncDue(CancellationToken stop) => Each(name => SyncDue(name, stop), stop);

    // The staff list first, because hosts name people; then each host separately: a slow or silent one does not delay the others.
    private async Task Each(Func<string, Task> read, CancellationToken stop)
    {
        var staff = Staff is null ? Task.CompletedTask : read(StaffList.SourceName);
        await Ahead(staff, stop);
        await Task.WhenAll([staff, .. hosts.Select(host => read(host.Name))]);
        await Task.WhenAll(hosts.Select(host => ReadWanted(host.Name, stop)));
    }

    private static Task Ahead(Task staff, CancellationToken stop) => Task.WhenAny(staff, Task.Delay(StaffAhead, stop));

    private async Task<bool> IsStaffKnown(CancellationToken stop) =>
        Staff is null
        || (await database.Read(connection => connection.Sources(database.Now), stop)).Exists(source =>
            source is { Name: StaffList.SourceName, WholeAt: not null }
        );

    private async Task SyncDue(string name, CancellationToken stop)
    {
        var row = (await database.Read(connection => connection.Sources(database.Now), stop)).Find(source => source.Name == name);
        if (
            hosts.FirstOrDefault(host => host.Name == name) is IReportsChanges host
            && row is { Wanted: false, Mark: { } mark, WholeAt: { } whole }
            && whole > database.Now - WholeEvery
        )
        {
            await Ask(host, mark, stop);
        }
        else
        {
            await Read(name, stop);
        }
    }

    /// <summary>Syncs one source completely, unless another server does. A recently interrupted sync is resumed.</summary>
    public async Task Read(string name, CancellationToken stop)
    {
        await database.Change(change => change.Declare(name), stop);
        if (await database.Change(change => change.Lease(name, worker, LeaseTime, GoOnWithin), stop) is not { } lease)
        {
            return;
        }

        var left = new LeftOut(lease.Refused);
        string? error = null;
        try
        {
            if (name == StaffList.SourceName && Staff is { } staff)
            {
                left = new LeftOut(await new PeopleIntake(database).TakeStaff(staff, hosts.Select(host => host.Name), stop));
            }
            else
            {
                error = await ReadHost(hosts.Single(host => host.Name == name), lease, left, stop);
            }
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            error = Words(name, fault);
        }

        await End(name, error is null, left.Words, error);
        await KeepBudget(hosts.FirstOrDefault(host => host.Name == name));
    }

    // A failure here is made up for by the next request for changes or the next complete sync: the bookmark stays.
    private async Task Ask(IReportsChanges host, string mark, CancellationToken stop)
    {
        if (!await database.Change(change => change.LeaseToAsk(host.Name, worker, LeaseTime), stop))
        {
            return;
        }

        try
        {
            var began = database.Now;
            List<string> refused =
            [
                .. await new PeopleIntake(database).TakeHost(
                    host.Name,
                    await host.ReadSetting(stop),
                    await IsStaffKnown(stop),
                    stop
                ),
            ];
            var changes = await host.ReadChanges(mark, stop);
            foreach (var page in changes.Sites.Chunk(ListPage))
            {
                refused.AddRange(await intake.TakeEach(host.Name, page, began, false, stop));
            }

            refused.AddRange(changes.Refused);

            var gone = (await database.Read(connection => connection.SitesByKey(host.Name, changes.Gone), stop))
                .Where(site => !site.NoLongerReported && site.Existence != Existence.Erased)
                .ToList();
            if (gone.Count > await intake.MostMissing(host.Name, stop))
            {
                // This many missing sites are looked up individually; more wait for a person.
                throw new BeginAgainException($"{host.Name} reports at once that {gone.Count} sites are gone");
            }

            await intake.MarkMissing(gone, key => host.ReadSite(key, stop), stop);
            await Asked(changes.Mark, changes.Sites.Count + changes.Gone.Count, [.. refused.Take(MostRefused)], null, false);
        }
        catch (BeginAgainException)
        {
            await Asked(null, 0, [], null, true);
            await Read(host.Name, stop);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            await Asked(null, 0, [], Words(host.Name, fault), false);
        }

        await KeepBudget(host);

        Task Asked(string? then, int count, IReadOnlyList<string> refused, string? error, bool isSpent) =>
            database.Change(
                change => change.Asked(host.Name, worker, then, count, refused, error, isSpent),
                CancellationToken.None
            );
    }

    private async Task KeepBudget(ISiteHost? host)
    {
        if (host?.Budget is { } budget)
        {
            await database.Change(change => change.Budget(host.Name, budget.Allowed, budget.Left), CancellationToken.None);
        }
    }

    private string Words(string name, Exception fault)
    {
        if (fault is HostException)
        {
            return fault.Message;
        }

        log.LogError(fault, "Reading {Source} failed", name);
        return $"Syncing {name} failed: {fault.Message}";
    }

    private Task End(string name, bool complete, IReadOnlyList<string> refused, string? error) =>
        database.Change(
            change => change.End(name, worker, complete, [.. refused.Take(MostRefused)], error),
            CancellationToken.None
        );

    /// <summary>Syncs one site, to verify a confirmed change.</summary>
    public async Task ReadSite(ISiteHost host, SiteId id, CancellationToken stop)
    {
        try
        {
            var began = database.Now;
            var key = (await database.Read(connection => connection.Sites(new Scope.Everything(), [id]), stop)).Single().HostKey;
            if (await host.ReadSite(key, stop) is { } site)
            {
                await database.Change(change => intake.Take(change, host.Name, [site], began, isFirst: false), stop);
            }
        }
        catch (HostException fault)
        {
            log.LogInformation("{Host} could not be read again: {Why}. The next sync will verify it", host.Name, fault.Message);
        }
    }

    /// <summary>Syncs a site that was just made.</summary>
    /// <param name="withGroups">True if groups were made with it: then the people and groups of its host are synced first.</param>
    /// <returns>False if the host does not have it, or not yet.</returns>
    /// <exception cref="HostException">The host did not report it.</exception>
    public async Task<bool> ReadNew(ISiteHost host, string key, bool withGroups, CancellationToken stop)
    {
        var began = database.Now;
        if (withGroups)
        {
            await new PeopleIntake(database).TakeHost(host.Name, await host.ReadSetting(stop), await IsStaffKnown(stop), stop);
        }

        if (await host.ReadSite(key, stop) is not { } site)
        {
            return false;
        }

        await intake.TakeEach(host.Name, [site], began, false, stop);
        return true;
    }

    /// <returns>The fault of a completed sync; null if none.</returns>
    private async Task<string?> ReadHost(ISiteHost host, SourceLease lease, LeftOut left, CancellationToken stop)
    {
        var people = await new PeopleIntake(database).TakeHost(
            host.Name,
            await host.ReadSetting(stop),
            await IsStaffKnown(stop),
            stop
        );
        if (lease.Resume is null && host is IReportsChanges reports)
        {
            // Taken before the first page, so that nothing is lost between this sync and the first request for changes.
            var mark = await MarkOf(reports, stop);
            await database.Change(change => change.Mark(host.Name, mark), stop);
        }

        HashSet<string> seen = [.. lease.Seen];
        var began = lease.Began;
        try
        {
            await TakeAll(host.Name, host.ReadSites(lease.Resume, stop), began, seen, left, stop);
        }
        catch (BeginAgainException) when (lease.Resume is not null)
        {
            // The bookmark has expired: restart.
            (began, seen) = (database.Now, []);
            left.Clear();
            await TakeAll(host.Name, host.ReadSites(null, stop), began, seen, left, stop);
        }

        left.Words.AddRange(people);

        // Only now, at the end of a complete sync, can a site become "no longer reported"; a withheld one does not.
        if (left.IsWithheld)
        {
            return null;
        }

        var most = await intake.MostMissing(host.Name, stop);
        var held = await intake.MarkMissing(
            host.Name,
            host.Capabilities.ListLag,
            key => host.ReadSite(key, stop),
            seen,
            began,
            most,
            stop
        );
        await database.Change(change => change.HoldBack(host.Name, held), stop);
        return held == 0
            ? null
            : $"{host.Name} no longer reports {held} sites. So many are not marked automatically: check at {host.Name} whether they are gone, and confirm it here, or sync again.";
    }

    private static async Task<string?> MarkOf(IReportsChanges host, CancellationToken stop)
    {
        try
        {
            return (await host.ReadChanges(null, stop)).Mark;
        }
        catch (HostException)
        {
            // A complete sync is still possible.
            return null;
        }
    }

    /// <param name="seen">The keys of all listed sites; those of this sync are added.</param>
    /// <param name="left">Omissions are added.</param>
    private async Task TakeAll(
        string host,
        IAsyncEnumerable<HostPage> pages,
        DateTimeOffset began,
        HashSet<string> seen,
        LeftOut left,
        CancellationToken stop
    )
    {
        var isFirst = seen.Count == 0 && !await database.Read(connection => connection.HasSitesOf(host), stop);
        await foreach (var page in pages.WithCancellation(stop))
        {
            left.Withhold(page.Withheld);
            left.Words.AddRange(page.NotUnderstood);
            seen.UnionWith(page.Sites.Select(site => site.Key));
            left.Words.AddRange(await intake.TakeEach(host, page.Sites, began, isFirst, stop));
            if (
                !await database.Change(
                    change =>
                        change.Progress(
                            host,
                            worker,
                            seen.Count,
                            page.Expected,
                            page.Next,
                            [.. left.Words.Take(MostRefused)],
                            [.. page.Sites.Select(site => site.Key)],
                            LeaseTime
                        ),
                    stop
                )
            )
            {
                throw new HostException("Another server has taken over this sync.");
            }
        }
    }

    /// <summary>The omissions of a sync: what the host withheld or said in unknown words, and what could not be stored.</summary>
    /// <param name="before">From the interrupted part: which of the two it was is not known any more.</param>
    private sealed class LeftOut(IEnumerable<string> before)
    {
        public List<string> Words { get; } = [.. before];

        /// <summary>True if the host may have sites that it did not list. A listed site that could not be stored or
        /// understood does not count.</summary>
        public bool IsWithheld { get; private set; } = before.Any();

        public void Withhold(IReadOnlyCollection<string> words)
        {
            Words.AddRange(words);
            IsWithheld |= words.Count > 0;
        }

        public void Clear()
        {
            Words.Clear();
            IsWithheld = false;
        }
    }
}
