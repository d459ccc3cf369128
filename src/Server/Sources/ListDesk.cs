using System.Text.Json;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Reads lists that came as files, takes them in, and goes on with those that a server did not end.</summary>
internal sealed class ListDesk(Database database, SourceReader reader, ILogger<ListDesk> log)
{
    private const string ColumnSetting = "columns:";

    /// <summary>A list as it is understood: as it is chosen, as it was read the last time, or as headings and cells suggest.</summary>
    /// <exception cref="FormatException">It is no list; the message says where and what to do.</exception>
    /// <exception cref="HostException">Likewise.</exception>
    public async Task<ReadList> Read(string name, FileInfo file, ListReadingQuery how)
    {
        var (roll, kept) = await database.Read(async connection =>
            (await database.Rolls.Of(connection, database.Now, await connection.HouseTime()), await connection.Setting($"{ColumnSetting}{name}", "{}")));
        var table = ListTable.Read(file.OpenRead);
        var rows = table.Rows.Select(row => new ListedRow(row.Line, row.Cells));
        var columns = ListReading.Columns(table.Heads, rows, Chosen(how.Columns ?? []), JsonSerializer.Deserialize<Dictionary<string, string?>>(kept)!);
        var heads = ListReading.Heads(columns);
        var days = ListReading.Days(heads, rows, Order(how.Days));
        var units = roll.Units.Select(unit => unit.Code.Value).ToHashSet();
        var lines = HandList.Read(name, heads, rows, mail => roll.ByMail.ContainsKey(mail.ToLowerInvariant()), units.Contains, roll.Time, days.Order);
        return new ReadList(file, table, columns, days, lines);
    }

    /// <summary>Takes a list in. Nobody has to wait for it: whoever leaves, and whatever server stops, it is taken in to its end.</summary>
    /// <returns>Why it was not; null where it was.</returns>
    public async Task<string?> Take(string name, ReadList read, PersonId by, bool isWhole, DateTimeOffset asOf, string plan, CancellationToken stop)
    {
        // The columns as they are read now: what is remembered may be another by the time it is gone on with.
        var how = new ListReadingQuery([.. read.Columns.Select(choice => $"{choice.Head}={choice.Column}")], read.Days.Order switch { DayOrder.DayFirst => "day-first", DayOrder.MonthFirst => "month-first", _ => null });
        return await Take(new KeptList(name, by, isWhole, asOf, plan, JsonSerializer.Serialize(how)), read, null, stop);
    }

    /// <summary>Goes on with the lists that are not taken in to their end, but for those that another server is at.</summary>
    public async Task GoOn(CancellationToken stop)
    {
        foreach (var (taking, kept) in await database.Read(connection => connection.OpenTakings(database.Now), stop))
        {
            string? fault;
            try
            {
                using var list = await SpooledList.Of(to => database.Read(
                    async connection =>
                    {
                        await connection.WriteContent(taking, to);
                        return taking;
                    },
                    stop));
                fault = await Take(kept, await Read(kept.Source, list.File, JsonSerializer.Deserialize<ListReadingQuery>(kept.Reading)!), taking, stop);
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
                await change.SetSetting($"{ColumnSetting}{kept.Source}", JsonSerializer.Serialize(read.Columns.DistinctBy(choice => choice.Head).ToDictionary(choice => choice.Head, choice => choice.Column)));
                await change.Append([new Draft("list.taken", $"person:{kept.By.Value.ToString(System.Globalization.CultureInfo.InvariantCulture)}", Draft.SubjectOf(kept.Source))
                {
                    After = JournalValue.Of(("sites", JournalValue.Of(sites)), ("asOf", JournalValue.Of(kept.AsOf)), ("whole", new JournalValue.Flag(kept.IsWhole)), ("effect", JournalValue.Of(kept.Plan))),
                }]);
            },
            stop);

    private static Dictionary<string, string?> Chosen(string[] columns)
    {
        var chosen = new Dictionary<string, string?>();
        foreach (var choice in columns)
        {
            // The heading may have the sign in it; a fact has none.
            var at = choice.LastIndexOf('=');
            var fact = choice[(at + 1)..];
            chosen[at < 0 ? throw new FormatException($"\"{choice}\" names no column: write heading=fact.") : choice[..at]] =
                fact.Length == 0 ? null : HandList.Columns.Contains(fact) ? fact : throw new FormatException($"There is no fact \"{fact}\" that a column could be read as. There are: {string.Join(", ", HandList.Columns)}.");
        }

        return chosen;
    }

    private static DayOrder? Order(string? days) =>
        days switch
        {
            null or "" or "year-first" => null,
            "day-first" => DayOrder.DayFirst,
            "month-first" => DayOrder.MonthFirst,
            _ => throw new FormatException($"\"{days}\" is no order of days: it is day-first or month-first."),
        };
}
