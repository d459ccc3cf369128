using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Core.Tests.Actions;
using AtticLedger.Hosts;
using AtticLedger.StandIns;
using static AtticLedger.Simulation.Tests.SmallOrganisation;

namespace AtticLedger.Simulation.Tests;

public sealed partial class Simulation
{
    /// <summary>One run with one seed.</summary>
    private sealed class Run(SimulatedHost at, int seed, Tally had)
    {
        private readonly Random chance = new(seed);
        private readonly string key = $"sim{seed}";
        private readonly Dictionary<ChangeId, (Decision.Plan Plan, ActionFacts Facts)> predictions = [];
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
                Organisation = Limited with
                {
                    Hosts = new Dictionary<string, HostCapabilities> { [at.Host.Name] = at.Host.Capabilities },
                },
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
            // The faults end, open work completes, and a last sync reports it.
            at.Faults = Faults.None;
            for (var patience = 0; world.OpenHostChanges.Any(); patience++)
            {
                Assert.True(patience < 500, "The change queue does not come to an end.");
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
                    Do(
                        (facts, id) =>
                            RestrictReach.Decide(facts, new RestrictRequest(target, null), new ChangeId(id), new Actor(Bell))
                    );
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
                    Accept();
                    return Task.CompletedTask;
                case 5:
                    Do(
                        (facts, id) =>
                            MoveToAttic.Decide(
                                facts,
                                new MoveToAtticRequest(null, facts.Site.Title),
                                new ChangeId(id),
                                new Actor(Aske, Capacity.Administrator, Bell)
                            )
                    );
                    return Task.CompletedTask;
                case 6 or 7:
                    Do((facts, id) => Restore.Decide(facts, new RestoreRequest(null), new ChangeId(id), new Actor(Aske)));
                    return Task.CompletedTask;
                case 8 or 9:
                    return Read();
                case 10:
                    Apply();
                    return Task.CompletedTask;
                case 11:
                    DecideUnit();
                    return Task.CompletedTask;
                default:
                    return Work(mayBeKilled: true);
            }
        }

        private void Do(Func<ActionFacts, Guid, Decision> decide)
        {
            var facts = world.Facts();
            if (decide(facts, Id()) is not Decision.Plan plan)
            {
                return;
            }

            // The preview and the action run the same code, so the same facts give the same plan.
            Assert.Equal(plan.Fingerprint, Assert.IsType<Decision.Plan>(decide(facts, Guid.Empty)).Fingerprint);
            if (plan.HostChanges.Count > 0)
            {
                predictions[plan.HostChanges[^1].Id] = (plan, facts);
            }

            world = world.Commit(plan);
        }

        private void Undo()
        {
            if (
                world.HostChanges.Values.OrderBy(hostChange => hostChange.Place).LastOrDefault() is { } done
                && UndoHostChange.Decide(world.Facts(), done, new ChangeId(Id()), new Actor(Bell), null) is Decision.Plan plan
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
                        new OfferRequest(to, holder, CurrentOwnerAfter.Leaves, null),
                        new OfferId(id),
                        new Actor(holder, Capacity.Owner)
                    )
            );
        }

        private void Accept()
        {
            if (world.Offers.Values.FirstOrDefault(offer => offer.State == OfferState.Offered) is { } offer)
            {
                Do((facts, id) => HandOver.Accept(facts, offer, new ChangeId(id), new Actor(offer.To, Capacity.Owner)));
            }
        }

        /// <summary>A manual list reports the same about the site week after week, and sometimes something else.</summary>
        private void Apply()
        {
            listed = chance.Next(4) == 0 ? new[] { "PIL", "YRD" }[chance.Next(2)] : listed;
            var heard = Intake.Apply(
                world.Site,
                List,
                new Dictionary<ClaimedFact, Known<string>> { [ClaimedFact.Unit] = Core.Terms.Known.Of(listed) },
                world.Now
            );
            var again = Intake.Apply(
                heard.Site,
                List,
                new Dictionary<ClaimedFact, Known<string>> { [ClaimedFact.Unit] = Core.Terms.Known.Of(listed) },
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
                SetFact.Decide(
                    world.Site,
                    ClaimedFact.Unit,
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

        /// <summary>One pass of a worker: find, claim, send, record the answer. It may be killed between any two; then its lease
        /// expires.</summary>
        private async Task Work(bool mayBeKilled)
        {
            if (ChangeQueue.Next(world.HostChanges.Values, world.Now) is not { } next)
            {
                return;
            }

            if (world.Withdrawn(next) is { } withdrawn)
            {
                world = withdrawn;
                return;
            }

            var taken = ChangeQueue.Take(next, "worker", world.Now);
            world = world
                .Put(taken)
                .Write([new Draft(JournalAction.ChangeSent, EntryActor.Product, EntrySubject.Of(new SiteId(1)))]);
            if (mayBeKilled && Killed(taken))
            {
                return;
            }

            // An earlier attempt may have had its effect and somebody may have reversed it; then this one has none.
            var hadEffect = at.HadEffect(taken);
            var before = (await at.Host.ReadSite(key, default))!;
            var reply = await at.Host.Bring(
                taken,
                key,
                () => Task.FromResult(SmallOrganisation.Known),
                Dispatch.NoPictures,
                world.Now,
                default
            );
            had.Lost += reply is HostReply.Lost ? 1 : 0;
            if (mayBeKilled && Killed(taken))
            {
                return;
            }

            world = world.Answered(taken, SmallOrganisation.Known.Answer(reply, world.Site.Expected.Or([])));
            if (reply is HostReply.Refused)
            {
                // An earlier attempt may have had half its effect: the site is read first, as the change queues do.
                await Read();
            }

            if (reply is HostReply.Done && !hadEffect)
            {
                CheckPrediction(taken, before);
            }
        }

        /// <summary>If the host agreed with the facts when the plan was made, the outcome is the predicted one.</summary>
        private void CheckPrediction(HostChange hostChange, HostSite before)
        {
            if (
                !predictions.TryGetValue(hostChange.Id, out var made)
                || !SmallOrganisation
                    .Known.Site(at.Host.Name, before, world.Now)
                    .Sharing.Or(null!)
                    .Grants.SequenceEqual(made.Facts.Site.Expected.Or([]))
            )
            {
                return;
            }

            // A site in the bin gives nobody access, before or after.
            ComputedSite Line(SiteFacts site) =>
                new(
                    site with
                    {
                        UnderWay = [],
                        Sharing =
                            site.Existence == Existence.InUse
                                ? site.Sharing
                                : site.Sharing.Select(sharing => sharing with { Grants = [] }),
                    },
                    Limited,
                    made.Facts.PeopleDirectory
                );
            var was = Line(made.Facts.Site.WithGrants(made.Facts.Site.Expected.Or([])));
            var now = Line(world.Site);
            var effect = made.Plan.Effect;
            var (broken, still) = (Broken(was), Broken(now));
            Assert.Equal(effect.Cleared, broken.Except(still));
            Assert.Equal(effect.Opened, still.Except(broken));
            foreach (var power in Powers.Limited)
            {
                var change = ReachChange.Between(
                    was.AccessPath(power).Effective.AtLeast,
                    now.AccessPath(power).Effective.AtLeast
                );
                var predicted = effect.Powers.FirstOrDefault(one => one.Power == power);
                Assert.Equal(change.Lost.Doors.Doors(), predicted?.Shut ?? []);
                Assert.Equal(change.Gained.Doors.Doors(), predicted?.Opened ?? []);
                Assert.Equal(change.Lost.Inside.Places().Select(place => Staffed[place].Id), predicted?.Lose ?? []);
                Assert.Equal(change.Gained.Inside.Places().Select(place => Staffed[place].Id), predicted?.Gain ?? []);
            }

            had.Predicted++;
        }

        private List<RuleId> Broken(ComputedSite line) => [.. Judging.Judge(line).Select(finding => finding.Rule.Id)];

        private async Task Read()
        {
            world = world.Seen(await at.Read(key, world.Now), world.Now);
        }

        private async Task Check()
        {
            var carried = world
                .HostChanges.Values.Where(hostChange =>
                    hostChange.State is ChangeState.Confirmed or ChangeState.Verified or ChangeState.Contradicted
                )
                .ToList();

            // Every change that took effect is in the host's own log once, and no other change is.
            at.CheckLog(key, carried);
            Assert.All(world.HostChanges.Values, hostChange => Assert.False(hostChange.State.IsOpen()));
            Assert.DoesNotContain(world.HostChanges.Values, hostChange => hostChange.State == ChangeState.Confirmed);

            // The register agrees with the host about existence and access.
            var effective = await at.Read(key, world.Now);
            Assert.Equal(effective.Sharing.Or(null!).Grants, world.Site.Sharing.Or(null!).Grants);
            Assert.Equal(effective.Existence, world.Site.Existence);
            Assert.Equal(effective.Existence == Existence.Attic, world.Open is not null);

            // A decision made here applies first, then the host's claim, then the list's; every claim is still stored.
            var said = effective.Unit.Select(unit => unit.Value);
            var heard = world.Site.Claims.Any(claim => claim.Source == List);
            Assert.Equal(
                decided is { } unit ? Core.Terms.Known.Of(unit)
                    : !said.IsUnknown ? said
                    : heard ? Core.Terms.Known.Of(listed)
                    : Known<string>.Unknown,
                world.Site.Unit.Select(own => own.Value)
            );

            // No offer depends on a completed change, and there was exactly one owner at every moment.
            Assert.DoesNotContain(world.Offers.Values, offer => offer.State == OfferState.Completing);
            Assert.Single(effective.Sharing.Or(null!).Grants, grant => grant.Power == Power.Own);
            CheckChain();
            had.Seen += carried.Count;
            had.HandedOver += world.Offers.Values.Count(offer => offer.State == OfferState.HandedOver);
            had.MoveToAttic += carried.Count(hostChange => hostChange.Purpose == ChangePurpose.MoveToAttic);
            had.Restored += carried.Count(hostChange => hostChange.Purpose == ChangePurpose.Restore);
            had.Clean += world.Stays.Count(atticEntry =>
                atticEntry.ContentAfter is { } came
                && Comparison
                    .Of(atticEntry.ContentBefore, came, atticEntry.Return ?? new WantedState([]), grant => grant.Key)
                    .All(one => one.Meant)
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

        private bool Killed(HostChange hostChange)
        {
            var killed = chance.Next(6) == 0;
            had.Killed += killed ? 1 : 0;
            had.KilledWhileCompleting += killed && hostChange.Purpose == ChangePurpose.Owners ? 1 : 0;
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
