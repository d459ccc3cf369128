using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Index;

/// <summary>An index that followed any sequence of changes, or was written and read back, equals the index rebuilt from all
/// facts.</summary>
public class IndexFollowsFeed
{
    private static readonly RuleBook Rules = new(
        [
            new Rule(
                new("R-02"),
                "Edited by named people only",
                "open editing",
                Level.Critical,
                "",
                new Demand.EditingNamedOnly(),
                default
            ),
            new Rule(
                new("R-03"),
                "Two active owners",
                "too few owners",
                Level.Warning,
                "unit pr",
                new Demand.ActiveOwners(2),
                default
            ),
            new Rule(new("R-07"), "No wider than allowed", "too wide", Level.Critical, "", new Demand.WithinAllowed(), default),
            new Rule(
                new("R-09"),
                "Owners are in",
                "gone owner",
                Level.Note,
                "",
                new Demand.General("not (owners[standing eq \"left\"]) and name pr"),
                default
            ),
        ],
        OnTheDay
    );

    internal static readonly Organisation Organisation = new()
    {
        Limits =
        [
            new(LayerKind.Classification, "Guarded", Enforcer.Policy, Known.Of(Inside(InsideLimit.Named))),
            new(LayerKind.Unit, Marine.Value, Enforcer.Policy, Known.Of(Inside(InsideLimit.Unit))),
            new(LayerKind.OwnersClassification, "Trainee", Enforcer.Host, Known.Of(Outside(OutsideLevel.NoOne))),
            new(LayerKind.Classification, "Odd", Enforcer.Host, Known<PowerLimits>.Unknown),
        ],
    };

    private static readonly Gen<Grant> AnyGrant =
        from subject in Gen.OneOf<Subject>(
            Gen.Long[1, 13].Select(id => (Subject)new Subject.OnePerson(new PersonId(id))),
            Gen.Long[1, 5].Select(id => (Subject)new Subject.OneGroup(new GroupId(id))),
            Among(Marine, Pilotage, Yard).Select(unit => (Subject)new Subject.WholeUnit(unit)),
            Gen.Const((Subject)new Subject.AllStaff()),
            Gen.Const((Subject)new Subject.Anonymous())
        )
        from power in Among(Power.View, Power.Preview, Power.Edit, Power.Own, Power.Own)
        from through in Gen.Int[0, 30]
        select new Grant(
            $"{subject}",
            power,
            subject,
            subject is Subject.Anonymous ? VisitorSignIn.None : VisitorSignIn.Account,
            through < 6,
            through < 6 ? new DateOnly(2026, 11, 22).AddDays(through) : null
        );

    internal static readonly Gen<SiteFacts> AnySite =
        from grants in AnyGrant.Array[0, 5]
        from unit in Among(Known.Of(Marine), Known.Of(Pilotage), Known.Of(Yard), Known<UnitCode>.None, Known<UnitCode>.Unknown)
        from kind in Among(Known.Of("Guarded"), Known.Of("Odd"), Known<string>.None, Known<string>.Unknown)
        from name in Among("Tide tables", "tide TABLES", "Lock rota", "")
        from rest in Gen.Int[0, 40]
        select Site([.. grants.DistinctBy(grant => grant.Key)]) with
        {
            Unit = unit,
            Classification = kind,
            Name = Known.Text(name),
            Status = rest == 1 ? Known<Status>.Unknown : Known.Of((Status)(rest % 4)),
            Sharing = rest == 2 ? Known<Sharing>.Unknown : Site([.. grants.DistinctBy(grant => grant.Key)]).Sharing,
            Existence = rest < 5 ? Existence.Attic : Existence.InUse,
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

    /// <summary>Makes one change; null means that a day passes.</summary>
    private static readonly Gen<object?> AnyChange = Gen.OneOf(
        AnySite.Select(Gen.Long[1, 40], (site, id) => (object?)(site with { Id = new SiteId(id), HostKey = $"s{id}" })),
        AnyPerson.Select(person => (object?)person),
        AnyGroup.Select(group => (object?)group),
        Gen.Const((object?)null)
    );

    [Fact]
    public void After_any_changes_the_index_equals_one_built_from_scratch() =>
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
                    PeopleDirectory PeopleDirectory() => new(people.Values, Units, groups.Values, now, Time);
                    var directory = PeopleDirectory();
                    var index = Anew(sites.Values, directory);
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

                        var after = PeopleDirectory();
                        if (DirectoryChange.Between(directory, after, Organisation.ActiveDays) is { } moved)
                        {
                            touched.UnionWith(
                                sites.Values.Where(site => moved.Touches(site, directory, after)).Select(site => site.Id)
                            );
                            index = index.With(Judged(touched.Select(id => sites[id]), after));
                        }
                        else
                        {
                            index = Anew(sites.Values, after);
                        }

                        directory = after;
                        if (change is Person)
                        {
                            // A server that stops here and starts again continues from its snapshot.
                            var rows = new RowsInMemory();
                            directory.Write(rows);
                            index.Write(rows);
                            directory = DirectorySnapshot.Read(rows, Time);
                            index = RegisterIndex.Read(rows, directory, Rules);
                        }
                    }

                    // Who has left and still has access is found without the whole excess, and is the same.
                    foreach (var line in sites.Values.Select(site => new ComputedSite(site, Organisation, directory)))
                    {
                        Assert.Equal(
                            Powers
                                .Limited.Where(power => line.ExcessOf(power) == Truth.Yes)
                                .Select(power => line.AccessPath(power).Excess.Certain)
                                .Select(excess => excess.Inside.Union(excess.Guests).Intersect(directory.Left))
                                .SelectMany(left => left.Places())
                                .Distinct()
                                .Order()
                                .Select(place => directory.People[place].Id),
                            line.LeftWithAccess.Select(person => person.Id)
                        );
                    }

                    var (followed, anew) = (Cells.Of(index), Cells.Of(Anew(sites.Values, directory)));
                    Assert.Equal(anew.Keys.OrderBy(id => id.Value), followed.Keys.OrderBy(id => id.Value));
                    foreach (var (id, cells) in anew)
                    {
                        Assert.Equal(cells, followed[id]);
                    }

                    // Unknown facts are found in the columns, as by a server that has no sites in memory.
                    var uncertain = index.Uncertain().ToHashSet();
                    Assert.All(sites.Values.Where(site => site.Sharing.IsUnknown && site.Existence == Existence.InUse), site =>
                        Assert.Contains(site.Id, uncertain)
                    );
                },
                iter: 600
            );

    [Fact]
    public void Sorting_follows_the_values_and_a_count_follows_the_rows() =>
        Gen.Select(
                AnySite.Array[1, 60],
                AnySite.Array[0, 20],
                Among("title", "-title", "edited", "-edited", "visits", "-gravity", "view.inside", "-existence"),
                Among("-unit", "classification", "title")
            )
            .Sample(
                (first, more, one, two) =>
                {
                    var directory = new Harbour().PeopleDirectory;
                    var sites = first
                        .Concat(more)
                        .Select((site, place) => site with { Id = new SiteId(place + 1), HostKey = $"s{place + 1}" })
                        .ToList();
                    var index = Anew(sites.Take(first.Length), directory);
                    _ = index.OrderBy([Key(one)]);
                    index = index.With(Judged(sites.Skip(first.Length), directory));
                    var all = index.Seen(new Scope.Everything());
                    var cells = Cells.Of(index);

                    var listed = all.Lines(all.All, [Key(one), Key(two)]).Select(line => line.Id).ToList();
                    Assert.Equal(sites.Count, listed.Distinct().Count());
                    Assert.Equal(Naive(index, [Key(one), Key(two), Key("title")]), listed);

                    var live = all.Where(Filter.Parse("status eq \"published\"", JudgedSite.Attributes));
                    foreach (var (value, count) in index.Columns.Of<string>("unit").Counts(live))
                    {
                        Assert.Equal(
                            count,
                            sites.Count(site =>
                                site.Status.Has(out var status)
                                && status == Status.Published
                                && site.Unit.Select(unit => unit.Value) == value
                            )
                        );
                    }

                    foreach (var (rule, count) in ((ListColumn<Rule>)index.Columns.Of("breaks")).Counts(live))
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
        var index = Anew(sites, harbour.PeopleDirectory);

        VisibleRegister steward = index.Seen(new Scope.OfUnits(new HashSet<string> { "MAR", "PIL" })),
            owner = index.Seen(
                new Scope.OfOwners(Quist, new HashSet<GroupId>(), new HashSet<UnitCode>(), true, new DateOnly(2026, 11, 24))
            );

        Assert.Equal([1], steward.Lines(steward.All).Select(line => line.Id.Value));
        Assert.Equal([2, 3], owner.Lines(owner.All).Select(line => line.Id.Value));
        Assert.Null(steward.Find(new SiteId(2)));
        Assert.Null(steward.Find(new SiteId(99)));
        Assert.Equal(0, steward.Where(Filter.Parse("unit eq \"YRD\"", JudgedSite.Attributes)).CountYes);
        Assert.Equal(0, steward.Where(Filter.Parse("unit eq \"YRD\"", JudgedSite.Attributes)).CountUnknownOf(steward.All));
    }

    [Fact]
    public void Another_version_leaves_the_one_before_as_it_was()
    {
        var harbour = new Harbour();
        var before = Anew(
            Enumerable
                .Range(1, 3000)
                .Select(id => Site(ToPerson(Power.Own, Vane)) with { Id = new SiteId(id), Name = Known.Of($"Site {id}") }),
            harbour.PeopleDirectory
        );
        var after = before.With(
            Judged(
                [Site(ToStaff(Power.Edit)) with { Id = new SiteId(2000), Name = Known.Of("Renamed") }],
                harbour.PeopleDirectory
            )
        );

        Assert.Equal("Site 2000", before.Seen(new Scope.Everything()).Find(new SiteId(2000))!.Value.Title);
        Assert.Equal("Renamed", after.Seen(new Scope.Everything()).Find(new SiteId(2000))!.Value.Title);
        Assert.DoesNotContain(before.Seen(new Scope.Everything()).Find(new SiteId(2000))!.Value.Breaks, rule =>
            rule.Id.Value == "R-02"
        );
        Assert.Contains(after.Seen(new Scope.Everything()).Find(new SiteId(2000))!.Value.Breaks, rule => rule.Id.Value == "R-02");
    }

    [Fact]
    public void Values_that_nobody_has_any_more_are_let_go()
    {
        var harbour = new Harbour();
        var index = RegisterIndex.Empty;
        for (var turn = 0; turn < 40; turn++)
        {
            index = index.With(
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
                    harbour.PeopleDirectory
                )
            );
        }

        Assert.True(index.Columns.Of("name").DistinctCount < 5000);
        Assert.Equal(200, index.Columns.Evaluate(Filter.Parse("name sw \"39.\"", JudgedSite.Attributes)).CountYes);
        Assert.Equal(0, index.Columns.Evaluate(Filter.Parse("name sw \"38.\"", JudgedSite.Attributes)).CountYes);
    }

    internal static IReadOnlyList<JudgedSite> Judged(IEnumerable<SiteFacts> sites, PeopleDirectory directory) =>
        Rules.Judge([.. sites.Select(site => new ComputedSite(site, Organisation, directory))]);

    internal static RegisterIndex Anew(IEnumerable<SiteFacts> sites, PeopleDirectory directory) =>
        RegisterIndex.Empty.With(Judged(sites.OrderBy(site => site.Id.Value), directory));

    private static SortKey Key(string text) => new(text.TrimStart('-'), text.StartsWith('-'));

    private static List<SiteId> Naive(RegisterIndex index, IReadOnlyList<SortKey> keys)
    {
        var all = index.Seen(new Scope.Everything());
        var lines = all.Lines(all.All).OrderBy(line => 0);
        foreach (var (attribute, down) in keys)
        {
            lines = index.Columns.Of(attribute) switch
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

    private static IOrderedEnumerable<RegisterRow> Then<T>(
        IOrderedEnumerable<RegisterRow> lines,
        Column<T> column,
        IComparer<T> order,
        bool down
    )
        where T : notnull
    {
        var values = Comparer<RegisterRow>.Create(
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

/// <summary>Everything in an index about each site, as texts.</summary>
internal static class Cells
{
    public static Dictionary<SiteId, List<string>> Of(RegisterIndex index)
    {
        var all = index.Seen(new Scope.Everything());
        return all.Lines(all.All)
            .ToDictionary(
                line => line.Id,
                line =>
                    JudgedSite
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
            ListColumn<SiteOwner> owners => Listed(owners[place], holder =>
                $"{holder.Person} {holder.Standing} {holder.Through} {string.Join('+', holder.Why)}"
            ),
            ListColumn<Rule> rules => Listed(rules[place], rule => rule.Id.Value),
            ListColumn<Cause> causes => Listed(causes[place], cause => $"{cause.Name} {cause.Rule.Id}"),
            _ => throw new InvalidOperationException(),
        };

    private static string Listed<T>(Listed<T> list, Func<T, string> word) =>
        $"{string.Join(", ", list.Items.Select(word))} {list.Complete}";
}
