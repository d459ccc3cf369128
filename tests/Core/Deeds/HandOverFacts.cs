using AtticLedger.Core.Deeds;
using AtticLedger.Core.Keys;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

public class HandOverFacts
{
    private readonly Harbour harbour = new();
    private readonly SiteFacts site = Site(ToPerson(Power.Own, Vane), ToPerson(Power.Edit, Quist), ToStaff(Power.View));

    [Fact]
    public void An_owner_who_leaves_lays_the_key_down_in_the_moment_in_which_the_heir_takes_it_up()
    {
        var plan = Offered(new OfferWish(Aske, Vane, GiverAfter.Leaves, null), new Doer(Vane, Capacity.Owner));
        var switching = Assert.IsType<Decision.Plan>(
            HandOver.Countersign(Facts(site), plan.Offers[0], new OrderId(Guid.NewGuid()), new Doer(Aske, Capacity.Owner))
        );

        Assert.Empty(plan.Orders);
        Assert.Null(plan.NeedsSecond);
        var key = "person:tomas.aske@merrowby.example";
        Assert.Equal(
            [new GrantChange(key, new Grant(key, Power.Own, new Subject.OnePerson(Aske))), new GrantChange("person:1", null)],
            Assert.Single(switching.Orders).Wish.Grants
        );
        Assert.Equal(plan.Effect.InJournal.Canonical(), switching.Effect.InJournal.Canonical());
        Assert.Equal(["Idris Vane can still view through All of the staff."], switching.Remains);
    }

    [Fact]
    public void An_owner_who_stays_keeps_editing_and_an_editor_who_takes_the_key_has_one_grant()
    {
        var plan = Offered(new OfferWish(Quist, Vane, GiverAfter.Stays, null), new Doer(Vane, Capacity.Owner));

        Assert.Equal(
            [("person:2", Power.Own), ("person:1", Power.Edit)],
            plan.Effect.Grants.Select(change => (change.Key, change.Wanted!.Power))
        );
    }

    [Fact]
    public void The_letter_to_the_heir_says_who_what_until_when_and_leads_to_the_offer()
    {
        var letter = Assert.Single(
            Offered(new OfferWish(Aske, Vane, GiverAfter.Leaves, "I move to the yard"), new Doer(Vane, Capacity.Owner)).Letters
        );

        Assert.Equal(Aske, letter.To);
        Assert.True(letter.Urgent);
        Assert.Contains("Idris Vane offers you the key of Pilot boarding notes and will leave the site.", letter.Sentences);
        Assert.Contains("The reason given: I move to the yard", letter.Sentences);
        Assert.Contains("You can answer through 8 Dec 2026; after that the offer lapses.", letter.Sentences);
        Assert.Equal(
            (LinkPurpose.Offer, new DateTimeOffset(2026, 12, 9, 0, 0, 0, TimeSpan.Zero)),
            (letter.Link!.Purpose, letter.Link.Until)
        );
    }

    public static TheoryData<long, string> NotTo =>
        new()
        {
            { Farrow.Value, "Ottoline Farrow leaves on 30 Nov." },
            { Lund.Value, "Petra Lund has left." },
            { Agent.Value, "Bo Reyes is from outside the house." },
            { Robot.Value, "Tide gauge is a service and no person." },
            { Vane.Value, "Idris Vane holds a key already." },
        };

    [Theory]
    [MemberData(nameof(NotTo))]
    public void A_key_is_not_offered_to_who_is_not_fit_or_holds_one(long to, string reason)
    {
        var refusal = Assert.IsType<Decision.Refusal>(
            Offer(new OfferWish(new PersonId(to), Vane, GiverAfter.Leaves, null), new Doer(Vane, Capacity.Steward))
        );

        Assert.Contains(reason, refusal.Reasons);
    }

    [Fact]
    public void An_administrator_gives_only_for_who_cannot_and_with_a_reason_and_a_second_person()
    {
        var stillHere = Assert.IsType<Decision.Refusal>(
            Offer(new OfferWish(Aske, Vane, GiverAfter.Leaves, "tidy"), new Doer(Trainee))
        );
        Assert.Equal(["Idris Vane is still here and has to offer it: ask for that instead."], stillHere.Reasons);

        var orphan = Site(ToPerson(Power.Own, Lund));
        var withoutReason = Assert.IsType<Decision.Refusal>(
            HandOver.Offer(Facts(orphan), new OfferWish(Aske, Lund, GiverAfter.Leaves, null), default, new Doer(Trainee))
        );
        Assert.Equal(["Giving a key in the place of its holder needs a reason."], withoutReason.Reasons);

        var given = Assert.IsType<Decision.Plan>(
            HandOver.Offer(Facts(orphan), new OfferWish(Aske, Lund, GiverAfter.Leaves, "left"), default, new Doer(Trainee))
        );
        Assert.NotNull(given.NeedsSecond);
    }

    [Fact]
    public void The_key_of_a_site_that_nobody_owns_can_be_given_and_that_of_an_owned_one_cannot()
    {
        Assert.IsType<Decision.Plan>(
            HandOver.Offer(
                Facts(Site(ToStaff(Power.View))),
                new OfferWish(Aske, null, GiverAfter.Leaves, "nobody"),
                default,
                new Doer(Trainee)
            )
        );
        Assert.Contains(
            "The site has a fit owner: the key is theirs to offer.",
            Assert.IsType<Decision.Refusal>(Offer(new OfferWish(Aske, null, GiverAfter.Leaves, "x"), new Doer(Trainee))).Reasons
        );
    }

    [Fact]
    public void Only_the_very_person_it_was_offered_to_countersigns()
    {
        var offer = Offered(new OfferWish(Aske, Vane, GiverAfter.Leaves, null), new Doer(Vane, Capacity.Owner)).Offers[0];

        Assert.Equal(
            ["This offer was made to somebody else."],
            Assert
                .IsType<Decision.Refusal>(HandOver.Countersign(Facts(site), offer, default, new Doer(Quist, Capacity.Owner)))
                .Reasons
        );
        Assert.IsType<Decision.Refusal>(HandOver.Countersign(Facts(site), offer, default, new Doer(Trainee)));
    }

    [Fact]
    public void A_giver_who_lost_the_key_meanwhile_has_none_to_give()
    {
        var offer = Offered(new OfferWish(Aske, Vane, GiverAfter.Leaves, null), new Doer(Vane, Capacity.Owner)).Offers[0];
        var refusal = Assert.IsType<Decision.Refusal>(
            HandOver.Countersign(Facts(Site(ToPerson(Power.Own, Quist))), offer, default, new Doer(Aske, Capacity.Owner))
        );

        Assert.Equal(["Idris Vane no longer holds the key of this site, so it is not theirs to give."], refusal.Reasons);
    }

    [Fact]
    public void A_switch_that_waited_until_the_heir_left_is_withdrawn_before_the_host_is_asked()
    {
        var offer = Offered(new OfferWish(Aske, Vane, GiverAfter.Leaves, null), new Doer(Vane, Capacity.Owner)).Offers[0];
        var order = Assert
            .IsType<Decision.Plan>(
                HandOver.Countersign(Facts(site), offer, new OrderId(Guid.NewGuid()), new Doer(Aske, Capacity.Owner))
            )
            .Orders[0];
        Assert.Null(Lane.Withdrawn(order, harbour.Roll));

        harbour.People[4] = harbour.People[4] with { Standing = People.Standing.Left };

        Assert.Equal(
            (OrderState.Withdrawn, "Tomas Aske was to take the key and has left."),
            (Lane.Withdrawn(order, harbour.Roll)!.State, Lane.Withdrawn(order, harbour.Roll)!.Words)
        );
        Assert.Null(Lane.Withdrawn(Lane.Take(order, "w", Now), harbour.Roll));
    }

    [Fact]
    public void A_countersigned_handover_is_not_undone_as_an_order()
    {
        var offer = Offered(new OfferWish(Aske, Vane, GiverAfter.Leaves, null), new Doer(Vane, Capacity.Owner)).Offers[0];
        var order = Assert
            .IsType<Decision.Plan>(
                HandOver.Countersign(Facts(site), offer, new OrderId(Guid.NewGuid()), new Doer(Aske, Capacity.Owner))
            )
            .Orders[0];

        Assert.Contains(
            "cannot be undone",
            Assert.IsType<Decision.Refusal>(UndoOrder.Decide(Facts(site), order, default, new Doer(Vane), null)).Reasons[0]
        );
    }

    [Fact]
    public void Successors_stand_by_edits_then_unit_then_load_and_who_cannot_comes_last_with_the_reason()
    {
        var keys = KeyHolders.Of(site, harbour.Roll, 14);
        var edits = Known<IReadOnlyList<EditsBy>>.Of([
            new EditsBy(Aske, 3, Now.AddDays(-2)),
            new EditsBy(Lund, 40, Now.AddDays(-80)),
        ]);
        var candidates = Successors.Of(
            site,
            keys,
            edits,
            new Dictionary<PersonId, int> { [Quist] = 5 },
            harbour.Roll,
            14,
            knowsDays: true
        );

        Assert.Equal(
            [Aske, Quist, Trainee],
            candidates.Where(candidate => candidate.IsEligible).Select(candidate => candidate.Person.Id)
        );
        Assert.Equal(["has left"], candidates.Single(candidate => candidate.Person.Id == Lund).WhyNot);
        Assert.Equal(Known.Of(0), candidates.Single(candidate => candidate.Person.Id == Quist).Edits);
        var told = Successors.Of(site, keys, edits, new Dictionary<PersonId, int>(), harbour.Roll, 14, knowsDays: false);
        Assert.Equal(["is not eligible"], told.Single(candidate => candidate.Person.Id == Lund).WhyNot);
        Assert.All(
            Successors.Of(
                site,
                keys,
                Known<IReadOnlyList<EditsBy>>.Unknown,
                new Dictionary<PersonId, int>(),
                harbour.Roll,
                14,
                knowsDays: true
            ),
            candidate => Assert.True(candidate.Edits.IsUnknown)
        );
    }

    [Fact]
    public void Ownership_says_why_nobody_is_fit_and_how_many_days_are_left()
    {
        Ownership Of(params IReadOnlyList<Grant> grants) =>
            Ownership.Of(KeyHolders.Of(Site(grants), harbour.Roll, 14), harbour.Roll);

        Assert.Equal(
            (OwnershipState.None, 6, new DateOnly(2026, 11, 30)),
            (
                Of(ToPerson(Power.Own, Farrow)).State,
                Of(ToPerson(Power.Own, Farrow)).DaysLeft,
                Of(ToPerson(Power.Own, Farrow)).LastDay
            )
        );
        Assert.Equal(
            (OwnershipState.None, 0),
            (Of(ToPerson(Power.Own, Lund), ToPerson(Power.Own, Agent)).State, Of(ToPerson(Power.Own, Lund)).DaysLeft)
        );
        Assert.Equal([Unfit.Outside, Unfit.Left], Of(ToPerson(Power.Own, Lund), ToPerson(Power.Own, Agent)).Reasons);
        Assert.Equal(
            (OwnershipState.Single, null),
            (Of(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Farrow)).State, Of(ToPerson(Power.Own, Vane)).DaysLeft)
        );
        Assert.Equal(OwnershipState.Fit, Of(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist)).State);
        Assert.Equal((OwnershipState.None, 0), (Of().State, Of().DaysLeft));
    }

    private DeedFacts Facts(SiteFacts of) => new(of, [], harbour.House, new Core.Rules.RuleBook([], default), harbour.Roll);

    private Decision Offer(OfferWish wish, Doer doer) => HandOver.Offer(Facts(site), wish, new OfferId(Guid.NewGuid()), doer);

    private Decision.Plan Offered(OfferWish wish, Doer doer) => Assert.IsType<Decision.Plan>(Offer(wish, doer));
}
