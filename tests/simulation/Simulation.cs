using System.Text.Json.Nodes;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.StandIns.Slipway;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.Logging;

namespace AtticLedger.Simulation.Tests;

/// <summary>
/// One deterministic run after another: the real decisions, lanes, intake and adapter against the real stand-in, with
/// answers lost before and after their effect, kills between any two commits, and hosts that change things meanwhile.
/// </summary>
public sealed class Simulation : IAsyncLifetime
{
    private const int Runs = 2_000;
    private const int Steps = 40;
    private static readonly string[] Entries = ["everyone", "world", "partners"];
    private readonly SlipwayBooks slipway = new(
        new SlipwayRecords
        {
            Workspace = new SlipwayWorkspace("Simulated", "world", false, ""),
            People = { ["1"] = new SlipwayPerson("1", "Nora Bell", "n.bell@merrowby.example", false, true, "PIL") },
        },
        file: null);

    private WebApplication app = null!;
    private SlipwayHost host = null!;

    public async ValueTask InitializeAsync()
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseTestServer();
        app = builder.Build();
        app.MapSlipway(slipway, "token", TimeProvider.System);
        await app.StartAsync();
        var http = app.GetTestClient();
        http.BaseAddress = new Uri(http.BaseAddress!, "/api/");
        http.DefaultRequestHeaders.Add("Authorization", "Bearer token");
        host = new SlipwayHost(http);
    }

    public async ValueTask DisposeAsync() => await app.DisposeAsync();

    [Fact]
    public async Task Nothing_is_lost_nothing_is_done_twice_and_the_prediction_is_the_outcome()
    {
        var had = new Tally();
        for (var seed = 1; seed <= Runs; seed++)
        {
            try
            {
                await Run(seed, had);
            }
            catch (Exception broken)
            {
                Assert.Fail($"Seed {seed} broke an invariant: {broken.Message}");
            }
        }

        // A run in which nothing goes wrong proves nothing: all of it has to have happened, and often.
        Assert.True(had.Seen > Runs && had.Undone > 100 && had.Lost > 1_000 && had.Killed > 1_000 && had.ChangedMeanwhile > 1_000 && had.Predicted > 1_000, had.ToString());
    }

    private async Task Run(int seed, Tally had)
    {
        var chance = new Random(seed);
        var key = $"sim{seed}";
        var start = new SlipwaySite
        {
            Id = key,
            Slug = key,
            Title = key,
            Team = "PIL",
            Published = DateTimeOffset.UnixEpoch,
            Entries = [new("everyone", "read"), new("p:1", "own"), new("partners", "preview", "signed-in"), new("world", "read", "none")],
        };
        slipway.Edit(records => records.Sites[key] = start);
        slipway.Faults = new Faults(seed, loseBefore: 15, loseAfter: 15, refuse: 0, busy: 10, TimeSpan.Zero);
        var world = new World();
        world.Site = world.Resolution.Site("Slipway", (await host.ReadSite(key, default))!, world.Now) with { Id = new SiteId(1) };

        for (var step = 0; step < Steps; step++)
        {
            world.Pass(TimeSpan.FromSeconds(chance.Next(1, 20)));
            switch (chance.Next(10))
            {
                case 0 or 1:
                    Narrow(world, chance, had);
                    break;
                case 2:
                    Undo(world, chance, had);
                    break;
                case 3:
                    ChangeAtHost(key, chance, had);
                    break;
                case 4 or 5:
                    await Read(world, key);
                    break;
                default:
                    await Work(world, key, chance, had);
                    break;
            }
        }

        // The faults end; what is open is worked off, and a last read sees it.
        slipway.Faults = Faults.None;
        for (var patience = 0; world.Open().Any(); patience++)
        {
            Assert.True(patience < 500, "The lane does not come to an end.");
            world.Pass(TimeSpan.FromSeconds(31));
            await Work(world, key, null, had);
        }

        world.Pass(TimeSpan.FromSeconds(1));
        await Read(world, key);
        Check(world, key, had);
    }

    private static void Narrow(World world, Random chance, Tally had)
    {
        var widest = (OutsideLevel)chance.Next(3);
        var target = PowerLimits.Same(Limit.Open with { Widest = widest, Inside = chance.Next(6) == 0 ? InsideLimit.Named : InsideLimit.Staff });
        var facts = world.Facts();
        var decision = NarrowReach.Decide(facts, new NarrowWish(target, null), new OrderId(Id(chance)), new Doer(new PersonId(1)));
        if (decision is Decision.Plan plan)
        {
            // The preview and the deed run the same code, so on the same facts they say the same.
            var again = Assert.IsType<Decision.Plan>(NarrowReach.Decide(facts, new NarrowWish(target, null), new OrderId(Id(chance)), new Doer(new PersonId(1))));
            Assert.Equal(plan.Fingerprint, again.Fingerprint);
            had.Predictions[plan.Orders[^1].Id] = (plan.Effect, facts);
            world.Commit(plan);
        }
    }

    private static void Undo(World world, Random chance, Tally had)
    {
        var done = world.Orders.Values.OrderBy(order => order.Place).LastOrDefault();
        if (done is not null && UndoOrder.Decide(world.Facts(), done, new OrderId(Id(chance)), new Doer(new PersonId(1)), null) is Decision.Plan plan)
        {
            had.Undone++;
            world.Commit(plan);
        }
    }

    private void ChangeAtHost(string key, Random chance, Tally had)
    {
        had.ChangedMeanwhile++;
        var change = new JsonObject { ["entry"] = Entries[chance.Next(Entries.Length)], ["role"] = chance.Next(3) switch { 0 => null, 1 => "read", _ => "preview" }, ["proof"] = "none" };
        slipway.SetSharing(key, null, [change], DateTimeOffset.UnixEpoch);
    }

    /// <summary>One pass of a worker: take, ask, answer. It may be killed between any two of them; its lease then runs out.</summary>
    private async Task Work(World world, string key, Random? chance, Tally had)
    {
        if (Lane.Next(world.Orders.Values, world.Now) is not { } next)
        {
            return;
        }

        var taken = Lane.Take(next, "worker", world.Now);
        world.Orders[taken.Id] = taken;
        world.Write([new Draft("order.sent", "house", "site:1")]);
        if (Killed(chance, had))
        {
            return;
        }

        // An earlier try may have had its effect, and somebody may have changed it back: then this one has none.
        var hadEffect = slipway.Read(records => records.Effects.Exists(effect => effect.Key == taken.Id.ToString()));
        var before = (await host.ReadSite(key, default))!;
        var reply = await host.Carry(taken.Id, key, taken.Wish, default);
        had.Lost += reply is HostReply.Lost ? 1 : 0;
        if (Killed(chance, had))
        {
            return;
        }

        var answered = Lane.Answered(taken, world.Resolution.Answer(reply, world.Site.Expected.Or([])), world.Now);
        world.Orders[taken.Id] = answered;
        if (reply is HostReply.Done done)
        {
            world.Site = Intake.Confirm(world.Site, (HostAnswer.Done)world.Resolution.Answer(done, []), world.Now);
            world.Write([new Draft("order.confirmed", "house", "site:1")]);
            if (!hadEffect)
            {
                CheckPrediction(taken, before, world, had);
            }
        }
    }

    /// <summary>Where the host stood as the facts said when the plan was made, the outcome is what was predicted.</summary>
    private static void CheckPrediction(Order order, HostSite before, World world, Tally had)
    {
        if (!had.Predictions.TryGetValue(order.Id, out var made)
            || !world.Resolution.Site("Slipway", before, world.Now).Sharing.Or(null!).Grants.SequenceEqual(made.Facts.Site.Expected.Or([])))
        {
            return;
        }

        var facts = made.Facts;
        var was = new SiteLine(facts.Site.WithGrants(facts.Site.Expected.Or([])), facts.House, facts.Roll);
        var now = new SiteLine(world.Site with { UnderWay = [] }, facts.House, facts.Roll);
        var broken = Broken(facts.Rules, was);
        var still = Broken(facts.Rules, now);
        Assert.Equal(made.Effect.Cleared, broken.Except(still));
        Assert.Equal(made.Effect.Opened, still.Except(broken));
        var change = ReachChange.Between(was.Passage(Power.View).Actual.AtLeast, now.Passage(Power.View).Actual.AtLeast);
        Assert.Equal(change.Lost.Doors.Doors(), made.Effect.Powers.Where(power => power.Power == Power.View).SelectMany(power => power.Shut));
        had.Predicted++;
    }

    private static List<RuleId> Broken(RuleBook rules, SiteLine line) => [.. rules.Judge(line).Select(finding => finding.Rule.Id)];

    private async Task Read(World world, string key)
    {
        var began = world.Now;
        var said = world.Resolution.Site("Slipway", (await host.ReadSite(key, default))!, began);
        var taken = Intake.Take(world.Site, said, [.. world.Orders.Values.Where(order => order.State == OrderState.Confirmed)], began, world.Now);
        world.Site = taken.Site;
        foreach (var order in taken.Moved)
        {
            world.Orders[order.Id] = order;
        }

        world.Write(taken.Entry is { } entry ? [entry] : []);
    }

    private void Check(World world, string key, Tally had)
    {
        var effects = slipway.Read(records => records.Effects.Where(effect => effect.Site == key).ToList());
        var carried = world.Orders.Values.Where(order => order.State is OrderState.Confirmed or OrderState.Seen or OrderState.Contradicted).ToList();

        // Every order that had its effect had it once in the host's own log, and no other order had any.
        Assert.Equal(carried.Select(order => order.Id.ToString()).Order(), effects.Select(effect => effect.Key).Order());
        Assert.All(world.Orders.Values, order => Assert.False(order.State.IsOpen()));
        Assert.DoesNotContain(world.Orders.Values, order => order.State == OrderState.Confirmed);

        // What we hold is what the host holds.
        var actual = world.Resolution.Site("Slipway", host.ReadSite(key, default).GetAwaiter().GetResult()!, world.Now);
        Assert.Equal(actual.Sharing.Or(null!).Grants, world.Site.Sharing.Or(null!).Grants);
        Assert.IsType<ChainCheck.Unbroken>(world.Check());
        had.Seen += carried.Count;
    }

    private static bool Killed(Random? chance, Tally had)
    {
        var killed = chance?.Next(6) == 0;
        had.Killed += killed ? 1 : 0;
        return killed;
    }

    private static Guid Id(Random chance)
    {
        var bytes = new byte[16];
        chance.NextBytes(bytes);
        return new Guid(bytes);
    }

    /// <summary>How often what had to happen did.</summary>
    private sealed record Tally
    {
        public int Seen { get; set; }

        public int Undone { get; set; }

        public int Lost { get; set; }

        public int Killed { get; set; }

        public int ChangedMeanwhile { get; set; }

        public int Predicted { get; set; }

        public Dictionary<OrderId, (Effect Effect, DeedFacts Facts)> Predictions { get; } = [];
    }
}
