using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.StandIns;

namespace AtticLedger.Simulation.Tests;

/// <summary>Deterministic runs of making sites: the real steps, connectors and stand-ins, with answers lost before and after their
/// effect, refusals, and servers killed between any two commits.</summary>
public sealed class MakingSites
{
    private const int Runs = 250;
    private const int MostTurns = 2_000;

    [Fact]
    public async Task Nothing_is_made_twice_and_nothing_forgotten_at_a_host_that_knows_repeats()
    {
        await using var slipway = await SimulatedSlipway.Start();
        await Play(
            slipway,
            seed => $"slipway.example/made-{seed}",
            [MakingStep.Site, MakingStep.Group, MakingStep.People, MakingStep.Tags, MakingStep.StarterPages, MakingStep.ReadBack]
        );
    }

    [Fact]
    public async Task Likewise_at_a_host_that_lets_nobody_in_by_name()
    {
        await using var quay = await SimulatedQuay.Start(new SimulatedHost.StandingClock());
        await Play(
            quay,
            seed => $"quay.example/made-{seed}",
            [MakingStep.Site, MakingStep.Group, MakingStep.People, MakingStep.Tags, MakingStep.ReadBack]
        );
    }

    [Fact]
    public async Task Likewise_at_a_host_that_does_not_know_repeats()
    {
        await using var lantern = await SimulatedLantern.Start();
        await Play(lantern, seed => $"made-{seed}.lantern.example", [MakingStep.Site, MakingStep.People, MakingStep.ReadBack]);
    }

    private static async Task Play(SimulatedHost at, Func<int, string> address, ValueList<MakingStep> steps)
    {
        var host = (IMakesSites)at.Host;
        var (killed, stopped, tried) = (0, 0, 0);
        for (var seed = 1; seed <= Runs; seed++)
        {
            at.Faults = new Faults(seed, loseBefore: 20, loseAfter: 20, refuse: 5, busy: 10, TimeSpan.Zero);
            var chance = new Random(seed);
            var now = SmallOrganisation.Start;
            var request = Granted(seed, address(seed), steps, now);
            var site = Wanted(request);
            for (var turn = 0; request.State != SiteRequestState.InUse; turn++)
            {
                Assert.True(turn < MostTurns, $"Seed {seed}: making comes to no end: {request}");
                now += TimeSpan.FromSeconds(chance.Next(1, 40));
                if (request.State == SiteRequestState.Stopped)
                {
                    stopped++;
                    request = Making.Resumed(request, now);
                }

                if (!Making.IsDue(request, now))
                {
                    continue;
                }

                tried++;
                request = Making.Take(request, "worker", now);

                // Killed before or after the host was asked: the lease stays until it is over.
                var kill = chance.Next(6);
                if (kill == 0)
                {
                    killed++;
                    continue;
                }

                if (request.Step == MakingStep.ReadBack)
                {
                    Assert.NotNull(await host.ReadSite(request.HostKey!, default));
                    request = kill == 1 ? request : Making.Finished(request, new SiteId(seed), null, now);
                    continue;
                }

                var reply = await host.Make(
                    request.Id,
                    site,
                    request.Step!.Value,
                    request.HostKey,
                    request.Attempts > 1,
                    default
                );
                if (kill == 1)
                {
                    killed++;
                    continue;
                }

                request = Making.Answered(
                    request,
                    reply switch
                    {
                        HostReply.Done done => new MakingAnswer.Done(done.Key),
                        HostReply.Refused(var words) => new MakingAnswer.Refused(words),
                        HostReply.Later(var after, var words) => new MakingAnswer.Again(after, words),
                        HostReply.Lost(var words) => new MakingAnswer.Again(TimeSpan.Zero, words),
                        _ => throw new InvalidOperationException("A reply is one of these."),
                    },
                    now
                );
            }
        }

        at.Faults = Faults.None;
        var made = new List<HostSite>();
        await foreach (var page in host.ReadSites(null, default))
        {
            made.AddRange(page.Sites);
        }

        // Each once, with the people that were wanted and nobody else by name.
        Assert.Equal(Enumerable.Range(1, Runs).Select(address).Order(), made.Select(one => one.Address.Or("")).Order());
        var groups = (await host.ReadSetting(default)).Groups.ToDictionary(group => group.Key);
        Assert.All(made, one => Assert.Equal(
                ["n.bell@merrowby.example", "r.quist@merrowby.example"],
                one.Sharing.Or(null!)
                    .Grants.SelectMany(grant =>
                        grant.Subject switch
                        {
                            HostSubject.ByMail(var mail) => [mail],
                            HostSubject.GroupOf(_, var group) => groups[group].Members.Select(member => member.Mail!),
                            _ => [],
                        }
                    )
                    .Distinct()
                    .Order()
            ));

        // Runs without faults prove nothing.
        Assert.True(killed > Runs && stopped > Runs / 8 && tried > Runs * steps.Count, $"{killed} {stopped} {tried}");
    }

    private static SiteRequest Granted(int seed, string address, ValueList<MakingStep> steps, DateTimeOffset now) =>
        new()
        {
            Id = new RequestId(new Guid(seed, 0, 0, [0, 0, 0, 0, 0, 0, 0, 1])),
            State = SiteRequestState.BeingMade,
            Wanted = new NewSite { Name = $"Made {seed}" },
            Host = "Host",
            Address = address,
            By = SmallOrganisation.Bell,
            RequestedAt = now,
            NextTry = now,
            Through = DateOnly.FromDateTime(now.UtcDateTime),
            Steps = steps,
        };

    private static NewHostSite Wanted(SiteRequest request) =>
        new(
            request.Wanted.Name,
            request.Address,
            "pages",
            "PIL",
            null,
            null,
            "en",
            null,
            null,
            null,
            ["ships"],
            null,
            HasGroup: true,
            ["n.bell@merrowby.example"],
            ["r.quist@merrowby.example"],
            [],
            ["Plan"]
        );
}
