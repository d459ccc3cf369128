using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

/// <summary>A site that vanishes here and appears there: proposed with reasons, decided by a person.</summary>
public class MovingFacts
{
    private static readonly SiteFacts Gone = Site(ToPerson(Power.Own, Vane)) with { Vanished = true, SeenAt = Now };
    private static readonly SiteFacts There = Site(ToPerson(Power.Own, Vane)) with
    {
        Id = new SiteId(2),
        Host = "Quay",
        HostKey = "q1",
        Name = Known.Of("PILOT boarding notes (new)"),
        Address = Known.Of("quay.example/pilots"),
        Created = Known.Of(Now.AddDays(-3)),
    };

    [Fact]
    public void What_has_most_in_common_comes_first_with_each_reason()
    {
        var bare = There with
        {
            Id = new SiteId(3),
            Created = Known<DateTimeOffset>.Unknown,
            Sharing = Site(ToPerson(Power.Own, Quist)).Sharing,
        };
        var same = Site() with { Id = new SiteId(4), Host = "Quay", Name = Known.Of("Something else") };
        var candidates = Moving.Candidates(
            Gone,
            [
                bare,
                same,
                There,
                Gone,
                There with
                {
                    Id = new SiteId(5),
                    Vanished = true,
                },
                Site() with
                {
                    Id = new SiteId(6),
                    Name = Known.Of("Tides"),
                    Address = Known.Of("x"),
                },
            ]
        );
        Assert.Equal([There.Id, bare.Id, same.Id], candidates.Select(candidate => candidate.Site.Id));
        Assert.Equal(
            ["its name says the same", "somebody owns both", "it was made about when the other vanished"],
            candidates[0].Because
        );
        Assert.Equal(["it stands at the same address, slipway.example/pilot-boarding"], candidates[2].Because);
    }

    [Fact]
    public void A_site_that_is_still_listed_or_has_been_placed_already_or_goes_nowhere_has_not_moved()
    {
        Assert.Empty(Moving.Refusals(Gone, There));
        Assert.Equal(
            "Slipway still lists Pilot boarding notes: a site that is at two places is no moved one.",
            Assert.Single(Moving.Refusals(Gone with { Vanished = false }, There))
        );
        Assert.Single(Moving.Refusals(Gone with { MovedTo = new SiteId(9) }, There));
        Assert.Single(Moving.Refusals(Gone, There with { Existence = Existence.Cleared }));
    }

    [Fact]
    public void What_was_decided_goes_along_and_what_is_decided_there_stays()
    {
        var decided = Gone.Heard(SaidFact.Class, Statements.House, Known.Of("Guarded"), Now, Vane)
            .Heard(SaidFact.Unit, Statements.House, Known.Of("YRD"), Now, Vane);
        var moved = Moving.Decide(
            decided,
            There.Heard(SaidFact.Unit, Statements.House, Known.Of("MAR"), Now, Quist),
            Aske,
            "seen there",
            Now.AddDays(1)
        );
        Assert.Equal(There.Id, moved.From.MovedTo);
        Assert.Equal((Known.Of("Guarded"), Known.Of(Marine)), (moved.To.Class, moved.To.Unit));
        Assert.Equal(
            [Vane, Quist],
            moved
                .To.Said.Where(said => said.Source == Statements.House)
                .OrderByDescending(said => said.Fact)
                .Select(said => said.By!.Value)
        );
        Assert.Equal(["site:1", "site:2"], moved.Entries.Select(entry => entry.Subject));

        var back = Moving.Undo(moved.From, moved.To, Aske, null);
        Assert.Null(back.From.MovedTo);
        Assert.Equal(Known.Of("Guarded"), back.To.Class);
    }
}
