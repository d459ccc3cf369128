using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

/// <summary>
/// Every order of every event for a site's keys and its way through the attic, with the real decisions: offers, answers,
/// hosts that confirm, refuse or clear, holds, rules that change, days that pass, people who leave. Walked until nothing
/// new comes up; worlds that differ in nothing that a decision looks at are one.
/// </summary>
public class EveryOrderOfEvents
{
    private const int MostWorlds = 10_000;
    private static readonly TimeSpan BinTime = TimeSpan.FromDays(30);
    private static readonly PersonId Owner = Vane;
    private static readonly PersonId Heir = Quist;

    private static readonly string[] OfKeys =
    [
        "the owner offers the key and leaves the site",
        "the owner offers the key and stays",
        "two administrators give the key",
        "the heir countersigns",
        "the heir declines",
        "the offer is taken back",
        "an administrator puts it away",
        "it is brought back with a new owner",
        "the host confirms",
        "the host refuses",
        "eight days pass",
        "the owner leaves",
        "the heir leaves",
    ];

    private static readonly string[] OfTheAttic =
    [
        "the owner puts it away",
        "an administrator puts it away",
        "it is stopped",
        "it is brought back",
        "a hold is placed",
        "the hold is released",
        "the keeping is made longer",
        "the host confirms",
        "the host refuses",
        "somebody deletes it at the host",
        "somebody restores it at the host",
        "an hour passes",
        "eight days pass",
        "the owner leaves",
    ];

    [Fact]
    public void Every_event_of_a_key_in_every_order_ends_in_a_named_state_and_keeps_what_must_be_kept() =>
        Walk(OfKeys, 400, [.. Enum.GetNames<OfferState>().Select(name => $"offer {name}")]);

    [Fact]
    public void Every_event_of_the_attic_in_every_order_ends_in_a_named_state_and_keeps_what_must_be_kept() =>
        Walk(OfTheAttic, 2_000, [.. Enum.GetNames<StayState>().Select(name => $"stay {name}")]);

    private static void Walk(string[] names, int leastSteps, string[] named)
    {
        var events = Events.Where(one => names.Contains(one.Name)).ToList();
        Assert.Equal(names.Length, events.Count);
        var start = Start();
        var seen = new HashSet<string> { Key(start) };
        var toWalk = new Queue<SmallWorld>([start]);
        var steps = 0;
        var states = new HashSet<string>();
        while (toWalk.TryDequeue(out var world))
        {
            foreach (var (name, happen) in events)
            {
                if (happen(world) is not { } happened)
                {
                    continue;
                }

                // The schedule comes by: a hold or another rule can make something due, or no longer due.
                var next = DoDue(happened);
                steps++;
                Check(world, name, next);
                states.UnionWith(
                    next.Offers.Values.Select(offer => $"offer {offer.State}")
                        .Concat(next.Stays.Select(stay => $"stay {stay.State}"))
                );

                // Old offers and stays that are over decide nothing any more.
                next = next with
                {
                    Offers = next.Offers.RemoveRange(
                        next.Offers.Values.Where(offer => !offer.State.IsOpen()).Select(offer => offer.Id)
                    ),
                    Stays = next.Open is { } stay ? [stay with { Id = 1 }] : [],
                    Orders = next.Orders.RemoveRange(
                        next.Orders.Values.Where(order => !order.State.IsOpen()).Select(order => order.Id)
                    ),
                    Journal = [],
                };
                if (seen.Add(Key(next)))
                {
                    Assert.True(
                        seen.Count < MostWorlds,
                        "There is no end to the worlds: something grows that no decision looks at."
                    );
                    toWalk.Enqueue(next);
                }
            }
        }

        // All named states came up, so the walk has been everywhere.
        Assert.Empty(named.Except(states));
        Assert.True(steps >= leastSteps, $"{steps} steps between {seen.Count} worlds");
    }

    private static readonly IReadOnlyList<(string Name, Func<SmallWorld, SmallWorld?> Happen)> Events =
    [
        ("the owner offers the key and leaves the site", world =>
            Plan(
                world,
                HandOver.Offer(
                    world.Facts(),
                    new OfferWish(Heir, Owner, GiverAfter.Leaves, null),
                    NewOffer(),
                    new Doer(Owner, Capacity.Owner)
                )
            )
        ),
        ("the owner offers the key and stays", world =>
            Plan(
                world,
                HandOver.Offer(
                    world.Facts(),
                    new OfferWish(Heir, Owner, GiverAfter.Stays, null),
                    NewOffer(),
                    new Doer(Owner, Capacity.Owner)
                )
            )
        ),
        ("two administrators give the key", world =>
            Plan(
                world,
                HandOver.Offer(
                    world.Facts(),
                    new OfferWish(Heir, Owner, GiverAfter.Leaves, "gone"),
                    NewOffer(),
                    new Doer(Aske, Capacity.Administrator, Trainee)
                )
            )
        ),
        ("the heir countersigns", world =>
            WithOffer(world, offer => HandOver.Countersign(world.Facts(), offer, NewOrder(), new Doer(Heir, Capacity.Owner)))
        ),
        ("the heir declines", world =>
            WithOffer(world, offer => HandOver.Decline(world.Facts(), offer, null, new Doer(Heir, Capacity.Owner)))
        ),
        ("the offer is taken back", world =>
            WithOffer(world, offer => HandOver.Withdraw(world.Facts(), offer, new Doer(Owner, Capacity.Owner)))
        ),
        ("the owner puts it away", world =>
            Plan(
                world,
                PutAway.Decide(
                    world.Facts(),
                    new PutAwayWish(null, world.Site.Title),
                    NewOrder(),
                    new Doer(Owner, Capacity.Owner)
                )
            )
        ),
        ("an administrator puts it away", world =>
            Plan(world, PutAway.Decide(world.Facts(), new PutAwayWish(null, world.Site.Title), NewOrder(), new Doer(Aske)))
        ),
        ("it is stopped", world => Plan(world, PutAway.Stop(world.Facts(), new Doer(Owner, Capacity.Owner)))),
        ("it is brought back", world =>
            Plan(world, BringBack.Decide(world.Facts(), new BringBackWish(null), NewOrder(), new Doer(Aske)))
        ),
        ("it is brought back with a new owner", world =>
            Plan(world, BringBack.Decide(world.Facts(), new BringBackWish(null, Heir), NewOrder(), new Doer(Aske)))
        ),
        ("a hold is placed", world =>
            world.Holds.Count > 0
                ? null
                : Plan(world, HoldDeeds.Place(world.Facts(), new HoldWish("inquiry", Day(world).AddDays(20)), new Doer(Aske)))
        ),
        ("the hold is released", world => Plan(world, HoldDeeds.Release(world.Facts(), 1, "over", new Doer(Aske)))),
        ("the keeping is made longer", world =>
            world.House.Keeping.Count > 1
                ? null
                : world with
                {
                    House = world.House with { Keeping = [.. world.House.Keeping, new KeepRule("Slipway", null, 28, world.Now)] },
                }
        ),
        ("the host confirms", world =>
            world.OpenOrders.FirstOrDefault() is { } order
                ? world.Withdrawn(order) ?? Read(world.Answered(Lane.Take(order, "w", world.Now), Done(world, order)))
                : null
        ),
        ("the host refuses", world =>
            world.OpenOrders.FirstOrDefault() is { } order
                ? world.Withdrawn(order) ?? world.Answered(Lane.Take(order, "w", world.Now), new HostAnswer.Refused("no"))
                : null
        ),
        ("somebody deletes it at the host", world =>
            world.Site.Existence == Existence.Here && !world.OpenOrders.Any() ? world.Seen(InBin(world), world.Now) : null
        ),
        ("somebody restores it at the host", world =>
            world.Site.Existence == Existence.Attic && !world.OpenOrders.Any()
                ? world.Seen(world.Site with { Existence = Existence.Here, Bin = null, StandsAt = world.Now }, world.Now)
                : null
        ),
        ("an hour passes", world => Days(world, TimeSpan.FromHours(1))),
        ("eight days pass", world => Days(world, TimeSpan.FromDays(8))),
        ("the owner leaves", world => Leave(world, Owner)),
        ("the heir leaves", world => Leave(world, Heir)),
    ];

    private static SmallWorld Start() =>
        new()
        {
            Now = Now,
            People =
            [
                .. new Harbour().People.Where(person =>
                    person.Id == Owner || person.Id == Heir || person.Id == Aske || person.Id == Trainee
                ),
            ],
            Units = Harbour.Units,
            House = new House { Keeping = [new KeepRule(null, null, 21, DateTimeOffset.MinValue)] },
            Site = Site(ToPerson(Power.Own, Owner), new Grant("unit:PIL", Power.View, new Subject.WholeUnit(Pilotage))) with
            {
                StandsAt = Now.AddHours(-1),
                Content = new Content { Joining = Known<Joining>.None, Pages = Known.Of(30) },
            },
        };

    private static void Check(SmallWorld before, string name, SmallWorld after)
    {
        void Holds(bool so, string what) =>
            Assert.True(so, $"After \"{name}\": {what}. Before: {Key(before)}; after: {Key(after)}");

        var open = after.Offers.Values.Where(offer => offer.State.IsOpen()).ToList();
        Holds(open.GroupBy(offer => offer.Giver).All(same => same.Count() == 1), "a key is offered to one person at a time");
        Holds(after.Stays.Count(stay => stay.State.IsOpen()) <= 1, "one stay at a time");
        Holds(
            open.All(offer => (offer.State == OfferState.Switching) == after.OpenOrders.Any(order => order.Id == offer.Order)),
            "an offer is switching while its order is under way, and then only"
        );
        var stay = after.Open;
        Holds(
            stay?.State.IsInAttic() == true == (after.Site.Existence == Existence.Attic),
            "what lies in the bin has a clock, and nothing else has"
        );
        Holds(
            stay?.State is StayState.GoingAway or StayState.Returning
                == after.OpenOrders.Any(order => order.Purpose is OrderPurpose.PutAway or OrderPurpose.BringBack),
            "a way is under way while its order is"
        );

        // A switch never takes the last key away: whoever loses one, somebody fit gains it in the same moment.
        if (name == "the host confirms" && after.Site.Existence == Existence.Here)
        {
            Holds(Fit(after) >= Math.Min(Fit(before), 1), "there is no moment without an owner");
        }

        // Nobody who has left gains anything by it.
        var left = after.People.Where(person => person.Standing == Standing.Left).Select(person => person.Id).ToHashSet();
        var gained = Held(after).Except(Held(before)).ToList();
        Holds(gained.TrueForAll(person => !left.Contains(person)), "who has left gains no key");

        // While it holds, nothing is put away by us, and our clock does not run out.
        if (
            before.Holds.Any(hold => hold.IsInForce(after.Now, SmallWorld.Time))
            && after.Holds.Any(hold => hold.IsInForce(after.Now, SmallWorld.Time))
        )
        {
            Holds(stay?.State != StayState.Due, "a held site is not due");
            Holds(
                !(after.Open?.State == StayState.GoingAway && before.Open?.State != StayState.GoingAway),
                "a held site is not put away"
            );
        }

        // Buttons are moves: where the table has none, the deed is refused, in the state's own words.
        if (stay is not null)
        {
            var facts = after.Facts();
            Holds(
                StayStates.After(stay.State, StayEvent.BringBack) is not null
                    || BringBack.Decide(facts, new BringBackWish(null, Heir), NewOrder(), new Doer(Aske)) is Decision.Refusal,
                "no way back where the table has none"
            );
            Holds(
                StayStates.After(stay.State, StayEvent.Stop) is not null == PutAway.Stop(facts, new Doer(Aske)) is Decision.Plan,
                "stopping is allowed as the table says"
            );
            Holds(
                PutAway.Decide(facts, new PutAwayWish(null), NewOrder(), new Doer(Aske)) is Decision.Refusal,
                "what is on its way or away is not put away again"
            );
        }

        foreach (var offer in open)
        {
            var facts = after.Facts();
            Holds(
                OfferStates.After(offer.State, OfferEvent.Decline) is not null
                    == HandOver.Decline(facts, offer, null, new Doer(Heir)) is Decision.Plan,
                "declining is allowed as the table says"
            );
            Holds(
                OfferStates.After(offer.State, OfferEvent.Withdraw) is not null
                    == HandOver.Withdraw(facts, offer, new Doer(Aske)) is Decision.Plan,
                "taking back is allowed as the table says"
            );
            Holds(
                HandOver.Countersign(facts, offer, NewOrder(), new Doer(Trainee)) is Decision.Refusal,
                "nobody but the recipient countersigns"
            );
            Holds(
                OfferStates.After(offer.State, OfferEvent.Countersign) is not null
                    || HandOver.Countersign(facts, offer, NewOrder(), new Doer(Heir)) is Decision.Refusal,
                "no countersigning where the table has none"
            );
        }

        // Nothing that is due stays due.
        Holds(after.Due().Count == 0, "all that is due was done");
    }

    private static int Fit(SmallWorld world) =>
        KeyHolders.Of(world.Site, world.Roll, 14).Holders.Count(holder => holder.Standing == Standing.Current);

    private static IEnumerable<PersonId> Held(SmallWorld world) =>
        KeyHolders.Of(world.Site, world.Roll, 14).Holders.Select(holder => holder.Person.Id);

    // Everything that a decision looks at; time only as what it has made of things.
    private static string Key(SmallWorld world)
    {
        var clock = world.Facts().Clock;
        var stay = world.Stays.LastOrDefault();
        string[] parts =
        [
            string.Join(
                ",",
                world
                    .Offers.Values.Where(offer => offer.State.IsOpen())
                    .Select(offer =>
                        $"{offer.State} {offer.After} {offer.By.Value} {Near(offer.Through.DayNumber - Day(world).DayNumber)}"
                    )
                    .Order()
            ),
            stay is null ? "-" : $"{stay.State} {(stay.StoppableUntil is null ? "" : "stoppable")}",
            clock is null
                ? "-"
                : $"{clock.Held is null} {clock.IsDue(world.Now)} {clock.HostIsFirst} {Near(clock.Left(world.Now).Days)} {Near((clock.Clears - world.Now)?.Days)}",
            string.Join(",", world.Orders.Values.Select(order => $"{order.Purpose} {order.State}").Order()),
            $"{world.Site.Existence} {world.Site.Vanished} {string.Join(",", world.Site.Sharing.Or(null!).Grants)}",
            string.Join(",", world.People.Select(person => person.Standing)),
            string.Join(
                ",",
                world.Holds.Select(hold =>
                    $"{hold.IsInForce(world.Now, SmallWorld.Time)} {Near(hold.Through?.DayNumber - Day(world).DayNumber)}"
                )
            ),
            $"{world.House.Keeping.Count}",
        ];
        return string.Join(" | ", parts);
    }

    // In steps of the days that pass at once; what is over is over.
    private static int? Near(int? days) => days is { } left ? Math.Max(-1, left / 8) : null;

    // What was confirmed is read back.
    private static SmallWorld Read(SmallWorld world) =>
        world.Seen(
            world.Site with
            {
                StandsAt = world.Now,
                Sharing = world.Site.Sharing.Select(sharing => sharing with { At = world.Now, Source = SharingSource.Read }),
            },
            world.Now
        );

    private static SmallWorld? Plan(SmallWorld world, Decision decision) =>
        decision is Decision.Plan plan ? world.Commit(plan) : null;

    private static SmallWorld? WithOffer(SmallWorld world, Func<Offer, Decision> decide) =>
        world.Offers.Values.FirstOrDefault(offer => offer.State.IsOpen()) is { } offer ? Plan(world, decide(offer)) : null;

    // Days pass for the host too: what has lain in its bin for its days is gone at the next read. Then what is due is done.
    private static SmallWorld Days(SmallWorld world, TimeSpan time)
    {
        world = world.Pass(time);
        if (world.Site.Bin is { } bin && bin.RecoverableUntil.Has(out var until) && until <= world.Now && !world.OpenOrders.Any())
        {
            world = world.Gone();
        }

        return world;
    }

    private static SmallWorld DoDue(SmallWorld world)
    {
        for (var rounds = 0; world.Due() is { Count: > 0 } due; rounds++)
        {
            Assert.True(rounds < 20, "What is due does not come to an end.");
            Assert.Equal(due.OrderBy(one => one.At), due);
            var plan = due[0] is Due.PersonLeft(var at, var person)
                ? DueNow.Leave(person, at)
                : DueNow.Carry(due[0], world.Facts(), NewOrder());
            world = world.Commit(plan ?? throw new InvalidOperationException($"{due[0]} is due and cannot be carried out."));
        }

        return world;
    }

    private static SmallWorld? Leave(SmallWorld world, PersonId who) =>
        world.People.Any(person => person.Id == who && person.Standing == Standing.Left)
            ? null
            : world with
            {
                People =
                [
                    .. world.People.Select(person =>
                        person.Id == who ? person with { Standing = Standing.Left, Day = Day(world).AddDays(-1) } : person
                    ),
                ],
            };

    private static HostAnswer.Done Done(SmallWorld world, Order order)
    {
        var grants = world.Site.Sharing.Or(null!).Grants.With(order.Wish.Grants);
        return new HostAnswer.Done(
            grants,
            null,
            order.Wish.Existence == Existence.Attic ? InBin(world).Bin : null,
            order.Wish.Address ?? world.Site.Address.Or("")
        );
    }

    private static SiteFacts InBin(SmallWorld world) =>
        world.Site with
        {
            Existence = Existence.Attic,
            StandsAt = world.Now,
            Bin = new Bin(world.Now, null, Known.Of(world.Now + BinTime), Known.Of(world.Now + BinTime)),
        };

    private static DateOnly Day(SmallWorld world) => SmallWorld.Time.DayOf(world.Now);

    private static OfferId NewOffer() => new(Guid.NewGuid());

    private static OrderId NewOrder() => new(Guid.NewGuid());
}
