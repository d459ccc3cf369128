using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Lists that are kept by hand, taken in like what a host says.</summary>
public sealed partial class SourceReader
{
    /// <summary>Takes in a list that was kept by hand, unless one of the same name is being taken in now.</summary>
    /// <param name="kept">As it came, to go on with whatever stops this server.</param>
    /// <param name="open">The taking that is gone on with; null for one that begins.</param>
    /// <param name="end">Written with its end, in one transaction.</param>
    /// <returns>Why it was not taken in to the end; null where it was.</returns>
    internal async Task<string?> TakeList(
        KeptList kept,
        ReadList read,
        long? open,
        Func<Change, int, Task> end,
        CancellationToken stop
    )
    {
        var (name, asOf) = (kept.Source, kept.AsOf);
        await database.Change(change => change.Declare(name, wanted: false), stop);
        if (await database.Change(change => change.Lease(name, worker, LeaseTime, TimeSpan.Zero), stop) is null)
        {
            return $"A list of {name} is being taken in now. Try again when it is done.";
        }

        if (open is { } older && await database.Read(connection => connection.IsOvertaken(older), stop))
        {
            await database.Change(change => change.LeaveTaking(older), stop);
            await End(name, false, [], "A later list was taken in meanwhile, so this one is left where it broke off.");
            return "A later list was taken in meanwhile.";
        }

        string? error = null;
        var left = new LeftOut([]);
        var contents = ListContents.Of(read, MostRefused);
        var taking = open ?? await BeginTaking(kept, read, contents, stop);
        try
        {
            HashSet<string> seen = [];
            await TakeAll(name, Pages(name, read, contents), asOf, seen, left, stop);
            foreach (var few in contents.Others.Count == 0 ? [] : read.Chunks)
            {
                await database.Change(
                    change => SiteIntake.Hear(change, name, [.. few.Select(line => line.Other).OfType<ListedElsewhere>()], asOf),
                    stop
                );
            }

            // Only a list of which every line is a site is whole.
            if (kept.IsWhole && contents.Refused == 0)
            {
                await intake.Vanish(name, TimeSpan.Zero, _ => Task.FromResult<HostSite?>(null), seen, asOf, int.MaxValue, stop);
            }

            await database.Change(
                async change =>
                {
                    await change.EndTaking(taking);
                    await end(change, contents.Sites);
                },
                stop
            );
        }
        catch (Exception fault) when (Unreachable.Is(fault))
        {
            // Like a server that was killed: the list stays open, and whichever server comes next goes on with it.
            log.LogWarning("The list of {Source} broke off because the database was away; it is gone on with", name);
            return "The database went away while the list was taken in. It is gone on with by itself.";
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            error = Words(name, fault);
            await database.Change(change => change.LeaveTaking(taking), CancellationToken.None);
        }

        await End(
            name,
            error is null && kept.IsWhole,
            [.. left.Words, .. contents.Words],
            error ?? (kept.IsWhole ? null : "The list named only a part of the sites there.")
        );
        return error;
    }

    private async Task<long> BeginTaking(KeptList kept, ReadList read, ListContents contents, CancellationToken stop)
    {
        // A transaction may be tried anew, and then reads the file from its start.
        return await database.Change(
            async change =>
            {
                await using var content = read.File.OpenRead();
                var others = await change.Connection.SitesNamed(contents.Others);
                return await change.BeginTaking(kept, content, [.. others.Values.Select(site => site.Id)]);
            },
            stop
        );
    }

    private async IAsyncEnumerable<HostPage> Pages(string name, ReadList read, ListContents contents)
    {
        foreach (var few in read.Chunks)
        {
            var lines = await database.Read(connection => ReadList.Recognised(connection, name, few));
            yield return new HostPage(
                [.. lines.Select(line => line.Site).OfType<HostSite>()],
                [],
                contents.Sites + contents.Refused
            );
        }
    }
}
