using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class AskOwnersFacts
{
    private readonly Harbour harbour = new();

    [Fact]
    public void Leaving_owners_get_one_mail_each_and_nothing_else_changes()
    {
        var plan = Assert.IsType<Decision.Plan>(
            AskOwners.Decide(Facts(Site(ToPerson(Power.Own, Farrow), ToPerson(Power.Own, Vane))), "Before the move", Steward)
        );

        var mail = Assert.Single(plan.Notifications);
        Assert.Equal((Farrow, true), (mail.To, mail.Urgent));
        Assert.Contains("Reason: Before the move", mail.Sentences);
        Assert.Empty(plan.HostChanges);
        Assert.Equal("Before the move", plan.Entries.Single().Reason);
    }

    [Fact]
    public void Each_reason_alone_refuses_it()
    {
        var leaving = Site(ToPerson(Power.Own, Farrow));

        Assert.Equal([new OwnersAskNobody()], Refused(leaving, new Actor(Farrow, Capacity.Owner)));
        Assert.Equal([new NobodyLeaves()], Refused(Site(ToPerson(Power.Own, Vane)), Steward));
        Assert.Equal([new SiteErased("Slipway")], Refused(leaving with { Existence = Existence.Erased }, Steward));
        Assert.Equal([new ReasonTooLong(501, 500)], Refused(leaving, Steward, new string('x', 501)));
    }

    private static readonly Actor Steward = new(Vane, Capacity.Steward);

    private IReadOnlyList<Remark> Refused(SiteFacts site, Actor actor, string? reason = null) =>
        Assert.IsType<Decision.Refusal>(AskOwners.Decide(Facts(site), reason, actor)).Reasons;

    private ActionFacts Facts(SiteFacts site) => new(site, [], harbour.Organisation, Harbour.NoRules, harbour.PeopleDirectory);
}
