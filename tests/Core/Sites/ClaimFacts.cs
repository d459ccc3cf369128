using AtticLedger.Core.Actions;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Sites;

/// <summary>Sources that disagree about a site: both claims are kept with times, and the more direct source applies.</summary>
public class ClaimFacts
{
    private static readonly SiteFacts Here = Site() with { Classification = Known<string>.Unknown, SeenAt = Now };

    [Fact]
    public void What_the_host_alone_claims_needs_no_statement()
    {
        var site = Here.Beside([], Now);
        Assert.Empty(site.Claims);
        Assert.Empty(site.Disputed());
        Assert.Equal(Known.Of(Pilotage), site.Unit);
    }

    [Fact]
    public void A_list_adds_what_the_host_does_not_report_and_yields_where_it_does()
    {
        var site = Here.WithClaim(ClaimedFact.Classification, "Yard list", Known.Of("Guarded"), Now, null)
            .WithClaim(ClaimedFact.Unit, "Yard list", Known.Of("YRD"), Now, null);
        Assert.Equal((Known.Of("Guarded"), Known.Of(Pilotage)), (site.Classification, site.Unit));
        Assert.Equal([ClaimedFact.Unit], site.Disputed());
        Assert.Equal(
            [("Slipway", "PIL"), ("Yard list", "YRD")],
            site.Claims.Where(claim => claim.Fact == ClaimedFact.Unit).Select(claim => (claim.Source, claim.Value!))
        );
    }

    [Fact]
    public void Another_name_and_address_in_a_list_are_kept_beside_the_hosts_and_never_stand_before_them()
    {
        var site = Here.Listed(
            "Yard list",
            new Dictionary<ClaimedFact, Known<string>>
            {
                [ClaimedFact.Name] = Known.Of("Boarding"),
                [ClaimedFact.Address] = Known.Of("slipway.example/boarding"),
            },
            Now
        );
        Assert.Equal((Here.Name, Here.Address), (site.Name, site.Address));
        Assert.Equal([ClaimedFact.Name, ClaimedFact.Address], site.Disputed());
        Assert.Equal(
            new FactOfHost(ClaimedFact.Name),
            SetFact.NotChosen(ClaimedFact.Name, "Boarding", new Organisation(), new Harbour().PeopleDirectory)
        );

        // The list agrees now, so nothing is disputed.
        Assert.Empty(
            site.Listed(
                    "Yard list",
                    new Dictionary<ClaimedFact, Known<string>>
                    {
                        [ClaimedFact.Name] = Here.Name,
                        [ClaimedFact.Address] = Here.Address,
                    },
                    Now.AddDays(1)
                )
                .Disputed()
        );
    }

    [Fact]
    public void A_decision_settles_all_earlier_claims_and_a_later_claim_disputes_it()
    {
        var disputed = Here.WithClaim(ClaimedFact.Unit, "Yard list", Known.Of("YRD"), Now, null);
        var decided = disputed.WithClaim(ClaimedFact.Unit, Claims.Organisation, Known.Of("MAR"), Now.AddDays(7), Vane);
        Assert.Equal((Known.Of(Marine), 0), (decided.Unit, decided.Disputed().Count));

        // The same claims for a week change nothing; then the host makes a new claim.
        var same = Enumerable
            .Range(8, 7)
            .Aggregate(decided, (site, day) =>
                Here.Beside(site.Claims, Now.AddDays(day))
                    .WithClaim(ClaimedFact.Unit, "Yard list", Known.Of("YRD"), Now.AddDays(day), null)
            );
        Assert.Equal(decided.Claims, same.Claims);
        var anew = (Here with { Unit = Known.Of(Yard) }).Beside(decided.Claims, Now.AddDays(20));
        Assert.Equal(Known.Of(Marine), anew.Unit);
        Assert.Equal([ClaimedFact.Unit], anew.Disputed());

        // Another decision settles it; after an undo the most direct source applies again.
        Assert.Empty(anew.WithClaim(ClaimedFact.Unit, Claims.Organisation, Known.Of("MAR"), Now.AddDays(21), Vane).Disputed());
        Assert.Equal(
            Known.Of(Yard),
            anew.WithClaim(ClaimedFact.Unit, Claims.Organisation, Known<string>.Unknown, Now.AddDays(21), Vane).Unit
        );
    }

    [Fact]
    public void When_every_other_claim_is_withdrawn_no_statement_is_left()
    {
        var site = Here.WithClaim(ClaimedFact.Unit, "Yard list", Known.Of("YRD"), Now, null)
            .WithClaim(ClaimedFact.Unit, "Yard list", Known<string>.Unknown, Now.AddDays(1), null);
        Assert.Empty(site.Claims);
        Assert.Equal(Known.Of(Pilotage), site.Unit);
    }

    [Fact]
    public void A_sync_keeps_a_decision_records_what_the_host_claims_and_the_same_sync_writes_nothing()
    {
        var known = Here.WithClaim(ClaimedFact.Classification, Claims.Organisation, Known.Of("Guarded"), Now, Vane);
        var seen = Here with { Classification = Known.Of("Open"), SeenAt = Now.AddDays(1) };
        var taken = Intake.Take(known, seen, [], Now.AddDays(1), Now.AddDays(1));
        Assert.Equal((Known.Of("Guarded"), 1), (taken.Site.Classification, taken.Site.Disputed().Count));
        Assert.NotNull(taken.Entry);

        var again = Intake.Take(taken.Site, seen with { SeenAt = Now.AddDays(2) }, [], Now.AddDays(2), Now.AddDays(2));
        Assert.Equal((null, false), (again.Entry, again.IsNews));
    }
}
