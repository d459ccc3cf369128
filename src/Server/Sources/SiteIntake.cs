using System.Globalization;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Lanes;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>Writes into the register what hosts and lists say of sites.</summary>
internal sealed class SiteIntake(Database database, ILogger log)
{
    // Of a host's sites, in hundredths, how many may vanish at once without a person who says that they are gone; a few may always.
    private const string VanishShare = "vanish-share";
    private const int ShareThatVanishes = 10;
    private const int LeastHeldBack = 5;

    public static Task<Resolution> Resolution(Change change) => Resolution(change.Connection, change.Rolls, change.Now);

    public static async Task<Resolution> Resolution(NpgsqlConnection connection, Rolls rolls, DateTimeOffset now)
    {
        var roll = await rolls.Of(connection, now, await connection.HouseTime());
        return new(roll.ByMail, await connection.GroupKeys(), roll.Units.Select(unit => unit.Code.Value).ToHashSet());
    }

    /// <summary>Takes in what a host said of some sites, with all that follows for orders and for the attic.</summary>
    /// <param name="isFirst">Whether the host is read for the first time: then one entry stands for all of it.</param>
    /// <returns>Which were left out because what is known of them cannot be read, so that nothing of it is written over.</returns>
    public async Task<IReadOnlyList<string>> Take(
        Change change,
        string host,
        IReadOnlyList<HostSite> sites,
        DateTimeOffset began,
        bool isFirst
    )
    {
        var resolution = await Resolution(change);
        var known = (await change.Connection.SitesByKey(host, [.. sites.Select(site => site.Key)])).ToDictionary(site =>
            site.HostKey
        );
        var confirmed = (await change.Connection.OrdersUnderWay())
            .Where(order => order.State == OrderState.Confirmed)
            .ToLookup(order => order.Site);
        var stays = await change.Connection.LatestStays([.. known.Values.Select(site => site.Id)]);
        var hands = await change.Connection.HandOrders([
            .. known.Values.SelectMany(site => confirmed[site.Id]).Select(order => order.Id),
        ]);
        var administrators = await change.Connection.Administrators(change.Now);
        var time = await change.Connection.HouseTime();
        var drafts = new List<Draft>();
        var digest = new List<JournalValue>();
        var refused = new List<string>();
        foreach (var said in sites.DistinctBy(site => site.Key))
        {
            var line = known.GetValueOrDefault(said.Key);
            if (line?.Fault is { } fault)
            {
                refused.Add($"{said.Key} cannot be taken in: what is known of it here cannot be read: {fault}");
                continue;
            }

            var taken = Intake.Take(
                line,
                resolution.Site(host, said, began),
                line is null ? [] : [.. confirmed[line.Id]],
                began,
                change.Now
            );
            if (line is null)
            {
                var id = await change.AddSite(taken.Site);
                var entry = taken.Entry! with { Subject = $"site:{id.Value.ToString(CultureInfo.InvariantCulture)}" };
                digest.Add(entry.After);
                if (!isFirst)
                {
                    drafts.Add(entry);
                }

                drafts.AddRange(
                    await change.KeepAllBut(
                        Aftermath.Seen(taken.Site with { Id = id }, null, administrators, isFirst, change.Now),
                        time
                    )
                );
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
                    var after = Aftermath.GivenBack(
                        back.Order,
                        taken.Site,
                        stay,
                        await change.Connection.OfferOfOrder(order.Id),
                        change.Now
                    );
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
            drafts.Add(
                new Draft("register.loaded", Draft.ActorOf(host), Draft.SubjectOf(host))
                {
                    After = JournalValue.Of(
                        ("sites", JournalValue.Of(digest.Count)),
                        ("digest", JournalValue.Of(Head.HashOf(JournalValue.Of(digest).Canonical())))
                    ),
                }
            );
        }

        await change.Append(drafts);
        return refused;
    }

    /// <summary>Takes in what a host said of some sites; one that cannot be stored, or that something here fails at, costs only itself.</summary>
    /// <returns>Which were left out, and why.</returns>
    public async Task<IReadOnlyList<string>> TakeEach(
        string host,
        IReadOnlyList<HostSite> sites,
        DateTimeOffset began,
        bool isFirst,
        CancellationToken stop
    )
    {
        try
        {
            return await database.Change(change => Take(change, host, sites, began, isFirst), stop);
        }
        catch (Exception fault)
            when (fault is not (OperationCanceledException or BusyError or HostException or OutOfMemoryException)
                && !Unreachable.Is(fault)
            )
        {
            if (sites is [var alone])
            {
                log.LogError(fault, "{Key} of {Source} cannot be taken in", alone.Key, host);
                return [$"{alone.Key} cannot be taken in: {fault.Message}"];
            }

            var refused = new List<string>();
            foreach (var site in sites)
            {
                refused.AddRange(await TakeEach(host, [site], began, isFirst, stop));
            }

            return refused;
        }
    }

    /// <summary>How many of a host's sites may vanish at once: a share of them, a few in any case, and as many as a person said are gone.</summary>
    public Task<int> MostVanishing(string host, CancellationToken stop) =>
        database.Read(
            async connection =>
            {
                var share = int.TryParse(
                    await connection.Setting(VanishShare, ""),
                    NumberStyles.None,
                    CultureInfo.InvariantCulture,
                    out var set
                )
                    ? Math.Min(set, 100)
                    : ShareThatVanishes;
                var standing = (await connection.StandingOf(host)).Count;
                return Math.Max(await connection.MayVanish(host), Math.Max(LeastHeldBack, standing * share / 100));
            },
            stop
        );

    /// <summary>Lets vanish what a whole read did not name.</summary>
    /// <param name="ask">Asks the host for one site by itself.</param>
    /// <param name="most">How many may vanish at once; where it would be more, none does.</param>
    /// <returns>How many would have, where it is too many.</returns>
    public async Task<int> Vanish(
        string host,
        TimeSpan lag,
        Func<string, Task<HostSite?>> ask,
        HashSet<string> seen,
        DateTimeOffset began,
        int most,
        CancellationToken stop
    )
    {
        var standing = await database.Read(connection => connection.StandingOf(host), stop);
        var unseen = standing.Count(key => !seen.Contains(key));
        if (unseen > most)
        {
            return unseen;
        }

        var missing = await database.Change(
            async change =>
            {
                // Where lists lag, a site that is in none of them may be on its way from one to the other.
                List<SiteId> unlisted =
                [
                    .. (await change.Connection.StandingSince(host, began))
                        .Where(site => !seen.Contains(site.Key))
                        .Select(site => site.Id),
                ];
                return await change.Connection.Sites(
                    new Sight.Everything(),
                    lag == TimeSpan.Zero ? unlisted : await change.MissingFor(host, unlisted, began, lag)
                );
            },
            stop
        );
        await Vanish(missing, ask, stop);
        return 0;
    }

    /// <summary>Lets sites vanish that a host no longer has.</summary>
    public async Task Vanish(IReadOnlyList<SiteFacts> missing, Func<string, Task<HostSite?>> ask, CancellationToken stop)
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
                    // As it is now: what was decided of it since the list was read is not lost by its vanishing.
                    if (
                        (await change.Connection.Sites(new Sight.Everything(), [site.Id]))
                            is not [{ Fault: null, Vanished: false, Existence: not Existence.Cleared } now]
                        || now.Existence != site.Existence
                    )
                    {
                        return;
                    }

                    var gone = Intake.Vanish(now, change.Now);
                    await change.UpdateSite(gone.Site);
                    var stay = (await change.Connection.LatestStays([site.Id])).GetValueOrDefault(site.Id);
                    await change.Keep(
                        Aftermath.Seen(gone.Site, stay, [], false, change.Now),
                        await change.Connection.HouseTime(),
                        gone.Entry is { } entry ? [entry] : []
                    );
                },
                stop
            );
        }
    }

    /// <summary>What a list says of sites that have another host.</summary>
    public static async Task Hear(Change change, string list, IReadOnlyList<ListedElsewhere> others, DateTimeOffset asOf)
    {
        var sites = await change.Connection.SitesNamed([.. others.Select(other => (other.Host, other.Named))]);
        foreach (var other in others)
        {
            if (
                sites.TryGetValue((other.Host, other.Named), out var site)
                && site.Fault is null
                && Intake.Hear(site, list, other.Facts, asOf) is { Entry: { } entry } heard
            )
            {
                await change.UpdateSite(heard.Site);
                await change.Append([entry]);
            }
        }
    }
}
