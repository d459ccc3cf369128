using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>A roll that was read once serves until people change, and never a transaction that sees others.</summary>
public class RollFacts
{
    [Fact]
    public async Task A_roll_is_read_anew_only_where_people_groups_or_units_have_changed()
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
    public async Task Who_has_changed_people_sees_them_and_what_was_taken_back_is_never_kept()
    {
        await using var database = await Empty();
        await database.Change(change => Add(change, "Idris Vane"));
        var before = await Now(database);

        await Assert.ThrowsAsync<InvalidOperationException>(() =>
            database.Change(async change =>
            {
                await Add(change, "Juno Lisle");
                Assert.Equal(["Idris Vane", "Juno Lisle"], (await change.Roll(Zone)).People.Select(person => person.Name));
                await Add(change, "Tilda Reyes");
                Assert.Equal(3, (await change.Roll(Zone)).People.Count);
                Assert.Same(before.People, (await Now(database)).People);
                throw new InvalidOperationException("Taken back.");
            })
        );

        Assert.Same(before.People, (await Now(database)).People);
        await database.Change(change => Add(change, "Tilda Reyes"));
        Assert.Equal(["Idris Vane", "Tilda Reyes"], (await Now(database)).People.Select(person => person.Name));
    }

    [Fact]
    public async Task Days_pass_on_a_roll_that_nobody_changed()
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
        async Task<Roll> At(DateTimeOffset now) => await database.Read(connection => database.Rolls.Of(connection, now, Zone));

        var morning = await At(Zone.StartOf(day));
        var evening = await At(Zone.EndOf(day).AddMinutes(-1));
        Assert.Same(morning.People, evening.People);
        Assert.Equal(Zone.EndOf(day).AddMinutes(-1), evening.Now);
        Assert.Equal(Zone.StartOf(day), morning.Now);
        Assert.Equal(Standing.Left, (await At(Zone.EndOf(day).AddMinutes(1))).Standings[0]);
        Assert.Equal(Standing.Leaving, (await At(Zone.StartOf(day))).Standings[0]);
    }

    // As the server's own role, which may not write the version by hand.
    private static async Task<Database> Empty() =>
        Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);

    private static HouseTime Zone { get; } = new(TimeZoneInfo.FindSystemTimeZoneById("Europe/London"));

    private static Task<Roll> Now(Database database) =>
        database.Read(connection => database.Rolls.Of(connection, database.Now, Zone));

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
