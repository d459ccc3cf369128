using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Core.Tests.Deeds;
using AtticLedger.Hosts;
using AtticLedger.StandIns;
using static AtticLedger.Simulation.Tests.SmallHouse;

namespace AtticLedger.Simulation.Tests;

public sealed partial class Simulation
{
    /// <summary>One run of one seed.</summary>
    private sealed class Run(SimulatedHost at, int seed, Tally had)
    {
        private readonly Random chance = new(seed);
        private readonly string key = $"sim{seed}";
        private readonly Dictionary<OrderId, (Decision.Plan Plan, DeedFacts Facts)> predictions = [];
        private const string List = "Yard list";
        private SmallWorld world = null!;
        private string listed = "YRD";
        private string? decided;

        public async Task Play()
        {
            await Begin();
            for (var step = 0; step < Steps; step++)
            {
                await Advance();
            }

            await End();
        }

        public async Task Begin()
        {
            at.Add(key);
            at.Faults = new Faults(seed, loseBefore: 15, loseAfter: 15, refuse: 2, busy: 10, TimeSpan.Zero);
            world = new SmallWorld
            {
                Now = Start,
                People = Staffed,
                Groups = [Keepers],
                Units = [new Unit(new UnitCode("PIL"), "Pilotage", null)],
                House = Limited with { Hosts = new Dictionary<string, HostHabits> { [at.Host.Name] = at.Host.Habits } },
                Rules = Judging,
                Site = (await at.Read(key, Start)) with { Id = new SiteId(1) },
            };
        }

        public Task Advance()
        {
            world = world.Pass(TimeSpan.FromSeconds(chance.Next(1, 20)));
            return Step();
        }

        public async Task End()
        {
            // The faults end; what is open is worked off, and a last read sees it.
            at.Faults = Faults.None;
            for (var patience = 0; world.OpenOrders.Any(); patience++)
            {
                Assert.True(patience < 500, "The lane does not come to an end.");
                world = world.Pass(TimeSpan.FromSeconds(31));
                await Work(mayBeKilled: false);
            }

            world = world.Pass(TimeSpan.FromSeconds(1));
            await Read();
            await Check();
        }

        private Task Step()
        {
            switch (chance.Next(16))
            {
                case 0:
                    var target = PowerLimits.Same(
                        Limit.Open with
                        {
                            Widest = (OutsideLevel)chance.Next(3),
                            Inside = chance.Next(6) == 0 ? InsideLimit.Named : InsideLimit.Staff,
                        }
                    );
                    Do((facts, id) => NarrowReach.Decide(facts, new NarrowWish(target, null), new OrderId(id), new Doer(Bell)));
                    return Task.CompletedTask;
                case 1:
                    Undo();
                    return Task.CompletedTask;
                case 2:
                    ChangeAtHost();
                    return Task.CompletedTask;
                case 3:
                    Offer();
                    return Task.CompletedTask;
                case 4:
                    Countersign();
                    return Task.CompletedTask;
                case 5:
                    Do(
                        (facts, id) =>
                            PutAway.Decide(
                                facts,
                                new PutAwayWish(null, facts.Site.Title),
                                new OrderId(id),
                                new Doer(Aske, Capacity.Administrator, Bell)
                            )
                    );
                    return Task.CompletedTask;
                case 6 or 7:
                    Do((facts, id) => BringBack.Decide(facts, new BringBackWish(null), new OrderId(id), new Doer(Aske)));
                    return Task.CompletedTask;
                case 8 or 9:
                    return Read();
                case 10:
                    Hear();
                    return Task.CompletedTask;
                case 11:
                    DecideUnit();
                    return Task.CompletedTask;
                default:
                    return Work(mayBeKilled: true);
            }
        }

        private void Do(Func<DeedFacts, Guid, Decision> decide)
        {
            var facts = world.Facts();
            if (decide(facts, Id()) is not Decision.Plan plan)
            {
                return;
            }

            // The preview and the deed run the same code, so on the same facts they say the same.
            Assert.Equal(plan.Fingerprint, Assert.IsType<Decision.Plan>(decide(facts, Guid.Empty)).Fingerprint);
            if (plan.Orders.Count > 0)
            {
                predictions[plan.Orders[^1].Id] = (plan, facts);
            }

            world = world.Commit(plan);
        }

        private void Undo()
        {
            if (
                world.Orders.Values.OrderBy(order => order.Place).LastOrDefault() is { } done
                && UndoOrder.Decide(world.Facts(), done, new OrderId(Id()), new Doer(Bell), null) is Decision.Plan plan
            )
            {
                had.Undone++;
                world = world.Commit(plan);
            }
        }

        private void Offer()
        {
            var holder = new[] { Bell, Quist, Aske }.FirstOrDefault(person => HandOver.Holds(world.Site, person));
            var to = new[] { Bell, Quist, Aske }[chance.Next(3)];
            Do(
                (facts, id) =>
                    HandOver.Offer(
                        facts,
                        new OfferWish(to, holder, GiverAfter.Leaves, null),
                        new OfferId(id),
                        new Doer(holder, Capacity.Owner)
                    )
            );
        }

        private void Countersign()
        {
            if (world.Offers.Values.FirstOrDefault(offer => offer.State == OfferState.Offered) is { } offer)
            {
                Do((facts, id) => HandOver.Countersign(facts, offer, new OrderId(id), new Doer(offer.To, Capacity.Owner)));
            }
        }

        /// <summary>A list kept by hand says of the site what it says, week after week; now and then something else.</summary>
        private void Hear()
        {
            listed = chance.Next(4) == 0 ? new[] { "PIL", "YRD" }[chance.Next(2)] : listed;
            var heard = Intake.Hear(
                world.Site,
                List,
                new Dictionary<SaidFact, Known<string>> { [SaidFact.Unit] = Core.Terms.Known.Of(listed) },
                world.Now
            );
            var again = Intake.Hear(
                heard.Site,
                List,
                new Dictionary<SaidFact, Known<string>> { [SaidFact.Unit] = Core.Terms.Known.Of(listed) },
                world.Now.AddDays(1)
            );
            Assert.False(again.IsNews, "The same said twice is no news.");
            had.Disputed += heard.Site.Disputed().Count;
            world = (world with { Site = heard.Site }).Write(heard.Entry is { } entry ? [entry] : []);
        }

        private void DecideUnit()
        {
            decided = chance.Next(3) == 0 ? null : new[] { "PIL", "YRD" }[chance.Next(2)];
            if (
                Say.Decide(
                    world.Site,
                    SaidFact.Unit,
                    decided is null ? Known<string>.Unknown : Core.Terms.Known.Of(decided),
                    Bell,
                    null,
                    world.Now
                ) is
                { } said
            )
            {
                world = (world with { Site = said.Site }).Write([said.Entry]);
            }
        }

        private void ChangeAtHost()
        {
            had.ChangedMeanwhile++;
            at.ChangeThere(key, chance);
        }

        /// <summary>One pass of a worker: look, take, ask, answer. It may be killed between any two of them; its lease then runs out.</summary>
        private async Task Work(bool mayBeKilled)
        {
            if (Lane.Next(world.Orders.Values, world.Now) is not { } next)
            {
                return;
            }

            if (world.Withdrawn(next) is { } withdrawn)
            {
                world = withdrawn;
                return;
            }

            var taken = Lane.Take(next, "worker", world.Now);
            world = world.Put(taken).Write([new Draft("order.sent", "house", "site:1")]);
            if (mayBeKilled && Killed(taken))
            {
                return;
            }

            // An earlier try may have had its effect, and somebody may have changed it back: then this one has none.
            var hadEffect = at.HadEffect(taken);
            var before = (await at.Host.ReadSite(key, default))!;
            var reply = await at.Host.Bring(taken, key, () => Task.FromResult(SmallHouse.Known), world.Now, default);
            had.Lost += reply is HostReply.Lost ? 1 : 0;
            if (mayBeKilled && Killed(taken))
            {
                return;
            }

            world = world.Answered(taken, SmallHouse.Known.Answer(reply, world.Site.Expected.Or([])));
            if (reply is HostReply.Refused)
            {
                // It may have had half its effect in an earlier try: the site is read back, as the lanes do.
                await Read();
            }

            if (reply is HostReply.Done && !hadEffect)
            {
                CheckPrediction(taken, before);
            }
        }

        /// <summary>Where the host stood as the facts said when the plan was made, the outcome is what was predicted.</summary>
        private void CheckPrediction(Order order, HostSite before)
        {
            if (
                !predictions.TryGetValue(order.Id, out var made)
                || !SmallHouse
                    .Known.Site(at.Host.Name, before, world.Now)
                    .Sharing.Or(null!)
                    .Grants.SequenceEqual(made.Facts.Site.Expected.Or([]))
            )
            {
                return;
            }

            // What lies in the bin lets nobody in, before or after.
            SiteLine Line(SiteFacts site) =>
                new(
                    site with
                    {
                        UnderWay = [],
                        Sharing =
                            site.Existence == Existence.Here
                                ? site.Sharing
                                : site.Sharing.Select(sharing => sharing with { Grants = [] }),
                    },
                    Limited,
                    made.Facts.Roll
                );
            var was = Line(made.Facts.Site.WithGrants(made.Facts.Site.Expected.Or([])));
            var now = Line(world.Site);
            var effect = made.Plan.Effect;
            var (broken, still) = (Broken(was), Broken(now));
            Assert.Equal(effect.Cleared, broken.Except(still));
            Assert.Equal(effect.Opened, still.Except(broken));
            foreach (var power in Powers.Limited)
            {
                var change = ReachChange.Between(was.Passage(power).Actual.AtLeast, now.Passage(power).Actual.AtLeast);
                var predicted = effect.Powers.FirstOrDefault(one => one.Power == power);
                Assert.Equal(change.Lost.Doors.Doors(), predicted?.Shut ?? []);
                Assert.Equal(change.Gained.Doors.Doors(), predicted?.Opened ?? []);
                Assert.Equal(change.Lost.Inside.Places().Select(place => Staffed[place].Id), predicted?.Lose ?? []);
                Assert.Equal(change.Gained.Inside.Places().Select(place => Staffed[place].Id), predicted?.Gain ?? []);
            }

            had.Predicted++;
        }

        private List<RuleId> Broken(SiteLine line) => [.. Judging.Judge(line).Select(finding => finding.Rule.Id)];

        private async Task Read()
        {
            world = world.Seen(await at.Read(key, world.Now), world.Now);
        }

        private async Task Check()
        {
            var carried = world
                .Orders.Values.Where(order => order.State is OrderState.Confirmed or OrderState.Seen or OrderState.Contradicted)
                .ToList();

            // Every order that had its effect had it once in the host's own log, and no other order had any.
            at.CheckLog(key, carried);
            Assert.All(world.Orders.Values, order => Assert.False(order.State.IsOpen()));
            Assert.DoesNotContain(world.Orders.Values, order => order.State == OrderState.Confirmed);

            // What we hold is what the host holds: where the site is, and who is let in.
            var actual = await at.Read(key, world.Now);
            Assert.Equal(actual.Sharing.Or(null!).Grants, world.Site.Sharing.Or(null!).Grants);
            Assert.Equal(actual.Existence, world.Site.Existence);
            Assert.Equal(actual.Existence == Existence.Attic, world.Open is not null);

            // What was decided here stands, then what the host says, then the list; whoever has said something is still there.
            var said = actual.Unit.Select(unit => unit.Value);
            var heard = world.Site.Said.Any(statement => statement.Source == List);
            Assert.Equal(
                decided is { } unit ? Core.Terms.Known.Of(unit)
                    : !said.IsUnknown ? said
                    : heard ? Core.Terms.Known.Of(listed)
                    : Known<string>.Unknown,
                world.Site.Unit.Select(own => own.Value)
            );

            // No offer hangs on an order that is over, and there was never a moment without exactly one owner.
            Assert.DoesNotContain(world.Offers.Values, offer => offer.State == OfferState.Switching);
            Assert.Single(actual.Sharing.Or(null!).Grants, grant => grant.Power == Power.Own);
            CheckChain();
            had.Seen += carried.Count;
            had.HandedOver += world.Offers.Values.Count(offer => offer.State == OfferState.HandedOver);
            had.PutAway += carried.Count(order => order.Purpose == OrderPurpose.PutAway);
            had.BroughtBack += carried.Count(order => order.Purpose == OrderPurpose.BringBack);
            had.Clean += world.Stays.Count(stay =>
                stay.Came is { } came
                && Comparison.Of(stay.Went, came, stay.Return ?? new Wish([]), grant => grant.Key).All(one => one.Meant)
            );
        }

        private void CheckChain()
        {
            var checker = new ChainChecker();
            var head = Head.Start;
            foreach (var draft in world.Journal)
            {
                var text = draft.Text(head.Number + 1, Start, head.Hash);
                checker.Take(text);
                head = new Head(head.Number + 1, Head.HashOf(text));
            }

            Assert.IsType<ChainCheck.Unbroken>(checker.End());
        }

        private bool Killed(Order order)
        {
            var killed = chance.Next(6) == 0;
            had.Killed += killed ? 1 : 0;
            had.KilledInSwitch += killed && order.Purpose == OrderPurpose.Key ? 1 : 0;
            return killed;
        }

        private Guid Id()
        {
            var bytes = new byte[16];
            chance.NextBytes(bytes);
            return new Guid(bytes);
        }
    }
}
