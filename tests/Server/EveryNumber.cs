using System.Text.Json;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>The numbers that screens show, counted a second time from the tables, without the core and without the index.
/// </summary>
public class EveryNumber(Installation here)
{
    [Fact]
    public async Task Screens_show_what_the_tables_add_up_to()
    {
        await here.NewSite("number-a", new SlipwayEntry("p:s0004", "own"));
        var bell = await here.SignIn("n.bell");
        List<(string What, int Shown, int Counted)> numbers = [];

        // Other tests change the register meanwhile: the numbers are those of one state if nothing was written in between.
        List<(string What, int Shown, int Counted)> differ = [];
        for (var attempt = 0; attempt < 40; attempt++)
        {
            var before = await here.Database.Read(connection => connection.JournalHead());
            numbers = await Numbers(bell, await here.Database.Read(Tables.Read));
            differ = [.. numbers.Where(number => number.Shown != number.Counted)];
            if (differ.Count == 0 && before == await here.Database.Read(connection => connection.JournalHead()))
            {
                break;
            }
        }

        Assert.Equal([], differ);
        Assert.True(numbers.Count > 60, $"Only {numbers.Count} numbers were compared.");
    }

    private static async Task<List<(string What, int Shown, int Counted)>> Numbers(Caller bell, Tables tables)
    {
        var numbers = new List<(string, int, int)>();
        var used = tables.Sites.Where(site => site.Existence == Existence.InUse).ToList();
        var reported = used.Where(site => !site.NoLongerReported).ToList();

        // The register: all, by unit with those below, by what is not known.
        var register = await bell.Get("/api/register?limit=0");
        numbers.Add(("register", Of(register, "whole"), used.Count));
        foreach (var unit in register.GetProperty("units").EnumerateArray())
        {
            var key = unit.GetProperty("key").GetString()!;
            numbers.Add(
                (
                    $"register, {key}",
                    Of(unit, "count"),
                    key == "none"
                        ? used.Count(site => site.Unit is null && !site.Lacks("unit"))
                        : used.Count(site => site.Unit is { } its && tables.UnitsAbove(its).Contains(key))
                )
            );
        }

        // Owners: by how many are active.
        var owners = await bell.Get("/api/owners");
        var active = reported
            .Where(site => !site.Lacks("sharing") && tables.KnowsOwners(site))
            .ToDictionary(site => site.Id, site => tables.Owners(site).Count(tables.IsActive));
        numbers.Add(("owners, whole", Of(owners, "whole"), reported.Count));
        numbers.Add(("owners, two or more", Of(owners, "active"), active.Values.Count(count => count >= 2)));
        numbers.Add(("owners, one", Of(owners, "single"), active.Values.Count(count => count == 1)));
        numbers.Add(("owners, none", Of(owners, "none"), active.Values.Count(count => count == 0)));

        // The desk, the rule about owners wherever it is counted, and the attic.
        numbers.Add(("desk, sites", Of(await bell.Get("/api/desk"), "sites"), used.Count));
        var few = active.Count(site => site.Value < 2 && !tables.Excepted.Contains((site.Key, "R-03")));
        numbers.Add(("R-03 in the register", Of(await bell.Get("/api/register?limit=0&rule=R-03"), "total"), few));
        numbers.Add(
            (
                "R-03 in the list of rules",
                register
                    .GetProperty("rules")
                    .EnumerateArray()
                    .Where(rule => rule.GetProperty("key").GetString() == "R-03")
                    .Sum(rule => Of(rule, "count")),
                few
            )
        );
        numbers.Add(
            (
                "R-03 with its remedies",
                (await bell.Get("/api/reports/remedies"))
                    .GetProperty("rows")
                    .EnumerateArray()
                    .Count(row =>
                        row.GetProperty("cells")
                            .EnumerateArray()
                            .Any(cell => cell.GetString()!.Contains("R-03", StringComparison.Ordinal))
                    ),
                few
            )
        );
        numbers.Add(
            (
                "attic",
                (await bell.Get("/api/attic"))
                    .GetProperty("entries")
                    .EnumerateArray()
                    .Count(entry => entry.GetProperty("state").GetString() == "in-attic"),
                tables.Sites.Count(site => site.Existence == Existence.Attic)
            )
        );

        // Reports: as many rows as the tables have.
        numbers.Add(("report of holds", Of(await bell.Get("/api/reports/holds"), "total"), tables.HoldsAndExceptions));
        numbers.Add(("report of actions", Of(await bell.Get("/api/reports/actions"), "total"), tables.ActionsOfAMonth));

        // Your sites: what the asker owns.
        numbers.Add(
            (
                "your sites",
                (await bell.Get("/api/your-sites"))
                    .GetProperty("sites")
                    .EnumerateArray()
                    .Count(site => site.GetProperty("atticEntry").ValueKind == JsonValueKind.Null),
                reported.Count(site => tables.PowerOf(tables.Bell, site) == Power.Own)
            )
        );

        // Sources: what each host has.
        foreach (var source in (await bell.Get("/api/sources")).EnumerateArray())
        {
            if (source.GetProperty("sites").ValueKind == JsonValueKind.Null)
            {
                continue;
            }

            var name = source.GetProperty("name").GetString()!;
            var ofHost = tables.Sites.Where(site => site.Host == name).ToList();
            numbers.Add(($"{name}, sites", Of(source, "sites"), ofHost.Count(site => site.Existence == Existence.InUse)));
            numbers.Add(($"{name}, attic", Of(source, "attic"), ofHost.Count(site => site.Existence == Existence.Attic)));
            numbers.Add(
                (
                    $"{name}, no longer reported",
                    Of(source, "noLongerReported"),
                    ofHost.Count(site => site.Existence == Existence.InUse && site.NoLongerReported)
                )
            );
        }

        // Classification: what nobody has set.
        var classification = await bell.Get("/api/classification");
        numbers.Add(("classification, sites", Of(classification, "sites"), used.Count));
        foreach (var fact in classification.GetProperty("lacks").EnumerateArray())
        {
            var name = fact.GetProperty("fact").GetString()!;
            numbers.Add(($"{name} not set", Of(fact, "missing"), used.Count(site => site.Lacks(name))));
        }

        // People: what each owns and edits, by name, by group and by unit.
        foreach (var person in tables.People.Keys.Where(id => id % 23 == 4).Take(12))
        {
            var page = await bell.Get($"/api/people/{person}");
            var best = tables
                .Sites.Where(site => site is { Existence: not Existence.Erased, NoLongerReported: false })
                .Select(site => (site.Existence, Power: tables.PowerOf(person, site)))
                .Where(pair => pair.Power is not null)
                .ToList();
            numbers.Add(($"person {person}, all", Of(page, "total"), best.Count));
            numbers.Add(($"person {person}, owns", Of(page, "owns"), best.Count(pair => pair is (Existence.InUse, Power.Own))));
            numbers.Add(
                (
                    $"person {person}, edits",
                    Of(page, "edits"),
                    best.Count(pair => pair.Existence == Existence.InUse && pair.Power is >= Power.Edit and < Power.Own)
                )
            );
        }

        // Groups: whom they contain through others, and on how many sites they are granted something.
        foreach (var group in tables.Groups.Take(6))
        {
            var page = await bell.Get($"/api/groups/{group}");
            numbers.Add(($"group {group}, people", Of(page, "people"), tables.MembersOf(group).Count));
            numbers.Add(
                (
                    $"group {group}, sites",
                    page.GetProperty("sites").GetArrayLength(),
                    reported.Count(site => tables.GrantsOf(site).Any(grant => grant.Group == group))
                )
            );
        }

        return numbers;
    }

    private static int Of(JsonElement from, string name) => from.GetProperty(name).GetInt32();

    private sealed record PlainSite(
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

    private sealed record PlainGrant(
        long Site,
        Power Power,
        string Subject,
        long? Person,
        long? Group,
        string? Unit,
        DateOnly? Through
    );

    private sealed record PlainPerson(
        PersonKind Kind,
        Standing Standing,
        DateOnly? Day,
        string? Unit,
        bool UnitUnknown,
        bool MailFails
    );

    /// <summary>The tables as they are, with what follows from them said in the plainest way.</summary>
    private sealed class Tables
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

        public static async Task<Tables> Read(NpgsqlConnection connection)
        {
            var groups = await Rows(connection, "select id, complete from people_group order by id", row =>
                (row.GetInt64(0), row.GetBoolean(1))
            );
            return new Tables
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
                    && !(
                        pair.Value.Standing == Standing.Left
                        || (pair.Value.Standing == Standing.Leaving && pair.Value.Day < today)
                    )
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
}
