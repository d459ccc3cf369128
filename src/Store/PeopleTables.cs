using System.Runtime.InteropServices;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

public static class PeopleTables
{
    /// <summary>All people, units and groups at an instant, read completely. <see cref="PeopleDirectories"/> reads it only if
    /// something changed.</summary>
    public static async Task<PeopleDirectory> PeopleDirectory(
        this NpgsqlConnection connection,
        DateTimeOffset now,
        OrganisationTime time
    )
    {
        var people = await connection.Rows(
            """
            select p.id, p.kind, coalesce(n.name, 'name erased'), coalesce(n.mail, ''), p.standing, p.day, p.unit, p.classification, p.mail_fails, p.unit_unknown
            from person p left join person_name n on n.person = p.id order by p.id
            """,
            row => new Person(
                new PersonId(row.GetInt64(0)),
                (PersonKind)row.GetInt16(1),
                row.GetString(2),
                row.GetString(3),
                (Standing)row.GetInt16(4),
                row.OrNull<DateOnly>(5),
                row.GetBoolean(9) ? Known<UnitCode>.Unknown
                    : row.IsDBNull(6) ? Known<UnitCode>.None
                    : Known.Of(new UnitCode(row.GetString(6))),
                row.GetString(7),
                row.GetBoolean(8)
            )
        );
        return new PeopleDirectory(people, await connection.Units(), await connection.Groups(), now, time);
    }

    public static Task<List<Unit>> Units(this NpgsqlConnection connection) =>
        connection.Rows("select code, name, parent from unit order by code", row => new Unit(
            new UnitCode(row.GetString(0)),
            row.GetString(1),
            row.TextOrNull(2) is { } parent ? new UnitCode(parent) : null
        ));

    /// <summary>Ids by lower-case mail address.</summary>
    public static async Task<Dictionary<string, PersonId>> PeopleByMail(this NpgsqlConnection connection) =>
        (
            await connection.Rows("select lower(mail), person from person_name", row =>
                (row.GetString(0), new PersonId(row.GetInt64(1)))
            )
        ).ToDictionary(pair => pair.Item1, pair => pair.Item2);

    public static async Task<Dictionary<(string Source, string Key), GroupId>> GroupKeys(this NpgsqlConnection connection) =>
        (
            await connection.Rows("select source, source_key, id from people_group", row =>
                (row.GetString(0), row.GetString(1), new GroupId(row.GetInt64(2)))
            )
        ).ToDictionary(row => (row.Item1, row.Item2), row => row.Item3);

    /// <summary>The key of grants to a group at the host of a site; null if the group is of another source.</summary>
    public static async Task<string?> KeyOfGroupAtHostOf(this NpgsqlConnection connection, SiteId site, GroupId group) =>
        (
            await connection.Rows(
                "select g.source_key from people_group g join site s on s.host = g.source where g.id = $1 and s.id = $2",
                row => GrantKeys.OfGroup(row.GetString(0)),
                group.Value,
                site.Value
            )
        ).FirstOrDefault();

    public static async Task<PersonId> AddPerson(this Change change, Person person)
    {
        var id = await change.Connection.One<long>(
            "insert into person (kind, standing, day, unit, classification, mail_fails, unit_unknown) values ($1, $2, $3, $4, $5, $6, $7) returning id",
            (short)person.Kind,
            (short)person.Standing,
            Sql.Day(person.Day),
            UnitOf(person),
            person.Classification,
            person.MailFails,
            person.Unit.IsUnknown
        );
        await change.Connection.Run(
            "insert into person_name (person, name, mail) values ($1, $2, $3)",
            id,
            person.Name,
            person.Mail
        );
        return new PersonId(id);
    }

    public static async Task UpdatePerson(this Change change, Person person)
    {
        await change.Connection.Run(
            "update person set kind = $2, standing = $3, day = $4, unit = $5, classification = $6, mail_fails = $7, unit_unknown = $8 where id = $1",
            person.Id.Value,
            (short)person.Kind,
            (short)person.Standing,
            Sql.Day(person.Day),
            UnitOf(person),
            person.Classification,
            person.MailFails,
            person.Unit.IsUnknown
        );
        await change.Connection.Run(
            "update person_name set name = $2, mail = $3 where person = $1",
            person.Id.Value,
            person.Name,
            person.Mail
        );
    }

    public static async Task<GroupId> AddGroup(this Change change, string source, string key, string name) =>
        new(
            await change.Connection.One<long>(
                "insert into people_group (source, source_key, name, complete) values ($1, $2, $3, false) returning id",
                source,
                key,
                name
            )
        );

    public static async Task SetGroup(this Change change, Group group)
    {
        await change.Connection.Run(
            "update people_group set name = $2, complete = $3 where id = $1",
            group.Id.Value,
            group.Name,
            group.Complete
        );
        await change.Connection.Run("delete from group_member where of_group = $1", group.Id.Value);
        await using var copy = await change.Connection.BeginBinaryImportAsync(
            "copy group_member (of_group, person, inner_group, unit) from stdin (format binary)"
        );
        foreach (var member in group.Members)
        {
            await copy.StartRowAsync();
            await copy.WriteAsync(group.Id.Value);
            await WriteOrNull(copy, member.Person?.Value);
            await WriteOrNull(copy, member.Group?.Value);
            await (member.Unit is { } unit ? copy.WriteAsync(unit.Value) : copy.WriteNullAsync());
        }

        await copy.CompleteAsync();
    }

    private static Task WriteOrNull(NpgsqlBinaryImporter copy, long? id) =>
        id is { } value ? copy.WriteAsync(value) : copy.WriteNullAsync();

    private static string? UnitOf(Person person) => person.Unit.Has(out var unit) ? unit.Value : null;

    private static async Task<List<Group>> Groups(this NpgsqlConnection connection)
    {
        // Only grants are more numerous, so each goes directly to its final place.
        var members = new Dictionary<long, List<Member>>();
        await connection.Each("select of_group, person, inner_group, unit from group_member order by id", row =>
        {
            (CollectionsMarshal.GetValueRefOrAddDefault(members, row.GetInt64(0), out _) ??= []).Add(
                new Member(
                    row.OrNull<long>(1) is { } person ? new PersonId(person) : null,
                    row.OrNull<long>(2) is { } group ? new GroupId(group) : null,
                    row.TextOrNull(3) is { } unit ? new UnitCode(unit) : null
                )
            );
        });
        return await connection.Rows("select id, name, complete from people_group order by id", row => new Group(
            new GroupId(row.GetInt64(0)),
            row.GetString(1),
            members.GetValueOrDefault(row.GetInt64(0)) ?? [],
            row.GetBoolean(2)
        ));
    }
}
