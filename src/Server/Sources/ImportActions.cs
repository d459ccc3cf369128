using System.Text.Json;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Reads lists from files, imports them, and resumes interrupted imports.</summary>
internal sealed class ImportActions(Database database, SourceSync reader, ILogger<ImportActions> log)
{
    /// <summary>A list of the sites of a host, with its mapping.</summary>
    /// <exception cref="FormatException">It is not a list; the message names the place and the remedy.</exception>
    /// <exception cref="HostException">The connection was interrupted.</exception>
    public async Task<ParsedList> Read(string name, FileInfo file, ListMappingQuery how, CancellationToken stop)
    {
        var (directory, remembered) = await database.Read(async connection =>
            (await database.PeopleDirectory(connection), await connection.ListReading(name))
        );
        var list = UnderstoodList.Of(ListKind.Sites, file, how, remembered, directory, stop);
        return new ParsedList(
            file,
            list,
            ManualList.Read(name, list.Heads, list.Rows, list.Meaning(directory), directory.Time, list.Days.Order)
        );
    }

    /// <summary>Completes an import that this server has begun. Nobody has to wait for it.</summary>
    /// <returns>Why it failed; null if it succeeded.</returns>
    public Task<string?> Complete(KeptList kept, ParsedList read, long siteImport, CancellationToken stop) =>
        reader.CompleteList(kept, read, siteImport, Ended(kept, read), stop);

    /// <summary>Resumes incomplete imports, except those on which another server works.</summary>
    public async Task GoOn(CancellationToken stop)
    {
        foreach (var (siteImport, kept) in await database.Read(connection => connection.OpenImports(database.Now), stop))
        {
            string? fault;
            try
            {
                using var list = await SpooledList.Of(to =>
                    database.Read(
                        async connection =>
                        {
                            await connection.WriteContent(siteImport, to);
                            return siteImport;
                        },
                        stop
                    )
                );
                var how = JsonSerializer.Deserialize<ListMappingQuery>(kept.Reading)!;
                var read = await Read(kept.Source, list.File, how, stop);
                fault = await reader.ResumeList(kept, read, siteImport, Ended(kept, read), stop);
            }
            catch (Exception error) when (error is FormatException or HostException)
            {
                // The list is no longer valid with the organisation's current units and people.
                fault = error.Message;
                await database.Change(change => change.LeaveImport(siteImport), stop);
            }

            if (fault is not null)
            {
                log.LogInformation("The import of {Source} failed: {Fault}", kept.Source, fault);
            }
        }
    }

    private static Func<Change, int, Task> Ended(KeptList kept, ParsedList read) =>
        async (change, sites) =>
        {
            await change.SetListReading(kept.Source, read.How.Reading);
            await change.Append([
                new Draft(JournalAction.ListImported, EntryActor.Of(kept.By), EntrySubject.OfSource(kept.Source))
                {
                    After = JournalValue.Of(
                        ("sites", JournalValue.Of(sites)),
                        ("asOf", JournalValue.Of(kept.AsOf)),
                        ("whole", new JournalValue.Flag(kept.IsWhole)),
                        ("effect", JournalValue.Of(kept.Plan))
                    ),
                },
            ]);
        };
}
