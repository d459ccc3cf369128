using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Tests;

internal sealed record PlainSite(
    long Id,
    string Host,
    string? Unit,
    Existence Existence,
    bool NoLongerReported,
    IReadOnlyList<string> Unknowns
)
{
    public bool Lacks(string fact) => Unknowns.Contains(fact);
}

internal sealed record PlainGrant(
    long Site,
    Power Power,
    string Subject,
    long? Person,
    long? Group,
    string? Unit,
    DateOnly? Through
);

internal sealed record PlainPerson(
    PersonKind Kind,
    Standing Standing,
    DateOnly? Day,
    string? Unit,
    bool UnitUnknown,
    bool MailFails
);

/// <summary>The tables as they are, with what follows from them said in the plainest way, without the core.</summary>
internal sealed class PlainTables
{
    private ILookup<long, PlainGrant> grants = null!;
    private ILookup<long, (long? Person, long? Group, string? Unit)> members = null!;
    private Dictionary<string, string?> units = null!;
    private HashSet<long> complete = null!;
    private DateOnly today;
    private int activeDays;

    public IReadOnlyList<PlainSite> Sites { get; private set; } = [];

    public Dictionary<long, PlainPerson> People { get; private set; } = [];

    public IReadOnlyList<long> Groups { get; private set; } = [];

    public HashSet<(long Site, string Rule)> Excepted { get; private set; } = [];

    public long Bell { get; private set; }

    public int HoldsAndExceptions { get; private set; }

    /// <summary>The actions of people in the month that the report has if nobody chooses days.</summary>
    public int ActionsOfAMonth { get; private set; }

    public static async Task<PlainTables> Read(NpgsqlConnection connection)
    {
        var groups = await Rows(connection, "select id, complete from people_group order by id", row =>
            (row.GetInt64(0), row.GetBoolean(1))
        );
        return new PlainTables
        {
            Sites = await Rows(
                connection,
                "select id, host, unit, existence, no_longer_reported, unknowns from site",
                row => new PlainSite(
                    row.GetInt64(0),
                    row.GetString(1),
                    Text(row, 2),
                    (Existence)row.GetInt16(3),
                    row.GetBoolean(4),
                    row.GetFieldValue<string[]>(5)
                )
            ),
            grants = (
                await Rows(
                    connection,
                    "select site, power, subject, person, people_group, unit, through from site_grant",
                    row => new PlainGrant(
                        row.GetInt64(0),
                        (Power)row.GetInt16(1),
                        row.GetString(2),
                        Number(row, 3),
                        Number(row, 4),
                        Text(row, 5),
                        row.IsDBNull(6) ? null : row.GetFieldValue<DateOnly>(6)
                    )
                )
            ).ToLookup(grant => grant.Site),
            members = (
                await Rows(connection, "select of_group, person, inner_group, unit from group_member", row =>
                    (Of: row.GetInt64(0), Member: (Number(row, 1), Number(row, 2), Text(row, 3)))
                )
            ).ToLookup(pair => pair.Of, pair => pair.Member),
            units = (
                await Rows(connection, "select code, parent from unit", row => (row.GetString(0), Text(row, 1)))
            ).ToDictionary(),
            People = (
                await Rows(connection, "select id, kind, standing, day, unit, unit_unknown, mail_fails from person", row =>
                    (
                        row.GetInt64(0),
                        new PlainPerson(
                            (PersonKind)row.GetInt16(1),
                            (Standing)row.GetInt16(2),
                            row.IsDBNull(3) ? null : row.GetFieldValue<DateOnly>(3),
                            Text(row, 4),
                            row.GetBoolean(5),
                            row.GetBoolean(6)
                        )
                    )
                )
            ).ToDictionary(),
            Excepted =
            [
                .. await Rows(
                    connection,
                    "select site, rule from rule_exception where ended_at is null and through >= current_date",
                    row => (row.GetInt64(0), row.GetString(1))
                ),
            ],
            HoldsAndExceptions = (
                await Rows(connection, "select (select count(*) from hold) + (select count(*) from rule_exception)", row =>
                    (int)row.GetInt64(0)
                )
            ).Single(),
            ActionsOfAMonth = (
                await Rows(
                    connection,
                    "select count(*) from journal where actor like 'person:%' and at > now() - interval '29 days'",
                    row => (int)row.GetInt64(0)
                )
            ).Single(),
            Bell = (await connection.PeopleByMail())["n.bell@merrowby.example"].Value,
            Groups = [.. groups.Select(group => group.Item1)],
            complete = [.. groups.Where(group => group.Item2).Select(group => group.Item1)],
            today = (await connection.OrganisationTime()).DayOf(DateTimeOffset.UtcNow),
            activeDays = (await connection.Organisation()).ActiveDays,
        };
    }

    public IEnumerable<PlainGrant> GrantsOf(PlainSite site) =>
        grants[site.Id].Where(grant => grant.Through is null || grant.Through >= today);

    public HashSet<string> UnitsAbove(string unit)
    {
        var above = new HashSet<string>();
        for (var code = unit; code is not null && above.Add(code); code = units.GetValueOrDefault(code)) { }
        return above;
    }

    public HashSet<long> MembersOf(long group) => [.. Inside(group).SelectMany(inner => members[inner]).SelectMany(Direct)];

    public Power? PowerOf(long person, PlainSite site) =>
        GrantsOf(site).Where(grant => Means(grant).Contains(person)).Select(grant => (Power?)grant.Power).Max();

    public IEnumerable<long> Owners(PlainSite site) =>
        GrantsOf(site).Where(grant => grant.Power == Power.Own).SelectMany(Means).Distinct();

    public bool KnowsOwners(PlainSite site) =>
        GrantsOf(site)
            .Where(grant => grant is { Power: Power.Own, Group: not null })
            .All(grant => Inside(grant.Group!.Value).All(complete.Contains));

    public bool IsActive(long person) =>
        People[person] is { Kind: PersonKind.Staff, MailFails: false } its
        && (
            its.Standing == Standing.Current
            || (its.Standing == Standing.Absent && its.Day < today)
            || (its.Standing == Standing.Leaving && its.Day > today.AddDays(activeDays))
        );

    private IEnumerable<long> Means(PlainGrant grant) =>
        grant switch
        {
            { Person: { } person } => [person],
            { Group: { } group } => MembersOf(group),
            { Unit: { } unit } => OfUnit(unit),
            _ => [],
        };

    private IEnumerable<long> Direct((long? Person, long? Group, string? Unit) member) =>
        member.Person is { } person ? [person]
        : member.Unit is { } unit ? OfUnit(unit)
        : [];

    private IEnumerable<long> OfUnit(string unit) =>
        People
            .Where(pair =>
                pair.Value is { Kind: PersonKind.Staff, Unit: { } its }
                && !(pair.Value.Standing == Standing.Left || (pair.Value.Standing == Standing.Leaving && pair.Value.Day < today))
                && UnitsAbove(its).Contains(unit)
            )
            .Select(pair => pair.Key);

    // A group and the groups in it, which can contain each other.
    private HashSet<long> Inside(long group)
    {
        var all = new HashSet<long>();
        for (var next = new Stack<long>([group]); next.TryPop(out var one); )
        {
            if (all.Add(one))
            {
                foreach (var (_, inner, _) in members[one])
                {
                    if (inner is { } within)
                    {
                        next.Push(within);
                    }
                }
            }
        }

        return all;
    }

    private static string? Text(NpgsqlDataReader row, int at) => row.IsDBNull(at) ? null : row.GetString(at);

    private static long? Number(NpgsqlDataReader row, int at) => row.IsDBNull(at) ? null : row.GetInt64(at);

    private static async Task<List<T>> Rows<T>(NpgsqlConnection connection, string sql, Func<NpgsqlDataReader, T> read)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await using var rows = await command.ExecuteReaderAsync();
        var all = new List<T>();
        while (await rows.ReadAsync())
        {
            all.Add(read(rows));
        }

        return all;
    }
}
