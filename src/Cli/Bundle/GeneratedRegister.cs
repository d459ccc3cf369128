using System.Globalization;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;

namespace AtticLedger.Cli.Bundle;

/// <summary>A generated register: six people and 0.8 groups for ten sites, fifteen grants per site, nested groups with some
/// cycles, one leaver in seventeen, untidy names, a third of the sites without classification or unit. A few people, groups and
/// words are frequent, most are rare.
/// </summary>
public sealed class GeneratedRegister
{
    private static readonly string[] Firsts =
    [
        "Ada",
        "Bram",
        "Cleo",
        "Dov",
        "Edda",
        "Finn",
        "Greta",
        "Hugo",
        "Ines",
        "Joss",
        "Kaja",
        "Lars",
        "Mina",
        "Nils",
        "Orla",
        "Pim",
        "Rhea",
        "Sven",
        "Tove",
        "Ulla",
        "Vera",
        "Wim",
        "Yara",
        "Zeno",
    ];
    private static readonly string[] Lasts =
    [
        "Vane",
        "Quist",
        "Farrow",
        "Lund",
        "Aske",
        "Harrow",
        "Marsh",
        "Reyes",
        "Holm",
        "Strand",
        "Kerr",
        "Brandt",
        "Moor",
        "Tallis",
        "Wyke",
        "Sollis",
        "Nair",
        "Bell",
        "Fenn",
        "Dahl",
    ];
    private static readonly string[] Topics =
    [
        "tide tables",
        "berth plan",
        "pilot roster",
        "dredge log",
        "lock repairs",
        "crane checks",
        "cruise calls",
        "seal counts",
        "mooring fees",
        "yard rota",
        "safety notes",
        "harbour news",
        "training",
        "budget",
        "board papers",
        "tug rota",
        "visitor days",
        "lightship",
        "buoy survey",
        "storm watch",
    ];
    private static readonly string[] Marks = ["", "", "", " (copy)", " old", " 2", " FINAL", " test", " – draft", "  "];
    private const int OneGuestListedIn = 20;
    private static readonly string[] Hosts = ["Slipway", "Quay", "Lantern"];
    private static readonly string[] Classifications = ["Open", "Internal", "Guarded", "Sealed"];
    private static readonly string[] Kinds = ["noticeboard", "team", "project", "course"];
    private readonly Random random;
    private readonly DateTimeOffset today;
    private readonly int sites;
    private readonly int people;
    private readonly int groups;
    private readonly List<string> units = [];
    private readonly HashSet<int> teams = [];
    private readonly Dictionary<string, List<string>> peopleOfUnit = [];

    private GeneratedRegister(int sites, int seed, DateOnly today)
    {
        random = new Random(seed);
        this.sites = sites;
        this.today = new DateTimeOffset(today.ToDateTime(new TimeOnly(7, 0)), TimeSpan.Zero);
        people = Math.Max(12, sites * 6 / 10);
        groups = Math.Max(4, sites * 8 / 100);
    }

    /// <param name="truth">Receives the true facts of each site, for a register with incomplete facts.</param>
    public static Task Write(DirectoryInfo folder, int sites, int seed, DateOnly today, Action<SiteTruth>? truth = null) =>
        BundleFolder.Write(folder, new DateTimeOffset(today.ToDateTime(new TimeOnly(7, 0)), TimeSpan.Zero), writer =>
        {
            var register = new GeneratedRegister(sites, seed, today);
            foreach (var row in register.Units())
            {
                writer.Add("units.jsonl", row);
            }

            foreach (var row in register.People())
            {
                writer.Add("people.jsonl", row);
            }

            foreach (var row in register.Groups())
            {
                writer.Add("groups.jsonl", row);
            }

            register.Organisation(writer);
            var dirt = truth is null ? null : new Dirt(seed, Topics, Classifications, register.peopleOfUnit);
            foreach (var row in register.Sites())
            {
                (SiteRow said, SiteTruth? isTruly) = dirt is null ? (row, null) : dirt.On(row);
                writer.Add("sites.jsonl", said);
                if (isTruly is not null)
                {
                    truth!(isTruly);
                }
            }

            return Task.CompletedTask;
        });

    private IEnumerable<UnitRow> Units()
    {
        // Eight at the top, about ten below each, in proportion to the sites.
        var count = Math.Clamp(sites / 200, 12, 160);
        for (var i = 0; i < count; i++)
        {
            var code = $"U{i:D3}";
            units.Add(code);
            yield return new UnitRow(code, $"Unit {i}", i < 8 ? null : units[i < 88 ? i % 8 : 8 + (i % 80)]);
        }
    }

    private IEnumerable<PersonRow> People()
    {
        for (var i = 1; i <= people; i++)
        {
            var kind = random.Next(100) switch
            {
                < 90 => PersonKind.Staff,
                < 98 => PersonKind.Guest,
                _ => PersonKind.Service,
            };
            var standing =
                kind == PersonKind.Guest
                    ? Standing.Current
                    : random.Next(100) switch
                    {
                        < 6 => Standing.Left,
                        < 8 => Standing.Leaving,
                        < 10 => Standing.Absent,
                        _ => Standing.Current,
                    };
            DateOnly? day = standing switch
            {
                Standing.Left => Day(-random.Next(1, 900)),
                Standing.Leaving => Day(random.Next(1, 60)),
                Standing.Absent => Day(random.Next(1, 40)),
                _ => null,
            };
            var unit = random.Next(20) == 0 || kind == PersonKind.Guest ? Known<string>.None : Known.Of(Unit());
            if (kind == PersonKind.Staff && unit.Has(out var of))
            {
                (peopleOfUnit.TryGetValue(of, out var there) ? there : peopleOfUnit[of] = []).Add(Mail(i));
            }

            yield return new PersonRow(
                Mail(i),
                kind,
                standing,
                $"{Firsts[i % Firsts.Length]} {Lasts[i / Firsts.Length % Lasts.Length]}",
                Mail(i),
                day,
                unit,
                random.Next(50) == 0 ? "Trainee" : "",
                random.Next(400) == 0,
                ByHand: kind == PersonKind.Guest && i % OneGuestListedIn == 0,
                Sponsors: kind == PersonKind.Guest ? [new SponsorRow("Slipway", Mail(1 + (i % people)))] : null
            );
        }
    }

    private IEnumerable<GroupRow> Groups()
    {
        for (var i = 1; i <= groups; i++)
        {
            // One in two hundred has thousands of members. Only small teams own sites.
            var isLarge = random.Next(200) == 0;
            var size = isLarge ? Math.Min(people / 4, 3000) : 2 + Skewed(40);
            var isTeam = size <= 12 && random.Next(2) == 0;
            if (isTeam)
            {
                teams.Add(i);
            }

            var members = new List<MemberRow>();
            for (; size > 0; size--)
            {
                members.Add(
                    !isLarge && !isTeam && random.Next(25) == 0
                        ? new MemberRow(Group: Group(1 + random.Next(groups)))
                        : new MemberRow(Person: Mail(1 + random.Next(people)))
                );
            }

            // Sometimes a whole unit; or the next group, which in half of the cases contains this one.
            members.AddRange(
                isTeam ? []
                : random.Next(100) == 0 ? [new MemberRow(Unit: Unit())]
                : random.Next(20) == 0 ? [new MemberRow(Group: Group((i % groups) + 1))]
                : []
            );
            members.AddRange(!isTeam && i > 1 && random.Next(40) == 0 ? [new MemberRow(Group: Group(i - 1))] : []);
            yield return new GroupRow("Slipway", Key(i), $"Group {i}", random.Next(60) != 0, [.. members.Distinct()]);
        }
    }

    private void Organisation(BundleWriter writer)
    {
        foreach (var (setting, value) in new[] { (Setting.ActiveDays, "14"), (Setting.Zone, "Europe/London") })
        {
            writer.Add("settings.jsonl", new SettingRow(setting.Name, value));
        }

        foreach (var kind in Kinds.Order(StringComparer.Ordinal))
        {
            writer.Add("kinds.jsonl", new KindRow(kind, char.ToUpperInvariant(kind[0]) + kind[1..], false));
        }

        writer.Add("limits.jsonl", Limit(LayerKind.Organisation, "", Core.Terms.Limit.Open));
        for (var i = 8; i < Math.Min(units.Count, 24); i++)
        {
            writer.Add(
                "limits.jsonl",
                Limit(LayerKind.Unit, units[i], Core.Terms.Limit.Open with { Widest = OutsideLevel.NamedGuests })
            );
        }

        writer.Add(
            "limits.jsonl",
            Limit(
                LayerKind.Classification,
                "Guarded",
                Core.Terms.Limit.Open with
                {
                    Inside = InsideLimit.Named,
                    Widest = OutsideLevel.NamedGuests,
                }
            )
        );
        writer.Add(
            "limits.jsonl",
            Limit(
                LayerKind.Classification,
                "Internal",
                Core.Terms.Limit.Open with
                {
                    Widest = OutsideLevel.NamedGuests,
                    LeastSignIn = VisitorSignIn.Account,
                }
            )
        );
        writer.Add(
            "limits.jsonl",
            Limit(
                LayerKind.Classification,
                "Sealed",
                Core.Terms.Limit.Open with
                {
                    Inside = InsideLimit.NamedInUnit,
                    Widest = OutsideLevel.NoOne,
                }
            )
        );
        var from = DateOnly.FromDateTime(today.UtcDateTime).AddDays(-400);
        writer.Add(
            "rules.jsonl",
            new RuleRow("R-02", "Edited by named people only", "open editing", Level.Critical, "", "editing-named:", from)
        );
        writer.Add(
            "rules.jsonl",
            new RuleRow("R-03", "Two active owners", "too few owners", Level.Warning, "", "active-owners:2", from)
        );
        writer.Add(
            "rules.jsonl",
            new RuleRow("R-07", "Stays within policy", "exceeds policy", Level.Critical, "", "within-allowed:", from)
        );
        writer.Add(
            "rules.jsonl",
            new RuleRow(
                "R-09",
                "Has a classification",
                "no classification",
                Level.Note,
                "status eq \"published\" or status eq \"unpublished-changes\"",
                "general:classification pr",
                from
            )
        );
    }

    private static LimitRow Limit(LayerKind kind, string code, Limit limit) =>
        new(kind, code, Enforcer.Policy, Known.Of(CapsRow.Of(PowerLimits.Same(limit))));

    private IEnumerable<SiteRow> Sites()
    {
        foreach (
            var (host, number) in Enumerable
                .Range(1, sites)
                .Select(i =>
                    (
                        Host: Hosts[
                            i % 10 < 6 ? 0
                            : i % 10 < 9 ? 1
                            : 2
                        ],
                        i
                    )
                )
                .OrderBy(pair => pair.Host, StringComparer.Ordinal)
                .ThenBy(pair => Key(pair.i), StringComparer.Ordinal)
        )
        {
            yield return Site(host, number);
        }
    }

    private SiteRow Site(string host, int number)
    {
        var topic = Topics[Skewed(Topics.Length)];
        var unit =
            random.Next(3) == 0 ? Known<string>.None
            : random.Next(50) == 0 ? Known<string>.Unknown
            : Known.Of(Unit());
        var name =
            $"{(random.Next(4) == 0 ? topic.ToUpperInvariant() : char.ToUpperInvariant(topic[0]) + topic[1..])} {(unit.Has(out var code) ? code : "")} {number}{Marks[random.Next(Marks.Length)]}";
        var status = random.Next(40) == 0 ? Known<Status>.Unknown : Known.Of((Status)random.Next(4));
        var seen = today.AddHours(-2);
        var away = random.Next(40) == 0;
        var isNoLongerReported = random.Next(300) == 0;
        var facts = new FactSet.Builder()
            .Set(DeclaredFacts.Name, random.Next(200) == 0 ? Known<string>.None : Known.Of(name))
            .Set(
                DeclaredFacts.Address,
                Known.Of(
                    $"{host.ToLowerInvariant()}.example/{topic.Replace(' ', '-')}-{number.ToString(CultureInfo.InvariantCulture)}"
                )
            )
            .Set(DeclaredFacts.Unit, unit.Select(known => new UnitCode(known)))
            .Set(
                DeclaredFacts.Classification,
                random.Next(3) == 0 ? Known<string>.None
                    : random.Next(50) == 0 ? Known<string>.Unknown
                    : Known.Of(Classifications[Skewed(Classifications.Length)])
            )
            .Set(DeclaredFacts.Kind, Known.Of(Kinds[Skewed(Kinds.Length)]))
            .Set(DeclaredFacts.Status, status)
            .Set(DeclaredFacts.Created, Known.Of(Instant(3000)))
            .Set(DeclaredFacts.LastEdit, random.Next(30) == 0 ? Known<DateTimeOffset>.Unknown : Known.Of(Instant(900)))
            .Set(DeclaredFacts.LastVisit, random.Next(5) == 0 ? Known<DateTimeOffset>.Unknown : Known.Of(Instant(300)))
            .Set(DeclaredFacts.Visits, random.Next(5) == 0 ? Known<int>.Unknown : Known.Of(Skewed(500)))
            .Set(DeclaredFacts.Pages, Known.Of(1 + Skewed(80)))
            .Set(DeclaredFacts.Bytes, Known.Of((long)Skewed(4000) * 10_000))
            .Set(
                DeclaredFacts.Domains,
                random.Next(60) == 0
                    ? Known.Of<IReadOnlyList<string>>([
                        $"{topic.Replace(' ', '-')}-{number.ToString(CultureInfo.InvariantCulture)}.example",
                    ])
                    : Known<IReadOnlyList<string>>.None
            )
            .Set(DeclaredFacts.Parent, Known<string>.None)
            .Set(DeclaredFacts.Group, Known<GroupId>.None)
            .Set(DeclaredFacts.Editing, Known<IReadOnlyList<PersonId>>.None)
            .Set(DeclaredFacts.Plan, host == "Lantern" ? Plan(number) : Known<SitePlan>.Unknown)
            .Set(
                DeclaredFacts.Joining,
                number % 90 == 0
                    ? Known.Of(new Joining(JoinWay.Open, 0, null, Known.Of(number % 180 == 0 ? Power.Edit : Power.View)))
                    : Known<Joining>.None
            );
        return new SiteRow(
            host,
            Key(number),
            seen,
            isNoLongerReported,
            away ? Existence.Attic : Existence.InUse,
            seen,
            away ? new BinRow(Instant(30), null, Known.Of(today.AddDays(random.Next(1, 30)))) : null,
            random.Next(60) == 0 ? Known<SharingRow>.Unknown : Known.Of(Sharing(seen))
        )
        {
            Facts = BundleFacts.Write(facts.Build(), new NoNumbers()),
        };
    }

    // A generated site names no person and no group in its facts.
    private sealed class NoNumbers : INamesForBundle
    {
        public string Of(PersonId person) => throw new NotSupportedException();

        public GroupName Of(GroupId group) => throw new NotSupportedException();

        public SectionRow Of(SiteSection section) => throw new NotSupportedException();
    }

    // Two adjacent sites share a plan; the plan of one in seven has ended.
    private Known<SitePlan> Plan(int number) =>
        number % 7 == 0
            ? Known<SitePlan>.None
            : Known.Of(
                new SitePlan(
                    $"P{number / 2}",
                    "Beacon",
                    9_600,
                    "EUR",
                    12,
                    DateOnly.FromDateTime(today.UtcDateTime).AddDays(number % 365),
                    number % 3 > 0,
                    30,
                    2
                )
            );

    private SharingRow Sharing(DateTimeOffset seen)
    {
        var grants = new SortedDictionary<string, GrantRow>(StringComparer.Ordinal);
        void Add(GrantRow grant) => grants.TryAdd(grant.Key, grant);
        for (var owners = random.Next(4); owners >= 0; owners--)
        {
            var person = Person();
            Add(new GrantRow($"person:{person}", Power.Own, Person: person));
        }

        for (var others = 6 + random.Next(10); others > 0; others--)
        {
            var person = Person();
            Add(new GrantRow($"person:{person}", random.Next(3) == 0 ? Power.View : Power.Edit, Person: person));
        }

        for (var more = random.Next(4); more > 0; more--)
        {
            var group = Group(1 + Skewed(groups));
            Add(
                new GrantRow(
                    $"g:{group.Key}",
                    random.Next(8) == 0 && teams.Contains(int.Parse(group.Key, CultureInfo.InvariantCulture)) ? Power.Own
                        : random.Next(2) == 0 ? Power.Edit
                        : Power.View,
                    Group: group
                )
            );
        }

        if (random.Next(3) > 0)
        {
            Add(new GrantRow("everyone", random.Next(40) == 0 ? Power.Edit : Power.View, To: "staff"));
        }

        if (random.Next(10) == 0)
        {
            var unit = Unit();
            Add(new GrantRow($"team:{unit}", Power.Edit, Unit: unit));
        }

        if (random.Next(6) == 0)
        {
            Add(
                new GrantRow(
                    "world",
                    random.Next(60) == 0 ? Power.Edit : Power.View,
                    To: "anonymous",
                    VisitorSignIn: VisitorSignIn.None
                )
            );
        }

        if (random.Next(30) == 0)
        {
            Add(
                new GrantRow(
                    "link:a",
                    Power.View,
                    To: "anonymous",
                    VisitorSignIn: VisitorSignIn.None,
                    Link: true,
                    Through: Day(random.Next(-20, 60))
                )
            );
        }

        return new SharingRow(seen, SharingSource.Read, [.. grants.Values]);
    }

    private string Person() => Mail(1 + Skewed(people));

    private string Unit() => units[Skewed(units.Count)];

    private static GroupName Group(int number) => new("Slipway", Key(number));

    private static string Mail(int number) => $"p{number.ToString("D6", CultureInfo.InvariantCulture)}@merrowby.example";

    private static string Key(int number) => number.ToString("D7", CultureInfo.InvariantCulture);

    private DateOnly Day(int from) => DateOnly.FromDateTime(today.UtcDateTime).AddDays(from);

    private DateTimeOffset Instant(int days) => today.AddMinutes(-random.Next(1, days * 1440));

    // A few numbers are frequent, most are rare.
    private int Skewed(int below) => (int)(below * Math.Pow(random.NextDouble(), 2.2));
}
