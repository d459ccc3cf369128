using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>Who may place and release a hold, and when: each guard is the only reason in its case.</summary>
public class HoldActionFacts
{
    private static readonly DateOnly Later = new(2026, 12, 31);
    private readonly Harbour harbour = new();
    private readonly Actor administrator = new(Aske);
    private readonly Actor owner = new(Vane, Capacity.Owner);
    private readonly Hold held = new(1, "Inquiry 9", Aske, Now.AddDays(-1), Later);

    [Fact]
    public void A_hold_is_placed_with_a_reason_until_a_day_that_is_not_over()
    {
        var plan = Assert.IsType<Decision.Plan>(HoldActions.Place(Facts(), new HoldRequest("Inquiry 9", Later), administrator));
        Assert.Equal(("Inquiry 9", Later, Aske), (plan.Hold!.Reason, plan.Hold.Through, plan.Hold.By));
        Assert.Equal(new HoldNotByOwners(), OnlyReason(HoldActions.Place(Facts(), new("Inquiry 9", Later), owner)));
        Assert.Equal(new HoldNeedsReason(), OnlyReason(HoldActions.Place(Facts(), new(" ", Later), administrator)));
        Assert.Equal(
            new LastDayPassed(new DateOnly(2026, 11, 23)),
            OnlyReason(HoldActions.Place(Facts(), new("Inquiry 9", new DateOnly(2026, 11, 23)), administrator))
        );
        Assert.Equal(
            new ErasedNotHeld("Slipway"),
            OnlyReason(
                HoldActions.Place(
                    Facts() with
                    {
                        Site = Site() with { Existence = Existence.Erased },
                    },
                    new("Inquiry 9", Later),
                    administrator
                )
            )
        );
    }

    [Fact]
    public void A_hold_in_force_is_released_with_a_reason()
    {
        var plan = Assert.IsType<Decision.Plan>(HoldActions.Release(Facts(held), 1, "Closed", administrator));
        Assert.Equal(Now, plan.Hold!.Released);
        Assert.Equal(new HoldNotByOwners(), OnlyReason(HoldActions.Release(Facts(held), 1, "Closed", owner)));
        Assert.Equal(new HoldReleaseNeedsReason(), OnlyReason(HoldActions.Release(Facts(held), 1, null, administrator)));
        Assert.Equal(new HoldEnded(), OnlyReason(HoldActions.Release(Facts(held), 2, "Closed", administrator)));
        Assert.Equal(
            new HoldEnded(),
            OnlyReason(HoldActions.Release(Facts(held with { Released = Now.AddHours(-1) }), 1, "Closed", administrator))
        );
        Assert.Equal(
            new HoldEnded(),
            OnlyReason(HoldActions.Release(Facts(held with { Through = new DateOnly(2026, 11, 23) }), 1, "Closed", administrator))
        );
    }

    private ActionFacts Facts(params IReadOnlyList<Hold> holds) =>
        new(Site(), [], harbour.Organisation, Harbour.NoRules, harbour.PeopleDirectory) { Holds = holds };

    private static Remark OnlyReason(Decision decision) => Assert.Single(Assert.IsType<Decision.Refusal>(decision).Reasons);
}
