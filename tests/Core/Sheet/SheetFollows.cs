using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Sheet;

/// <summary>A sheet that followed any sequence of changes, line by line, or was written and read back, is the sheet made anew from all facts.</summary>
public class SheetFollows
{
    private static readonly RuleBook Rules = new(
        [
            new Rule(
                new("R-02"),
                "Edited by named people only",
                "open editing",
                Level.Must,
                "",
                new Demand.EditingNamedOnly(),
                default
            ),
            new Rule(
                new("R-03"),
                "Two fit key holders",
                "few keys",
                Level.Should,
                "unit pr",
                new Demand.FitKeyHolders(2),
                default
            ),
            new Rule(new("R-07"), "No wider than allowed", "too wide", Level.Must, "", new Demand.WithinAllowed(), default),
            new Rule(
                new("R-09"),
                "Owners are in",
                "gone owner",
                Level.Look,
                "",
                new Demand.General("not (owners[standing eq \"left\"]) and name pr"),
                default
            ),
        ],
        new DateOnly(2026, 11, 24)
    );

    private static readonly House House = new()
    {
        Limits =
        [
            new(LayerKind.Class, "Guarded", Enforcer.House, Known.Of(Inside(InsideLimit.Named))),
            new(LayerKind.Unit, Marine.Value, Enforcer.House, Known.Of(Inside(InsideLimit.Unit))),
            new(LayerKind.OwnersClass, "Trainee", Enforcer.Host, Known.Of(Outside(OutsideLevel.NoOne))),
            new(LayerKind.Class, "Odd", Enforcer.Host, Known<PowerLimits>.Unknown),
        ],
    };

    private static readonly Gen<Grant> AnyGrant =
        from subject in Gen.OneOf<Subject>(
            Gen.Long[1, 13].Select(id => (Subject)new Subject.OnePerson(new PersonId(id))),
            Gen.Long[1, 5].Select(id => (Subject)new Subject.OneGroup(new GroupId(id))),
            Among(Marine, Pilotage, Yard).Select(unit => (Subject)new Subject.WholeUnit(unit)),
            Gen.Const((Subject)new Subject.AllStaff()),
            Gen.Const((Subject)new Subject.PassersBy())
        )
        from power in Among(Power.View, Power.Preview, Power.Edit, Power.Own, Power.Own)
        from through in Gen.Int[0, 30]
        select new Grant(
            $"{subject}",
            power,
            subject,
            subject is Subject.PassersBy ? Proof.None : Proof.SignedIn,
            through < 6,
            through < 6 ? new DateOnly(2026, 11, 22).AddDays(through) : null
        );

    private static readonly Gen<SiteFacts> AnySite =
        from grants in AnyGrant.Array[0, 5]
        from unit in Among(Known.Of(Marine), Known.Of(Pilotage), Known.Of(Yard), Known<UnitCode>.None, Known<UnitCode>.Unknown)
        from kind in Among(Known.Of("Guarded"), Known.Of("Odd"), Known<string>.None, Known<string>.Unknown)
        from name in Among("Tide tables", "tide TABLES", "Lock rota", "")
        from rest in Gen.Int[0, 40]
        select Site([.. grants.DistinctBy(grant => grant.Key)]) with
        {
            Unit = unit,
            Class = kind,
            Name = Known.Text(name),
            Stage = rest == 1 ? Known<Stage>.Unknown : Known.Of((Stage)(rest % 4)),
            Sharing = rest == 2 ? Known<Sharing>.Unknown : Site([.. grants.DistinctBy(grant => grant.Key)]).Sharing,
            Existence = rest < 5 ? Existence.Attic : Existence.Here,
            LastEdit = rest < 20 ? Known.Of(Now.AddDays(-rest % 7)) : Known<DateTimeOffset>.Unknown,
            Visits = rest < 30 ? Known.Of(rest % 5) : Known<int>.None,
        };

    private static readonly Gen<Person> AnyPerson =
        from id in Gen.Long[1, 12]
        from kind in Among(PersonKind.Staff, PersonKind.Staff, PersonKind.Staff, PersonKind.Guest, PersonKind.Service)
        from standing in Among(Standing.Current, Standing.Current, Standing.Absent, Standing.Leaving, Standing.Left)
        from day in Gen.Int[0, 20]
        from unit in Among(Known.Of(Marine), Known.Of(Pilotage), Known.Of(Yard), Known<UnitCode>.None)
        from trainee in Gen.Int[0, 5]
        select new Person(
            new PersonId(id),
            kind,
            $"P{id}",
            $"p{id}@merrowby.example",
            standing,
            standing == Standing.Current ? null : new DateOnly(2026, 11, 20).AddDays(day),
            unit,
            trainee == 0 ? "Trainee" : ""
        );

    private static readonly Gen<Group> AnyGroup =
        from id in Gen.Long[1, 4]
        from members in Gen.OneOf(
            Gen.Long[1, 12].Select(person => Member.Of(new PersonId(person))),
            Gen.Long[1, 12].Select(person => Member.Of(new PersonId(person))),
            Gen.Long[1, 5].Select(inner => Member.Of(new GroupId(inner))),
            Among(Marine, Yard).Select(Member.Of)
        ).Array[0, 8]
        from complete in Gen.Int[0, 5]
        select new Group(new GroupId(id), $"G{id}", members, complete > 0);

    /// <summary>Changes one thing; null stands for a day that passes.</summary>
    private static readonly Gen<object?> AnyChange = Gen.OneOf(
        AnySite.Select(Gen.Long[1, 40], (site, id) => (object?)(site with { Id = new SiteId(id), HostKey = $"s{id}" })),
        AnyPerson.Select(person => (object?)person),
        AnyGroup.Select(group => (object?)group),
        Gen.Const((object?)null)
    );

    [Fact]
    public void After_any_changes_the_sheet_is_the_one_made_anew() =>
        Gen.Select(AnySite.Array[1, 25], AnyPerson.Array[0, 12], AnyGroup.Array[0, 4], AnyChange.Array[1, 12])
            .Sample(
                (first, someone, some, changes) =>
                {
                    var sites = first
                        .Select((site, place) => site with { Id = new SiteId(place + 1), HostKey = $"s{place + 1}" })
                        .ToDictionary(site => site.Id);
                    var people = new SortedDictionary<long, Person>(
                        someone.DistinctBy(person => person.Id).ToDictionary(person => person.Id.Value)
                    );
                    var groups = new SortedDictionary<long, Group>(
                        some.DistinctBy(group => group.Id).ToDictionary(group => group.Id.Value)
                    );
                    var now = Now;
                    Roll Roll() => new(people.Values, Units, groups.Values, now, Time);
                    var roll = Roll();
                    var sheet = Anew(sites.Values, roll);
                    foreach (var change in changes)
                    {
                        var touched = new HashSet<SiteId>();
                        switch (change)
                        {
                            case SiteFacts site:
                                sites[site.Id] = site;
                                touched.Add(site.Id);
                                break;
                            case Person person:
                                people[person.Id.Value] = person;
                                break;
                            case Group group:
                                groups[group.Id.Value] = group;
                                break;
                            default:
                                now = now.AddDays(1);
                                break;
                        }

                        var after = Roll();
                        if (RollChange.Between(roll, after, House.FitDays) is { } moved)
                        {
                            touched.UnionWith(
                                sites.Values.Where(site => moved.Touches(site, roll, after)).Select(site => site.Id)
                            );
                            sheet = sheet.With(Judged(touched.Select(id => sites[id]), after));
                        }
                        else
                        {
                            sheet = Anew(sites.Values, after);
                        }

                        roll = after;
                        if (change is Person)
                        {
                            // A server that stops here and starts again goes on from what it wrote.
                            var rows = new RowsInMemory();
                            roll.Write(rows);
                            sheet.Write(rows);
                            roll = RollSnapshot.Read(rows, Time);
                            sheet = JudgedSheet.Read(rows, roll, Rules);
                        }
                    }

                    var (followed, anew) = (Cells.Of(sheet), Cells.Of(Anew(sites.Values, roll)));
                    Assert.Equal(anew.Keys.OrderBy(id => id.Value), followed.Keys.OrderBy(id => id.Value));
                    foreach (var (id, cells) in anew)
                    {
                        Assert.Equal(cells, followed[id]);
                    }

                    // What could not be told is found in the columns themselves, as a server does that has no sites in memory.
                    var uncertain = sheet.Uncertain().ToHashSet();
                    Assert.All(sites.Values.Where(site => site.Sharing.IsUnknown && site.Existence == Existence.Here), site =>
                        Assert.Contains(site.Id, uncertain)
                    );
                },
                iter: 600
            );

    [Fact]
    public void An_order_is_that_of_the_values_and_a_count_is_that_of_the_lines() =>
        Gen.Select(
                AnySite.Array[1, 60],
                AnySite.Array[0, 20],
                Among("title", "-title", "edited", "-edited", "visits", "-gravity", "view.inside", "-existence"),
                Among("-unit", "class", "title")
            )
            .Sample(
                (first, more, one, two) =>
                {
                    var roll = new Harbour().Roll;
                    var sites = first
                        .Concat(more)
                        .Select((site, place) => site with { Id = new SiteId(place + 1), HostKey = $"s{place + 1}" })
                        .ToList();
                    var sheet = Anew(sites.Take(first.Length), roll);
                    _ = sheet.OrderBy([Key(one)]);
                    sheet = sheet.With(Judged(sites.Skip(first.Length), roll));
                    var all = sheet.Seen(new Sight.Everything());
                    var cells = Cells.Of(sheet);

                    var listed = all.Lines(all.All, [Key(one), Key(two)]).Select(line => line.Id).ToList();
                    Assert.Equal(sites.Count, listed.Distinct().Count());
                    Assert.Equal(Naive(sheet, [Key(one), Key(two), Key("title")]), listed);

                    var live = all.Where(Filter.Parse("stage eq \"live\"", JudgedLine.Attributes));
                    foreach (var (value, count) in sheet.Columns.Of<string>("unit").Counts(live))
                    {
                        Assert.Equal(
                            count,
                            sites.Count(site =>
                                site.Stage.Has(out var stage)
                                && stage == Stage.Live
                                && site.Unit.Select(unit => unit.Value) == value
                            )
                        );
                    }

                    foreach (var (rule, count) in ((ListColumn<Rule>)sheet.Columns.Of("breaks")).Counts(live))
                    {
                        Assert.Equal(count, all.Lines(live).Count(line => line.Breaks.Contains(rule)));
                    }
                },
                iter: 200
            );

    [Fact]
    public void A_viewer_is_shown_and_counted_only_what_they_may_see()
    {
        var harbour = new Harbour();
        var sites = new[]
        {
            Site(ToPerson(Power.Own, Vane)) with
            {
                Id = new SiteId(1),
                Unit = Known.Of(Marine),
            },
            Site(ToPerson(Power.Own, Quist)) with
            {
                Id = new SiteId(2),
                Unit = Known.Of(Yard),
            },
            Site(ToPerson(Power.Own, Quist)) with
            {
                Id = new SiteId(3),
                Unit = Known<UnitCode>.Unknown,
            },
        };
        var sheet = Anew(sites, harbour.Roll);

        SeenSheet steward = sheet.Seen(new Sight.OfUnits(new HashSet<string> { "MAR", "PIL" })),
            owner = sheet.Seen(
                new Sight.OfKeys(Quist, new HashSet<GroupId>(), new HashSet<UnitCode>(), true, new DateOnly(2026, 11, 24))
            );

        Assert.Equal([1], steward.Lines(steward.All).Select(line => line.Id.Value));
        Assert.Equal([2, 3], owner.Lines(owner.All).Select(line => line.Id.Value));
        Assert.Null(steward.Find(new SiteId(2)));
        Assert.Null(steward.Find(new SiteId(99)));
        Assert.Equal(0, steward.Where(Filter.Parse("unit eq \"YRD\"", JudgedLine.Attributes)).CountYes);
        Assert.Equal(0, steward.Where(Filter.Parse("unit eq \"YRD\"", JudgedLine.Attributes)).CountUnknownOf(steward.All));
    }

    [Fact]
    public void Another_version_leaves_the_one_before_as_it_was()
    {
        var harbour = new Harbour();
        var before = Anew(
            Enumerable
                .Range(1, 3000)
                .Select(id => Site(ToPerson(Power.Own, Vane)) with { Id = new SiteId(id), Name = Known.Of($"Site {id}") }),
            harbour.Roll
        );
        var after = before.With(
            Judged([Site(ToStaff(Power.Edit)) with { Id = new SiteId(2000), Name = Known.Of("Renamed") }], harbour.Roll)
        );

        Assert.Equal("Site 2000", before.Seen(new Sight.Everything()).Find(new SiteId(2000))!.Value.Title);
        Assert.Equal("Renamed", after.Seen(new Sight.Everything()).Find(new SiteId(2000))!.Value.Title);
        Assert.DoesNotContain(before.Seen(new Sight.Everything()).Find(new SiteId(2000))!.Value.Breaks, rule =>
            rule.Id.Value == "R-02"
        );
        Assert.Contains(after.Seen(new Sight.Everything()).Find(new SiteId(2000))!.Value.Breaks, rule => rule.Id.Value == "R-02");
    }

    [Fact]
    public void Values_that_nobody_has_any_more_are_let_go()
    {
        var harbour = new Harbour();
        var sheet = JudgedSheet.Empty;
        for (var turn = 0; turn < 40; turn++)
        {
            sheet = sheet.With(
                Judged(
                    Enumerable
                        .Range(1, 200)
                        .Select(id =>
                            Site(ToPerson(Power.Own, Vane)) with
                            {
                                Id = new SiteId(id),
                                Name = Known.Of($"{turn}.{id}"),
                            }
                        ),
                    harbour.Roll
                )
            );
        }

        Assert.True(sheet.Columns.Of("name").DistinctCount < 5000);
        Assert.Equal(200, sheet.Columns.Evaluate(Filter.Parse("name sw \"39.\"", JudgedLine.Attributes)).CountYes);
        Assert.Equal(0, sheet.Columns.Evaluate(Filter.Parse("name sw \"38.\"", JudgedLine.Attributes)).CountYes);
    }

    internal static IReadOnlyList<JudgedLine> Judged(IEnumerable<SiteFacts> sites, Roll roll) =>
        Rules.Judge([.. sites.Select(site => new SiteLine(site, House, roll))]);

    internal static JudgedSheet Anew(IEnumerable<SiteFacts> sites, Roll roll) =>
        JudgedSheet.Empty.With(Judged(sites.OrderBy(site => site.Id.Value), roll));

    private static SortKey Key(string text) => new(text.TrimStart('-'), text.StartsWith('-'));

    private static List<SiteId> Naive(JudgedSheet sheet, IReadOnlyList<SortKey> keys)
    {
        var all = sheet.Seen(new Sight.Everything());
        var lines = all.Lines(all.All).OrderBy(line => 0);
        foreach (var (attribute, down) in keys)
        {
            lines = sheet.Columns.Of(attribute) switch
            {
                Column<string> text => Then(lines, text, StringComparer.OrdinalIgnoreCase, down),
                Column<Span> spans => Then(
                    lines,
                    spans,
                    Comparer<Span>.Create((a, b) => (a.AtLeast, a.AtMost).CompareTo((b.AtLeast, b.AtMost))),
                    down
                ),
                Column<DateTimeOffset> moments => Then(lines, moments, Comparer<DateTimeOffset>.Default, down),
                _ => throw new InvalidOperationException(),
            };
        }

        return [.. lines.ThenBy(line => line.Id.Value).Select(line => line.Id)];
    }

    private static IOrderedEnumerable<SheetLine> Then<T>(
        IOrderedEnumerable<SheetLine> lines,
        Column<T> column,
        IComparer<T> order,
        bool down
    )
        where T : notnull
    {
        var values = Comparer<SheetLine>.Create(
            (a, b) =>
                column[a.Place].Has(out var one) && column[b.Place].Has(out var other)
                    ? (down ? order.Compare(other, one) : order.Compare(one, other))
                    : 0
        );
        return lines
            .ThenBy(line =>
                column[line.Place].IsUnknown ? 2
                : column[line.Place].IsNone ? 1
                : 0
            )
            .ThenBy(line => line, values);
    }
}

/// <summary>All that a sheet says of each site, as texts.</summary>
internal static class Cells
{
    public static Dictionary<SiteId, List<string>> Of(JudgedSheet sheet)
    {
        var all = sheet.Seen(new Sight.Everything());
        return all.Lines(all.All)
            .ToDictionary(
                line => line.Id,
                line =>
                    JudgedLine
                        .Attributes.All.Select(attribute => $"{attribute.Name} {Cell(all.Columns.Of(attribute), line.Place)}")
                        .ToList()
            );
    }

    private static string Cell(Column column, int place) =>
        column switch
        {
            Column<string> text => text[place].ToString(),
            Column<Span> spans => spans[place].ToString(),
            Column<DateTimeOffset> moments => moments[place].ToString(),
            Column<bool> flags => flags[place].ToString(),
            ListColumn<UnitCode> units => Listed(units[place], unit => unit.Value),
            ListColumn<string> domains => Listed(domains[place], domain => domain),
            ListColumn<KeyHolder> owners => Listed(owners[place], holder =>
                $"{holder.Person} {holder.Standing} {holder.Through} {string.Join('+', holder.Why)}"
            ),
            ListColumn<Rule> rules => Listed(rules[place], rule => rule.Id.Value),
            _ => throw new InvalidOperationException(),
        };

    private static string Listed<T>(Listed<T> list, Func<T, string> word) =>
        $"{string.Join(", ", list.Items.Select(word))} {list.Complete}";
}
