using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class PutOffFacts
{
    private static readonly DateOnly Last = OnTheDay.Day.AddDays(10);
    private static readonly PutOff Waiting = new(
        "causes:is:R-02",
        Last,
        "After the move",
        Aske,
        Now,
        [new SiteId(1), new SiteId(2)]
    );

    [Fact]
    public void A_decision_waits_until_the_end_of_its_day_and_only_for_the_sites_that_it_had()
    {
        Assert.True(Holds(Now, 1, 2));
        Assert.True(Holds(Time.EndOf(Last).AddTicks(-1), 2));
        Assert.False(Holds(Time.EndOf(Last), 2));
        Assert.False(Holds(Now, 2, 3));
    }

    [Fact]
    public void Each_reason_alone_refuses_it()
    {
        Assert.Empty(Refusals("After the move", Last));
        Assert.Equal([new PutOffNeedsReason()], Refusals(" ", Last));
        Assert.Equal([new ReasonTooLong(501, 500)], Refusals(new string('x', 501), Last));
        Assert.Equal([new LastDayPassed(OnTheDay.Day.AddDays(-1))], Refusals("Why", OnTheDay.Day.AddDays(-1)));
        Assert.Equal([new PutOffTooLong(90)], Refusals("Why", OnTheDay.Day.AddDays(91)));
        Assert.Empty(Refusals("Why", OnTheDay.Day.AddDays(90)));
    }

    private static bool Holds(DateTimeOffset now, params long[] sites) =>
        Waiting.Holds(sites.Select(site => new SiteId(site)), now, Time);

    private static IReadOnlyList<Remark> Refusals(string reason, DateOnly through) =>
        PuttingOff.Refusals(reason, through, Now, Time);
}
