using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A list of people that was imported.</summary>
/// <param name="People">The number of people it changed or added.</param>
public sealed record PeopleImport(long Id, DateTimeOffset ImportedAt, PersonId By, DateTimeOffset? UndoneAt, int People);

/// <summary>A person whom a list changed or added.</summary>
/// <param name="IsNew">True if the list added them.</param>
/// <param name="IsAsLeft">True if they are unchanged since the list.</param>
public sealed record ImportedPerson(PersonId Person, bool IsNew, bool IsAsLeft);

/// <summary>Imported lists of people: whom they report, and what they changed, stored for undo.</summary>
public static class PeopleImportTables
{
    private const int Kept = 5;

    /// <summary>The people for whom an imported list is the most direct source.</summary>
    public static async Task<HashSet<PersonId>> PeopleByHand(this NpgsqlConnection connection) =>
        [.. await connection.Rows("select id from person where by_hand", row => new PersonId(row.GetInt64(0)))];

    /// <summary>Records for some people whether an imported list reports them.</summary>
    public static Task SetByHand(this Change change, IReadOnlyCollection<PersonId> people, bool byHand) =>
        people.Count == 0
            ? Task.CompletedTask
            : change.Connection.Run(
                "update person set by_hand = $2 where id = any($1) and by_hand <> $2",
                people.Select(person => person.Value).ToArray(),
                byHand
            );

    /// <summary>Records an import with the former state of everybody it changes; added people are recorded at the end.</summary>
    public static async Task<long> BeginPeopleImport(this Change change, PersonId by, IReadOnlyCollection<PersonId> changed)
    {
        var siteImport = await change.Connection.One<long>(
            "insert into people_import (imported_at, by_person) values ($1, $2) returning id",
            change.Now,
            by.Value
        );
        await change.Connection.Run(
            "insert into people_import_person (import_id, person, before, after) select $1, id, person_image(id), '{}' from unnest($2::bigint[]) as id",
            siteImport,
            changed.Select(person => person.Value).ToArray()
        );
        await change.Connection.Run(
            "delete from people_import where id <= (select id from people_import order by id desc offset $1 limit 1)",
            Kept
        );
        return siteImport;
    }

    public static async Task EndPeopleImport(this Change change, long siteImport, IReadOnlyCollection<PersonId> brought)
    {
        await change.Connection.Run(
            "insert into people_import_person (import_id, person, after) select $1, id, '{}' from unnest($2::bigint[]) as id",
            siteImport,
            brought.Select(person => person.Value).ToArray()
        );
        await change.Connection.Run(
            "update people_import_person set after = person_image(person) where import_id = $1",
            siteImport
        );
    }

    /// <summary>The stored imports, the latest first.</summary>
    public static Task<List<PeopleImport>> PeopleImports(this NpgsqlConnection connection) =>
        connection.Rows(
            "select t.id, t.imported_at, t.by_person, t.undone_at, (select count(*)::integer from people_import_person p where p.import_id = t.id) from people_import t order by t.id desc",
            row => new PeopleImport(
                row.GetInt64(0),
                row.GetFieldValue<DateTimeOffset>(1),
                new PersonId(row.GetInt64(2)),
                row.OrNull<DateTimeOffset>(3),
                row.GetInt32(4)
            )
        );

    public static Task<List<ImportedPerson>> ImportedPeople(this NpgsqlConnection connection, long siteImport) =>
        connection.Rows(
            "select person, before is null, after = person_image(person) from people_import_person where import_id = $1 order by person",
            row => new ImportedPerson(new PersonId(row.GetInt64(0)), row.GetBoolean(1), row.GetBoolean(2)),
            siteImport
        );

    /// <summary>Restores some people to their state before a list; people it added stay, as people who have left.</summary>
    public static async Task UndoPeople(this Change change, long siteImport, IReadOnlyCollection<PersonId> people)
    {
        var ids = people.Select(person => person.Value).ToArray();
        await change.Connection.Run(
            """
            update person p set kind = was.kind, standing = was.standing, day = was.day, unit = was.unit, classification = was.classification, by_hand = was.by_hand
            from people_import_person k, jsonb_populate_record(null::person, k.before) was
            where k.import_id = $1 and k.person = p.id and p.id = any($2) and k.before is not null
            """,
            siteImport,
            ids
        );
        await change.Connection.Run(
            "update person_name n set name = k.before ->> 'name' from people_import_person k where k.import_id = $1 and k.person = n.person and n.person = any($2) and k.before is not null",
            siteImport,
            ids
        );
        await change.Connection.Run(
            "update person p set standing = $3, day = null from people_import_person k where k.import_id = $1 and k.person = p.id and p.id = any($2) and k.before is null",
            siteImport,
            ids,
            (short)Standing.Left
        );
        await change.Connection.Run("update people_import set undone_at = $2 where id = $1", siteImport, change.Now);
    }
}
