using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>Stores what hosts and lists report about sites.</summary>
internal sealed class SiteIntake(Database database, ILogger log)
{
    // So few can become "no longer reported" at once whatever their share.
    private const int LeastMarked = 5;

    public static Task<Resolution> Resolution(Change change) =>
        Resolution(change.Connection, change.PeopleDirectories, change.Now);

    public static async Task<Resolution> Resolution(
        NpgsqlConnection connection,
        PeopleDirectories directories,
        DateTimeOffset now
    ) => await Resolution(connection, await directories.Of(connection, now, await connection.OrganisationTime()));

    public static async Task<Resolution> Resolution(NpgsqlConnection connection, PeopleDirectory directory) =>
        new(directory.ByMail, await connection.GroupKeys(), directory.Units.Select(unit => unit.Code.Value).ToHashSet());

    /// <summary>Stores a host's report of some sites, with the consequences for changes and for the attic.</summary>
    /// <param name="isFirst">True at the first sync of the host: then one journal entry represents all.</param>
    /// <returns>The sites skipped because their rows cannot be read, so that nothing is overwritten.</returns>
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
        var confirmed = (await change.Connection.ChangesUnderWay())
            .Where(hostChange => hostChange.State == ChangeState.Confirmed)
            .ToLookup(hostChange => hostChange.Site);
        var atticEntries = await change.Connection.LatestAtticEntries([.. known.Values.Select(site => site.Id)]);
        var hands = await change.Connection.ManualTasks([
            .. known.Values.SelectMany(site => confirmed[site.Id]).Select(hostChange => hostChange.Id),
        ]);
        var administrators = await change.Connection.Administrators(change.Now);
        var time = await change.Connection.OrganisationTime();
        var drafts = new List<Draft>();
        var digest = new List<JournalValue>();
        var refused = new List<string>();
        foreach (var said in sites.DistinctBy(site => site.Key))
        {
            var line = known.GetValueOrDefault(said.Key);
            if (line?.Fault is { } fault)
            {
                refused.Add($"{said.Key} cannot be imported, because its row cannot be read: {fault}");
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
                var entry = taken.Entry! with { Subject = EntrySubject.Of(id) };
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

            var atticEntry = atticEntries.GetValueOrDefault(line.Id);
            foreach (var hostChange in taken.Moved)
            {
                await change.Put(hostChange);
                drafts.Add(ChangeOutcomes.StateEntry(EntryActor.OfSource(host), hostChange));
                if (hostChange.State == ChangeState.Contradicted && hands.TryGetValue(hostChange.Id, out var manualTask))
                {
                    var back = ManualTaskSteps.Disagrees(hostChange, manualTask, taken.Site, await change.PeopleDirectory(time));
                    drafts.Add(await change.KeepAllBut(back, time, JournalAction.TaskReturned, EntryActor.OfSource(host)));
                    var after = Aftermath.GivenBack(
                        back.HostChange,
                        taken.Site,
                        atticEntry,
                        await change.Connection.OfferOfHostChange(hostChange.Id),
                        change.Now
                    );
                    drafts.AddRange(await change.KeepAllBut(after, time));
                    atticEntry = after.AtticEntry ?? atticEntry;
                }
            }

            if (taken.Entry is { } changed)
            {
                drafts.Add(changed);
            }

            drafts.AddRange(
                await change.KeepAllBut(Aftermath.Seen(taken.Site, atticEntry, administrators, isFirst, change.Now), time)
            );
        }

        if (isFirst && digest.Count > 0)
        {
            drafts.Add(
                new Draft(JournalAction.RegisterImported, EntryActor.OfSource(host), EntrySubject.OfSource(host))
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

    /// <summary>Stores a host's report of some sites; one that fails does not affect the others.</summary>
    /// <returns>The skipped ones, and why.</returns>
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
                log.LogError(fault, "{Key} of {Source} cannot be imported", alone.Key, host);
                return [$"{alone.Key} cannot be imported: {fault.Message}"];
            }

            var refused = new List<string>();
            foreach (var site in sites)
            {
                refused.AddRange(await TakeEach(host, [site], began, isFirst, stop));
            }

            return refused;
        }
    }

    /// <summary>How many of a host's sites can become "no longer reported" at once: a share, at least a few, or as many as a
    /// person confirmed.</summary>
    public Task<int> MostMissing(string host, CancellationToken stop) =>
        database.Read(
            async connection =>
            {
                var share = int.Parse(await connection.Value(Setting.MissingShare), CultureInfo.InvariantCulture);
                var standing = (await connection.StandingOf(host)).Count;
                return Math.Max(await connection.UnconfirmedMissing(host), Math.Max(LeastMarked, standing * share / 100));
            },
            stop
        );

    /// <summary>Marks sites that a complete sync did not list as no longer reported.</summary>
    /// <param name="ask">Asks the host for one site.</param>
    /// <param name="most">How many can be marked at once; if more are missing, none is.</param>
    /// <returns>The number missing, if too many.</returns>
    public async Task<int> MarkMissing(
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
                // If lists lag, a site that is in none of them may be between two of them.
                List<SiteId> unlisted =
                [
                    .. (await change.Connection.StandingSince(host, began))
                        .Where(site => !seen.Contains(site.Key))
                        .Select(site => site.Id),
                ];
                return await change.Connection.Sites(
                    new Scope.Everything(),
                    lag == TimeSpan.Zero ? unlisted : await change.MissingFor(host, unlisted, began, lag)
                );
            },
            stop
        );
        await MarkMissing(missing, ask, stop);
        return 0;
    }

    /// <summary>Marks sites that a host no longer has as no longer reported.</summary>
    public async Task MarkMissing(IReadOnlyList<SiteFacts> missing, Func<string, Task<HostSite?>> ask, CancellationToken stop)
    {
        foreach (var site in missing)
        {
            // Erased is final, so the host is asked about a site that may have been restored during the sync.
            if (site.Existence == Existence.Attic && await ask(site.HostKey) is not null)
            {
                continue;
            }

            await database.Change(
                async change =>
                {
                    // Its current row: facts set since the sync began are kept.
                    if (
                        (await change.Connection.Sites(new Scope.Everything(), [site.Id]))
                            is not [{ Fault: null, NoLongerReported: false, Existence: not Existence.Erased } now]
                        || now.Existence != site.Existence
                    )
                    {
                        return;
                    }

                    var gone = Intake.MarkMissing(now, change.Now);
                    await change.UpdateSite(gone.Site);
                    var atticEntry = (await change.Connection.LatestAtticEntries([site.Id])).GetValueOrDefault(site.Id);
                    await change.Keep(
                        Aftermath.Seen(gone.Site, atticEntry, [], false, change.Now),
                        await change.Connection.OrganisationTime(),
                        gone.Entry is { } entry ? [entry] : []
                    );
                },
                stop
            );
        }
    }

    /// <summary>Stores what a list claims about sites of another host.</summary>
    public static async Task Apply(Change change, string list, IReadOnlyList<ListedElsewhere> others, DateTimeOffset asOf)
    {
        var sites = await change.Connection.SitesNamed([.. others.Select(other => (other.Host, other.Named))]);
        foreach (var other in others)
        {
            if (
                sites.TryGetValue((other.Host, other.Named), out var site)
                && site.Fault is null
                && Intake.Apply(site, list, other.Facts, asOf) is { Entry: { } entry } applied
            )
            {
                await change.UpdateSite(applied.Site);
                await change.Append([entry]);
            }
        }
    }
}
