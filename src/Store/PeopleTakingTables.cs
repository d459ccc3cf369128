using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A list of people that was taken in.</summary>
/// <param name="People">How many people it changed or brought.</param>
public sealed record PeopleTaking(long Id, DateTimeOffset TakenAt, PersonId By, DateTimeOffset? UndoneAt, int People);

/// <summary>Somebody whom a list changed or brought.</summary>
/// <param name="IsNew">Whether the list brought them.</param>
/// <param name="IsAsLeft">Whether they stand as the list left them.</param>
public sealed record TakenPerson(PersonId Person, bool IsNew, bool IsAsLeft);

/// <summary>Lists of people that are kept by hand: whom they speak of, and what they did, kept so that it can be taken back.</summary>
public static class PeopleTakingTables
{
    private const int Kept = 5;

    /// <summary>The people of whom such a list is the most direct that anybody says.</summary>
    public static async Task<HashSet<PersonId>> PeopleByHand(this NpgsqlConnection connection) =>
        [.. await connection.Rows("select id from person where by_hand", row => new PersonId(row.GetInt64(0)))];

    /// <summary>Says of some people whether it is a list kept by hand that speaks of them.</summary>
    public static Task SetByHand(this Change change, IReadOnlyCollection<PersonId> people, bool byHand) =>
        people.Count == 0
            ? Task.CompletedTask
            : change.Connection.Run(
                "update person set by_hand = $2 where id = any($1) and by_hand <> $2",
                people.Select(person => person.Value).ToArray(),
                byHand
            );

    /// <summary>Writes down that a list is taken in, with everybody it changes as they were; those it brings are told at the end.</summary>
    public static async Task<long> BeginPeopleTaking(this Change change, PersonId by, IReadOnlyCollection<PersonId> changed)
    {
        var taking = await change.Connection.One<long>(
            "insert into people_taking (taken_at, by_person) values ($1, $2) returning id",
            change.Now,
            by.Value
        );
        await change.Connection.Run(
            "insert into people_taking_person (taking, person, before, after) select $1, id, person_image(id), '{}' from unnest($2::bigint[]) as id",
            taking,
            changed.Select(person => person.Value).ToArray()
        );
        await change.Connection.Run(
            "delete from people_taking where id <= (select id from people_taking order by id desc offset $1 limit 1)",
            Kept
        );
        return taking;
    }

    public static async Task EndPeopleTaking(this Change change, long taking, IReadOnlyCollection<PersonId> brought)
    {
        await change.Connection.Run(
            "insert into people_taking_person (taking, person, after) select $1, id, '{}' from unnest($2::bigint[]) as id",
            taking,
            brought.Select(person => person.Value).ToArray()
        );
        await change.Connection.Run("update people_taking_person set after = person_image(person) where taking = $1", taking);
    }

    /// <summary>The lists that are kept, the latest first.</summary>
    public static Task<List<PeopleTaking>> PeopleTakings(this NpgsqlConnection connection) =>
        connection.Rows(
            "select t.id, t.taken_at, t.by_person, t.undone_at, (select count(*)::integer from people_taking_person p where p.taking = t.id) from people_taking t order by t.id desc",
            row => new PeopleTaking(
                row.GetInt64(0),
                row.GetFieldValue<DateTimeOffset>(1),
                new PersonId(row.GetInt64(2)),
                row.OrNull<DateTimeOffset>(3),
                row.GetInt32(4)
            )
        );

    public static Task<List<TakenPerson>> TakenPeople(this NpgsqlConnection connection, long taking) =>
        connection.Rows(
            "select person, before is null, after = person_image(person) from people_taking_person where taking = $1 order by person",
            row => new TakenPerson(new PersonId(row.GetInt64(0)), row.GetBoolean(1), row.GetBoolean(2)),
            taking
        );

    /// <summary>Makes some people what they were before a list; those that it brought stay, as people who have left.</summary>
    public static async Task TakeBackPeople(this Change change, long taking, IReadOnlyCollection<PersonId> people)
    {
        var ids = people.Select(person => person.Value).ToArray();
        await change.Connection.Run(
            """
            update person p set kind = was.kind, standing = was.standing, day = was.day, unit = was.unit, class = was.class, by_hand = was.by_hand
            from people_taking_person k, jsonb_populate_record(null::person, k.before) was
            where k.taking = $1 and k.person = p.id and p.id = any($2) and k.before is not null
            """,
            taking,
            ids
        );
        await change.Connection.Run(
            "update person_name n set name = k.before ->> 'name' from people_taking_person k where k.taking = $1 and k.person = n.person and n.person = any($2) and k.before is not null",
            taking,
            ids
        );
        await change.Connection.Run(
            "update person p set standing = $3, day = null from people_taking_person k where k.taking = $1 and k.person = p.id and p.id = any($2) and k.before is null",
            taking,
            ids,
            (short)Standing.Left
        );
        await change.Connection.Run("update people_taking set undone_at = $2 where id = $1", taking, change.Now);
    }
}
