using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Index;

/// <summary>An index whose rule book changed equals the one rebuilt under the new book, and only the rules that differ are judged.
/// </summary>
public class IndexFollowsRules
{
    private static readonly string[] Scopes =
    [
        "",
        "unit pr",
        "classification eq \"Guarded\"",
        "existence eq \"attic\"",
        "unit eq",
    ];
    private static readonly Demand[] Demands =
    [
        new Demand.WithinAllowed(),
        new Demand.EditingNamedOnly(),
        new Demand.ActiveOwners(1),
        new Demand.ActiveOwners(2),
        new Demand.General("name sw \"Tide\""),
        new Demand.General("edited ge \"-P3D\""),
        new Demand.General("visits ge 2"),
    ];

    private static readonly Gen<Rule> AnyRule =
        from id in Gen.Int[1, 4]
        from version in Gen.Int[1, 6]
        from level in Gen.Int[0, 2]
        from scope in Gen.OneOf([.. Scopes.Select(Gen.Const)])
        from demand in Gen.OneOf([.. Demands.Select(Gen.Const)])
        from day in Gen.Int[-2, 3]
        from off in Gen.Int[0, 4]
        select new Rule(new RuleId($"R-0{id}"), $"Rule {id}", "short", (Level)level, scope, demand, OnTheDay.Day.AddDays(day))
        {
            Version = version,
            IsOff = off == 0,
        };

    private static readonly Gen<RuleException> AnyException =
        from id in Gen.Int[1, 4]
        from demand in Gen.OneOf([.. Demands.Select(Gen.Const)])
        from steps in Gen.Int[0, 2]
        from days in Gen.Int[0, 3]
        from untold in Gen.Bool
        select new RuleException(
            id,
            new RuleId($"R-0{id}"),
            "agreed",
            Vane,
            Now.AddDays(-1),
            OnTheDay.Day.AddDays(days),
            demand.Expression,
            [
                .. Enumerable.Repeat(
                    steps * 4,
                    demand switch
                    {
                        Demand.WithinAllowed => 12,
                        Demand.EditingNamedOnly => 2,
                        Demand.ActiveOwners => 1,
                        _ => 0,
                    }
                ),
            ]
        )
        {
            IsUntold = untold,
        };

    [Fact]
    public void After_any_change_of_the_rule_book_the_index_equals_one_built_under_it() =>
        Gen.Select(
                Gen.Select(IndexFollowsFeed.AnySite, AnyException.Array[0, 2]).Array[1, 25],
                AnyRule.Array[0, 8],
                AnyRule.Array[0, 3],
                Gen.Int[0, 2]
            )
            .Sample(
                (facts, first, more, days) =>
                {
                    List<SiteFacts> sites =
                    [
                        .. facts.Select(
                            (pair, place) =>
                                pair.Item1 with
                                {
                                    Id = new SiteId(place + 1),
                                    HostKey = $"s{place + 1}",
                                    Exceptions = pair.Item2,
                                    NoLongerReported = place % 7 == 3,
                                }
                        ),
                    ];
                    var (before, after) = (
                        new RuleBook(Distinct(first), OnTheDay),
                        new RuleBook(Distinct([.. more, .. first]), OnTheDay with { Day = OnTheDay.Day.AddDays(days) })
                    );
                    PeopleDirectory then = Directory(0),
                        now = Directory(days);
                    var changes = ChangedRules.Between(
                        Anew(sites, then, before),
                        before,
                        after,
                        sites
                            .SelectMany(site => site.Exceptions.Select(exception => (exception.Rule, site.Id)))
                            .ToLookup(pair => pair.Id, pair => pair.Rule)
                    );

                    // A new day ends exceptions and moves people: those sites are judged again by the feed.
                    var moved =
                        days > 0
                            ? sites.Where(site => site.Exceptions.Count > 0 || site.Sharing.Has(out _)).Select(site => site.Id)
                            : [];
                    var again = sites.Where(site => changes.NeedFacts.Concat(moved).Contains(site.Id));
                    var followed = Cells.Of(changes.Index.With(Judged(again, now, after)));
                    foreach (var (id, cells) in Cells.Of(Anew(sites, now, after)))
                    {
                        Assert.Equal(cells, followed[id]);
                    }

                    var differ = before.Rules.Concat(after.Rules).Select(rule => rule.Id).Distinct();
                    Assert.InRange(changes.Judged, 0, differ.Count());
                    if (more.Length == 0 && days == 0)
                    {
                        Assert.Equal((0, 0), (changes.Judged, changes.Touched.Count));
                    }
                },
                iter: 1500
            );

    [Fact]
    public void Another_level_of_a_rule_is_the_level_of_its_findings_and_of_their_causes()
    {
        Rule rule = new(new("R-02"), "Edited by few", "open", Level.Note, "", new Demand.EditingNamedOnly(), OnTheDay.Day);
        Rule next = rule with { Level = Level.Critical, Version = 2 };
        SiteFacts[] sites = [Site(ToStaff(Power.Edit)) with { Id = new SiteId(1) }];
        var (before, after) = (new RuleBook([rule], OnTheDay), new RuleBook([rule, next], OnTheDay));
        var changes = ChangedRules.Between(
            Anew(sites, Directory(0), before),
            before,
            after,
            Array.Empty<int>().ToLookup(_ => default(SiteId), _ => rule.Id)
        );
        var row = changes.Index.Seen(new Scope.Everything()).Find(new SiteId(1))!.Value;

        Assert.Equal([Level.Critical], row.Breaks.Select(broken => broken.Level));
        Assert.Equal([Level.Critical], row.Causes.Select(cause => cause.Rule.Level));
        Assert.Empty(changes.NeedFacts);
    }

    private static PeopleDirectory Directory(int days) =>
        new(new Harbour().PeopleDirectory.People, Units, new Harbour().PeopleDirectory.Groups, Now.AddDays(days), Time);

    private static List<Rule> Distinct(IEnumerable<Rule> rules) => [.. rules.DistinctBy(rule => (rule.Id, rule.Version))];

    private static IReadOnlyList<JudgedSite> Judged(IEnumerable<SiteFacts> sites, PeopleDirectory directory, RuleBook rules) =>
        rules.Judge([.. sites.Select(site => new Core.Register.ComputedSite(site, IndexFollowsFeed.Organisation, directory))]);

    private static RegisterIndex Anew(IEnumerable<SiteFacts> sites, PeopleDirectory directory, RuleBook rules) =>
        RegisterIndex.Empty.With(Judged(sites, directory, rules));
}
