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
    private static readonly TimeSpan LeaseTime = TimeSpan.FromMinutes(1);
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

    /// <summary>Reads one source to its end, unless another server does so now.</summary>
    public async Task Read(string name, CancellationToken stop)
    {
        await database.Change(change => change.Declare(name), stop);
        if (!await database.Change(change => change.Lease(name, worker, LeaseTime), stop))
        {
            return;
        }

        var refused = new List<string>();
        string? error = null;
        try
        {
            if (name == StaffList.SourceName && Staff is { } staff)
            {
                await new PeopleIntake(database).TakeStaff(staff, stop);
            }
            else
            {
                await ReadHost(hosts.Single(host => host.Name == name), refused, stop);
            }
        }
        catch (HostException fault)
        {
            error = fault.Message;
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogError(fault, "Reading {Source} failed", name);
            error = $"Reading {name} failed here: {fault.Message}";
        }

        await database.Change(change => change.End(name, worker, error is null, [.. refused.Take(200)], error), CancellationToken.None);
    }

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

    private async Task ReadHost(ISiteHost host, List<string> refused, CancellationToken stop)
    {
        var began = database.Now;
        await new PeopleIntake(database).TakeHost(host.Name, await host.ReadSetting(stop), stop);
        var isFirst = !await database.Read(connection => connection.HasSitesOf(host.Name), stop);
        var seen = new HashSet<string>();
        await foreach (var page in host.ReadSites(stop))
        {
            refused.AddRange(page.Refused);
            seen.UnionWith(page.Sites.Select(site => site.Key));
            await database.Change(change => Take(change, host.Name, page.Sites, began, isFirst), stop);
            if (!await database.Change(change => change.Progress(host.Name, worker, seen.Count, page.Expected, LeaseTime), stop))
            {
                throw new HostException("Another server has taken over this read.");
            }
        }

        // Only now, at the end of a complete read, may a site vanish; one that the host withheld has not.
        if (refused.Count == 0)
        {
            await Vanish(host, seen, began, stop);
        }
    }

    private async Task Take(Change change, string host, IReadOnlyList<HostSite> sites, DateTimeOffset began, bool isFirst)
    {
        var resolution = await Resolution(change);
        var known = (await change.Connection.SitesByKey(host, [.. sites.Select(site => site.Key)])).ToDictionary(site => site.HostKey);
        var confirmed = (await change.Connection.OrdersUnderWay()).Where(order => order.State == OrderState.Confirmed).ToLookup(order => order.Site);
        var stays = await change.Connection.LatestStays([.. known.Values.Select(site => site.Id)]);
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

            foreach (var order in taken.Moved)
            {
                await change.Put(order);
                drafts.Add(OrderLanes.Entry($"order.{order.State.ToString().ToLowerInvariant()}", Draft.ActorOf(host), order));
            }

            if (taken.Entry is { } changed)
            {
                drafts.Add(changed);
            }

            drafts.AddRange(await change.KeepAllBut(Aftermath.Seen(taken.Site, stays.GetValueOrDefault(line.Id), administrators, isFirst, change.Now), time));
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

    private async Task Vanish(ISiteHost host, HashSet<string> seen, DateTimeOffset began, CancellationToken stop)
    {
        var missing = await database.Change(
            async change =>
            {
                // Where lists lag, a site that is in none of them may be on its way from one to the other.
                List<SiteId> unlisted = [.. (await change.Connection.StandingSince(host.Name, began)).Where(site => !seen.Contains(site.Key)).Select(site => site.Id)];
                return await change.Connection.Sites(new Sight.Everything(), host.Habits.ListLag == TimeSpan.Zero ? unlisted : await change.MissingFor(host.Name, unlisted, began, host.Habits.ListLag));
            },
            stop);
        foreach (var site in missing)
        {
            // Clearing is for good, so a site that may have been restored while the lists were read is asked for by itself.
            if (site.Existence == Existence.Attic && await host.ReadSite(site.HostKey, stop) is not null)
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
