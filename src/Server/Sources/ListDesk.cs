using System.Text.Json;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Reads lists that came as files, takes them in, and goes on with those that a server did not end.</summary>
internal sealed class ListDesk(Database database, SourceReader reader, ILogger<ListDesk> log)
{
    /// <summary>A list of the sites of a host, as it is understood.</summary>
    /// <exception cref="FormatException">It is no list; the message says where and what to do.</exception>
    /// <exception cref="HostException">Likewise.</exception>
    public async Task<ReadList> Read(string name, FileInfo file, ListReadingQuery how, CancellationToken stop)
    {
        var (roll, remembered) = await database.Read(async connection =>
            (await database.Roll(connection), await connection.ListColumns(name))
        );
        var list = UnderstoodList.Of(ListKind.Sites, file, how, remembered, stop);
        var units = roll.Units.Select(unit => unit.Code.Value).ToHashSet();
        return new ReadList(
            file,
            list,
            HandList.Read(
                name,
                list.Heads,
                list.Rows,
                mail => roll.ByMail.ContainsKey(mail.ToLowerInvariant()),
                units.Contains,
                roll.Time,
                list.Days.Order
            )
        );
    }

    /// <summary>Takes a list in. Nobody has to wait for it: whoever leaves, and whatever server stops, it is taken in to its end.</summary>
    /// <returns>Why it was not; null where it was.</returns>
    public async Task<string?> Take(
        string name,
        ReadList read,
        PersonId by,
        bool isWhole,
        DateTimeOffset asOf,
        string plan,
        CancellationToken stop
    )
    {
        // The columns as they are read now: what is remembered may be another by the time it is gone on with.
        return await Take(
            new KeptList(name, by, isWhole, asOf, plan, JsonSerializer.Serialize(ListReadingQuery.As(read.How))),
            read,
            null,
            stop
        );
    }

    /// <summary>Goes on with the lists that are not taken in to their end, but for those that another server is at.</summary>
    public async Task GoOn(CancellationToken stop)
    {
        foreach (var (taking, kept) in await database.Read(connection => connection.OpenTakings(database.Now), stop))
        {
            string? fault;
            try
            {
                using var list = await SpooledList.Of(to =>
                    database.Read(
                        async connection =>
                        {
                            await connection.WriteContent(taking, to);
                            return taking;
                        },
                        stop
                    )
                );
                fault = await Take(
                    kept,
                    await Read(kept.Source, list.File, JsonSerializer.Deserialize<ListReadingQuery>(kept.Reading)!, stop),
                    taking,
                    stop
                );
            }
            catch (Exception error) when (error is FormatException or HostException)
            {
                // What was a list when it came is none by the house's units and people of today.
                fault = error.Message;
                await database.Change(change => change.LeaveTaking(taking), stop);
            }

            if (fault is not null)
            {
                log.LogInformation("The list of {Source} is not taken in to its end: {Fault}", kept.Source, fault);
            }
        }
    }

    private Task<string?> Take(KeptList kept, ReadList read, long? open, CancellationToken stop) =>
        reader.TakeList(
            kept,
            read,
            open,
            async (change, sites) =>
            {
                await change.SetListColumns(kept.Source, read.How.Remembered);
                await change.Append([
                    new Draft(
                        "list.taken",
                        $"person:{kept.By.Value.ToString(System.Globalization.CultureInfo.InvariantCulture)}",
                        Draft.SubjectOf(kept.Source)
                    )
                    {
                        After = JournalValue.Of(
                            ("sites", JournalValue.Of(sites)),
                            ("asOf", JournalValue.Of(kept.AsOf)),
                            ("whole", new JournalValue.Flag(kept.IsWhole)),
                            ("effect", JournalValue.Of(kept.Plan))
                        ),
                    },
                ]);
            },
            stop
        );
}
