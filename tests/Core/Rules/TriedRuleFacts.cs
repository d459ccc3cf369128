using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Rules;

/// <summary>A rule that is tried out finds what it would find in force, and is compared with the rule that it would replace.
/// </summary>
public class TriedRuleFacts
{
    private static readonly string[] Scopes =
    [
        "",
        "unit eq \"PIL\"",
        "classification eq \"Guarded\"",
        "existence eq \"attic\"",
        "visits gt 1",
    ];
    private static readonly string[] Demands =
    [
        "purpose pr",
        "owners.active.count ge 1",
        "view.outside eq \"no-one\"",
        "not (status eq \"published\") or visits ge 2",
        "name sw \"Pilot\"",
    ];
    private readonly Harbour harbour = new();

    [Fact]
    public void It_finds_exactly_what_it_would_find_in_force()
    {
        var any =
            from facts in Gen.Int[0, 3].Select(Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[0, 3]).Array[1, 40]
            from scope in Gen.OneOf([.. Scopes.Select(Gen.Const)])
            from demand in Gen.OneOf([.. Demands.Select(Gen.Const)])
            select (facts, scope, demand);
        any.Sample(
            chosen =>
            {
                List<SiteFacts> sites =
                [
                    .. chosen.facts.Select((of, place) => Made(place + 1, of.Item1, of.Item2, of.Item3, of.Item4)),
                ];
                var tried = TriedRule.Of(Seen(sites), new(chosen.scope, chosen.demand), null, OnTheDay);
                var rule = Rule("R-99", chosen.scope, new Demand.General(chosen.demand));
                var book = new RuleBook([rule], OnTheDay);
                for (var place = 0; place < sites.Count; place++)
                {
                    var line = new ComputedSite(sites[place], harbour.Organisation, harbour.PeopleDirectory);
                    var verdict = book.Judge(line).SingleOrDefault()?.Verdict ?? Verdict.Holds;
                    Assert.Equal(
                        verdict,
                        tried.Breaks[place] switch
                        {
                            Truth.Yes => Verdict.Breaks,
                            Truth.No => Verdict.Holds,
                            _ => Verdict.CannotTell,
                        }
                    );
                }

                Assert.Equal(tried.Breaks.CountYes, tried.Added.CountYes);
                Assert.Equal(0, tried.Cleared.CountYes);
            },
            iter: 300
        );
    }

    [Fact]
    public void Compared_with_a_rule_in_force_it_says_what_is_added_and_what_is_cleared()
    {
        List<SiteFacts> sites =
        [
            Site() with
            {
                Id = new SiteId(1),
                Visits = Known.Of(0),
            },
            Site() with
            {
                Id = new SiteId(2),
                Visits = Known.Of(5),
            },
            Site() with
            {
                Id = new SiteId(3),
                Visits = Known.Of(50),
            },
            Site() with
            {
                Id = new SiteId(4),
                Visits = Known<int>.Unknown,
            },
        ];
        var inForce = Rule("R-11", "", new Demand.General("visits ge 10"));
        var tried = TriedRule.Of(Seen(sites, inForce), new("", "visits le 5"), inForce.Id, OnTheDay);

        Assert.Equal([2], tried.Added.Lines());
        Assert.Equal([0, 1], tried.Cleared.Lines());
        Assert.Equal([3], tried.Breaks.Lines(Truth.Unknown));
        Assert.Equal(4, tried.Covers.CountYes);
        Assert.Equal(["visits"], tried.Reads.Select(attribute => attribute.Name));
    }

    [Theory]
    [InlineData("", "", "demand", 1)]
    [InlineData("unit eq", "purpose pr", "scope", 8)]
    [InlineData("", "breaks eq \"R-07\"", "demand", 1)]
    [InlineData("", "purpose pr and colour pr", "demand", 16)]
    public void What_cannot_be_read_is_named_with_its_part_and_column(string scope, string demand, string part, int column)
    {
        var fault = Assert.Throws<RuleError>(() => TriedRule.Of(Seen([Site()]), new(scope, demand), null, OnTheDay));
        Assert.Equal((part, column), (fault.Part, fault.Column));
    }

    [Fact]
    public void A_long_expression_is_refused_with_its_limit()
    {
        var demand = string.Join(" and ", Enumerable.Repeat("purpose pr", 10_000));
        var fault = Assert.Throws<RuleError>(() => TriedRule.Of(Seen([Site()]), new("", demand), null, OnTheDay));
        Assert.Contains("at most 4000 characters", fault.Message);
    }

    private VisibleRegister Seen(IReadOnlyList<SiteFacts> sites, params Rule[] rules) =>
        RegisterIndex
            .Empty.With(
                new RuleBook(rules, OnTheDay).Judge([
                    .. sites.Select(site => new ComputedSite(site, harbour.Organisation, harbour.PeopleDirectory)),
                ])
            )
            .Seen(new Scope.Everything());

    private static SiteFacts Made(int id, int owners, int purpose, int visits, int existence) =>
        Site(
            owners == 1 ? [ToPerson(Power.Own, Vane)]
            : owners == 2 ? [ToAnonymous(Power.View)]
            : []
        ) with
        {
            Id = new SiteId(id),
            HostKey = $"s{id}",
            Purpose =
                purpose == 0 ? Known<string>.Unknown
                : purpose == 1 ? Known<string>.None
                : Known.Of("Handbook"),
            Visits = visits == 3 ? Known<int>.Unknown : Known.Of(visits),
            Existence = existence == 3 ? Existence.Attic : Existence.InUse,
            Sharing = owners == 3 ? Known<Sharing>.Unknown : Site(owners == 1 ? [ToPerson(Power.Own, Vane)] : []).Sharing,
        };

    private static Rule Rule(string id, string scope, Demand demand) =>
        new(new(id), "A rule", "a rule", Level.Warning, scope, demand, new DateOnly(2026, 1, 1));
}
