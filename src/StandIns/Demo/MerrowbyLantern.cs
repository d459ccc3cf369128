using System.Globalization;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.People;

namespace AtticLedger.StandIns.Demo;

/// <summary>What Merrowby rents at Lantern: public sites, each with a plan that somebody once bought.</summary>
internal sealed class MerrowbyLantern(DateOnly today, int seed, IReadOnlyList<StaffMember> staff)
{
    private readonly Random random = new(seed + 11);
    private readonly DateTimeOffset now = new(today, new TimeOnly(6, 30), TimeSpan.Zero);

    public LanternRecords Make()
    {
        var records = new LanternRecords();
        foreach (var plan in Plans())
        {
            records.Plans.Add(plan.Id, plan);
        }

        foreach (var site in Sites())
        {
            var id = $"l{records.Sites.Count + 1:000}";
            records.Sites.Add(id, site with { Id = id });
        }

        // Everybody who works on a site has a seat. People who created one with a private account have a seat with that account.
        foreach (var mail in records.Sites.Values.SelectMany(site => site.Members.Keys).Distinct().Order(StringComparer.Ordinal))
        {
            records.Seats.Add(
                mail,
                new LanternSeat(mail, staff.FirstOrDefault(member => member.Mail == mail)?.Name ?? mail.Split('@')[0])
            );
        }

        return records;
    }

    private IEnumerable<LanternPlan> Plans()
    {
        yield return Plan("P-shop", "Counter", 2_900, 1, days: 17, renews: true);
        yield return Plan("P-pair", "Pair", 16_800, 12, days: 101, renews: true);
        yield return Plan("P-unused", "Beacon", 9_600, 12, days: 9, renews: true);
        yield return Plan("P-ending", "Beacon", 9_600, 12, days: 23, renews: false);
        yield return Plan("P-fair", "Beacon", 9_600, 12, days: 240, renews: true);
        yield return Plan("P-old", "Glim", 0, 12, days: 310, renews: true);
    }

    private IEnumerable<LanternSite> Sites()
    {
        yield return Site("Lightship shop", "lightship-shop", "P-shop", ["o.farrow", "n.bell"], visits: 410) with
        {
            Teaser = "Lamps, charts and mugs from the lightship; every penny goes into her paint.",
            OrdersOpen = 3,
            OrdersDone = 218,
            Vouchers = new(12, Day(96)),
            Mailbox = "shop@lightship.example",
            Trackers = ["basket page: countwise.example", "order page: countwise.example"],
            Forms = ["order page: name, address, phone"],
            Domains = ["shop.lightship.example"],
        };
        yield return Site("Open harbour day", "open-harbour-day", "P-pair", ["n.bell", "t.aske"], visits: 95) with
        {
            Forms = ["sign-up page: name, mail, age"],
            Mailbox = "openday@merrowby.example",
        };
        yield return Site(
            "Regatta results",
            "regatta-results",
            "P-pair",
            ["greta.moss@private-mail.example", "n.bell"],
            visits: 12
        );
        yield return Site("Winter lights", "winter-lights", "P-unused", ["t.aske"], visits: 0) with
        {
            FirstOnline = null,
            Online = false,
            LastVisit = null,
        };
        yield return Site("Seal pups 2026", "seal-pups", "P-ending", ["r.quist", "i.vane"], visits: 1_240) with
        {
            Trackers = ["every page: countwise.example"],
        };
        yield return Site("Merrowby sea fair", "sea-fair", "P-fair", ["n.bell", "g.sollis"], visits: 60) with
        {
            OrdersDone = 41,
            Vouchers = new(0, null),
        };
        yield return Site("Pilot cadets wanted", "pilot-cadets", "P-old", ["i.vane", "r.quist"], visits: 22) with
        {
            Forms = ["apply page: name, birthday, eyesight"],
        };
        yield return Site("Old lifeboat fund", "lifeboat-fund", null, ["p.lund"], visits: 2) with
        {
            OrdersDone = 380,
            Mailbox = "fund@merrowby.example",
        };
    }

    private LanternPlan Plan(string id, string name, int cents, int months, int days, bool renews) =>
        new(id, name, cents, "EUR", months, Day(days), renews, GraceDays: 30);

    private LanternSite Site(string name, string host, string? plan, IReadOnlyList<string> people, int visits)
    {
        var made = now.AddDays(-random.Next(120, 1500)).AddMinutes(random.Next(600));
        return new LanternSite
        {
            Id = "",
            Host = $"{host}.lantern.example",
            Name = name,
            Findable = host.Length % 5 != 0,
            Mark = name.Length % 4 == 0 ? "url" : "file",
            Plan = plan,
            Members = people
                .Index()
                .ToDictionary(
                    pair => pair.Item.Contains('@', StringComparison.Ordinal) ? pair.Item : $"{pair.Item}@merrowby.example",
                    pair =>
                        pair.Index == 0 ? "holder"
                        : pair.Index == 1 && random.Next(2) == 0 ? "holder"
                        : "writer"
                ),
            Created = made,
            Changed = made.AddDays(random.Next(1, 100)),
            FirstOnline = made.AddDays(2),
            LastVisit = visits > 0 ? now.AddHours(-random.Next(1, 30)) : now.AddDays(-random.Next(40, 400)),
            Visits7 = visits,
            Pages = random.Next(3, 30),
            Megabytes = random.Next(8, 900),
        };
    }

    private string Day(int ahead) => today.AddDays(ahead).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
