using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>Queries of the index: which sites exist, and which a change of people affects.</summary>
public static class IndexTables
{
    /// <summary>All sites, sorted by host and key, which are the same in every installation.</summary>
    public static Task<List<SiteId>> SiteIdsByKey(this NpgsqlConnection connection) =>
        connection.Rows("select id from site order by host collate \"C\", host_key collate \"C\"", row => new SiteId(
            row.GetInt64(0)
        ));

    /// <summary>The sites that a change of the directory can affect by their grants; the index names those with unknown
    /// facts.</summary>
    public static Task<List<SiteId>> SitesTouched(
        this NpgsqlConnection connection,
        DirectoryChange change,
        PeopleDirectory before,
        PeopleDirectory after
    )
    {
        var groups = after
            .Groups.Select(group =>
                (group.Id.Value, Size: Math.Max(before.Expand(group.Id).People.Count, after.Expand(group.Id).People.Count))
            )
            .ToList();
        var units = after
            .Units.Select(unit =>
                (unit.Code.Value, Size: Math.Max(before.OfUnit(unit.Code).Count, after.OfUnit(unit.Code).Count))
            )
            .ToList();
        return connection.Rows(
            """
            select site from site_grant where person = any($1) or people_group = any($2) or unit = any($11) or through between $4 and $5
                or (subject = 'staff' and ((power >= 2 and $6::integer is not null) or (power = 6 and cardinality($1::bigint[]) > 0)))
            union select id from site where unit = any($3)
            union select id from site where unit is null and 'unit' = any(unknowns) and ($12::boolean or $6::integer is not null)
            union select id from site where $6::integer is not null and (optional is null or not optional ? 'joining' or optional -> 'joining' ->> 'way' = 'Open')
            union select id from site where jsonb_typeof(optional -> 'sections') = 'array'
            union select g.site from site_grant g
                left join unnest($7::bigint[], $8::integer[]) as s(people_group, size) on s.people_group = g.people_group
                left join unnest($9::text[], $10::integer[]) as u(unit, size) on u.unit = g.unit
                where $6::integer is not null and g.subject in ('person', 'group', 'unit')
                group by g.site having sum(coalesce(s.size, u.size, 1)) >= $6
            """,
            row => new SiteId(row.GetInt64(0)),
            change.People.Select(person => person.Value).ToArray(),
            change.Groups.Select(group => group.Value).ToArray(),
            after
                .Units.Select(unit => unit.Code)
                .Where(unit => change.TouchesSitesOf(unit, before, after))
                .Select(unit => unit.Value)
                .ToArray(),
            Sql.Day(change.LinksEnded?.First),
            Sql.Day(change.LinksEnded?.Last),
            new NpgsqlParameter { Value = (object?)change.NearlyStaff ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Integer },
            groups.Select(group => group.Value).ToArray(),
            groups.Select(group => group.Size).ToArray(),
            units.Select(unit => unit.Value).ToArray(),
            units.Select(unit => unit.Size).ToArray(),
            change.UnitsOfPeople.Select(unit => unit.Value).ToArray(),
            change.Units.Count > 0
        );
    }
}
