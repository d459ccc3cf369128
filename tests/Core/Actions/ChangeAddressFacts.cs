using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public sealed class ChangeAddressFacts
{
    private static readonly ChangeId Id = new(Guid.NewGuid());
    private static readonly Actor Admin = new(Aske);
    private static readonly Actor Owner = new(Vane, Capacity.Owner);
    private static readonly SiteFacts Tides = Site(ToPerson(Power.Own, Vane)) with
    {
        Address = Known.Of("slipway.example/tides"),
        Visits = Known.Of(40),
        Domains = Known<IReadOnlyList<string>>.None,
    };
    private static readonly SiteFacts Ebb = Tides with
    {
        Id = new SiteId(2),
        HostKey = "ebb",
        Name = Known.Of("Ebb"),
        Address = Known.Of("slipway.example/ebb"),
    };

    [Fact]
    public void The_plan_says_who_links_what_forwards_and_how_many_visit()
    {
        var links = new LinksHere([new LinkingSite(new SiteId(8), "Pilots", 3), new LinkingSite(new SiteId(9), "", 1, false)], 4);

        var plan = Plan("low-water", 90, links: links);

        var impact = plan.AddressImpact!;
        Assert.Equal([links.Sites[0]], impact.Links);
        Assert.Equal((1, 4), (impact.HiddenLinking, impact.Unread));
        Assert.Equal(Known.Of(40), impact.Visits);
        Assert.Equal(new DateOnly(2027, 2, 22), impact.ForwardThrough);
        var change = Assert.Single(plan.HostChanges);
        Assert.Equal("slipway.example/low-water", change.WantedState.Address);
        Assert.Equal(Time.EndOf(new DateOnly(2027, 2, 22)), change.WantedState.ForwardUntil);
        Assert.Equal("slipway.example/tides", change.Former!.Address);
        Assert.Null(change.WantedState.Existence);
    }

    [Fact]
    public void Without_forwarding_it_says_that_links_break()
    {
        var plan = Plan("low-water", 0);

        Assert.Null(plan.HostChanges[0].WantedState.ForwardUntil);
        Assert.Contains(new AddressNotForwarded("slipway.example/tides"), plan.Advice);
    }

    [Theory]
    [InlineData("tides", typeof(AddressIsSo))]
    [InlineData("", typeof(AddressMissing))]
    [InlineData("Low", typeof(AddressMalformed))]
    [InlineData("low--water", typeof(AddressMalformed))]
    [InlineData("www", typeof(AddressReserved))]
    [InlineData("ebb", typeof(AddressHeld))]
    public void An_address_that_cannot_be_had_is_refused_with_the_reason(string own, Type reason) =>
        Assert.Contains(Refusals(own), remark => remark.GetType() == reason);

    [Theory]
    [InlineData(HeldAs.InUse)]
    [InlineData(HeldAs.NeverPublished)]
    [InlineData(HeldAs.Offline)]
    [InlineData(HeldAs.MoveToAttic)]
    [InlineData(HeldAs.Requested)]
    [InlineData(HeldAs.Forwarding)]
    public void Whatever_holds_an_address_refuses_it_and_is_named_only_to_who_may_see_it(HeldAs how)
    {
        var held = new Holding("ebb", "Ebb", how, how == HeldAs.Requested ? null : Ebb.Id);

        var seen = how == HeldAs.Requested ? null : "Ebb";
        Assert.Equal(new AddressHeld("slipway.example/ebb", seen, how, null), Refusals("ebb", held: held)[0]);
        Assert.Equal(new AddressHeld("slipway.example/ebb", null, how, null), Refusals("ebb", held: held, sees: false)[0]);
    }

    [Fact]
    public void A_site_returns_to_an_address_that_forwards_to_it_and_the_others_follow_it()
    {
        var until = Now.AddDays(30);
        var moved = Tides with
        {
            Address = Known.Of("slipway.example/low-water"),
            Forwards = Known<IReadOnlyList<Forward>>.Of([
                new("slipway.example/tides", until),
                new("slipway.example/ebb-2", until),
            ]),
        };

        var plan = Plan("tides", 0, moved, new Holding("tides", "Tides", HeldAs.Forwarding, Tides.Id, until));

        Assert.Equal([new Forward("slipway.example/ebb-2", until)], plan.AddressImpact!.Former);
    }

    [Fact]
    public void Two_sites_exchange_their_addresses_where_the_host_can()
    {
        var held = new Holding("ebb", "Ebb", HeldAs.InUse, Ebb.Id);

        var plan = Assert.IsType<Decision.Plan>(Decide("ebb", 0, held: held, other: Ebb, swap: true));

        Assert.Equal("ebb", plan.HostChanges[0].WantedState.SwapWith);
        Assert.Equal("Ebb", plan.AddressImpact!.SwapWith);
        Assert.Equal(
            [EntrySubject.Of(new SiteId(1)), EntrySubject.Of(new SiteId(2))],
            plan.Entries.Select(entry => entry.Subject)
        );
        Assert.DoesNotContain(plan.Advice, remark => remark is AddressNotForwarded);
        Assert.Equal([Vane], plan.Notifications.Select(told => told.To));
        Assert.Contains(new SwapForwardsNothing(), RefusalsOf(Decide("ebb", 30, held: held, other: Ebb, swap: true)));
        Assert.Contains(
            new SwapPartnerMissing("slipway.example/ebb"),
            RefusalsOf(Decide("ebb", 0, held: held, other: null, swap: true))
        );
        Assert.Contains(
            new SwapPartnerMissing("slipway.example/ebb"),
            RefusalsOf(Decide("ebb", 0, held: held, other: Ebb with { Existence = Existence.Attic }, swap: true))
        );
        Assert.Contains(
            new SwapNotOffered("Slipway"),
            RefusalsOf(Decide("ebb", 0, held: held, other: Ebb, swap: true, host: Able with { SwapsAddresses = false }))
        );
    }

    [Fact]
    public void Where_the_host_forbids_it_that_is_said()
    {
        Assert.Contains(new LookFixed("Slipway", LookField.Address), RefusalsOf(Decide("low", 0, host: new HostCapabilities())));
        Assert.Contains(new ForwardNotOffered("Slipway"), RefusalsOf(Decide("low", 1, host: Able with { ForwardDays = 0 })));
        Assert.Contains(new ForwardDaysOutOfRange("Slipway", 365), RefusalsOf(Decide("low", 366)));
        Assert.Contains(new ForwardDaysOutOfRange("Slipway", 365), RefusalsOf(Decide("low", -1)));
    }

    [Fact]
    public void Only_administrators_take_an_address_like_a_reserved_word()
    {
        Assert.Contains(new AddressLikeReserved("www"), RefusalsOf(Decide("vvww", 0, actor: Owner)));
        Assert.Contains(new AddressLikeReserved("www"), Assert.IsType<Decision.Plan>(Decide("vvww", 0)).Advice);
    }

    [Fact]
    public void Forwarding_at_the_end_of_time_ends_there()
    {
        var harbour = new Harbour();
        harbour.Hosts["Slipway"] = Able;
        var late = new People.PeopleDirectory(
            harbour.People,
            Units,
            [],
            new DateTimeOffset(9999, 12, 30, 7, 0, 0, TimeSpan.Zero),
            Time
        );

        var decision = ChangeAddress.Decide(
            new ActionFacts(Tides, [], harbour.Organisation, NoRules, late),
            new AddressRequest("low", 365, false, null),
            Id,
            Admin
        );

        Assert.Equal(DateOnly.MaxValue, Assert.IsType<Decision.Plan>(decision).AddressImpact!.ForwardThrough);
    }

    [Fact]
    public void Undoing_goes_back_unless_somebody_took_the_old_address()
    {
        var change = Plan("low", 0).HostChanges[0] with { State = ChangeState.Verified };
        var moved = Tides with { Address = Known.Of("slipway.example/low") };

        Decision Undo(params IReadOnlyList<Neighbour> neighbours) =>
            UndoHostChange.Decide(
                Facts(moved, Able) with
                {
                    ChangeQueue = [change],
                    Around = new Surroundings { OnHost = new Neighbours(neighbours) },
                },
                change,
                new ChangeId(Guid.NewGuid()),
                Admin,
                null
            );

        Assert.Equal("slipway.example/tides", Assert.IsType<Decision.Plan>(Undo()).HostChanges[^1].WantedState.Address);
        Assert.Equal(
            [new AddressHeld("slipway.example/tides", "Other", HeldAs.InUse, null)],
            RefusalsOf(Undo(new Neighbour(new SiteId(5), "Other", "slipway.example/tides")))
        );
    }

    private static HostCapabilities Able { get; } =
        new()
        {
            Changes = [.. Enum.GetValues<LookField>()],
            ForwardDays = 365,
            SwapsAddresses = true,
        };

    private static Decision.Plan Plan(
        string own,
        int forwardDays,
        SiteFacts? site = null,
        Holding? held = null,
        LinksHere? links = null
    ) => Assert.IsType<Decision.Plan>(Decide(own, forwardDays, site, held, links));

    private static IReadOnlyList<Remark> Refusals(string own, Holding? held = null, bool sees = true) =>
        RefusalsOf(Decide(own, 0, held: held ?? new Holding("ebb", "Ebb", HeldAs.InUse, Ebb.Id), sees: sees));

    private static IReadOnlyList<Remark> RefusalsOf(Decision decision) => Assert.IsType<Decision.Refusal>(decision).Reasons;

    private static ActionFacts Facts(SiteFacts site, HostCapabilities host)
    {
        var harbour = new Harbour();
        harbour.Hosts["Slipway"] = host;
        return new ActionFacts(
            site,
            [],
            harbour.Organisation with
            {
                ReservedAddresses = ["www"],
            },
            NoRules,
            harbour.PeopleDirectory
        );
    }

    private static Decision Decide(
        string own,
        int forwardDays,
        SiteFacts? site = null,
        Holding? held = null,
        LinksHere? links = null,
        SiteFacts? other = null,
        bool swap = false,
        bool sees = true,
        HostCapabilities? host = null,
        Actor? actor = null
    ) =>
        ChangeAddress.Decide(
            Facts(site ?? Tides, host ?? Able) with
            {
                Around = new Surroundings
                {
                    Other = other,
                    Address = new AroundAddress(
                        new AddressBook(["www"]).With(held is null ? [] : [held]),
                        _ => sees,
                        links ?? new LinksHere([], 0)
                    ),
                },
            },
            new AddressRequest(own, forwardDays, swap, null),
            Id,
            actor ?? Admin
        );
}
