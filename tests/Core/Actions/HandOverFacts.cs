using AtticLedger.Core.Actions;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class HandOverFacts
{
    private readonly Harbour harbour = new();
    private readonly SiteFacts site = Site(ToPerson(Power.Own, Vane), ToPerson(Power.Edit, Quist), ToStaff(Power.View));

    [Fact]
    public void An_owner_who_leaves_stops_owning_at_the_moment_at_which_the_new_owner_begins()
    {
        var plan = Offered(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, null), new Actor(Vane, Capacity.Owner));
        var completing = Assert.IsType<Decision.Plan>(
            HandOver.Accept(Facts(site), plan.Offers[0], new ChangeId(Guid.NewGuid()), new Actor(Aske, Capacity.Owner))
        );

        Assert.Empty(plan.HostChanges);
        Assert.Null(plan.NeedsSecond);
        var key = "person:tomas.aske@merrowby.example";
        Assert.Equal(
            [new GrantChange(key, new Grant(key, Power.Own, new Subject.OnePerson(Aske))), new GrantChange("person:1", null)],
            Assert.Single(completing.HostChanges).WantedState.Grants
        );
        Assert.Equal(plan.Effect.InJournal.Canonical(), completing.Effect.InJournal.Canonical());
        Assert.Equal([new CurrentOwnerKeeps("Idris Vane", Power.View, "All of the staff")], completing.Unaffected);
    }

    [Fact]
    public void An_owner_who_stays_keeps_editing_and_an_editor_who_becomes_owner_has_one_grant()
    {
        var plan = Offered(new OfferRequest(Quist, Vane, CurrentOwnerAfter.Stays, null), new Actor(Vane, Capacity.Owner));

        Assert.Equal(
            [("person:2", Power.Own), ("person:1", Power.Edit)],
            plan.Effect.Grants.Select(change => (change.Key, change.Wanted!.Power))
        );
    }

    [Fact]
    public void The_mail_to_the_new_owner_says_who_what_until_when_and_leads_to_the_offer()
    {
        var notification = Assert.Single(
            Offered(
                new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, "I move to the yard"),
                new Actor(Vane, Capacity.Owner)
            ).Notifications
        );

        Assert.Equal(Aske, notification.To);
        Assert.True(notification.Urgent);
        Assert.Contains(
            "Idris Vane offers you the ownership of Pilot boarding notes and will leave the site.",
            notification.Sentences
        );
        Assert.Contains("Reason: I move to the yard", notification.Sentences);
        Assert.Contains("You can answer until the end of 8 Dec 2026. Then the offer lapses.", notification.Sentences);
        Assert.Equal(
            (LinkPurpose.Offer, new DateTimeOffset(2026, 12, 9, 0, 0, 0, TimeSpan.Zero)),
            (notification.Link!.Purpose, notification.Link.Until)
        );
    }

    public static TheoryData<long, Ineligibility> NotTo =>
        new()
        {
            { Farrow.Value, Ineligibility.Leaves },
            { Lund.Value, Ineligibility.Left },
            { Agent.Value, Ineligibility.Outside },
            { Robot.Value, Ineligibility.Service },
            { Vane.Value, Ineligibility.IsOwner },
        };

    [Theory]
    [MemberData(nameof(NotTo))]
    public void A_site_is_not_offered_to_an_owner_or_to_somebody_who_is_not_active(long to, Ineligibility because)
    {
        var refusal = Assert.IsType<Decision.Refusal>(
            Offer(new OfferRequest(new PersonId(to), Vane, CurrentOwnerAfter.Leaves, null), new Actor(Vane, Capacity.Steward))
        );

        Assert.Contains(because, refusal.Reasons.OfType<NewOwnerIneligible>().Select(reason => reason.Because));
    }

    [Fact]
    public void An_administrator_gives_only_for_who_cannot_and_with_a_reason_and_a_second_person()
    {
        var stillHere = Assert.IsType<Decision.Refusal>(
            Offer(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, "tidy"), new Actor(Trainee))
        );
        Assert.Equal([new OwnerCanOffer("Idris Vane")], stillHere.Reasons);

        var orphan = Site(ToPerson(Power.Own, Lund));
        var withoutReason = Assert.IsType<Decision.Refusal>(
            HandOver.Offer(
                Facts(orphan),
                new OfferRequest(Aske, Lund, CurrentOwnerAfter.Leaves, null),
                default,
                new Actor(Trainee)
            )
        );
        Assert.Equal([new AssigningNeedsReason()], withoutReason.Reasons);

        var given = Assert.IsType<Decision.Plan>(
            HandOver.Offer(
                Facts(orphan),
                new OfferRequest(Aske, Lund, CurrentOwnerAfter.Leaves, "left"),
                default,
                new Actor(Trainee)
            )
        );
        Assert.NotNull(given.NeedsSecond);
    }

    [Fact]
    public void A_site_without_owner_can_be_assigned_one_and_an_owned_site_cannot()
    {
        Assert.IsType<Decision.Plan>(
            HandOver.Offer(
                Facts(Site(ToStaff(Power.View))),
                new OfferRequest(Aske, null, CurrentOwnerAfter.Leaves, "nobody"),
                default,
                new Actor(Trainee)
            )
        );
        Assert.Contains(
            new OwnerIsActive(),
            Assert
                .IsType<Decision.Refusal>(Offer(new OfferRequest(Aske, null, CurrentOwnerAfter.Leaves, "x"), new Actor(Trainee)))
                .Reasons
        );
    }

    [Fact]
    public void An_owner_who_adds_one_stays_an_owner()
    {
        var plan = Offered(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Owns, null), new Actor(Vane, Capacity.Owner));
        Assert.Null(plan.NeedsSecond);
        Assert.Contains("stays an owner", plan.Notifications[0].Sentences[0], StringComparison.Ordinal);
        Assert.Single(plan.Notifications);

        var accepted = Assert.IsType<Decision.Plan>(
            HandOver.Accept(Facts(site), Assert.Single(plan.Offers), default, new Actor(Aske, Capacity.Owner))
        );
        var change = Assert.Single(Assert.Single(accepted.HostChanges).WantedState.Grants);
        Assert.Equal((Power.Own, new Subject.OnePerson(Aske)), (change.Wanted!.Power, change.Wanted.Subject));
        Assert.Empty(accepted.Unaffected);
        Assert.All(accepted.Effect.Powers, power => Assert.Empty(power.Lose));
    }

    [Fact]
    public void An_administrator_adds_an_owner_with_a_reason_and_the_owners_hear_of_it()
    {
        var request = new OfferRequest(Aske, null, CurrentOwnerAfter.Owns, "one owner is too few");
        var plan = Offered(request, new Actor(Trainee));
        Assert.Null(plan.NeedsSecond);
        Assert.Equal([Aske, Vane], plan.Notifications.Select(notification => notification.To));
        Assert.Contains("which Idris Vane owns now", plan.Notifications[0].Sentences[0], StringComparison.Ordinal);
        Assert.Contains(
            new AssigningNeedsReason(),
            Assert.IsType<Decision.Refusal>(Offer(request with { Reason = null }, new Actor(Trainee))).Reasons
        );

        // Nobody makes themselves an owner of another person's site alone.
        Assert.NotNull(Offered(request, new Actor(Aske)).NeedsSecond);

        // Where no owner is active there is nobody to hear of it: a second person has to agree, and who is away stays an owner.
        var alone = HandOver.Offer(Facts(Site(ToPerson(Power.Own, Lund))), request, default, new Actor(Trainee));
        Assert.NotNull(Assert.IsType<Decision.Plan>(alone).NeedsSecond);
    }

    [Fact]
    public void Only_the_person_it_was_offered_to_accepts()
    {
        var offer = Offered(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, null), new Actor(Vane, Capacity.Owner)).Offers[
            0
        ];

        Assert.Equal(
            [new OfferOfAnother()],
            Assert
                .IsType<Decision.Refusal>(HandOver.Accept(Facts(site), offer, default, new Actor(Quist, Capacity.Owner)))
                .Reasons
        );
        Assert.IsType<Decision.Refusal>(HandOver.Accept(Facts(site), offer, default, new Actor(Trainee)));
    }

    [Fact]
    public void An_offer_is_withdrawn_by_who_made_it_or_an_administrator_and_only_while_it_is_open()
    {
        var offer = Offered(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, null), new Actor(Vane, Capacity.Owner)).Offers[
            0
        ];

        Assert.Equal([new OfferNotTheirs()], Refused(offer, new Actor(Quist, Capacity.Owner)));
        Assert.Equal([new OfferDeclined()], Refused(offer.Move(OfferEvent.Decline), new Actor(Trainee)));
        foreach (var actor in (Actor[])[new(Vane, Capacity.Owner), new(Trainee)])
        {
            var plan = Assert.IsType<Decision.Plan>(HandOver.Withdraw(Facts(site), offer, actor));
            Assert.Equal(OfferState.Withdrawn, plan.Offers.Single().State);
        }

        IReadOnlyList<Remark> Refused(Offer open, Actor actor) =>
            Assert.IsType<Decision.Refusal>(HandOver.Withdraw(Facts(site), open, actor)).Reasons;
    }

    [Fact]
    public void An_owner_offers_only_their_own_and_only_once()
    {
        var request = new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, null);
        var open = Offered(request, new Actor(Vane, Capacity.Owner)).Offers[0];
        var again = HandOver.Offer(Facts(site) with { Offers = [open] }, request, default, new Actor(Vane, Capacity.Owner));

        Assert.Equal([new OfferOpen("Tomas Aske", open.Through)], Assert.IsType<Decision.Refusal>(again).Reasons);
        Assert.Contains(
            new OwnerOffersOnlyTheirs(),
            Assert
                .IsType<Decision.Refusal>(HandOver.Offer(Facts(site), request, default, new Actor(Quist, Capacity.Owner)))
                .Reasons
        );
    }

    [Fact]
    public void A_giver_who_is_no_longer_an_owner_cannot_hand_over()
    {
        var offer = Offered(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, null), new Actor(Vane, Capacity.Owner)).Offers[
            0
        ];
        var refusal = Assert.IsType<Decision.Refusal>(
            HandOver.Accept(Facts(Site(ToPerson(Power.Own, Quist))), offer, default, new Actor(Aske, Capacity.Owner))
        );

        Assert.Equal([new NoLongerOwner("Idris Vane")], refusal.Reasons);
    }

    [Fact]
    public void A_handover_that_waited_until_the_new_owner_left_is_withdrawn_before_the_host_is_asked()
    {
        var offer = Offered(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, null), new Actor(Vane, Capacity.Owner)).Offers[
            0
        ];
        var hostChange = Assert
            .IsType<Decision.Plan>(
                HandOver.Accept(Facts(site), offer, new ChangeId(Guid.NewGuid()), new Actor(Aske, Capacity.Owner))
            )
            .HostChanges[0];
        Assert.Null(ChangeQueue.Withdrawn(hostChange, harbour.PeopleDirectory));

        harbour.People[4] = harbour.People[4] with { Standing = People.Standing.Left };

        Assert.Equal(
            (ChangeState.Withdrawn, "Tomas Aske was to be the new owner and has left."),
            (
                ChangeQueue.Withdrawn(hostChange, harbour.PeopleDirectory)!.State,
                ChangeQueue.Withdrawn(hostChange, harbour.PeopleDirectory)!.Words
            )
        );
        Assert.Null(ChangeQueue.Withdrawn(ChangeQueue.Take(hostChange, "w", Now), harbour.PeopleDirectory));
    }

    [Fact]
    public void An_accepted_handover_is_not_undone_as_a_change_at_the_host()
    {
        var offer = Offered(new OfferRequest(Aske, Vane, CurrentOwnerAfter.Leaves, null), new Actor(Vane, Capacity.Owner)).Offers[
            0
        ];
        var hostChange = Assert
            .IsType<Decision.Plan>(
                HandOver.Accept(Facts(site), offer, new ChangeId(Guid.NewGuid()), new Actor(Aske, Capacity.Owner))
            )
            .HostChanges[0];

        Assert.Equal(
            new HandoverNotUndone(),
            Assert
                .IsType<Decision.Refusal>(UndoHostChange.Decide(Facts(site), hostChange, default, new Actor(Vane), null))
                .Reasons[0]
        );
    }

    [Fact]
    public void Successors_stand_by_edits_then_unit_then_load_and_who_cannot_comes_last_with_the_reason()
    {
        var keys = SiteOwners.Of(site, harbour.PeopleDirectory, 14);
        var edits = Known<IReadOnlyList<EditsBy>>.Of([
            new EditsBy(Aske, 3, Now.AddDays(-2)),
            new EditsBy(Lund, 40, Now.AddDays(-80)),
        ]);
        var candidates = Successors.Of(
            site,
            keys,
            edits,
            new Dictionary<PersonId, int> { [Quist] = 5 },
            harbour.PeopleDirectory,
            14,
            knowsDays: true
        );

        Assert.Equal(
            [Aske, Quist, Trainee],
            candidates.Where(candidate => candidate.IsEligible).Select(candidate => candidate.Person.Id)
        );
        Assert.Equal([new WhyIneligible(Ineligibility.Left)], candidates.Single(candidate => candidate.Person.Id == Lund).WhyNot);
        Assert.Equal(Known.Of(0), candidates.Single(candidate => candidate.Person.Id == Quist).Edits);
        var told = Successors.Of(
            site,
            keys,
            edits,
            new Dictionary<PersonId, int>(),
            harbour.PeopleDirectory,
            14,
            knowsDays: false
        );
        Assert.Equal([new WhyIneligible(Ineligibility.NotSaid)], told.Single(candidate => candidate.Person.Id == Lund).WhyNot);
        Assert.All(
            Successors.Of(
                site,
                keys,
                Known<IReadOnlyList<EditsBy>>.Unknown,
                new Dictionary<PersonId, int>(),
                harbour.PeopleDirectory,
                14,
                knowsDays: true
            ),
            candidate => Assert.True(candidate.Edits.IsUnknown)
        );
    }

    [Fact]
    public void Ownership_says_why_nobody_is_active_and_how_many_days_are_left()
    {
        OwnershipStatus Of(params IReadOnlyList<Grant> grants) =>
            OwnershipStatus.Of(SiteOwners.Of(Site(grants), harbour.PeopleDirectory, 14), harbour.PeopleDirectory);

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
        Assert.Equal(
            [InactiveReason.Outside, InactiveReason.Left],
            Of(ToPerson(Power.Own, Lund), ToPerson(Power.Own, Agent)).Reasons
        );
        Assert.Equal(
            (OwnershipState.Single, null),
            (Of(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Farrow)).State, Of(ToPerson(Power.Own, Vane)).DaysLeft)
        );
        Assert.Equal(OwnershipState.Active, Of(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist)).State);
        Assert.Equal((OwnershipState.None, 0), (Of().State, Of().DaysLeft));
    }

    [Fact]
    public void Ownership_is_unknown_where_owners_that_are_not_reported_would_decide_it()
    {
        OwnershipStatus Of(SiteOwners owners) => OwnershipStatus.Of(owners, harbour.PeopleDirectory);
        SiteOwners Known(params IReadOnlyList<Grant> grants) => SiteOwners.Of(Site(grants), harbour.PeopleDirectory, 14);
        SiteOwners InPart(SiteOwners known, int atMost) => known with { Complete = false, ActiveAtMost = atMost };

        var unread = SiteOwners.Of(Site() with { Sharing = Known<Sharing>.Unknown }, harbour.PeopleDirectory, 14);
        Assert.Equal((OwnershipState.Unknown, null), (Of(unread).State, Of(unread).DaysLeft));
        Assert.Equal(OwnershipState.Unknown, Of(InPart(Known(ToPerson(Power.Own, Vane)), 3)).State);
        Assert.Equal(OwnershipState.Single, Of(InPart(Known(ToPerson(Power.Own, Vane)), 1)).State);
        Assert.Equal(OwnershipState.None, Of(InPart(Known(ToPerson(Power.Own, Lund)), 0)).State);
        Assert.Equal(OwnershipState.Active, Of(InPart(Known(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Quist)), 9)).State);
    }

    private ActionFacts Facts(SiteFacts of) => new(of, [], harbour.Organisation, Harbour.NoRules, harbour.PeopleDirectory);

    private Decision Offer(OfferRequest request, Actor actor) =>
        HandOver.Offer(Facts(site), request, new OfferId(Guid.NewGuid()), actor);

    private Decision.Plan Offered(OfferRequest request, Actor actor) => Assert.IsType<Decision.Plan>(Offer(request, actor));
}
