using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>
/// Takes the sources in: in chunks, each one commit with its journal entries, under a lease so that one server reads a
/// source at a time. A read that breaks off leaves what it has taken in and makes no site vanish.
/// </summary>
public sealed partial class SourceReader(
    Database database,
    IEnumerable<ISiteHost> hosts,
    IServiceProvider services,
    ILogger<SourceReader> log
)
{
    private const int ListPage = 200;
    private const int MostRefused = 200;
    private static readonly TimeSpan LeaseTime = TimeSpan.FromMinutes(1);

    private static readonly TimeSpan StaffAhead = TimeSpan.FromSeconds(5);

    // What a host tells of changes is believed for so long; then all of it is read anew.
    private static readonly TimeSpan WholeEvery = TimeSpan.FromHours(12);

    // A list that broke off longer ago may have shifted too far to go on with.
    private static readonly TimeSpan GoOnWithin = TimeSpan.FromHours(1);
    private readonly string worker = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";
    private readonly SiteIntake intake = new(database, log);
    private readonly OneEach reads = new();

    private StaffList? Staff => services.GetService<StaffList>();

    /// <summary>All sources that this server is connected to, the staff list first: hosts name people.</summary>
    public IReadOnlyList<string> Names =>
        [.. Staff is null ? Array.Empty<string>() : [StaffList.SourceName], .. hosts.Select(host => host.Name)];

    /// <summary>Reads, in the background, the sources that somebody has asked for.</summary>
    public void Wake(CancellationToken stop) => _ = Task.Run(() => StartWanted(stop), stop);

    /// <summary>Starts, in the background, what is due of each source that is not being read.</summary>
    public void StartDue(CancellationToken stop)
    {
        foreach (var name in Names)
        {
            reads.Start(name, () => InBackground(name, () => ReadDue(name, stop)), stop);
        }
    }

    public Task ReadAll(CancellationToken stop) => Each(name => Read(name, stop), stop);

    /// <summary>
    /// What is due of each source: hosts that tell what changed are asked for that, and read as a whole only now and then;
    /// all others are read.
    /// </summary>
    public Task ReadDue(CancellationToken stop) => Each(name => ReadDue(name, stop), stop);

    // The staff list a moment before the hosts, for hosts name people; and then each by itself: one that is slow, or does
    // not answer, keeps none of the others waiting.
    private async Task Each(Func<string, Task> read, CancellationToken stop)
    {
        var staff = Staff is null ? Task.CompletedTask : read(StaffList.SourceName);
        await Task.WhenAny(staff, Task.Delay(StaffAhead, stop));
        await Task.WhenAll([staff, .. hosts.Select(host => read(host.Name))]);
    }

    private async Task InBackground(string name, Func<Task> read)
    {
        try
        {
            await read();
        }
        catch (OperationCanceledException)
        {
            // The server stops; the lease runs out.
        }
        catch (Exception fault)
        {
            log.LogWarning(fault, "{Source} could not be read; the schedule tries again", name);
        }
    }

    private async Task ReadDue(string name, CancellationToken stop)
    {
        var row = (await database.Read(connection => connection.Sources(database.Now), stop)).Find(source => source.Name == name);
        if (
            hosts.FirstOrDefault(host => host.Name == name) is { Habits.TellsChanges: true } host
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

    /// <summary>Reads one source to its end, unless another server does so now. A read that broke off lately goes on.</summary>
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
                left = new LeftOut(await new PeopleIntake(database).TakeStaff(staff, stop));
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

    // Whatever fails here is caught up with by the next question or by the next whole read: the mark stays until it is answered.
    private async Task Ask(ISiteHost host, string mark, CancellationToken stop)
    {
        if (!await database.Change(change => change.LeaseToAsk(host.Name, worker, LeaseTime), stop))
        {
            return;
        }

        try
        {
            var began = database.Now;
            List<string> refused = [.. await new PeopleIntake(database).TakeHost(host.Name, await host.ReadSetting(stop), stop)];
            var changes = await host.ReadChanges(mark, stop);
            foreach (var page in changes.Sites.Chunk(ListPage))
            {
                refused.AddRange(await intake.TakeEach(host.Name, page, began, false, stop));
            }

            refused.AddRange(changes.Refused);

            var gone = (await database.Read(connection => connection.SitesByKey(host.Name, changes.Gone), stop))
                .Where(site => !site.Vanished && site.Existence != Existence.Cleared)
                .ToList();
            if (gone.Count > await intake.MostVanishing(host.Name, stop))
            {
                // So many are looked for in all that the host lists; what it does not list then waits for a person.
                throw new BeginAgainException($"{host.Name} tells at once that {gone.Count} sites are gone");
            }

            await intake.Vanish(gone, key => host.ReadSite(key, stop), stop);
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
        return $"Reading {name} failed here: {fault.Message}";
    }

    private Task End(string name, bool complete, IReadOnlyList<string> refused, string? error) =>
        database.Change(
            change => change.End(name, worker, complete, [.. refused.Take(MostRefused)], error),
            CancellationToken.None
        );

    /// <summary>Reads one site anew: what an order's confirmation is checked against.</summary>
    public async Task ReadSite(ISiteHost host, SiteId id, CancellationToken stop)
    {
        try
        {
            var began = database.Now;
            var key = (await database.Read(connection => connection.Sites(new Sight.Everything(), [id]), stop)).Single().HostKey;
            if (await host.ReadSite(key, stop) is { } site)
            {
                await database.Change(change => intake.Take(change, host.Name, [site], began, isFirst: false), stop);
            }
        }
        catch (HostException fault)
        {
            log.LogInformation("{Host} could not be read back: {Why}. The next read will see it", host.Name, fault.Message);
        }
    }

    private async Task StartWanted(CancellationToken stop)
    {
        try
        {
            var wanted = (await database.Read(connection => connection.Sources(database.Now), stop))
                .Where(source => source is { Wanted: true, IsReading: false })
                .Select(source => source.Name)
                .ToHashSet();
            foreach (var name in Names.Where(wanted.Contains))
            {
                reads.Start(name, () => InBackground(name, () => Read(name, stop)), stop);
            }
        }
        catch (OperationCanceledException)
        {
            // The server stops.
        }
        catch (Exception fault) when (Unreachable.Is(fault))
        {
            log.LogWarning("The wanted sources could not be looked up: {Why}", fault.Message);
        }
    }

    /// <returns>What is wrong with it although it was read to its end; null where nothing is.</returns>
    private async Task<string?> ReadHost(ISiteHost host, SourceLease lease, LeftOut left, CancellationToken stop)
    {
        var people = await new PeopleIntake(database).TakeHost(host.Name, await host.ReadSetting(stop), stop);
        if (lease.Resume is null && host.Habits.TellsChanges)
        {
            // From before the first page on, so that nothing falls between this read and the first question.
            var mark = await MarkOf(host, stop);
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
            // It does not go on from there: then from the start.
            (began, seen) = (database.Now, []);
            left.Clear();
            await TakeAll(host.Name, host.ReadSites(null, stop), began, seen, left, stop);
        }

        left.Words.AddRange(people);

        // Only now, at the end of a complete read, may a site vanish; one that the host withheld has not.
        if (left.IsWithheld)
        {
            return null;
        }

        var most = await intake.MostVanishing(host.Name, stop);
        var held = await intake.Vanish(host.Name, host.Habits.ListLag, key => host.ReadSite(key, stop), seen, began, most, stop);
        await database.Change(change => change.HoldBack(host.Name, held), stop);
        return held == 0
            ? null
            : $"{host.Name} no longer lists {held} sites that it had. So many do not vanish by themselves: look at {host.Name} whether they are gone, and say so here, or read it again.";
    }

    private static async Task<string?> MarkOf(ISiteHost host, CancellationToken stop)
    {
        try
        {
            return (await host.ReadChanges(null, stop)).Mark;
        }
        catch (HostException)
        {
            // It can be read as a whole all the same.
            return null;
        }
    }

    /// <param name="seen">The keys of all sites that were named; those of this read are added.</param>
    /// <param name="left">What is left out is added.</param>
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
            left.Withhold(page.Refused);
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
                throw new HostException("Another server has taken over this read.");
            }
        }
    }

    /// <summary>What a read leaves out: what the host would not tell, and what it told and could not be taken in here.</summary>
    /// <param name="before">Of the part of the read that broke off: which of the two it was is not known any more.</param>
    private sealed class LeftOut(IEnumerable<string> before)
    {
        public List<string> Words { get; } = [.. before];

        /// <summary>Whether the host may know of sites that it did not name. One that it named and that was not taken in here is none of them.</summary>
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
