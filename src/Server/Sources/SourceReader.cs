using System.Globalization;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Lanes;
using AtticLedger.Server.Deeds;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>
/// Takes the sources in: in chunks, each one commit with its journal entries, under a lease so that one server reads a
/// source at a time. A read that breaks off leaves what it has taken in and makes no site vanish.
/// </summary>
public sealed class SourceReader(Database database, IEnumerable<ISiteHost> hosts, IServiceProvider services, ILogger<SourceReader> log)
{
    private const int ListPage = 200;
    private const int MostRefused = 200;
    private static readonly TimeSpan LeaseTime = TimeSpan.FromMinutes(1);

    // What a host tells of changes is believed for so long; then all of it is read anew.
    private static readonly TimeSpan WholeEvery = TimeSpan.FromHours(12);

    // A list that broke off longer ago may have shifted too far to go on with.
    private static readonly TimeSpan GoOnWithin = TimeSpan.FromHours(1);
    private readonly string worker = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";
    private int running;

    private StaffList? Staff => services.GetService<StaffList>();

    /// <summary>All sources that this server is connected to, the staff list first: hosts name people.</summary>
    public IReadOnlyList<string> Names => [.. Staff is null ? Array.Empty<string>() : [StaffList.SourceName], .. hosts.Select(host => host.Name)];

    /// <summary>Reads, in the background, the sources that somebody has asked for.</summary>
    public void Wake(CancellationToken stop)
    {
        if (Interlocked.Exchange(ref running, 1) == 0)
        {
            _ = Task.Run(() => ReadWanted(stop), stop);
        }
    }

    public async Task ReadAll(CancellationToken stop)
    {
        foreach (var name in Names)
        {
            await Read(name, stop);
        }
    }

    /// <summary>
    /// What is due of each source: hosts that tell what changed are asked for that, and read as a whole only now and then;
    /// all others are read.
    /// </summary>
    public async Task ReadDue(CancellationToken stop)
    {
        var rows = (await database.Read(connection => connection.Sources(database.Now), stop)).ToDictionary(source => source.Name);
        foreach (var name in Names)
        {
            if (hosts.FirstOrDefault(host => host.Name == name) is { Habits.TellsChanges: true } host
                && rows.GetValueOrDefault(name) is { Wanted: false, Mark: { } mark, WholeAt: { } whole } && whole > database.Now - WholeEvery)
            {
                await Ask(host, mark, stop);
            }
            else
            {
                await Read(name, stop);
            }
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

        List<string> refused = [.. lease.Refused];
        string? error = null;
        try
        {
            if (name == StaffList.SourceName && Staff is { } staff)
            {
                await new PeopleIntake(database).TakeStaff(staff, stop);
            }
            else
            {
                await ReadHost(hosts.Single(host => host.Name == name), lease, refused, stop);
            }
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            error = Words(name, fault);
        }

        await End(name, error is null, refused, error);
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
            await new PeopleIntake(database).TakeHost(host.Name, await host.ReadSetting(stop), stop);
            var changes = await host.ReadChanges(mark, stop);
            foreach (var page in changes.Sites.Chunk(ListPage))
            {
                await database.Change(change => Take(change, host.Name, page, began, isFirst: false), stop);
            }

            var gone = await database.Read(connection => connection.SitesByKey(host.Name, changes.Gone), stop);
            await Vanish([.. gone.Where(site => !site.Vanished && site.Existence != Existence.Cleared)], key => host.ReadSite(key, stop), stop);
            await Asked(changes.Mark, changes.Sites.Count + changes.Gone.Count, [.. changes.Refused.Take(MostRefused)], null, false);
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
            database.Change(change => change.Asked(host.Name, worker, then, count, refused, error, isSpent), CancellationToken.None);
    }

    private async Task KeepBudget(ISiteHost? host)
    {
        if (host?.Budget is { } budget)
        {
            await database.Change(change => change.Budget(host.Name, budget.Allowed, budget.Left), CancellationToken.None);
        }
    }

    /// <summary>Takes in a list that was kept by hand, unless one of the same name is being taken in now.</summary>
    /// <param name="asOf">When the list was true: what was confirmed since stands against it.</param>
    /// <param name="isWhole">Whether it names all there is, so that what it leaves out has vanished.</param>
    /// <returns>Why it was not taken in to the end; null where it was.</returns>
    public async Task<string?> TakeList(string name, HandList list, bool isWhole, DateTimeOffset asOf, CancellationToken stop)
    {
        await database.Change(change => change.Declare(name, wanted: false), stop);
        if (await database.Change(change => change.Lease(name, worker, LeaseTime, TimeSpan.Zero), stop) is null)
        {
            return $"A list of {name} is being taken in now. Try again when it is done.";
        }

        string? error = null;
        try
        {
            var seen = await TakeAll(name, AsPages(list.Sites, list.Refused), asOf, [], [], stop);
            foreach (var others in list.Others.Chunk(ListPage))
            {
                await database.Change(change => Hear(change, name, others, asOf), stop);
            }

            // Only a list of which every line is a site is whole.
            if (isWhole && list.Refused.Count == 0)
            {
                await Vanish(name, TimeSpan.Zero, _ => Task.FromResult<HostSite?>(null), seen, asOf, stop);
            }
        }
        catch (Exception fault)
        {
            error = Words(name, fault);
        }

        await End(name, error is null && isWhole, [.. list.Refused, .. list.Problems], error ?? (isWhole ? null : "The list named only a part of the sites there."));
        return error;
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
        database.Change(change => change.End(name, worker, complete, [.. refused.Take(MostRefused)], error), CancellationToken.None);

    /// <summary>Reads one site anew: what an order's confirmation is checked against.</summary>
    public async Task ReadSite(ISiteHost host, SiteId id, CancellationToken stop)
    {
        try
        {
            var began = database.Now;
            var key = (await database.Read(connection => connection.Sites(new Sight.Everything(), [id]), stop)).Single().HostKey;
            if (await host.ReadSite(key, stop) is { } site)
            {
                await database.Change(change => Take(change, host.Name, [site], began, isFirst: false), stop);
            }
        }
        catch (HostException fault)
        {
            log.LogInformation("{Host} could not be read back: {Why}. The next read will see it", host.Name, fault.Message);
        }
    }

    public static Task<Resolution> Resolution(Change change) => Resolution(change.Connection, change.Rolls, change.Now);

    public static async Task<Resolution> Resolution(NpgsqlConnection connection, Rolls rolls, DateTimeOffset now)
    {
        var roll = await rolls.Of(connection, now, await connection.HouseTime());
        return new(roll.ByMail, await connection.GroupKeys(), roll.Units.Select(unit => unit.Code.Value).ToHashSet());
    }

    private async Task ReadWanted(CancellationToken stop)
    {
        try
        {
            var wanted = (await database.Read(connection => connection.Sources(database.Now), stop)).Where(source => source is { Wanted: true, IsReading: false }).Select(source => source.Name).ToHashSet();
            foreach (var name in Names.Where(wanted.Contains))
            {
                await Read(name, stop);
            }
        }
        catch (OperationCanceledException)
        {
            // The server stops; the lease runs out.
        }
        catch (NpgsqlException fault)
        {
            log.LogWarning(fault, "The wanted sources could not be looked up");
        }
        finally
        {
            Volatile.Write(ref running, 0);
        }
    }

    private async Task ReadHost(ISiteHost host, SourceLease lease, List<string> refused, CancellationToken stop)
    {
        await new PeopleIntake(database).TakeHost(host.Name, await host.ReadSetting(stop), stop);
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
            await TakeAll(host.Name, host.ReadSites(lease.Resume, stop), began, seen, refused, stop);
        }
        catch (BeginAgainException) when (lease.Resume is not null)
        {
            // It does not go on from there: then from the start.
            (began, seen) = (database.Now, []);
            refused.Clear();
            await TakeAll(host.Name, host.ReadSites(null, stop), began, seen, refused, stop);
        }

        // Only now, at the end of a complete read, may a site vanish; one that the host withheld has not.
        if (refused.Count == 0)
        {
            await Vanish(host.Name, host.Habits.ListLag, key => host.ReadSite(key, stop), seen, began, stop);
        }
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
    private async Task<HashSet<string>> TakeAll(string host, IAsyncEnumerable<HostPage> pages, DateTimeOffset began, HashSet<string> seen, List<string> refused, CancellationToken stop)
    {
        var isFirst = seen.Count == 0 && !await database.Read(connection => connection.HasSitesOf(host), stop);
        await foreach (var page in pages.WithCancellation(stop))
        {
            refused.AddRange(page.Refused);
            seen.UnionWith(page.Sites.Select(site => site.Key));
            await database.Change(change => Take(change, host, page.Sites, began, isFirst), stop);
            if (!await database.Change(change => change.Progress(host, worker, seen.Count, page.Expected, page.Next, [.. refused.Take(MostRefused)], [.. page.Sites.Select(site => site.Key)], LeaseTime), stop))
            {
                throw new HostException("Another server has taken over this read.");
            }
        }

        return seen;
    }

    private static async Task Hear(Change change, string list, IReadOnlyList<ListedElsewhere> others, DateTimeOffset asOf)
    {
        var sites = await change.Connection.SitesNamed([.. others.Select(other => (other.Host, other.Named))]);
        foreach (var other in others)
        {
            if (sites.TryGetValue((other.Host, other.Named), out var site) && Intake.Hear(site, list, other.Facts, asOf) is { Entry: { } entry } heard)
            {
                await change.UpdateSite(heard.Site);
                await change.Append([entry]);
            }
        }
    }

    private static async IAsyncEnumerable<HostPage> AsPages(IReadOnlyList<HostSite> sites, IReadOnlyList<string> refused)
    {
        foreach (var page in sites.Chunk(ListPage))
        {
            yield return new HostPage(page, [], sites.Count + refused.Count);
        }

        await Task.CompletedTask;
    }

    private async Task Take(Change change, string host, IReadOnlyList<HostSite> sites, DateTimeOffset began, bool isFirst)
    {
        var resolution = await Resolution(change);
        var known = (await change.Connection.SitesByKey(host, [.. sites.Select(site => site.Key)])).ToDictionary(site => site.HostKey);
        var confirmed = (await change.Connection.OrdersUnderWay()).Where(order => order.State == OrderState.Confirmed).ToLookup(order => order.Site);
        var stays = await change.Connection.LatestStays([.. known.Values.Select(site => site.Id)]);
        var hands = await change.Connection.HandOrders([.. known.Values.SelectMany(site => confirmed[site.Id]).Select(order => order.Id)]);
        var administrators = await change.Connection.Administrators();
        var time = await change.Connection.HouseTime();
        var drafts = new List<Draft>();
        var digest = new List<JournalValue>();
        foreach (var said in sites.DistinctBy(site => site.Key))
        {
            var line = known.GetValueOrDefault(said.Key);
            var taken = Intake.Take(line, resolution.Site(host, said, began), line is null ? [] : [.. confirmed[line.Id]], began, change.Now);
            if (line is null)
            {
                var id = await change.AddSite(taken.Site);
                var entry = taken.Entry! with { Subject = $"site:{id.Value.ToString(CultureInfo.InvariantCulture)}" };
                digest.Add(entry.After);
                if (!isFirst)
                {
                    drafts.Add(entry);
                }

                drafts.AddRange(await change.KeepAllBut(Aftermath.Seen(taken.Site with { Id = id }, null, administrators, isFirst, change.Now), time));
                continue;
            }

            if (taken.IsNews)
            {
                await change.UpdateSite(taken.Site);
            }

            var stay = stays.GetValueOrDefault(line.Id);
            foreach (var order in taken.Moved)
            {
                await change.Put(order);
                drafts.Add(OrderLanes.Entry($"order.{order.State.ToString().ToLowerInvariant()}", Draft.ActorOf(host), order));
                if (order.State == OrderState.Contradicted && hands.TryGetValue(order.Id, out var hand))
                {
                    var back = ByHand.Disagrees(order, hand, taken.Site, await change.Roll(time));
                    drafts.Add(await change.KeepAllBut(back, time, "returned", Draft.ActorOf(host)));
                    var after = Aftermath.GivenBack(back.Order, taken.Site, stay, change.Now);
                    drafts.AddRange(await change.KeepAllBut(after, time));
                    stay = after.Stay ?? stay;
                }
            }

            if (taken.Entry is { } changed)
            {
                drafts.Add(changed);
            }

            drafts.AddRange(await change.KeepAllBut(Aftermath.Seen(taken.Site, stay, administrators, isFirst, change.Now), time));
        }

        if (isFirst && digest.Count > 0)
        {
            drafts.Add(new Draft("register.loaded", Draft.ActorOf(host), Draft.SubjectOf(host))
            {
                After = JournalValue.Of(("sites", JournalValue.Of(digest.Count)), ("digest", JournalValue.Of(Head.HashOf(JournalValue.Of(digest).Canonical())))),
            });
        }

        await change.Append(drafts);
    }

    private async Task Vanish(string host, TimeSpan lag, Func<string, Task<HostSite?>> ask, HashSet<string> seen, DateTimeOffset began, CancellationToken stop)
    {
        var missing = await database.Change(
            async change =>
            {
                // Where lists lag, a site that is in none of them may be on its way from one to the other.
                List<SiteId> unlisted = [.. (await change.Connection.StandingSince(host, began)).Where(site => !seen.Contains(site.Key)).Select(site => site.Id)];
                return await change.Connection.Sites(new Sight.Everything(), lag == TimeSpan.Zero ? unlisted : await change.MissingFor(host, unlisted, began, lag));
            },
            stop);
        await Vanish(missing, ask, stop);
    }

    private async Task Vanish(IReadOnlyList<SiteFacts> missing, Func<string, Task<HostSite?>> ask, CancellationToken stop)
    {
        foreach (var site in missing)
        {
            // Clearing is for good, so a site that may have been restored while the lists were read is asked for by itself.
            if (site.Existence == Existence.Attic && await ask(site.HostKey) is not null)
            {
                continue;
            }

            await database.Change(
                async change =>
                {
                    var gone = Intake.Vanish(site, change.Now);
                    await change.UpdateSite(gone.Site);
                    var stay = (await change.Connection.LatestStays([site.Id])).GetValueOrDefault(site.Id);
                    await change.Keep(Aftermath.Seen(gone.Site, stay, [], false, change.Now), await change.Connection.HouseTime(), gone.Entry is { } entry ? [entry] : []);
                },
                stop);
        }
    }
}
