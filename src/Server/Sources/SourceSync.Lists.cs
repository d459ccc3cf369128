using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Imported lists, stored like a host's report.</summary>
public sealed partial class SourceSync
{
    /// <summary>Begins to import a list: from then on it is completed, even if the person leaves or a server stops.</summary>
    /// <param name="kept">The request, to resume after a stop of the server.</param>
    /// <returns>The number of the import; null if a list of the same source is being imported now.</returns>
    internal async Task<long?> BeginList(Change change, KeptList kept, ParsedList read)
    {
        await change.Declare(kept.Source, wanted: false);
        if (await change.Lease(kept.Source, worker, LeaseTime, TimeSpan.Zero) is null)
        {
            return null;
        }

        // A retried transaction reads the file from its start.
        await using var content = read.File.OpenRead();
        var others = await change.Connection.SitesNamed(ListContents.Of(read, MostRefused).Others);
        return await change.BeginImport(kept, content, [.. others.Values.Select(site => site.Id)]);
    }

    /// <summary>Takes over an import whose server has stopped.</summary>
    /// <returns>Why it is not completed; null if it is.</returns>
    internal async Task<string?> ResumeList(
        KeptList kept,
        ParsedList read,
        long siteImport,
        Func<Change, int, Task> end,
        CancellationToken stop
    )
    {
        var name = kept.Source;
        if (await database.Change(change => change.Lease(name, worker, LeaseTime, TimeSpan.Zero), stop) is null)
        {
            return $"A list of {name} is being imported now.";
        }

        if (await database.Read(connection => connection.IsOvertaken(siteImport), stop))
        {
            await database.Change(change => change.LeaveImport(siteImport), stop);
            await End(name, false, [], "A later list was imported, so this import is abandoned where it stopped.");
            return "A later list was imported.";
        }

        return await CompleteList(kept, read, siteImport, end, stop);
    }

    /// <summary>Completes an import that this server has begun or taken over.</summary>
    /// <param name="end">Written at the end, in the same transaction.</param>
    /// <returns>Why it was not completed; null if it was.</returns>
    internal async Task<string?> CompleteList(
        KeptList kept,
        ParsedList read,
        long siteImport,
        Func<Change, int, Task> end,
        CancellationToken stop
    )
    {
        var (name, asOf) = (kept.Source, kept.AsOf);
        string? error = null;
        var left = new LeftOut([]);
        var contents = ListContents.Of(read, MostRefused);
        try
        {
            HashSet<string> seen = [];
            await TakeAll(name, Pages(name, read, contents), asOf, seen, left, stop);
            foreach (var few in contents.Others.Count == 0 ? [] : read.Chunks)
            {
                await database.Change(
                    change => SiteIntake.Apply(change, name, [.. few.Select(line => line.Other).OfType<ListedElsewhere>()], asOf),
                    stop
                );
            }

            // A list is complete only if every line is a site.
            if (kept.IsWhole && contents.Refused == 0)
            {
                await intake.MarkMissing(
                    name,
                    TimeSpan.Zero,
                    _ => Task.FromResult<HostSite?>(null),
                    seen,
                    asOf,
                    int.MaxValue,
                    stop
                );
            }

            await database.Change(
                async change =>
                {
                    await change.EndImport(siteImport);
                    await end(change, contents.Sites);
                },
                stop
            );
        }
        catch (Exception fault) when (Unreachable.Is(fault))
        {
            // As after a killed server: the import stays open, and the next server resumes it.
            log.LogWarning("The import of {Source} was interrupted because the database was away; it continues", name);
            return "The database was away during the import. The import continues automatically.";
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            error = Words(name, fault);
            await database.Change(change => change.LeaveImport(siteImport), CancellationToken.None);
        }

        await End(
            name,
            error is null && kept.IsWhole,
            [.. left.Words, .. contents.Words],
            error ?? (kept.IsWhole ? null : "The list was incomplete.")
        );
        return error;
    }

    private async IAsyncEnumerable<HostPage> Pages(string name, ParsedList read, ListContents contents)
    {
        foreach (var few in read.Chunks)
        {
            var lines = await database.Read(connection => ParsedList.Recognised(connection, name, few));
            yield return new HostPage(
                [.. lines.Select(line => line.Site).OfType<HostSite>()],
                [],
                [],
                contents.Sites + contents.Refused
            );
        }
    }
}
