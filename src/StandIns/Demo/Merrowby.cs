using System.Globalization;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.People;
using AtticLedger.StandIns.Quay;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.StandIns.Demo;

/// <summary>Merrowby Harbour Trust, an invented port authority: its staff, guests, groups and sites, always the same for one day
/// and seed.
/// </summary>
public sealed class Merrowby
{
    public const int StaffCount = 380;
    public const int GuestCount = 90;

    /// <summary>The units that have staff, with their share of it.</summary>
    public static readonly IReadOnlyList<(string Code, string Name, int Weight)> Units =
    [
        ("PIL", "Pilotage", 10),
        ("VTS", "Vessel Traffic", 8),
        ("TUG", "Tugs", 10),
        ("DRE", "Dredging", 7),
        ("LOC", "Locks", 8),
        ("DOC", "Docks", 9),
        ("YRD", "Yard", 8),
        ("BER", "Berths", 7),
        ("CRU", "Cruise", 5),
        ("MOO", "Moorings", 5),
        ("HER", "Heritage lightship", 3),
        ("WIL", "Wildlife", 3),
        ("VIS", "Visitors", 4),
        ("PEO", "People", 4),
        ("FIN", "Finance", 5),
        ("LEG", "Legal", 2),
        ("CMS", "Communications", 4),
    ];

    private static readonly string[] First =
    [
        "Agnes",
        "Idris",
        "Renata",
        "Petra",
        "Tomas",
        "Wyn",
        "Greta",
        "Hamish",
        "Nora",
        "Silas",
        "Maren",
        "Oswin",
        "Tilda",
        "Jory",
        "Brona",
        "Ewan",
        "Lowri",
        "Piran",
        "Saskia",
        "Dunstan",
        "Elowen",
        "Morwen",
        "Casper",
        "Ines",
        "Rufus",
        "Thea",
        "Anselm",
        "Bettina",
        "Corin",
        "Delphine",
        "Emrys",
        "Freya",
        "Gideon",
        "Hester",
        "Ivo",
        "Juno",
        "Kester",
        "Linnet",
        "Magnus",
        "Nesta",
    ];
    private static readonly string[] Last =
    [
        "Vane",
        "Quist",
        "Lund",
        "Aske",
        "Harrow",
        "Sollis",
        "Nair",
        "Whitlock",
        "Brandt",
        "Reyes",
        "Marsh",
        "Oduya",
        "Tolland",
        "Pascoe",
        "Merrin",
        "Holt",
        "Carrow",
        "Penhale",
        "Strand",
        "Wick",
        "Larke",
        "Moss",
        "Fenn",
        "Garrow",
        "Hale",
        "Inch",
        "Jago",
        "Kerrow",
        "Lisle",
        "Maddern",
        "Nance",
        "Opie",
        "Polwin",
        "Roe",
        "Sarn",
        "Teague",
        "Uren",
        "Veryan",
        "Wray",
        "Yeo",
    ];
    private static readonly (string Domain, int Count)[] Bodies =
    [
        ("tidewater-agents.example", 40),
        ("holm-dredging.example", 30),
        ("sealcount.university.example", 20),
    ];

    private readonly Random random;
    private readonly DateOnly today;
    private readonly List<StaffMember> staff = [];
    private readonly List<StaffGroup> staffGroups = [];

    private Merrowby(DateOnly today, int seed)
    {
        this.today = today;
        random = new Random(seed);
        MakeStaff();
        MakeStaffGroups();
        Staff = new StaffRecords(staff, staffGroups);
        var people = SlipwayPeople();
        Slipway = new SlipwayRecords
        {
            Workspace = new SlipwayWorkspace("Merrowby Harbour Trust", "world", false, "everyone: edit; partners: read"),
            People = people.ToDictionary(person => person.Id),
            Groups = SlipwayGroups(people).ToDictionary(group => group.Id),
            DirectoryGroups = staffGroups.ToDictionary(
                group => group.Id,
                group => (IReadOnlyList<string>)[.. PeopleIn(group.Id, []).Distinct()]
            ),
        };
        foreach (
            var site in new MerrowbySites(
                today,
                random,
                [.. people.Where((person, place) => place >= staff.Count || staff[place].Active || place % 3 == 0)],
                [.. Slipway.Groups.Keys]
            ).Make()
        )
        {
            Slipway.Sites.Add(site.Id, site);
        }

        new MerrowbyAttic(today, seed, people).Fill(Slipway);
        Quay = new MerrowbyQuay(today, seed, staff).Make();
        Lantern = new MerrowbyLantern(today, seed, staff).Make();
    }

    public StaffRecords Staff { get; }

    public SlipwayRecords Slipway { get; }

    public LanternRecords Lantern { get; }

    public QuayRecords Quay { get; }

    public static Merrowby On(DateOnly today, int seed) => new(today, seed);

    private void MakeStaff()
    {
        Add("Nora Bell", "n.bell", "CMS");
        Add("Hamish Nair", "h.nair", "VTS");
        Add("Greta Sollis", "g.sollis", "FIN");
        Add("Idris Vane", "i.vane", "PIL");
        Add("Renata Quist", "r.quist", "PIL");
        Add("Ottoline Farrow", "o.farrow", "PIL", lastDay: today.AddDays(6));
        Add("Petra Lund", "p.lund", "PIL", active: false, lastDay: today.AddDays(-240));
        Add("Tomas Aske", "t.aske", "CRU");
        Add("Kester Brandt", "k.brandt", "TUG");
        Add("Tide gauge relay", "tide.gauge", "VTS", userType: "Service");
        Add("Lock camera relay", "lock.camera", "LOC", userType: "Service");
        while (staff.Count < StaffCount)
        {
            // Some have left, some are leaving, some are absent; all others are at work.
            var fate = random.Next(100);
            Add(
                $"{First[random.Next(First.Length)]} {Last[random.Next(Last.Length)]}",
                null,
                Unit(),
                active: fate >= 5,
                lastDay: fate < 5 ? today.AddDays(-random.Next(10, 400))
                    : fate < 8 ? today.AddDays(random.Next(2, 60))
                    : null,
                absentUntil: fate is >= 8 and < 12 ? today.AddDays(random.Next(3, 120)) : null,
                userType: fate > 95 ? "Trainee" : "Employee"
            );
        }
    }

    private string? Unit()
    {
        if (random.Next(100) < 2)
        {
            return null;
        }

        var drawn = random.Next(Units.Sum(unit => unit.Weight));
        return Units.First(unit => (drawn -= unit.Weight) < 0).Code;
    }

    private void Add(
        string name,
        string? local,
        string? unit,
        bool active = true,
        DateOnly? lastDay = null,
        DateOnly? absentUntil = null,
        string userType = "Employee"
    )
    {
        var plain = local ?? $"{name[0]}.{name.Split(' ')[^1]}".ToLowerInvariant();
        var mail = $"{plain}@merrowby.example";
        for (var again = 2; staff.Exists(member => member.Mail == mail); again++)
        {
            mail = $"{plain}{again}@merrowby.example";
        }

        staff.Add(
            new StaffMember(
                $"e{staff.Count + 1:0000}",
                name,
                mail,
                userType,
                active,
                unit,
                Day(lastDay),
                Day(absentUntil),
                today.ToDateTime(TimeOnly.MinValue, DateTimeKind.Utc).AddDays(-random.Next(1, 900))
            )
        );
    }

    private void MakeStaffGroups()
    {
        var modified = today.ToDateTime(TimeOnly.MinValue, DateTimeKind.Utc).AddDays(-30);
        foreach (var (code, name, _) in Units)
        {
            staffGroups.Add(
                new StaffGroup(
                    $"d-{code.ToLowerInvariant()}",
                    name,
                    [.. staff.Where(member => member.Department == code && member.Active).Select(member => member.Id)],
                    modified
                )
            );
        }

        staffGroups.Add(
            new StaffGroup(
                "d-none",
                "Without a unit",
                [.. staff.Where(member => member.Department is null && member.Active).Select(member => member.Id)],
                modified
            )
        );
        staffGroups.Add(new StaffGroup("d-all", "Everybody at Merrowby", [.. staffGroups.Select(group => group.Id)], modified));
        staffGroups.Add(
            new StaffGroup(
                "d-duty",
                "Duty officers",
                [
                    .. staff
                        .Where(member => member.Active && member.Department is "VTS" or "PIL")
                        .Take(24)
                        .Select(member => member.Id),
                ],
                modified
            )
        );
    }

    private IEnumerable<string> PeopleIn(string group, HashSet<string> seen) =>
        !seen.Add(group)
            ? []
            : staffGroups
                .Find(found => found.Id == group)!
                .Members.SelectMany(member =>
                    member.StartsWith("d-", StringComparison.Ordinal) ? PeopleIn(member, seen) : [$"s{member[1..]}"]
                );

    private List<SlipwayPerson> SlipwayPeople()
    {
        // A separate random sequence, so that invitations change nothing else in the demo.
        var (invited, seen) = (new Random(17), new Random(18));
        var noon = new DateTimeOffset(today.ToDateTime(new TimeOnly(12, 0)), TimeSpan.Zero);

        // Slipway removes people late: half of those who left can still sign in there.
        var people = staff
            .Select(
                (member, place) =>
                    new SlipwayPerson(
                        $"s{member.Id[1..]}",
                        member.Name,
                        member.Mail,
                        false,
                        member.Active || place % 2 == 0,
                        member.Department
                    )
            )
            .ToList();
        var insiders = people.Count;
        foreach (var (domain, count) in Bodies)
        {
            for (var i = 0; i < count; i++)
            {
                var name = $"{First[random.Next(First.Length)]} {Last[random.Next(Last.Length)]}";
                var hasJoined = seen.Next(7) > 0;
                people.Add(
                    new SlipwayPerson(
                        $"x{people.Count - staff.Count + 1:000}",
                        name,
                        $"{name.Replace(' ', '.').ToLowerInvariant()}.{i}@{domain}",
                        true,
                        true,
                        null,
                        people[invited.Next(insiders)].Id
                    )
                    {
                        Joined = hasJoined ? noon.AddDays(-400 - seen.Next(500)) : null,
                        LastSeen = hasJoined ? noon.AddDays(-seen.Next(400)) : null,
                    }
                );
            }
        }

        return people;
    }

    private List<SlipwayGroup> SlipwayGroups(List<SlipwayPerson> people)
    {
        // Most people who left were removed from the groups; a few were forgotten.
        var gone = staff.Where(member => !member.Active).Select(member => $"s{member.Id[1..]}").Skip(4).ToHashSet();
        var inside = people.FindAll(person => !person.Guest && !gone.Contains(person.Id));
        var guests = people.FindAll(person => person.Guest);
        string[] names =
        [
            "Night pilots",
            "Tug crew north",
            "Tug crew south",
            "Survey team",
            "Dredge planning",
            "Lock keepers",
            "Gate rebuild",
            "Dry dock crew",
            "Berth desk",
            "Cruise greeters",
            "Mooring gang",
            "Lightship friends",
            "Seal counters",
            "Open day helpers",
            "Payroll readers",
            "Contract desk",
            "Press desk",
            "Radio watch",
            "Ice plan",
            "Storm desk",
            "Buoy tenders",
            "Crane drivers",
            "Fuel wharf",
            "Harbour café",
            "Regatta",
            "Apprentices",
            "First aiders",
            "Union stewards",
            "Yard stores",
            "Works council",
            "Pilot boats",
            "Chart room",
            "Customs liaison",
            "Ship agents",
            "Contractors",
            "Visitors centre",
            "Photo pool",
            "Web editors",
        ];
        var groups = new List<SlipwayGroup>();
        for (var i = 0; i < names.Length; i++)
        {
            var members = Enumerable
                .Range(0, random.Next(4, 16))
                .Select(_ => new SlipwayMember(Person: inside[random.Next(inside.Count)].Id))
                .ToList();
            if (names[i] is "Seal counters" or "Ship agents" or "Contractors" or "Survey team" or "Regatta")
            {
                members.AddRange(
                    Enumerable.Range(0, 6).Select(_ => new SlipwayMember(Person: guests[random.Next(guests.Count)].Id))
                );
            }

            groups.Add(
                new SlipwayGroup(
                    $"{i + 1:00}",
                    names[i],
                    [.. members.DistinctBy(member => member.Person)],
                    Truncated: names[i] is "Contractors" or "Photo pool"
                )
            );
        }

        // Cycles: two groups that contain each other, three in a ring, one that contains itself.
        Nest(1, 2);
        Nest(2, 1);
        Nest(8, 9);
        Nest(9, 10);
        Nest(10, 8);
        Nest(20, 20);
        groups[17] = groups[17] with { Members = [.. groups[17].Members, new SlipwayMember(Directory: "d-vts")] };
        groups.Add(new SlipwayGroup("39", "Whole harbour", [new SlipwayMember(Directory: "d-all")]));
        groups.Add(
            new SlipwayGroup(
                "40",
                "Marine watch",
                [new SlipwayMember(Directory: "d-pil"), new SlipwayMember(Directory: "d-vts"), new SlipwayMember(Group: "01")]
            )
        );
        return groups;

        void Nest(int outer, int inner) =>
            groups[outer] = groups[outer] with
            {
                Members = [.. groups[outer].Members, new SlipwayMember(Group: groups[inner].Id)],
            };
    }

    private static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
