using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Identity;
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
            (await database.PeopleDirectory(connection), await connection.ListReading(SourceName))
        );
        var list = UnderstoodList.Of(ListKind.People, file, how, remembered, directory, stop);
        return new ReadPeople(
            list,
            [.. PeopleList.Read(list.Heads, list.Rows, list.Meaning(directory), directory.Time, list.Days.Order, how.DefaultKind)]
        );
    }

    public async Task<PeoplePlan> Plan(ReadPeople read, Viewer viewer, NpgsqlConnection connection) =>
        await PeoplePlan.Of(
            read,
            viewer.Person,
            IsConnected,
            connection,
            (await database.PeopleDirectory(connection)).With(read.How.Words.NewUnits)
        );
}
