using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>A site that is no longer reported in one place and appears in another: proposed with evidence, decided by a
/// person.</summary>
public class MovingFacts
{
    private static readonly SiteFacts Gone = Site(ToPerson(Power.Own, Vane)) with { NoLongerReported = true, SeenAt = Now };
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
                    NoLongerReported = true,
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
            ["it has the same name", "somebody owns both", "it was created about when the other was no longer reported"],
            candidates[0].Because
        );
        Assert.Equal(["it has the same address, slipway.example/pilot-boarding"], candidates[2].Because);
    }

    [Fact]
    public void A_site_that_is_still_listed_or_was_placed_or_has_no_candidate_has_not_moved()
    {
        Assert.Empty(Moving.Refusals(Gone, There));
        Assert.Equal(
            new StillReported("Slipway", "Pilot boarding notes"),
            Assert.Single(Moving.Refusals(Gone with { NoLongerReported = false }, There))
        );
        Assert.Single(Moving.Refusals(Gone with { MovedTo = new SiteId(9) }, There));
        Assert.Single(Moving.Refusals(Gone, There with { Existence = Existence.Erased }));
    }

    [Fact]
    public void What_was_decided_goes_along_and_what_is_decided_there_stays()
    {
        var decided = Gone.WithClaim(ClaimedFact.Classification, Claims.Organisation, Known.Of("Guarded"), Now, Vane)
            .WithClaim(ClaimedFact.Unit, Claims.Organisation, Known.Of("YRD"), Now, Vane);
        var moved = Moving.Decide(
            decided,
            There.WithClaim(ClaimedFact.Unit, Claims.Organisation, Known.Of("MAR"), Now, Quist),
            Aske,
            "seen there",
            Now.AddDays(1)
        );
        Assert.Equal(There.Id, moved.From.MovedTo);
        Assert.Equal((Known.Of("Guarded"), Known.Of(Marine)), (moved.To.Classification, moved.To.Unit));
        Assert.Equal(
            [Vane, Quist],
            moved
                .To.Claims.Where(claim => claim.Source == Claims.Organisation)
                .OrderByDescending(claim => claim.Fact)
                .Select(claim => claim.By!.Value)
        );
        Assert.Equal(["site:1", "site:2"], moved.Entries.Select(entry => entry.Subject.Text));

        var back = Moving.Undo(moved.From, moved.To, Aske, null);
        Assert.Null(back.From.MovedTo);
        Assert.Equal(Known.Of("Guarded"), back.To.Classification);
    }
}
