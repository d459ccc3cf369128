using AtticLedger.StandIns.Slipway;

namespace AtticLedger.StandIns.Demo;

/// <summary>What Merrowby has deleted in the last weeks, and what belongs to its sites: sizes, saved versions, domains, sites
/// below, groups.</summary>
internal sealed class MerrowbyAttic(DateOnly today, int seed, IReadOnlyList<SlipwayPerson> people)
{
    // A separate random sequence, so that additions here change nothing else.
    private readonly Random random = new(seed + 7);
    private readonly DateTimeOffset now = new(today, new TimeOnly(6, 30), TimeSpan.Zero);

    public void Fill(SlipwayRecords records)
    {
        foreach (var (id, site) in records.Sites.ToList())
        {
            records.Sites[id] = Enrich(site);
        }

        Change(records, "cruise", site => site with { Domains = ["arrivals.merrowby.example"] });
        Change(records, "sealwatch", site => site with { Domains = ["seals.merrowby.example"] });
        Change(records, "agents", site => site with { OwnGroup = "34" });
        Change(records, "buoy-diary", site =>
            site with
            {
                Parent = records.Sites.Values.Single(other => other.Slug == "vts-handbook").Id,
            }
        );
        Change(records, "paint-shop-handbook", site =>
            site with
            {
                Parent = records.Sites.Values.Single(other => other.Slug == "dry-dock-handbook").Id,
            }
        );
        Change(records, "holm-room", site => site with { Editing = [Id("r.quist")] });

        // Two sites that are easily confused; one of them is not needed.
        Change(records, "licensing-news", site =>
            site with
            {
                Label = "Internal",
                Entries =
                [
                    .. site.Entries.Where(entry =>
                        entry is { Role: "own" } && entry.Entry.StartsWith("p:", StringComparison.Ordinal)
                    ),
                    new("team:PIL", "read"),
                ],
                Limit = null,
                Withheld = [],
                Visits7 = 18,
            }
        );
        Change(records, "licensing-notes", site =>
            site with
            {
                Title = "Licensing news",
                Entries = [.. site.Entries, Own("i.vane")],
            }
        );
        Change(records, "regatta-27", site => site with { Working = [.. site.Working.Take(2)], Bytes = 3_400_000 });
        LinkAndBorrow(records);

        var next = 0;
        foreach (var site in Deleted())
        {
            var id = $"b{++next:000}";
            records.Bin[id] = site with { Id = id };
        }
    }

    // Pages that link to other sites, and logos that are borrowed or linked.
    private static void LinkAndBorrow(SlipwayRecords records)
    {
        foreach (var from in (string[])["vts-handbook", "night-pilots", "agents"])
        {
            Change(records, from, site =>
                site with
                {
                    Working = [.. site.Working, new SlipwayPage("See also", "Where ships wait: [[berth-planning]].")],
                    Live = [.. site.Live, new SlipwayPage("See also", "Where ships wait: [[berth-planning]].")],
                }
            );
        }

        Change(records, "agents", site => site with { Logo = "own" });
        foreach (var borrower in (string[])["cruise", "sealwatch"])
        {
            Change(records, borrower, site =>
                site with
                {
                    Logo = "site",
                    LogoFrom = records.Sites.Values.Single(other => other.Slug == "agents").Id,
                }
            );
        }

        var lenders = records
            .Sites.Values.Where(site => site.Logo == "own")
            .OrderBy(site => site.Id, StringComparer.Ordinal)
            .ToList();
        var next = 0;
        foreach (var (id, site) in records.Sites.Where(pair => pair.Value.LogoFrom is null).ToList())
        {
            records.Sites[id] = site.Logo switch
            {
                "site" => site with { LogoFrom = lenders[next++ % lenders.Count].Id },
                "link" => site with { LogoFrom = $"https://pictures.merrowby.example/{site.Slug}.png" },
                _ => site,
            };
        }
    }

    private IEnumerable<SlipwaySite> Deleted()
    {
        yield return Gone(
            "Berth allocations 2022",
            "berths-22",
            "BER",
            "Internal",
            27.6,
            "t.aske",
            1_240_000_000,
            [Own("t.aske"), Own("n.bell"), All("read")]
        );
        yield return Gone("Gangway trial", "gangway", "CRU", "Open", 26.2, null, 80_000_000, [Own("t.aske"), All("read")]);
        yield return Gone(
            "Regatta 2024",
            "regatta-24",
            "CMS",
            "Open",
            23.4,
            "n.bell",
            6_400_000_000,
            [Own("n.bell"), All("read"), new("world", "read", "none")]
        ) with
        {
            // Somebody deleted it at Slipway, where nothing says that a domain still leads to it.
            Domains = ["regatta-24.merrowby.example"],
        };
        yield return Gone(
            "Lightship rota 2025",
            "lightship-rota",
            "HER",
            "Internal",
            19.8,
            "p.lund",
            44_000_000,
            [Own("p.lund"), All("read"), new("g:12", "edit")]
        );
        yield return Gone(
            "Pilot ladder photos",
            "ladder-photos",
            "PIL",
            "Guarded",
            17.1,
            "p.lund",
            2_900_000_000,
            [Own("p.lund"), All("edit"), new("world", "read", "none")]
        );

        // Another site has its address now.
        yield return Gone(
            "Tug crew rota (old)",
            "tug-crew-rota",
            "TUG",
            "Internal",
            14.5,
            "k.brandt",
            12_000_000,
            [Own("k.brandt"), Own("h.nair"), All("read")]
        );
        yield return Gone(
            "Silt survey",
            "silt",
            "DRE",
            "Guarded",
            12.3,
            "r.quist",
            31_000_000_000,
            [Own("r.quist"), Own("i.vane"), new("g:05", "edit")]
        );
        yield return Gone(
            "Apprentice intake",
            "apprentices-25",
            "YRD",
            "Internal",
            10.9,
            "h.nair",
            420_000_000,
            [Own("h.nair"), All("read")]
        );
        yield return Gone(
            "Wharf café orders",
            "wharf-cafe",
            "VIS",
            "Open",
            8.2,
            null,
            900_000_000,
            [Own("n.bell"), new("world", "read", "none")]
        );
        yield return Gone(
            "Night watch log",
            "night-watch",
            "VTS",
            "Internal",
            6.7,
            "h.nair",
            66_000_000,
            [Own("h.nair"), Own("r.quist"), new("g:18", "edit")]
        );
        yield return Gone(
            "Pilot boat naming",
            "name-it",
            "PIL",
            "Open",
            3.1,
            "i.vane",
            44_000_000,
            [Own("i.vane"), All("read"), new("world", "read", "none")]
        );
        yield return Gone(
            "Boarding drill plan",
            "boarding-drill",
            "PIL",
            "Internal",
            1.2,
            "i.vane",
            7_500_000,
            [Own("i.vane"), Own("r.quist"), new("team:PIL", "read")]
        );
    }

    private SlipwaySite Gone(
        string title,
        string slug,
        string team,
        string label,
        double daysAgo,
        string? by,
        long bytes,
        IReadOnlyList<SlipwayEntry> entries
    )
    {
        var deleted = now.AddDays(-daysAgo);
        var pages = Enumerable
            .Range(1, random.Next(4, 40))
            .Select(page => new SlipwayPage(page == 1 ? title : $"Page {page}", "As it was."))
            .ToList();
        return new SlipwaySite
        {
            Id = "",
            Slug = slug,
            Title = title,
            Team = team,
            Label = label,
            Created = deleted.AddDays(-random.Next(200, 1400)),
            Edited = deleted.AddDays(-random.Next(1, 60)),
            Published = deleted.AddDays(-190),
            LastVisit = deleted.AddHours(-random.Next(2, 90)),
            Visits7 = random.Next(0, 60),
            Working = pages,
            Live = pages,
            Bytes = bytes,
            Entries = [.. entries.OrderBy(entry => entry.Entry, StringComparer.Ordinal)],
            Deleted = deleted,
            DeletedBy = by is null ? null : $"{by}@merrowby.example",
        };
    }

    private SlipwaySite Enrich(SlipwaySite site)
    {
        var editors = site
            .Entries.Where(entry => entry.Entry.StartsWith("p:", StringComparison.Ordinal) && entry.Role is "edit" or "own")
            .Select(entry => entry.Entry[2..])
            .ToList();
        var others = people
            .Where(person => person is { Guest: false, Active: true } && person.Team == site.Team)
            .Select(person => person.Id)
            .ToList();
        var savers = editors
            .Concat(others.Count == 0 ? [] : Enumerable.Range(0, 2).Select(_ => others[random.Next(others.Count)]))
            .ToList();
        var count = savers.Count == 0 ? 0 : (int)(random.NextDouble() * random.NextDouble() * 40);
        return site with
        {
            Bytes = (long)Math.Exp((random.NextDouble() * 9) + 13),
            States =
            [
                .. Enumerable
                    .Range(0, count)
                    .Select(_ => new SlipwayState(now.AddDays(-random.NextDouble() * 160), savers[random.Next(savers.Count)]))
                    .OrderBy(state => state.At),
            ],
        };
    }

    private static void Change(SlipwayRecords records, string slug, Func<SlipwaySite, SlipwaySite> change)
    {
        var site = records.Sites.Values.Single(one => one.Slug == slug);
        records.Sites[site.Id] = change(site);
    }

    private SlipwayEntry Own(string local) => new($"p:{Id(local)}", "own");

    private static SlipwayEntry All(string role) => new("everyone", role);

    private string Id(string local) => people.Single(person => person.Mail == $"{local}@merrowby.example").Id;
}
