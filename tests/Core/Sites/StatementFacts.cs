using AtticLedger.Core.Deeds;
using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Sites;

/// <summary>Sources that disagree about a site: both kept, with times; the more direct wins.</summary>
public class StatementFacts
{
    private static readonly SiteFacts Here = Site() with { Class = Known<string>.Unknown, SeenAt = Now };

    [Fact]
    public void What_the_host_alone_says_needs_no_statement()
    {
        var site = Here.Beside([], Now);
        Assert.Empty(site.Said);
        Assert.Empty(site.Disputed());
        Assert.Equal(Known.Of(Pilotage), site.Unit);
    }

    [Fact]
    public void A_list_adds_what_the_host_does_not_say_and_stands_back_where_it_does()
    {
        var site = Here.Heard(SaidFact.Class, "Yard list", Known.Of("Guarded"), Now, null)
            .Heard(SaidFact.Unit, "Yard list", Known.Of("YRD"), Now, null);
        Assert.Equal((Known.Of("Guarded"), Known.Of(Pilotage)), (site.Class, site.Unit));
        Assert.Equal([SaidFact.Unit], site.Disputed());
        Assert.Equal(
            [("Slipway", "PIL"), ("Yard list", "YRD")],
            site.Said.Where(said => said.Fact == SaidFact.Unit).Select(said => (said.Source, said.Value!))
        );
    }

    [Fact]
    public void Another_name_and_address_in_a_list_are_kept_beside_the_hosts_and_never_stand_before_them()
    {
        var site = Here.Listed(
            "Yard list",
            new Dictionary<SaidFact, Known<string>>
            {
                [SaidFact.Name] = Known.Of("Boarding"),
                [SaidFact.Address] = Known.Of("slipway.example/boarding"),
            },
            Now
        );
        Assert.Equal((Here.Name, Here.Address), (site.Name, site.Address));
        Assert.Equal([SaidFact.Name, SaidFact.Address], site.Disputed());
        Assert.Equal(
            "The name is what its host says. Correct it there, or in the list that says otherwise.",
            Say.NotChosen(SaidFact.Name, "Boarding", new House(), new Harbour().Roll)
        );

        // The list comes round: nothing is disputed any more.
        Assert.Empty(
            site.Listed(
                    "Yard list",
                    new Dictionary<SaidFact, Known<string>> { [SaidFact.Name] = Here.Name, [SaidFact.Address] = Here.Address },
                    Now.AddDays(1)
                )
                .Disputed()
        );
    }

    [Fact]
    public void A_decision_settles_what_was_said_until_then_and_what_is_said_anew_disputes_it()
    {
        var disputed = Here.Heard(SaidFact.Unit, "Yard list", Known.Of("YRD"), Now, null);
        var decided = disputed.Heard(SaidFact.Unit, Statements.House, Known.Of("MAR"), Now.AddDays(7), Vane);
        Assert.Equal((Known.Of(Marine), 0), (decided.Unit, decided.Disputed().Count));

        // A week of the same from both changes nothing; then the host says something new.
        var same = Enumerable
            .Range(8, 7)
            .Aggregate(decided, (site, day) =>
                Here.Beside(site.Said, Now.AddDays(day))
                    .Heard(SaidFact.Unit, "Yard list", Known.Of("YRD"), Now.AddDays(day), null)
            );
        Assert.Equal(decided.Said, same.Said);
        var anew = (Here with { Unit = Known.Of(Yard) }).Beside(decided.Said, Now.AddDays(20));
        Assert.Equal(Known.Of(Marine), anew.Unit);
        Assert.Equal([SaidFact.Unit], anew.Disputed());

        // Decided once more, it is settled; taken back, the most direct source stands again.
        Assert.Empty(anew.Heard(SaidFact.Unit, Statements.House, Known.Of("MAR"), Now.AddDays(21), Vane).Disputed());
        Assert.Equal(
            Known.Of(Yard),
            anew.Heard(SaidFact.Unit, Statements.House, Known<string>.Unknown, Now.AddDays(21), Vane).Unit
        );
    }

    [Fact]
    public void When_everybody_else_has_taken_back_what_they_said_no_statement_is_left()
    {
        var site = Here.Heard(SaidFact.Unit, "Yard list", Known.Of("YRD"), Now, null)
            .Heard(SaidFact.Unit, "Yard list", Known<string>.Unknown, Now.AddDays(1), null);
        Assert.Empty(site.Said);
        Assert.Equal(Known.Of(Pilotage), site.Unit);
    }

    [Fact]
    public void A_read_keeps_a_decision_writes_what_the_host_says_beside_it_and_the_same_read_writes_nothing()
    {
        var known = Here.Heard(SaidFact.Class, Statements.House, Known.Of("Guarded"), Now, Vane);
        var seen = Here with { Class = Known.Of("Open"), SeenAt = Now.AddDays(1) };
        var taken = Intake.Take(known, seen, [], Now.AddDays(1), Now.AddDays(1));
        Assert.Equal((Known.Of("Guarded"), 1), (taken.Site.Class, taken.Site.Disputed().Count));
        Assert.NotNull(taken.Entry);

        var again = Intake.Take(taken.Site, seen with { SeenAt = Now.AddDays(2) }, [], Now.AddDays(2), Now.AddDays(2));
        Assert.Equal((null, false), (again.Entry, again.IsNews));
    }
}
