using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

/// <summary>Orders that a person carries out: Aske does what is asked of the old host, Vane asks, Quist looks.</summary>
public class ByHandFacts
{
    private static readonly HandKept How = new(
        Aske,
        "yard-admin",
        "The yard's desk",
        5,
        "Sign in.\nOpen {site} at {address}.\n\nSave.",
        "Ask {key}'s clerk.",
        "Rename the folder.",
        "Name it back."
    );
    private static readonly SiteFacts Open = Site(ToPerson(Power.Own, Vane), ToStaff(Power.View), ToPassersBy(Power.View));
    private static readonly Order Asked = new()
    {
        Id = new OrderId(Guid.NewGuid()),
        Site = Open.Id,
        Place = 1,
        Wish = new Wish([new GrantChange("world", null)]),
        Before = [new GrantChange("world", ToPassersBy(Power.View))],
        By = Vane,
        AskedAt = Now,
        NextTry = Now,
        DueAt = Now,
    };

    private readonly Harbour harbour = new();

    [Fact]
    public void It_is_given_with_steps_for_this_site_a_last_day_and_a_letter()
    {
        var (order, hand, _, letters) = ByHand.Give(Asked, Open, How, harbour.Roll);
        Assert.Equal(["Sign in.", "Open Pilot boarding notes at slipway.example/pilot-boarding.", "Save."], hand.Steps);
        Assert.Equal((Aske, new DateOnly(2026, 11, 29)), (hand.To, hand.Through));
        Assert.Equal((OrderState.Sent, Time.EndOf(hand.Through)), (order.State, order.DueAt));
        Assert.Equal(["Passers-by can no longer view."], ByHand.Wanted(order, harbour.Roll));
        Assert.Equal((Aske, "To do at Slipway: Pilot boarding notes"), (Assert.Single(letters).To, letters[0].Title));

        // A person has it, so it never comes up by itself, and nothing else of the lane does before it.
        Assert.Null(Lane.Next([order, Asked with { Place = 2 }], Now.AddYears(10)));
    }

    [Fact]
    public void Where_nobody_is_named_or_they_have_left_whoever_asks_has_it()
    {
        Assert.Equal(Vane, ByHand.Give(Asked, Open, How with { Doer = null }, harbour.Roll).Hand.To);
        Assert.Equal(Vane, ByHand.Give(Asked, Open, How with { Doer = Lund }, harbour.Roll).Hand.To);
    }

    [Fact]
    public void Done_counts_as_confirmed_from_then_on_and_a_second_person_sees_it()
    {
        var (order, hand) = Given();
        var done = ByHand.Done(order, hand, Open, Aske, "Closed the door; see picture.", Now.AddDays(1));
        Assert.Equal(["everyone", "person:1"], done.Site!.Sharing.Or(null!).Grants.Select(grant => grant.Key).Order());
        Assert.Equal((OrderState.Confirmed, SharingSource.Confirmed), (done.Order.State, done.Site.Sharing.Or(null!).Source));

        Assert.StartsWith("You did it yourself", ByHand.NoCheck(done.Order, done.Hand, Aske));
        Assert.Null(ByHand.NoCheck(done.Order, done.Hand, Quist));
        Assert.Equal(
            (OrderState.Seen, Quist),
            (
                ByHand.Checked(done.Order, done.Hand, Quist, Now).Order.State,
                ByHand.Checked(done.Order, done.Hand, Quist, Now).Hand.CheckedBy
            )
        );
    }

    [Fact]
    public void What_a_list_shows_otherwise_goes_back_to_the_person_with_the_difference()
    {
        var (order, hand) = Given();
        var done = ByHand.Done(order, hand, Open, Aske, "done", Now.AddDays(1));

        // A list that was written before it was done says nothing about it.
        Assert.Empty(Intake.Take(done.Site, Open, [done.Order], Now, Now.AddDays(2)).Moved);

        var listed = Open with
        {
            SeenAt = Now.AddDays(2),
            Sharing = Open.Sharing.Select(sharing => sharing with { At = Now.AddDays(2) }),
        };
        var contradicted = Assert.Single(Intake.Take(done.Site, listed, [done.Order], Now.AddDays(2), Now.AddDays(2)).Moved);
        var back = ByHand.Disagrees(contradicted, done.Hand, listed, RollAt(Now.AddDays(2)));
        Assert.Equal((OrderState.Sent, 1), (back.Order.State, back.Hand.Returned));
        Assert.Equal("The list as of 26 Nov 2026 says otherwise: Passers-by can still view.", back.Order.Words);
        Assert.Equal(new DateOnly(2026, 12, 1), back.Hand.Through);
        Assert.Equal("Not so yet: Pilot boarding notes", Assert.Single(back.Letters).Title);
    }

    [Fact]
    public void What_a_second_person_finds_undone_is_so_again_as_before()
    {
        var (order, hand) = Given();
        var done = ByHand.Done(order, hand, Open, Aske, "done", Now.AddDays(1));
        var back = ByHand.NotSo(done.Order, done.Hand, done.Site!, Quist, "anybody still gets in", RollAt(Now.AddDays(2)));
        Assert.Equal("Renata Quist looked: anybody still gets in", back.Order.Words);
        Assert.Contains(back.Site!.Sharing.Or(null!).Grants, grant => grant.Key == "world");
    }

    [Fact]
    public void A_site_that_was_not_put_away_after_all_is_on_its_way_again()
    {
        var (order, hand) = Given(
            Asked with
            {
                Wish = new Wish([], Existence.Attic),
                Before = [],
                Purpose = OrderPurpose.PutAway,
            }
        );
        var done = ByHand.Done(order, hand, Open, Aske, "renamed", Now.AddDays(1));
        Assert.Equal(Existence.Attic, done.Site!.Existence);

        var stay = new Stay
        {
            Site = Open.Id,
            State = StayState.GoingAway,
            AskedAt = Now,
            Went = Snapshot.Of(Open),
            Order = order.Id,
            By = Vane,
        };
        var kept = Aftermath.Answered(done.Order, done.Site, null, stay, harbour.Roll, Now.AddDays(1)).Stay!;
        Assert.Equal(StayState.Kept, kept.State);

        var back = ByHand.NotSo(done.Order, done.Hand, done.Site, Quist, "it answers", RollAt(Now.AddDays(2)));
        var still = Aftermath.GivenBack(back.Order, back.Site!, kept, null, Now.AddDays(2)).Stay!;
        Assert.Equal((Existence.Here, StayState.GoingAway), (back.Site!.Existence, still.State));
        Assert.Equal(Aftermath.Nothing, Aftermath.Seen(back.Site, still, [], false, Now.AddDays(3)));
    }

    [Fact]
    public void An_offer_whose_key_was_not_switched_after_all_is_on_its_way_again()
    {
        var (order, _) = Given(Asked with { Purpose = OrderPurpose.Key });
        var offer = new Offer
        {
            Id = new OfferId(Guid.NewGuid()),
            Site = Open.Id,
            To = Quist,
            Giver = Vane,
            By = Vane,
            OfferedAt = Now,
            Through = Time.DayOf(Now),
            State = OfferState.HandedOver,
            Order = order.Id,
            EndedAt = Now,
        };

        var again = Aftermath.GivenBack(order, Open, null, offer, Now.AddDays(1)).Offer!;
        Assert.Equal((OfferState.Switching, null), (again.State, again.EndedAt));
        Assert.Equal(
            Aftermath.Nothing,
            Aftermath.GivenBack(order, Open, null, offer with { Order = new OrderId(Guid.NewGuid()) }, Now)
        );
    }

    [Fact]
    public void The_last_day_is_told_once_and_what_is_overdue_to_everybody_concerned()
    {
        var (order, hand) = Given();
        IReadOnlySet<(PersonId, string)> none = new HashSet<(PersonId, string)>();
        IEnumerable<Due> At(DateTimeOffset now, IReadOnlySet<(PersonId, string)> written) =>
            DueNow
                .Of(new DueFacts([], [], [], RollAt(now), written) { ByHand = [(order, hand)] })
                .Where(due => due is not Due.PersonLeft);
        var last = Time.StartOf(hand.Through);
        Assert.Empty(At(last.AddMinutes(-1), none));
        Assert.IsType<Due.HandNear>(Assert.Single(At(last, none)));
        Assert.IsType<Due.HandOverdue>(Assert.Single(At(order.DueAt, none)));

        var told = ByHand.Overdue(order, hand, Open, [Quist], RollAt(order.DueAt));
        Assert.Equal([Quist, Vane, Aske], told.Letters.Select(letter => letter.To));
        Assert.Contains("Tomas Aske was given to do", told.Letters[0].Sentences[0]);
        Assert.Empty(At(order.DueAt, told.Letters.Select(letter => (letter.To, letter.Key)).ToHashSet()));
    }

    [Fact]
    public void When_whoever_has_it_leaves_whoever_asked_has_it()
    {
        var (order, hand) = Given(how: How with { Doer = Farrow });
        var after = RollAt(new DateTimeOffset(2026, 12, 1, 0, 0, 0, TimeSpan.Zero));
        Assert.IsType<Due.HandLeft>(Assert.Single(ByHand.DueOf(order, hand, after, new HashSet<(PersonId, string)>())));
        var left = ByHand.Left(order, hand, Open, after);
        Assert.Equal((Vane, Vane), (left.Hand!.To, Assert.Single(left.Letters).To));
    }

    [Fact]
    public void Called_back_it_is_withdrawn_and_the_person_is_told()
    {
        var (order, hand) = Given();
        var step = ByHand.CallBack(order, hand, Open, Vane, "the site goes anyway", harbour.Roll);
        Assert.Equal(OrderState.Withdrawn, step.Order.State);
        Assert.Equal(
            (Aske, "No longer to be done: Pilot boarding notes"),
            (Assert.Single(step.Letters).To, step.Letters[0].Title)
        );
    }

    private (Order Order, HandOrder Hand) Given(Order? asked = null, HandKept? how = null)
    {
        var step = ByHand.Give(asked ?? Asked, Open, how ?? How, harbour.Roll);
        return (step.Order, step.Hand);
    }

    private Roll RollAt(DateTimeOffset now) => new(harbour.People, Units, harbour.Groups, now, Time);
}
