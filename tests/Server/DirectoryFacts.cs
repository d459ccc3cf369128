using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>A directory that was read is used until people change, and never by a transaction that sees other people.</summary>
public class DirectoryFacts
{
    [Fact]
    public async Task A_directory_is_read_again_only_where_people_groups_or_units_have_changed()
    {
        await using var database = await Empty();
        var vane = await database.Change(change => Add(change, "Idris Vane"));
        var group = await database.Change(change => change.AddGroup("staff", "pilots", "Pilots"));
        var first = await Now(database);

        Assert.Same(first.People, (await Now(database)).People);

        await database.Change(change => change.SetGroup(new Group(group, "Pilots", [Member.Of(vane)])));
        var second = await Now(database);
        Assert.NotSame(first.People, second.People);
        Assert.Equal([vane], second.Expand(group).People.Places().Select(place => second.People[place].Id));

        await database.Change(change => change.UpdatePerson(second.Find(vane)! with { MailFails = true }));
        Assert.True((await Now(database)).Find(vane)!.MailFails);
    }

    [Fact]
    public async Task Who_has_changed_people_sees_them_and_what_was_rolled_back_is_never_cached()
    {
        await using var database = await Empty();
        await database.Change(change => Add(change, "Idris Vane"));
        var before = await Now(database);

        await Assert.ThrowsAsync<InvalidOperationException>(() =>
            database.Change(async change =>
            {
                await Add(change, "Juno Lisle");
                Assert.Equal(
                    ["Idris Vane", "Juno Lisle"],
                    (await change.PeopleDirectory(Zone)).People.Select(person => person.Name)
                );
                await Add(change, "Tilda Reyes");
                Assert.Equal(3, (await change.PeopleDirectory(Zone)).People.Count);
                Assert.Same(before.People, (await Now(database)).People);
                throw new InvalidOperationException("Undone.");
            })
        );

        Assert.Same(before.People, (await Now(database)).People);
        await database.Change(change => Add(change, "Tilda Reyes"));
        Assert.Equal(["Idris Vane", "Tilda Reyes"], (await Now(database)).People.Select(person => person.Name));
    }

    [Fact]
    public async Task Days_pass_on_a_directory_that_nobody_changed()
    {
        await using var database = await Empty();
        var day = new DateOnly(2026, 11, 24);
        await database.Change(change =>
            change.AddPerson(
                new(
                    default,
                    PersonKind.Staff,
                    "Idris Vane",
                    "i.vane@merrowby.example",
                    Standing.Leaving,
                    day,
                    Known<UnitCode>.None
                )
            )
        );
        async Task<PeopleDirectory> At(DateTimeOffset now) =>
            await database.Read(connection => database.PeopleDirectories.Of(connection, now, Zone));

        var morning = await At(Zone.StartOf(day));
        var evening = await At(Zone.EndOf(day).AddMinutes(-1));
        Assert.Same(morning.People, evening.People);
        Assert.Equal(Zone.EndOf(day).AddMinutes(-1), evening.Now);
        Assert.Equal(Zone.StartOf(day), morning.Now);
        Assert.Equal(Standing.Left, (await At(Zone.EndOf(day).AddMinutes(1))).Standings[0]);
        Assert.Equal(Standing.Leaving, (await At(Zone.StartOf(day))).Standings[0]);
    }

    // With the servers' role, which may not write the version itself.
    private static async Task<Database> Empty() =>
        Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);

    private static OrganisationTime Zone { get; } = new(TimeZoneInfo.FindSystemTimeZoneById("Europe/London"));

    private static Task<PeopleDirectory> Now(Database database) =>
        database.Read(connection => database.PeopleDirectories.Of(connection, database.Now, Zone));

    private static Task<PersonId> Add(Change change, string name) =>
        change.AddPerson(
            new(
                default,
                PersonKind.Staff,
                name,
                $"{name.ToLowerInvariant().Replace(' ', '.')}@merrowby.example",
                Standing.Current,
                null,
                Known<UnitCode>.None
            )
        );
}
