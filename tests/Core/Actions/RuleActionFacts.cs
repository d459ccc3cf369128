using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>Versions of rules: which one is in force, which are still to come, and what undoing a version writes.</summary>
public class RuleActionFacts
{
    private static readonly RuleText Purpose = new("A purpose is set", "no purpose", Level.Note, "", "purpose pr");

    [Fact]
    public void The_greatest_version_that_has_begun_is_in_force_and_a_later_one_replaces_what_was_planned()
    {
        Rule[] versions = [Version(1, -10), Version(2, 5), Version(3, 2)];

        Assert.Equal([1], InForce(versions, 0));
        Assert.Equal([3], InForce(versions, 2));
        Assert.Equal([3], InForce(versions, 9));
        Assert.Equal([1, 3], RuleActions.FromOn(versions, OnTheDay.Day).Select(rule => rule.Version));
        Assert.Equal([3], RuleActions.FromOn(versions, OnTheDay.Day.AddDays(2)).Select(rule => rule.Version));
        Assert.Empty(InForce([.. versions, Version(4, 0, isOff: true)], 9));
        Assert.Empty(RuleActions.FromOn([.. versions, Version(4, 0, isOff: true)], OnTheDay.Day));
    }

    [Fact]
    public void A_new_rule_gets_the_number_after_the_greatest_and_a_built_in_demand_is_recognised()
    {
        var plan = RuleActions.Plan(
            new RuleRequest(null, Purpose with { Demand = " owners.active.count ge 3 " }, OnTheDay.Day, null),
            [Version(1, -10)],
            OnTheDay
        );

        Assert.Equal(("R-05", 1), (plan.Next!.Id.Value, plan.Next.Version));
        Assert.Equal(new Demand.ActiveOwners(3), plan.Next.Demand);
        Assert.Equal("R-01", RuleActions.Plan(new RuleRequest(null, Purpose, OnTheDay.Day, null), [], OnTheDay).Next!.Id.Value);
    }

    [Theory]
    [InlineData("exceeds eq false", typeof(Demand.WithinAllowed))]
    [InlineData("edit.inside le \"named\" and edit.outside le \"named-guests\"", typeof(Demand.EditingNamedOnly))]
    [InlineData("owners.active.count ge -1", typeof(Demand.General))]
    [InlineData("owners.active.count ge 2 and purpose pr", typeof(Demand.General))]
    public void A_demand_is_built_in_if_it_is_exactly_its_expression(string expression, Type kind)
    {
        Assert.IsType(kind, Demand.Of(expression));
        Assert.Equal(expression, Demand.Of(expression).Expression);
    }

    [Fact]
    public void Undoing_writes_what_the_rule_said_before_and_a_first_version_is_switched_off()
    {
        Rule[] versions = [Version(1, -10), Version(2, 0) with { Scope = "unit pr" }];

        var back = RuleActions.Back(versions[0].Id, 2, versions, OnTheDay)!;
        Assert.Equal("", back.Text!.Scope);
        Assert.Equal(OnTheDay.Day, back.From);
        Assert.Null(RuleActions.Back(versions[0].Id, 1, versions, OnTheDay));
        Assert.Null(RuleActions.Back(versions[0].Id, 1, [versions[0]], OnTheDay)!.Text);

        // One that took the place of a coming one: what was in force comes back, not what was still to come.
        Rule[] replaced = [Version(1, -10), Version(2, 7) with { Scope = "unit pr" }, Version(3, 0) with { Scope = "tags pr" }];
        var (text, from) = RuleActions.Back(replaced[0].Id, 3, replaced, OnTheDay) is var third
            ? (third!.Text!, third.From)
            : default;
        Assert.Equal(("", OnTheDay.Day), (text.Scope, from));

        // One that has not begun is replaced from its own first day on.
        Assert.Equal(OnTheDay.Day.AddDays(7), RuleActions.Back(versions[0].Id, 1, [Version(1, 7)], OnTheDay)!.From);
    }

    [Fact]
    public void A_full_book_takes_no_new_rule_and_a_version_cannot_begin_in_the_past()
    {
        List<Rule> full =
        [
            .. Enumerable.Range(1, RuleActions.MostRules).Select(id => Version(1, 0) with { Id = new($"R-{id}") }),
        ];

        Assert.Equal(
            [new RuleBookFull(2000)],
            RuleActions.Plan(new RuleRequest(null, Purpose, OnTheDay.Day, null), full, OnTheDay).Refused
        );
        Assert.NotNull(
            RuleActions
                .Plan(new RuleRequest("R-7", Purpose with { Scope = "unit pr" }, OnTheDay.Day, "wider"), full, OnTheDay)
                .Next
        );
        Assert.Equal(
            [new RuleBeginsBefore(OnTheDay.Day)],
            RuleActions.Plan(new RuleRequest(null, Purpose, OnTheDay.Day.AddDays(-1), null), [], OnTheDay).Refused
        );
        Assert.Equal(
            DateOnly.MaxValue,
            RuleActions.Plan(new RuleRequest(null, Purpose, DateOnly.MaxValue, null), [], OnTheDay).Next!.From
        );
    }

    private static Rule Version(int version, int day, bool isOff = false) =>
        new(
            new RuleId("R-04"),
            "A purpose is set",
            "no purpose",
            Level.Note,
            "",
            new Demand.General("purpose pr"),
            OnTheDay.Day.AddDays(day)
        )
        {
            Version = version,
            IsOff = isOff,
        };

    private static IEnumerable<int> InForce(IReadOnlyList<Rule> versions, int day) =>
        RuleBook.InForce(versions, OnTheDay.Day.AddDays(day)).Select(rule => rule.Version);
}
