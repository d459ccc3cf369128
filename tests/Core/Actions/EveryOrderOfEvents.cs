using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>Every order of every event for the ownership of a site and its time in the attic, with the real decisions: offers,
/// answers, hosts that confirm, refuse or erase, holds, rules that change, days that pass, people who leave. Explored until no
/// new state appears; states that no decision can tell apart count as one.
/// </summary>
public class EveryOrderOfEvents
{
    private const int MostWorlds = 10_000;
    private static readonly TimeSpan BinTime = TimeSpan.FromDays(30);
    private static readonly PersonId Owner = Vane;
    private static readonly PersonId Heir = Quist;

    private static readonly string[] OfOwners =
    [
        "the owner offers the key and leaves the site",
        "the owner offers the key and stays",
        "two administrators assign an owner",
        "the heir accepts",
        "the heir declines",
        "the offer is undone",
        "an administrator moves it to the attic",
        "it is restored with a new owner",
        "the host confirms",
        "the host refuses",
        "eight days pass",
        "the owner leaves",
        "the heir leaves",
    ];

    private static readonly string[] OfTheAttic =
    [
        "the owner moves it to the attic",
        "an administrator moves it to the attic",
        "it is stopped",
        "it is restored",
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
    public void Every_event_of_a_handover_in_every_sequence_ends_in_a_named_state_and_keeps_what_must_be_kept() =>
        Walk(OfOwners, 400, [.. Enum.GetNames<OfferState>().Select(name => $"offer {name}")]);

    [Fact]
    public void Every_event_of_the_attic_in_every_sequence_ends_in_a_named_state_and_keeps_what_must_be_kept() =>
        Walk(OfTheAttic, 2_000, [.. Enum.GetNames<AtticState>().Select(name => $"stay {name}")]);

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

                // The schedule runs: a hold or another rule can make something due, or no longer due.
                var next = DoDue(happened);
                steps++;
                Check(world, name, next);
                states.UnionWith(
                    next.Offers.Values.Select(offer => $"offer {offer.State}")
                        .Concat(next.Stays.Select(atticEntry => $"stay {atticEntry.State}"))
                );

                // Closed offers and past stays in the attic no longer affect a decision.
                next = next with
                {
                    Offers = next.Offers.RemoveRange(
                        next.Offers.Values.Where(offer => !offer.State.IsOpen()).Select(offer => offer.Id)
                    ),
                    Stays = next.Open is { } atticEntry ? [atticEntry with { Id = 1 }] : [],
                    HostChanges = next.HostChanges.RemoveRange(
                        next.HostChanges.Values.Where(hostChange => !hostChange.State.IsOpen())
                            .Select(hostChange => hostChange.Id)
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

        // Every named state was reached.
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
                    new OfferRequest(Heir, Owner, CurrentOwnerAfter.Leaves, null),
                    NewOffer(),
                    new Actor(Owner, Capacity.Owner)
                )
            )
        ),
        ("the owner offers the key and stays", world =>
            Plan(
                world,
                HandOver.Offer(
                    world.Facts(),
                    new OfferRequest(Heir, Owner, CurrentOwnerAfter.Stays, null),
                    NewOffer(),
                    new Actor(Owner, Capacity.Owner)
                )
            )
        ),
        ("two administrators assign an owner", world =>
            Plan(
                world,
                HandOver.Offer(
                    world.Facts(),
                    new OfferRequest(Heir, Owner, CurrentOwnerAfter.Leaves, "gone"),
                    NewOffer(),
                    new Actor(Aske, Capacity.Administrator, Trainee)
                )
            )
        ),
        ("the heir accepts", world =>
            WithOffer(world, offer => HandOver.Accept(world.Facts(), offer, NewHostChange(), new Actor(Heir, Capacity.Owner)))
        ),
        ("the heir declines", world =>
            WithOffer(world, offer => HandOver.Decline(world.Facts(), offer, null, new Actor(Heir, Capacity.Owner)))
        ),
        ("the offer is undone", world =>
            WithOffer(world, offer => HandOver.Withdraw(world.Facts(), offer, new Actor(Owner, Capacity.Owner)))
        ),
        ("the owner moves it to the attic", world =>
            Plan(
                world,
                MoveToAttic.Decide(
                    world.Facts(),
                    new MoveToAtticRequest(null, world.Site.Title),
                    NewHostChange(),
                    new Actor(Owner, Capacity.Owner)
                )
            )
        ),
        ("an administrator moves it to the attic", world =>
            Plan(
                world,
                MoveToAttic.Decide(
                    world.Facts(),
                    new MoveToAtticRequest(null, world.Site.Title),
                    NewHostChange(),
                    new Actor(Aske)
                )
            )
        ),
        ("it is stopped", world => Plan(world, MoveToAttic.Stop(world.Facts(), new Actor(Owner, Capacity.Owner)))),
        ("it is restored", world =>
            Plan(world, Restore.Decide(world.Facts(), new RestoreRequest(null), NewHostChange(), new Actor(Aske)))
        ),
        ("it is restored with a new owner", world =>
            Plan(world, Restore.Decide(world.Facts(), new RestoreRequest(null, Heir), NewHostChange(), new Actor(Aske)))
        ),
        ("a hold is placed", world =>
            world.Holds.Count > 0
                ? null
                : Plan(
                    world,
                    HoldActions.Place(world.Facts(), new HoldRequest("inquiry", Day(world).AddDays(20)), new Actor(Aske))
                )
        ),
        ("the hold is released", world => Plan(world, HoldActions.Release(world.Facts(), 1, "over", new Actor(Aske)))),
        ("the keeping is made longer", world =>
            world.Organisation.RetentionRules.Count > 1
                ? null
                : world with
                {
                    Organisation = world.Organisation with
                    {
                        RetentionRules =
                        [
                            .. world.Organisation.RetentionRules,
                            new RetentionRule("Slipway", null, 28, world.Now),
                        ],
                    },
                }
        ),
        ("the host confirms", world =>
            world.OpenHostChanges.FirstOrDefault() is { } hostChange
                ? world.Withdrawn(hostChange)
                    ?? Read(world.Answered(ChangeQueue.Take(hostChange, "w", world.Now), Done(world, hostChange)))
                : null
        ),
        ("the host refuses", world =>
            world.OpenHostChanges.FirstOrDefault() is { } hostChange
                ? world.Withdrawn(hostChange)
                    ?? world.Answered(ChangeQueue.Take(hostChange, "w", world.Now), new HostAnswer.Refused("no"))
                : null
        ),
        ("somebody deletes it at the host", world =>
            world.Site.Existence == Existence.InUse && !world.OpenHostChanges.Any() ? world.Seen(InBin(world), world.Now) : null
        ),
        ("somebody restores it at the host", world =>
            world.Site.Existence == Existence.Attic && !world.OpenHostChanges.Any()
                ? world.Seen(world.Site with { Existence = Existence.InUse, Bin = null, StandsAt = world.Now }, world.Now)
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
            Organisation = new Organisation { RetentionRules = [new RetentionRule(null, null, 21, DateTimeOffset.MinValue)] },
            Site = Site(ToPerson(Power.Own, Owner), new Grant("unit:PIL", Power.View, new Subject.WholeUnit(Pilotage))) with
            {
                StandsAt = Now.AddHours(-1),
                Joining = Known<Joining>.None,
                Pages = Known.Of(30),
            },
        };

    private static void Check(SmallWorld before, string name, SmallWorld after)
    {
        void Holds(bool so, string what) =>
            Assert.True(so, $"After \"{name}\": {what}. Before: {Key(before)}; after: {Key(after)}");

        var open = after.Offers.Values.Where(offer => offer.State.IsOpen()).ToList();
        Holds(
            open.GroupBy(offer => offer.CurrentOwner).All(same => same.Count() == 1),
            "a key is offered to one person at a time"
        );
        Holds(after.Stays.Count(atticEntry => atticEntry.State.IsOpen()) <= 1, "one stay at a time");
        Holds(
            open.All(offer =>
                (offer.State == OfferState.Completing)
                == after.OpenHostChanges.Any(hostChange => hostChange.Id == offer.HostChange)
            ),
            "an offer is switching while its order is under way, and then only"
        );
        var atticEntry = after.Open;
        Holds(
            atticEntry?.State.IsInAttic() == true == (after.Site.Existence == Existence.Attic),
            "what lies in the bin has a clock, and nothing else has"
        );
        Holds(
            atticEntry?.State is AtticState.MovingToAttic or AtticState.Restoring
                == after.OpenHostChanges.Any(hostChange =>
                    hostChange.Purpose is ChangePurpose.MoveToAttic or ChangePurpose.Restore
                ),
            "a way is under way while its order is"
        );

        // A handover never removes the last owner: when one loses ownership, an eligible person gains it in the same step.
        if (name == "the host confirms" && after.Site.Existence == Existence.InUse)
        {
            Holds(Active(after) >= Math.Min(Active(before), 1), "there is no moment without an owner");
        }

        // Nobody who has left gains ownership.
        var left = after.People.Where(person => person.Standing == Standing.Left).Select(person => person.Id).ToHashSet();
        var gained = Held(after).Except(Held(before)).ToList();
        Holds(gained.TrueForAll(person => !left.Contains(person)), "who has left gains no key");

        // During a hold we do not move the site, and the organisation's date does not pass.
        if (
            before.Holds.Any(hold => hold.IsInForce(after.Now, SmallWorld.Time))
            && after.Holds.Any(hold => hold.IsInForce(after.Now, SmallWorld.Time))
        )
        {
            Holds(atticEntry?.State != AtticState.Due, "a held site is not due");
            Holds(
                !(after.Open?.State == AtticState.MovingToAttic && before.Open?.State != AtticState.MovingToAttic),
                "a held site is not moved"
            );
        }

        // Every button is a transition: if the state table has none, the action is refused with the reason of that state.
        if (atticEntry is not null)
        {
            var facts = after.Facts();
            Holds(
                AtticStates.Table.Allows(atticEntry.State, AtticEvent.Restore)
                    || Restore.Decide(facts, new RestoreRequest(null, Heir), NewHostChange(), new Actor(Aske))
                        is Decision.Refusal,
                "no way back where the table has none"
            );
            Holds(
                AtticStates.Table.Allows(atticEntry.State, AtticEvent.Stop)
                    == MoveToAttic.Stop(facts, new Actor(Aske)) is Decision.Plan,
                "stopping is allowed as the table says"
            );
            Holds(
                MoveToAttic.Decide(facts, new MoveToAtticRequest(null), NewHostChange(), new Actor(Aske)) is Decision.Refusal,
                "what is on its way or away is not moved again"
            );
        }

        foreach (var offer in open)
        {
            var facts = after.Facts();
            Holds(
                OfferStates.Table.Allows(offer.State, OfferEvent.Decline)
                    == HandOver.Decline(facts, offer, null, new Actor(Heir)) is Decision.Plan,
                "declining is allowed as the table says"
            );
            Holds(
                OfferStates.Table.Allows(offer.State, OfferEvent.Withdraw)
                    == HandOver.Withdraw(facts, offer, new Actor(Aske)) is Decision.Plan,
                "undoing is allowed as the table says"
            );
            Holds(
                HandOver.Accept(facts, offer, NewHostChange(), new Actor(Trainee)) is Decision.Refusal,
                "nobody but the recipient accepts"
            );
            Holds(
                OfferStates.Table.Allows(offer.State, OfferEvent.Accept)
                    || HandOver.Accept(facts, offer, NewHostChange(), new Actor(Heir)) is Decision.Refusal,
                "no accepting where the table has none"
            );
        }

        // Nothing that is due remains due.
        Holds(after.Due().Count == 0, "all that is due was done");
    }

    private static int Active(SmallWorld world) =>
        SiteOwners.Of(world.Site, world.PeopleDirectory, 14).Holders.Count(holder => holder.Standing == Standing.Current);

    private static IEnumerable<PersonId> Held(SmallWorld world) =>
        SiteOwners.Of(world.Site, world.PeopleDirectory, 14).Holders.Select(holder => holder.Person.Id);

    // Everything that a decision depends on; time only through its effects.
    private static string Key(SmallWorld world)
    {
        var clock = world.Facts().Clock;
        var atticEntry = world.Stays.LastOrDefault();
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
            atticEntry is null ? "-" : $"{atticEntry.State} {(atticEntry.StoppableUntil is null ? "" : "stoppable")}",
            clock is null
                ? "-"
                : $"{clock.Held is null} {clock.IsDue(world.Now)} {clock.HostIsFirst} {Near(clock.Left(world.Now).Days)} {Near((clock.Clears - world.Now)?.Days)}",
            string.Join(",", world.HostChanges.Values.Select(hostChange => $"{hostChange.Purpose} {hostChange.State}").Order()),
            $"{world.Site.Existence} {world.Site.NoLongerReported} {string.Join(",", world.Site.Sharing.Or(null!).Grants)}",
            string.Join(",", world.People.Select(person => person.Standing)),
            string.Join(
                ",",
                world.Holds.Select(hold =>
                    $"{hold.IsInForce(world.Now, SmallWorld.Time)} {Near(hold.Through?.DayNumber - Day(world).DayNumber)}"
                )
            ),
            $"{world.Organisation.RetentionRules.Count}",
        ];
        return string.Join(" | ", parts);
    }

    // In steps of the days that pass at once; the past is one step.
    private static int? Near(int? days) => days is { } left ? Math.Max(-1, left / 8) : null;

    // The next sync reports what was confirmed.
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

    // Days pass for the host too: what was in its bin for its time is gone at the next sync. Then what is due is done.
    private static SmallWorld Days(SmallWorld world, TimeSpan time)
    {
        world = world.Pass(time);
        if (
            world.Site.Bin is { } bin
            && bin.RecoverableUntil.Has(out var until)
            && until <= world.Now
            && !world.OpenHostChanges.Any()
        )
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
                : DueNow.Carry(due[0], world.Facts(), NewHostChange(), remark => remark.Code);
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

    private static HostAnswer.Done Done(SmallWorld world, HostChange hostChange)
    {
        var grants = world.Site.Sharing.Or(null!).Grants.With(hostChange.WantedState.Grants);
        return new HostAnswer.Done(
            grants,
            null,
            hostChange.WantedState.Existence == Existence.Attic ? InBin(world).Bin : null,
            hostChange.WantedState.Address ?? world.Site.Address.Or("")
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

    private static ChangeId NewHostChange() => new(Guid.NewGuid());
}
