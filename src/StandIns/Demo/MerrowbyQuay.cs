using AtticLedger.StandIns.People;
using AtticLedger.StandIns.Quay;

namespace AtticLedger.StandIns.Demo;

/// <summary>Merrowby's intranet: a room for each unit with rooms below it, owned by circles that nobody maintains.</summary>
internal sealed class MerrowbyQuay(DateOnly today, int seed, IReadOnlyList<StaffMember> staff)
{
    private static readonly string[] Rooms =
    [
        "Rotas",
        "Minutes",
        "Forms",
        "Photographs",
        "Safety notes",
        "Handover log",
        "Year plan",
    ];
    private static readonly string[] Labels = ["Open", "Internal", "Internal", "Guarded"];
    private readonly Random random = new(seed + 13);
    private readonly DateTimeOffset now = new(today, new TimeOnly(6, 30), TimeSpan.Zero);
    private readonly QuayRecords records = new();

    public QuayRecords Make()
    {
        foreach (var member in staff)
        {
            records.People.TryAdd(member.Mail, new QuayPerson(member.Mail, member.Name, false));
        }

        foreach (var (code, name, _) in Merrowby.Units)
        {
            Unit(code, name);
        }

        // A circle of all former and current works council members owns its room, and contains itself.
        Circle("council", "Works council, all years", Mails(staff.Where(member => !member.Active).Take(9)), ["council", "hall"]);
        Circle("hall", "Hall keepers", Mails(staff.Where(member => member.Department == "CMS").Take(3)), ["council"]);
        Site(
            "council-room",
            "Works council",
            null,
            "Guarded",
            null,
            "council",
            [new("circle:council", "answer for"), new("house", "read")],
            40
        );
        Site(
            "noticeboard",
            "Notice board",
            "CMS",
            "Open",
            null,
            "hall",
            [new("circle:hall", "answer for"), new("house", "contribute")],
            3
        );

        // One part of the council's room is open to everybody; one part of the hall is only for its authors.
        records.Sites["council-room"] = records.Sites["council-room"] with
        {
            Rights = [new("circle:council", "answer for")],
            Sections =
            [
                new("c1", "Ballots 2026", true, [new("house", "read")]),
                new("c2", "Drafts", false, [new("circle:council", "contribute")]),
            ],
        };

        // The tide times are kept at one site and shown on three.
        records.Sites["noticeboard"] = records.Sites["noticeboard"] with
        {
            AlsoShown = new Dictionary<string, IReadOnlyList<string>>
            {
                ["Tide times"] = ["pil", "ber"],
                ["Who to call at night"] = ["pil"],
            },
        };

        // Two that somebody removed: one is in the near bin, one in the far one.
        Removed("dredge-2023", "Dredging plan 2023", "DRE", 6);
        Removed("yard-swap", "Yard swap shop", "YRD", 24);
        return records;
    }

    private void Unit(string code, string name)
    {
        var key = code.ToLowerInvariant();
        var people = staff
            .Where(member =>
                member.Department == code && member is { Active: true, UserType: not "Service", LastDay: null, AbsentUntil: null }
            )
            .ToList();
        Circle($"{key}-all", $"{name}, everybody", Mails(people), []);
        Circle($"{key}-write", $"{name}, writers", Mails(people.Take(random.Next(2, 5))), []);

        // One unit has a single keeper, and one still has a keeper who left.
        var leaver = staff.Where(member => code == "MOO" && member is { Department: "MOO", Active: false }).Take(1);
        Circle($"{key}-keep", $"{name}, keepers", Mails(people.Take(code == "TUG" ? 1 : random.Next(2, 4)).Concat(leaver)), []);
        var top = Site(
            key,
            name,
            code,
            "Internal",
            null,
            $"{key}-all",
            [new($"circle:{key}-keep", "answer for"), new($"circle:{key}-write", "contribute"), new("house", "read")],
            random.Next(1, 60)
        );
        for (var rooms = random.Next(1, 4); rooms > 0; rooms--)
        {
            var room = Rooms[random.Next(Rooms.Length)];
            var id = $"{key}-{room.ToLowerInvariant().Replace(' ', '-')}";
            if (!records.Sites.ContainsKey(id))
            {
                Site(
                    id,
                    $"{name}: {room.ToLowerInvariant()}",
                    random.Next(6) == 0 ? null : code,
                    Labels[random.Next(Labels.Length)],
                    top,
                    null,
                    Rights(key),
                    random.Next(2, 900)
                );
            }
        }
    }

    private QuayRight[] Rights(string key) =>
        random.Next(12) switch
        {
            0 => [new($"circle:{key}-keep", "answer for"), new("house", "contribute")],
            < 4 => [new($"circle:{key}-keep", "answer for"), new("house", "read")],
            _ =>
            [
                new($"circle:{key}-keep", "answer for"),
                new($"circle:{key}-write", "contribute"),
                new($"department:{key.ToUpperInvariant()}", "read"),
            ],
        };

    private string Site(
        string id,
        string name,
        string? department,
        string label,
        string? under,
        string? circle,
        IReadOnlyList<QuayRight> rights,
        int idleDays
    )
    {
        var saved = now.AddDays(-idleDays).AddMinutes(-random.Next(600));
        records.Sites.Add(
            id,
            new QuaySite
            {
                Id = id,
                Path = under is null ? id : $"{under}/{id[(under.Length + 1)..]}",
                Name = name,
                Department = department,
                Label = label,
                Under = under,
                Keywords = department switch
                {
                    "HER" or "WIL" => "Helpers; history",
                    "BER" => "ships",
                    "PEO" => "courses",
                    _ => "",
                },
                Circle = circle,
                OutOfSearch = department == "PEO",
                Emblem = under is not null ? "there" : "here",
                Rights = rights,
                Made = saved.AddDays(-random.Next(30, 1200)),
                Saved = saved,
                Pages = random.Next(2, 120),
                Stored = random.Next(1, 900) * 1_000_000L,
                States = [new(saved, null)],
            }
        );
        return id;
    }

    private void Removed(string id, string name, string department, int daysAgo)
    {
        Site(
            id,
            name,
            department,
            "Internal",
            null,
            null,
            [new($"circle:{department.ToLowerInvariant()}-keep", "answer for")],
            200
        );
        records.Sites[id] = records.Sites[id] with { Removed = now.AddDays(-daysAgo), RemovedBy = "n.bell@merrowby.example" };
    }

    private void Circle(string id, string name, IReadOnlyList<string> people, IReadOnlyList<string> inner) =>
        records.Circles.Add(id, new QuayCircle(id, name, people, inner));

    private static List<string> Mails(IEnumerable<StaffMember> members) => [.. members.Select(member => member.Mail)];
}
