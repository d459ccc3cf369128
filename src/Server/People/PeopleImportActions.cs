using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.People;

/// <summary>Reads lists of people from files, and imports each in one transaction.</summary>
internal sealed class PeopleImportActions(Database database, IServiceProvider services)
{
    /// <summary>The source's name in the journal.</summary>
    public const string SourceName = "People list";

    private bool IsConnected => services.GetService<StaffList>() is not null;

    /// <exception cref="FormatException">It is not a list; the message names the place and the remedy.</exception>
    /// <exception cref="HostException">The connection was interrupted.</exception>
    public async Task<ReadPeople> Read(FileInfo file, ListMappingQuery how, CancellationToken stop)
    {
        var (directory, remembered) = await database.Read(async connection =>
            (await database.PeopleDirectory(connection), await connection.ListColumns(SourceName))
        );
        var list = UnderstoodList.Of(ListKind.People, file, how, remembered, stop);
        var units = directory.Units.Select(unit => unit.Code.Value).ToHashSet();
        return new ReadPeople(list, [.. PeopleList.Read(list.Heads, list.Rows, units.Contains, directory.Time, list.Days.Order)]);
    }

    public async Task<PeoplePlan> Plan(ReadPeople read, Viewer viewer, NpgsqlConnection connection) =>
        await PeoplePlan.Of(read, viewer.Person, IsConnected, connection, await database.PeopleDirectory(connection));

    /// <returns>The place in the feed; null if the effect differs from the plan.</returns>
    public Task<long?> Take(ReadPeople read, Viewer viewer, string foreseen) =>
        database.Change<long?>(async change =>
        {
            var plan = await Plan(read, viewer, change.Connection);
            if (plan.Fingerprint != foreseen)
            {
                return null;
            }

            var changed = plan.Taken.Where(one => one.Before is not null).ToList();
            var siteImport = await change.BeginPeopleImport(viewer.Person, [.. changed.Select(one => one.Before!.Id)]);
            foreach (var one in changed)
            {
                await change.UpdatePerson(one.After);
            }

            var brought = new List<Person>();
            foreach (var one in plan.Taken.Where(one => one.Before is null))
            {
                brought.Add(one.After with { Id = await change.AddPerson(one.After) });
            }

            await change.SetByHand([.. changed.Select(one => one.After.Id), .. brought.Select(person => person.Id)], true);
            await change.EndPeopleImport(siteImport, [.. brought.Select(person => person.Id)]);
            await change.SetListColumns(SourceName, read.How.Remembered);
            var actor = viewer.InJournal;
            return (
                await change.Append([
                    .. await change.EndSessionsOfLeft(),
                    .. changed.Select(one => PeopleLists.Entry(one.Before, one.After, actor)),
                    .. brought.Select(person => PeopleLists.Entry(null, person, actor)),
                    new Draft(JournalAction.PeopleImported, actor, EntrySubject.OfSource(SourceName))
                    {
                        After = JournalValue.Of(
                            ("import", JournalValue.Of(siteImport)),
                            ("changed", JournalValue.Of(changed.Count)),
                            ("new", JournalValue.Of(brought.Count)),
                            ("effect", JournalValue.Of(foreseen))
                        ),
                    },
                ])
            )[^1];
        });
}
