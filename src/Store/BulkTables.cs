using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>Loads a whole register into an empty one, by COPY, with ids that the caller assigns from 1. Needs the owner's role,
/// because it sets the sequences.
/// </summary>
public static class BulkTables
{
    /// <summary>True if the register is empty: no person, no unit, no site.</summary>
    public static async Task<bool> IsEmpty(this NpgsqlConnection connection) =>
        await connection.One<bool>(
            "select not exists (select from site) and not exists (select from person) and not exists (select from unit) and not exists (select from people_group)"
        );

    public static async Task LoadPeople(this Change change, IEnumerable<(Person Person, bool HasName)> people)
    {
        List<(Person Person, bool HasName)> all = [.. people];
        await Copy(change, "person (id, kind, standing, day, unit, classification, mail_fails)", all, async (row, one) =>
        {
            await row.WriteAsync(one.Person.Id.Value);
            await row.WriteAsync((short)one.Person.Kind);
            await row.WriteAsync((short)one.Person.Standing);
            await Write(row, one.Person.Day, NpgsqlDbType.Date);
            await Write(row, one.Person.Unit.Has(out var unit) ? unit.Value : null, NpgsqlDbType.Text);
            await row.WriteAsync(one.Person.Classification);
            await row.WriteAsync(one.Person.MailFails);
        });
        await Copy(change, "person_name (person, name, mail)", all.Where(one => one.HasName), async (row, one) =>
        {
            await row.WriteAsync(one.Person.Id.Value);
            await row.WriteAsync(one.Person.Name);
            await row.WriteAsync(one.Person.Mail);
        });
        await change.GoOn("person");
    }

    public static async Task LoadGroups(this Change change, IReadOnlyList<(Group Group, string Source, string Key)> groups)
    {
        await Copy(change, "people_group (id, source, source_key, name, complete)", groups, async (row, one) =>
        {
            await row.WriteAsync(one.Group.Id.Value);
            await row.WriteAsync(one.Source);
            await row.WriteAsync(one.Key);
            await row.WriteAsync(one.Group.Name);
            await row.WriteAsync(one.Group.Complete);
        });
        await Copy(
            change,
            "group_member (of_group, person, inner_group, unit)",
            groups.SelectMany(one => one.Group.Members.Select(member => (one.Group.Id, member))),
            async (row, one) =>
            {
                await row.WriteAsync(one.Id.Value);
                await Write(row, one.member.Person?.Value, NpgsqlDbType.Bigint);
                await Write(row, one.member.Group?.Value, NpgsqlDbType.Bigint);
                await Write(row, one.member.Unit?.Value, NpgsqlDbType.Text);
            }
        );
        await change.GoOn("people_group");
    }

    /// <summary>Loads a part of the sites; call <see cref="Loaded"/> after the last.</summary>
    public static async Task LoadSites(this Change change, IReadOnlyList<SiteFacts> sites)
    {
        await using (
            var copy = await change.Connection.BeginBinaryImportAsync(
                $"copy site (id, {string.Join(", ", SiteRows.Written)}) from stdin (format binary)"
            )
        )
        {
            foreach (var site in sites)
            {
                await copy.StartRowAsync();
                await copy.WriteAsync(site.Id.Value);
                foreach (var value in SiteRows.Values(site))
                {
                    await WriteValue(copy, value);
                }
            }

            await copy.CompleteAsync();
        }

        await SiteTables.CopyGrants(change, sites);
    }

    /// <summary>The site that a loaded one has become.</summary>
    public static Task SetMoved(this Change change, SiteId from, SiteId to) =>
        change.Connection.Run("update site set moved_to = $2 where id = $1", from.Value, to.Value);

    /// <summary>After the last part: sets the sequences and updates the statistics.</summary>
    public static async Task Loaded(this Change change)
    {
        await change.GoOn("site");
        await change.Connection.Run("analyze unit, person, person_name, people_group, group_member, site, site_grant");
    }

    // The next id after the assigned ones.
    private static Task GoOn(this Change change, string table) =>
        change.Connection.Run(
            $"select setval(pg_get_serial_sequence('{table}', 'id'), coalesce((select max(id) from {table}), 0) + 1, false)"
        );

    private static async Task Copy<T>(Change change, string into, IEnumerable<T> rows, Func<NpgsqlBinaryImporter, T, Task> write)
    {
        await using var copy = await change.Connection.BeginBinaryImportAsync($"copy {into} from stdin (format binary)");
        foreach (var row in rows)
        {
            await copy.StartRowAsync();
            await write(copy, row);
        }

        await copy.CompleteAsync();
    }

    private static Task Write(NpgsqlBinaryImporter copy, object? value, NpgsqlDbType type) =>
        value is null ? copy.WriteNullAsync() : copy.WriteAsync(value, type);

    private static Task WriteValue(NpgsqlBinaryImporter copy, object? value) =>
        value switch
        {
            NpgsqlParameter { Value: null or DBNull } => copy.WriteNullAsync(),
            NpgsqlParameter { Value: DateTimeOffset moment } => copy.WriteAsync(
                moment.ToUniversalTime(),
                NpgsqlDbType.TimestampTz
            ),
            NpgsqlParameter parameter => copy.WriteAsync(parameter.Value!, parameter.NpgsqlDbType),
            DateTimeOffset moment => copy.WriteAsync(moment.ToUniversalTime(), NpgsqlDbType.TimestampTz),
            string text => copy.WriteAsync(text, NpgsqlDbType.Text),
            string[] texts => copy.WriteAsync(texts, NpgsqlDbType.Array | NpgsqlDbType.Text),
            bool flag => copy.WriteAsync(flag, NpgsqlDbType.Boolean),
            short number => copy.WriteAsync(number, NpgsqlDbType.Smallint),
            null => copy.WriteNullAsync(),
            _ => throw new InvalidOperationException($"A value of {value.GetType()} is not written here."),
        };
}
