using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

public class AftermathFacts
{
    private static readonly SiteFacts InUse = Site(ToPerson(Power.Own, Vane)) with
    {
        StandsAt = Now.AddHours(-1),
        Class = Known.Of("Open"),
    };
    private static readonly SiteFacts InBin = InUse with
    {
        Existence = Existence.Attic,
        StandsAt = Now,
        Bin = new Bin(Now.AddMinutes(-5), Quist, Known.Of(Now.AddDays(30)), Known<DateTimeOffset>.Unknown),
    };

    [Fact]
    public void A_site_deleted_at_the_host_itself_is_found_with_the_hosts_instant_and_administrators_hear_of_it()
    {
        var found = Aftermath.Seen(InBin, null, [Aske], isFirst: false, Now);

        Assert.Equal(
            (StayState.Kept, true, Quist, Now.AddMinutes(-5)),
            (found.Stay!.State, found.Stay.AtHost, found.Stay.By!.Value, found.Stay.PutAwayAt!.Value)
        );
        Assert.Equal("attic.found", Assert.Single(found.Entries).Deed);
        Assert.Equal(
            (Aske, "Pilot boarding notes was deleted at Slipway"),
            (Assert.Single(found.Letters).To, found.Letters[0].Title)
        );

        // Where nothing ever runs out it was only shut.
        var shut = Aftermath.Seen(
            InBin with
            {
                Bin = InBin.Bin! with { RecoverableUntil = Known<DateTimeOffset>.None },
            },
            null,
            [Aske],
            isFirst: false,
            Now
        );
        Assert.Equal("Pilot boarding notes was shut at Slipway", shut.Letters[0].Title);
        var first = Aftermath.Seen(InBin, null, [Aske], isFirst: true, Now);
        Assert.Empty(first.Entries);
        Assert.Empty(first.Letters);
    }

    [Fact]
    public void The_same_read_twice_changes_nothing_and_another_class_is_remembered()
    {
        var stay = Aftermath.Seen(InBin, null, [], false, Now).Stay! with { Id = 1 };

        Assert.Equal(Aftermath.Nothing, Aftermath.Seen(InBin, stay, [], false, Now));
        var guarded = Aftermath.Seen(InBin with { Class = Known.Of("Guarded") }, stay, [], false, Now.AddDays(2));
        Assert.Equal(
            [new ClassSince("Open", Now.AddMinutes(-5)), new ClassSince("Guarded", Now.AddDays(2))],
            guarded.Stay!.Classes
        );
        Assert.Equal(Aftermath.Nothing, Aftermath.Seen(InBin with { Class = Known<string>.Unknown }, stay, [], false, Now));
    }

    [Fact]
    public void Restored_at_the_host_it_is_back_with_what_came_and_gone_from_the_bin_it_is_cleared()
    {
        var stay = Aftermath.Seen(InBin, null, [], false, Now).Stay! with { Id = 1 };

        var back = Aftermath.Seen(InUse, stay, [], false, Now.AddDays(1)).Stay!;
        Assert.Equal((StayState.Back, Now.AddDays(1)), (back.State, back.EndedAt!.Value));
        Assert.Empty(Comparison.Of(back.Went, back.Came!, new Wish([]), grant => grant.Key));

        var gone = Intake.Vanish(InBin, Now.AddDays(31)).Site;
        Assert.Equal((Existence.Cleared, false, null), (gone.Existence, gone.Vanished, gone.Bin));
        var cleared = Aftermath.Seen(gone, stay, [], false, Now.AddDays(31));
        Assert.Equal((StayState.Cleared, "attic.cleared"), (cleared.Stay!.State, cleared.Entries[0].Deed));
        Assert.True(Intake.Vanish(InUse, Now).Site.Vanished);
    }

    [Fact]
    public void A_read_that_began_before_the_host_confirmed_does_not_take_the_site_out_of_the_attic_again()
    {
        var read = InUse with { StandsAt = Now.AddSeconds(-10) };

        Assert.Equal(Existence.Attic, Intake.Take(InBin, read, [], Now.AddSeconds(-10), Now).Site.Existence);
        Assert.Equal(
            Existence.Here,
            Intake
                .Take(InBin, read with { StandsAt = Now.AddSeconds(1) }, [], Now.AddSeconds(1), Now.AddSeconds(2))
                .Site.Existence
        );
    }

    [Fact]
    public void A_host_that_refuses_is_heard_by_who_asked_and_the_site_stays_where_it_was()
    {
        var order = Order(OrderPurpose.PutAway, new Wish([], Existence.Attic)) with
        {
            State = OrderState.Refused,
            Words = "frozen",
        };
        var going = Stay(StayState.GoingAway, order);
        var refused = Aftermath.Answered(order, InUse, null, going, new Harbour().Roll, Now);
        Assert.Equal(
            (StayState.NotDone, "frozen", "attic.not-done"),
            (refused.Stay!.State, refused.Stay.Words, refused.Entries[0].Deed)
        );
        Assert.Equal(Vane, Assert.Single(refused.Letters).To);

        var back = Order(OrderPurpose.BringBack, new Wish([], Existence.Here)) with { State = OrderState.Refused, Words = "no" };
        Assert.Equal(
            StayState.Kept,
            Aftermath.Answered(back, InBin, null, Stay(StayState.Returning, back), new Harbour().Roll, Now).Stay!.State
        );
        Assert.Equal(
            Aftermath.Nothing,
            Aftermath.Answered(back, InBin, null, Stay(StayState.Returning, order), new Harbour().Roll, Now)
        );
    }

    [Fact]
    public void A_wish_is_seen_where_everything_it_names_is_so_and_cannot_be_told_where_the_host_did_not_say()
    {
        Assert.Equal(Truth.Yes, new Wish([], Existence.Attic).IsSoIn(InBin));
        Assert.Equal(Truth.No, new Wish([], Existence.Here).IsSoIn(InBin));
        Assert.Equal(Truth.Yes, new Wish([new("world", null)], Existence.Here, "slipway.example/pilot-boarding").IsSoIn(InUse));
        Assert.Equal(Truth.No, new Wish([], null, "slipway.example/other").IsSoIn(InUse));
        Assert.Equal(Truth.Unknown, new Wish([new("world", null)]).IsSoIn(InUse with { Sharing = Known<Sharing>.Unknown }));
        Assert.Equal(
            Truth.No,
            new Wish([new("world", null)], Existence.Attic).IsSoIn(InUse with { Sharing = Known<Sharing>.Unknown })
        );
    }

    [Fact]
    public void Content_is_the_same_by_what_is_in_it()
    {
        static Content With(params IReadOnlyList<string> domains) =>
            new()
            {
                Pages = Known.Of(2),
                Domains = domains.Count == 0 ? Known<IReadOnlyList<string>>.None : Known<IReadOnlyList<string>>.Of(domains),
            };

        Assert.Equal(With("a.example", "b.example"), With("a.example", "b.example"));
        Assert.NotEqual(With("a.example"), With("b.example"));
        Assert.NotEqual(With(), new Content { Pages = Known.Of(2) });
        Assert.Equal(With().GetHashCode(), With().GetHashCode());
    }

    private static Order Order(OrderPurpose purpose, Wish wish) =>
        new()
        {
            Id = new OrderId(Guid.NewGuid()),
            Site = new SiteId(1),
            Wish = wish,
            Before = [],
            By = Vane,
            AskedAt = Now,
            DueAt = Now,
            Purpose = purpose,
        };

    private static Stay Stay(StayState state, Order order) =>
        new()
        {
            Id = 1,
            Site = new SiteId(1),
            State = state,
            By = Vane,
            AskedAt = Now,
            Went = Snapshot.Of(InUse),
            Order = order.Id,
        };
}
