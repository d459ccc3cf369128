using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Rules;

public class GroupFacts
{
    private static readonly Rule Keys = new(
        new("R-03"),
        "Two fit key holders",
        "few keys",
        Level.Should,
        "",
        new Demand.FitKeyHolders(2),
        default
    );
    private static readonly Rule Wide = new(
        new("R-07"),
        "No wider than allowed",
        "too wide",
        Level.Must,
        "",
        new Demand.WithinAllowed(),
        default
    );
    private readonly Harbour harbour = new Harbour().Limit(
        LayerKind.Organisation,
        "",
        Enforcer.House,
        Outside(OutsideLevel.NoOne)
    );

    [Fact]
    public void Too_few_keys_are_the_matter_of_whoever_goes_and_the_rest_is_the_rules()
    {
        var groups = Of(
            Site(ToPerson(Power.Own, Farrow)),
            Site(ToPerson(Power.Own, Farrow), ToPerson(Power.Own, Vane)),
            Site(ToPerson(Power.Own, Lund), ToPassersBy(Power.View)),
            Site(ToPerson(Power.Own, Vane))
        );

        Assert.Equal(
            [(null, "R-07", 0, 1), ("Petra Lund", null, 0, 1), ("Ottoline Farrow", null, 6, 2), (null, "R-03", null, 1)],
            groups.Select(group => (group.Person?.Name, group.Rule?.Id.Value, group.DaysLeft, group.Sites.Count))
        );
        Assert.Equal(1, groups.Single(group => group.Person?.Id == Farrow).OnlyOwner);
        Assert.Equal(5, groups.Sum(group => group.Must + group.Should + group.Look));
    }

    [Fact]
    public void Of_several_who_go_it_is_the_first_to_go_and_a_day_that_is_not_known_is_none()
    {
        harbour.People[0] = harbour.People[0] with { Standing = Standing.Leaving, Day = null };

        Assert.Equal(
            "Petra Lund",
            Assert
                .Single(Of(Site(ToPerson(Power.Own, Farrow), ToPerson(Power.Own, Lund))), group => group.Rule?.Id.Value != "R-07")
                .Person!.Name
        );
        Assert.Null(Assert.Single(Of(Site(ToPerson(Power.Own, Vane)))).DaysLeft);
    }

    [Fact]
    public void What_lies_in_the_attic_breaks_no_rule_unless_the_rule_speaks_of_it()
    {
        var away = Site(ToPassersBy(Power.View)) with { Existence = Existence.Attic };
        var speaking = Wide with { Id = new("R-08"), Scope = "existence eq \"attic\"" };

        Assert.Empty(Of(away));
        Assert.Equal(
            ["R-08"],
            new RuleBook([Keys, Wide, speaking], new DateOnly(2026, 11, 24))
                .Judge(new SiteLine(away, harbour.House, harbour.Roll))
                .Select(finding => finding.Rule.Id.Value)
        );
    }

    private IReadOnlyList<FindingGroup> Of(params IReadOnlyList<SiteFacts> sites) =>
        FindingGroups.Of(
            Seen([
                .. sites.Select(
                    (site, place) => new SiteLine(site with { Id = new SiteId(place + 1) }, harbour.House, harbour.Roll)
                ),
            ]),
            harbour.Roll
        );

    private static IEnumerable<SheetLine> Seen(IReadOnlyList<SiteLine> lines)
    {
        var all = JudgedSheet
            .Empty.With(new RuleBook([Keys, Wide], new DateOnly(2026, 11, 24)).Judge(lines))
            .Seen(new Sight.Everything());
        return all.Lines(all.All);
    }
}
