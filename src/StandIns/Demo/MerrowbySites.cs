using System.Globalization;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.StandIns.Demo;

/// <summary>The sites of the demo: some with a story, the others typical of such an organisation.</summary>
internal sealed class MerrowbySites(
    DateOnly today,
    Random random,
    IReadOnlyList<SlipwayPerson> people,
    IReadOnlyList<string> groups
)
{
    public const int Count = 262;
    private static readonly string[] Things =
    [
        "handbook",
        "notes",
        "plan",
        "log",
        "desk",
        "rota",
        "survey",
        "rebuild",
        "review",
        "archive",
        "photos",
        "training",
        "forms",
        "projects",
        "news",
        "minutes",
        "stores",
        "incidents",
        "calendar",
        "charts",
    ];
    private static readonly Dictionary<string, string[]> Topics = new()
    {
        ["PIL"] = ["Boarding", "Pilot boat", "Night pilots", "Fairway", "Licensing"],
        ["VTS"] = ["Radar", "Traffic", "Radio watch", "Tide gauge", "Fog"],
        ["TUG"] = ["Tug crew", "Towing", "Bollard pull", "Fuel wharf", "Escort"],
        ["DRE"] = ["Dredge", "Silt", "North channel", "Spoil ground", "Sounding"],
        ["LOC"] = ["Lock gates", "Sluice", "Keepers", "Outer lock", "Chamber"],
        ["DOC"] = ["Dry dock", "Quay wall", "Crane", "Fender", "West dock"],
        ["YRD"] = ["Yard stores", "Workshop", "Buoy tender", "Paint shop", "Apprentice"],
        ["BER"] = ["Berth", "Allocation", "Ship agents", "Stevedores", "Port dues"],
        ["CRU"] = ["Cruise", "Passenger", "Welcome", "Terminal", "Coach park"],
        ["MOO"] = ["Mooring", "Small craft", "Marina", "Winter storage", "Visitor berths"],
        ["HER"] = ["Lightship", "Foghorn", "Friends of the lamp", "Model makers", "Old charts"],
        ["WIL"] = ["Seal", "Tern colony", "Mudflat", "Otter", "Beach clean"],
        ["VIS"] = ["Harbour walk", "School visits", "Open day", "Café", "Guided tour"],
        ["PEO"] = ["Joining", "Leave", "Wellbeing", "Pay", "Training"],
        ["FIN"] = ["Budget", "Audit", "Tariff", "Invoices", "Year end"],
        ["LEG"] = ["Contracts", "Byelaws", "Inquiry", "Wayleaves", "Claims"],
        ["CMS"] = ["Press", "Brand shelf", "Newsletter", "Storm", "Regatta"],
    };

    private static readonly (string Purpose, string[] Things)[] Uses =
    [
        ("Handbook", ["handbook", "notes", "training", "forms", "guide"]),
        ("Records", ["log", "archive", "survey", "minutes", "incidents", "charts", "review", "records", "photos"]),
        ("Working room", ["plan", "rota", "desk", "projects", "rebuild", "stores", "project", "room"]),
        ("Notices", ["news", "calendar", "notice", "board", "wanted", "prices"]),
        ("Event", ["open day", "fair", "regatta", "season"]),
        ("Shop", ["shop", "tickets"]),
    ];

    private readonly List<SlipwayPerson> inside = [.. people.Where(person => !person.Guest)];
    private readonly List<SlipwayPerson> guests = [.. people.Where(person => person.Guest)];
    private readonly HashSet<string> slugs = [];

    // A separate random sequence, so that everything else stays the same.
    private readonly Random wordy = new(28);
    private readonly Random named = new(31);
    private int next = 1;

    public IEnumerable<SlipwaySite> Make()
    {
        foreach (var site in WithStories())
        {
            yield return Plausible(site, grows: false);
        }

        while (next <= Count)
        {
            yield return Plausible(Usual(), grows: true);
        }
    }

    private IEnumerable<SlipwaySite> WithStories()
    {
        yield return Site(
            "Pilot boarding notes",
            "pilot-boarding",
            "PIL",
            "Guarded",
            [Person("o.farrow", "own"), Person("i.vane", "edit"), new("everyone", "read"), World("read")]
        ) with
        {
            Template = "noticeboard",
            Visits7 = 912,
        };
        yield return Site(
            "Dredge log, north channel",
            "dredge-n",
            "DRE",
            "Guarded",
            [new("everyone", "read"), World("read"), Group("05", "edit")]
        ) with
        {
            Visits7 = 44,
        };
        yield return Site(
            "Tug crew rota (copy)",
            "tug-crew-rota-2",
            "TUG",
            "Internal",
            [Person("k.brandt", "own"), new("everyone", "edit"), World("edit")]
        ) with
        {
            Visits7 = 31,
        };
        yield return Site(
            "Tug crew rota",
            "tug-crew-rota",
            "TUG",
            "Internal",
            [Person("k.brandt", "own"), Person("h.nair", "own"), Group("02", "edit"), new("everyone", "read")]
        );
        yield return Site(
            "Night pilots",
            "night-pilots",
            "PIL",
            "Internal",
            [Person("o.farrow", "own"), Group("01", "edit"), Guest(3, "read"), new("team:PIL", "read")]
        ) with
        {
            Visits7 = 900,
        };
        yield return Site(
            "VTS shift handbook",
            "vts-handbook",
            "VTS",
            "Internal",
            [Person("r.quist", "own"), Person("h.nair", "own"), Group("18", "edit"), Guest(7, "read"), new("everyone", "read")]
        );
        yield return Site(
            "Cruise arrivals",
            "cruise",
            "CRU",
            "Open",
            [Person("t.aske", "own"), Person("n.bell", "own"), Group("10", "edit"), new("everyone", "read"), World("read")]
        ) with
        {
            Visits7 = 2204,
        };
        yield return Site(
            "Buoy tender diary",
            "buoy-diary",
            "YRD",
            "Internal",
            [Person("h.nair", "own"), Group("21", "edit"), new("everyone", "read")]
        );
        yield return Site(
            "Harbour seal watch",
            "sealwatch",
            "WIL",
            "Open",
            [Person("n.bell", "own"), Person("t.aske", "own"), Group("13", "edit"), World("read")]
        ) with
        {
            Visits7 = 640,
        };
        yield return Site(
            "Collision inquiry",
            "inquiry-9",
            "LEG",
            "Sealed",
            [Person("g.sollis", "own"), Person("n.bell", "own"), Group("16", "edit"), new("everyone", "read")]
        ) with
        {
            Visits7 = 12,
        };
        yield return Site(
            "Berth planning",
            "berth-planning",
            "BER",
            "Internal",
            [Person("t.aske", "own"), Person("n.bell", "own"), Group("39", "edit")]
        );
        yield return Site(
            "Ship agents' corner",
            "agents",
            "BER",
            "Internal",
            [Person("t.aske", "own"), Person("h.nair", "own"), Group("34", "read"), Group("09", "edit")]
        ) with
        {
            Visits7 = 410,
        };
        yield return Site(
            "Holm contract room",
            "holm-room",
            "DRE",
            "Guarded",
            [Person("i.vane", "own"), Person("r.quist", "own"), Group("35", "read"), Group("05", "edit")]
        );
        yield return Site(
            "Storm desk 2023",
            "storm-23",
            "CMS",
            "Internal",
            [
                Person("p.lund", "own"),
                new("everyone", "read"),
                new(
                    "link:storm",
                    "read",
                    "none",
                    "world",
                    today.AddDays(40).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                ),
                World("read"),
            ]
        ) with
        {
            Visits7 = 0,
            Join = "request",
            JoinRequests = [Morning(-33), Morning(-12), Morning(-2)],
        };
        yield return Site(
            "Payroll questions",
            "payroll",
            "PEO",
            "Sealed",
            [Person("g.sollis", "own"), Person("i.vane", "own"), Group("15", "edit")]
        ) with
        {
            Withheld = ["sharing"],
        };
        yield return Site(
            "Regatta 2027",
            "regatta-27",
            "CMS",
            "Open",
            [Person("n.bell", "own"), Person("t.aske", "own"), Group("25", "edit"), World("read")]
        ) with
        {
            Published = null,
            Live = [],
            Visits7 = null,
        };
        yield return Site(
            "Pilot exam bank",
            "pilot-exam",
            "PIL",
            "Sealed",
            [Person("i.vane", "own"), Person("r.quist", "own"), new("everyone", "read"), World("read")]
        ) with
        {
            Limit = "none",
        };
    }

    private SlipwaySite Usual()
    {
        var unit = Merrowby.Units[random.Next(Merrowby.Units.Count)].Code;
        var topic = Topics[unit][random.Next(Topics[unit].Length)];
        var thing = Things[random.Next(Things.Length)];
        var title = random.Next(12) switch
        {
            0 => $"{topic} {thing} {today.Year - random.Next(0, 4)}",
            1 => $"{topic} {thing} (copy)",
            _ => $"{topic} {thing}",
        };
        var label = random.Next(100) switch
        {
            < 34 => "Open",
            < 72 => "Internal",
            < 86 => "Guarded",
            < 91 => "Sealed",
            _ => null,
        };
        var site = Site(title, Slug($"{topic}-{thing}"), random.Next(100) < 5 ? null : unit, label, Entries(unit, label));
        if (named.Next(18) == 0)
        {
            site = site with { Working = Welcoming(site.Working), Live = Welcoming(site.Live) };
        }

        return Stage(site) with
        {
            Topics = TopicsOf(unit, thing),
            Join = wordy.Next(14) switch
            {
                0 => "self",
                1 or 2 => "request",
                _ => "none",
            },
            JoinAs = title.Length % 3 == 0 ? "edit" : "read",
            About =
                wordy.Next(3) == 0
                    ? $"{title}: what {Merrowby.Units[wordy.Next(Merrowby.Units.Count)].Name} and we need to know."
                    : null,
            Language = wordy.Next(40) == 0 ? "cy" : "en",
            NoIndex = label == "Internal" && title.Length % 4 == 0,
            Logo = (title.Length % 9) switch
            {
                0 => "site",
                1 or 2 => "link",
                3 => null,
                _ => "own",
            },
            Header = named.Next(15) == 0 ? $"{topic} {thing} {today.Year - 2}" : null,
            Template = random.Next(6) switch
            {
                0 => "noticeboard",
                1 => "project",
                _ => "pages",
            },
            Visits7 = random.Next(10) == 0 ? null : (int)Math.Pow(random.NextDouble() * 30, 2),
            Withheld = random.Next(100) switch
            {
                < 3 => ["sharing"],
                < 6 => ["label"],
                < 8 => ["team"],
                < 9 => ["published"],
                _ => [],
            },
            Limit = random.Next(20) switch
            {
                0 => "none",
                1 => "guests",
                _ => null,
            },
        };
    }

    private static List<SlipwayPage> Welcoming(IReadOnlyList<SlipwayPage> pages) =>
        [pages[0] with { Title = "Welcome" }, .. pages.Skip(1)];

    // Authors spell as they like, and some use words without a meaning.
    private List<string> TopicsOf(string unit, string thing)
    {
        string[] spelt = (unit, thing) switch
        {
            ("HER" or "WIL", _) => ["volunteers", "Volunteer", "VOLUNTEERS", "helpers"],
            ("VIS" or "CRU", _) => ["visitors", "For the public", "for-the-public"],
            ("PIL" or "TUG" or "BER", _) => ["Ships", "vessels", "ship s", "boats"],
            (_, "incidents" or "survey") => ["Safety", "safety at work", "H&S"],
            (_, "training") => ["training", "Courses"],
            (_, "archive" or "photos") => ["history", "old stuff"],
            _ => [],
        };
        var words = new List<string>();
        if (spelt.Length > 0 && wordy.Next(3) > 0)
        {
            words.Add(spelt[wordy.Next(spelt.Length)]);
        }

        if (wordy.Next(12) == 0)
        {
            words.Add(new[] { "tbc", "weather", "New!" }[wordy.Next(3)]);
        }

        return words;
    }

    private List<SlipwayEntry> Entries(string unit, string? label)
    {
        var entries = new Dictionary<string, SlipwayEntry>();
        void Add(SlipwayEntry entry) => entries[entry.Entry] = entry;

        var own = inside.FindAll(person => person.Team == unit);
        var colleagues = own.Count > 0 ? own : inside;
        foreach (
            var _ in Enumerable.Range(
                0,
                random.Next(100) switch
                {
                    < 3 => 0,
                    < 38 => 1,
                    < 88 => 2,
                    _ => 3,
                }
            )
        )
        {
            Add(new SlipwayEntry($"p:{colleagues[random.Next(colleagues.Count)].Id}", "own"));
        }

        if (random.Next(12) == 0)
        {
            Add(Group(groups[random.Next(groups.Count - 2)], "own"));
        }

        foreach (var _ in Enumerable.Range(0, random.Next(0, 4)))
        {
            var editor = new SlipwayEntry($"p:{colleagues[random.Next(colleagues.Count)].Id}", "edit");
            entries.TryAdd(editor.Entry, editor);
        }

        Add(Group(groups[random.Next(groups.Count - 2)], random.Next(3) == 0 ? "read" : "edit"));
        if (random.Next(100) < (label == "Sealed" ? 15 : 62))
        {
            Add(new SlipwayEntry("everyone", random.Next(14) == 0 ? "edit" : "read"));
        }
        else if (random.Next(2) == 0)
        {
            Add(new SlipwayEntry($"team:{unit}", "read"));
        }

        if (
            random.Next(100)
            < (
                label switch
                {
                    "Open" => 55,
                    "Internal" => 8,
                    "Guarded" => 7,
                    "Sealed" => 3,
                    _ => 25,
                }
            )
        )
        {
            Add(World(random.Next(25) == 0 ? "edit" : "read"));
        }

        if (random.Next(9) == 0)
        {
            Add(Guest(random.Next(guests.Count), random.Next(3) == 0 ? "edit" : "read"));
        }

        return [.. entries.Values];
    }

    private SlipwaySite Stage(SlipwaySite site) =>
        random.Next(100) switch
        {
            < 9 => site with { Published = null, Live = [], Visits7 = null, LastVisit = null },
            < 14 => site with { Offline = true },
            < 34 => site,
            _ => site with { Live = site.Working },
        };

    // What a site says of itself agrees: visits with the last visit and with whether anybody can open it. It takes no random number,
    // so that the rest of the demo stays as it is.
    private SlipwaySite Plausible(SlipwaySite site, bool grows)
    {
        var seed = site.Title.Sum(letter => letter);
        var isShown = site.Published is not null && !site.Offline;
        var visits =
            site.Published is null ? null
            : isShown ? site.Visits7
            : 0;
        List<SlipwayPage> more =
        [
            .. Enumerable
                .Range(1, grows && site.Published is not null ? seed % 23 : 0)
                .Select(page => new SlipwayPage($"Part {page}", "What everybody who works there has to know.")),
        ];
        return site with
        {
            Visits7 = visits,
            LastVisit =
                site.Published is null ? null
                : visits > 0 ? Morning(-1 - seed % 5)
                : visits == 0 ? Later(site.Created, Morning(-8 - seed % 300))
                : site.LastVisit,
            UsedFor = UsedFor(site.Title),
            Working = [.. site.Working, .. more],
            Live = site.Published is null ? site.Live : [.. site.Live, .. more],
        };
    }

    // Most authors say what a site is for, as far as its title tells; every fifth says nothing.
    private static string? UsedFor(string title) =>
        title.Length % 5 == 0
            ? null
            : Uses.FirstOrDefault(use =>
                use.Things.Any(thing => title.Contains(thing, StringComparison.OrdinalIgnoreCase))
            ).Purpose;

    private static DateTimeOffset Later(DateTimeOffset one, DateTimeOffset other) => one > other ? one : other;

    private SlipwaySite Site(string title, string slug, string? unit, string? label, IReadOnlyList<SlipwayEntry> entries)
    {
        slugs.Add(slug);
        var created = At(-random.Next(90, 1900));
        var edited = At(-(int)Math.Pow(random.NextDouble() * 20, 2));
        var home = new SlipwayPage(
            title,
            $"Kept by {Merrowby.Units.FirstOrDefault(known => known.Code == unit).Name ?? "the Trust"}."
        );
        var second = new SlipwayPage("More", "Tide tables, contacts and what to do at night.");
        return new SlipwaySite
        {
            Id = $"w{next++:0000}",
            Slug = slug,
            Title = title,
            Team = unit,
            Label = label,
            Created = created,
            Edited = edited < created ? created : edited,
            Published = created.AddDays(3),
            LastVisit = At(-random.Next(0, 30)),
            Visits7 = random.Next(0, 300),
            Working = [home, second with { Text = second.Text + " Under revision." }],
            Live = [home, second],
            Entries = [.. entries.OrderBy(entry => entry.Entry, StringComparer.Ordinal)],
        };
    }

    private string Slug(string words)
    {
        var slug = new string([
            .. words
                .ToLowerInvariant()
                .Replace("é", "e", StringComparison.Ordinal)
                .Select(letter => char.IsAsciiLetterOrDigit(letter) ? letter : '-'),
        ]);
        for (var again = 2; slugs.Contains(slug); again++)
        {
            slug = $"{slug.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9').TrimEnd('-')}-{again}";
        }

        return slug;
    }

    private DateTimeOffset At(int days) =>
        new DateTimeOffset(today.AddDays(days), new TimeOnly(random.Next(7, 18), random.Next(60)), TimeSpan.Zero);

    private DateTimeOffset Morning(int days) => new(today.AddDays(days), new TimeOnly(9, 20), TimeSpan.Zero);

    private SlipwayEntry Person(string local, string role) =>
        new($"p:{inside.Find(person => person.Mail == $"{local}@merrowby.example")!.Id}", role);

    private SlipwayEntry Guest(int place, string role) => new($"p:{guests[place].Id}", role);

    private static SlipwayEntry Group(string id, string role) => new($"g:{id}", role);

    private static SlipwayEntry World(string role) => new("world", role, "none");
}
