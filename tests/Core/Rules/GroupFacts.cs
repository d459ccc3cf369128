using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Rules;

public class GroupFacts
{
    private static readonly Rule Owners = new(
        new("R-03"),
        "Two active owners",
        "too few owners",
        Level.Warning,
        "",
        new Demand.ActiveOwners(2),
        default
    );
    private static readonly Rule Wide = new(
        new("R-07"),
        "No wider than allowed",
        "too wide",
        Level.Critical,
        "",
        new Demand.WithinAllowed(),
        default
    );
    private readonly Harbour harbour = new Harbour().Limit(
        LayerKind.Organisation,
        "",
        Enforcer.Policy,
        Outside(OutsideLevel.NoOne)
    );

    [Theory]
    [InlineData("R-03", "Two active owners", """{"rule":"R-03"}""")]
    [InlineData("petra.lund@merrowby.example", "Petra Lund", """{"person":"person:4"}""")]
    [InlineData("petra.lund@merrowby.example at Quay", "Petra Lund at Quay", """{"host":"Quay","person":"person:4"}""")]
    [InlineData("nobody@merrowby.example at Quay", "somebody at Quay", """{"host":"Quay","person":{"unknown":true}}""")]
    public void A_cause_is_read_with_its_name_and_the_journal_has_no_mail_address(string name, string title, string journal)
    {
        var rules = new RuleBook([Owners], OnTheDay);

        Assert.Equal(title, Cause.Title(name, rules, harbour.PeopleDirectory));
        Assert.Equal(journal, JournalValue.Of([.. Cause.InJournal(name, rules, harbour.PeopleDirectory)]).Canonical());
    }

    [Fact]
    public void Too_few_owners_name_the_first_who_leaves_and_the_rest_is_the_rules()
    {
        var groups = Of(
            Site(ToPerson(Power.Own, Farrow)),
            Site(ToPerson(Power.Own, Farrow), ToPerson(Power.Own, Vane)),
            Site(ToPerson(Power.Own, Lund), ToAnonymous(Power.View)),
            Site(ToPerson(Power.Own, Vane))
        );

        // Lund has left and owns the third site alone: handing it over also removes the access.
        Assert.Equal(
            [
                ("petra.lund@merrowby.example", 0, 1),
                ("R-07", 0, 1),
                ("ottoline.farrow@merrowby.example", 6, 2),
                ("R-03", null, 1),
            ],
            groups.Select(group => (group.Cause.Name, group.DaysLeft, group.Sites.Count))
        );
        Assert.Equal(1, groups.Single(group => group.Cause.Person?.Id == Farrow).OnlyOwner);
        Assert.Equal((1, 1), (groups[0].Critical, groups[0].Warnings));
    }

    [Fact]
    public void Who_has_left_and_still_has_access_is_a_cause_of_their_own_at_each_host()
    {
        var groups = Of(
            Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Aske), ToPerson(Power.Edit, Lund)),
            Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Aske), ToPerson(Power.View, Lund), ToAnonymous(Power.View)),
            Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Aske), ToPerson(Power.Edit, Lund)) with
            {
                Host = "Quay",
            }
        );

        Assert.Equal(
            [
                (CauseKind.StillHasAccess, "petra.lund@merrowby.example at Slipway", 2),
                (CauseKind.StillHasAccess, "petra.lund@merrowby.example at Quay", 1),
                (CauseKind.Rule, "R-07", 1),
            ],
            groups
                .OrderByDescending(group => group.Cause.Kind)
                .Select(group => (group.Cause.Kind, group.Cause.Name, group.Sites.Count))
        );
    }

    [Fact]
    public void Of_several_who_go_it_is_the_first_to_go_and_a_day_that_is_not_known_is_none()
    {
        harbour.People[0] = harbour.People[0] with { Standing = Standing.Leaving, Day = null };

        Assert.Equal(
            "Petra Lund",
            Assert
                .Single(Of(Site(ToPerson(Power.Own, Farrow), ToPerson(Power.Own, Lund))), group =>
                    group.Cause.Kind == CauseKind.OwnerLeaves
                )
                .Cause.Person!.Name
        );
        Assert.Null(Assert.Single(Of(Site(ToPerson(Power.Own, Vane)))).DaysLeft);
    }

    [Fact]
    public void A_site_in_the_attic_breaks_no_rule_unless_the_rule_names_the_attic()
    {
        var away = Site(ToAnonymous(Power.View)) with { Existence = Existence.Attic };
        var speaking = Wide with { Id = new("R-08"), Scope = "existence eq \"attic\"" };

        Assert.Empty(Of(away));
        Assert.Equal(
            ["R-08"],
            new RuleBook([Owners, Wide, speaking], OnTheDay)
                .Judge(new ComputedSite(away, harbour.Organisation, harbour.PeopleDirectory))
                .Select(finding => finding.Rule.Id.Value)
        );
    }

    [Theory]
    [InlineData(15, 2, "OwnersLeaveLater 2")]
    [InlineData(15, 1, "")]
    [InlineData(14, 3, "")]
    [InlineData(14, 4, "OwnersLeaveSoon 4")]
    [InlineData(-1, 3, "")]
    [InlineData(-1, 4, "OwnersLeft 4")]
    public void Owners_who_leave_later_are_decided_as_one_and_urgent_ones_where_there_are_many(
        int days,
        int owners,
        string together
    )
    {
        for (var one = 0; one < owners; one++)
        {
            harbour.People.Add(
                harbour.People[0] with
                {
                    Id = new PersonId(50 + one),
                    Mail = $"leaver{one}@merrowby.example",
                    Standing = days < 0 ? Standing.Left : Standing.Leaving,
                    Day = OnTheDay.Day.AddDays(days),
                }
            );
        }

        var groups = Of([.. Enumerable.Range(50, owners).Select(id => Site(ToPerson(Power.Own, new PersonId(id))))]);
        Assert.Equal(
            together,
            string.Join(' ', FindingGroups.Together(groups).Select(people => $"{people.Kind} {people.Groups.Count}"))
        );
    }

    private IReadOnlyList<FindingGroup> Of(params IReadOnlyList<SiteFacts> sites) =>
        FindingGroups.Of(
            Seen([
                .. sites.Select(
                    (site, place) =>
                        new ComputedSite(site with { Id = new SiteId(place + 1) }, harbour.Organisation, harbour.PeopleDirectory)
                ),
            ]),
            harbour.PeopleDirectory
        );

    private static IEnumerable<RegisterRow> Seen(IReadOnlyList<ComputedSite> lines)
    {
        var all = RegisterIndex.Empty.With(new RuleBook([Owners, Wide], OnTheDay).Judge(lines)).Seen(new Scope.Everything());
        return all.Lines(all.All);
    }
}
