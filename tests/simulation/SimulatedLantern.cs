using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Hosts;
using AtticLedger.StandIns;
using AtticLedger.StandIns.Lantern;

namespace AtticLedger.Simulation.Tests;

internal sealed class SimulatedLantern : SimulatedHost
{
    private readonly LanternBooks books = new(
        new LanternRecords
        {
            Seats = SmallOrganisation.Staffed.ToDictionary(
                person => person.Mail,
                person => new LanternSeat(person.Mail, person.Name)
            ),
        },
        file: null
    );

    private LanternHost host = null!;

    public override ISiteHost Host => host;

    public override Faults Faults
    {
        set => books.Faults = value;
    }

    public static async Task<SimulatedLantern> Start()
    {
        var lantern = new SimulatedLantern();
        lantern.host = new LanternHost(
            new HostConnection(
                "Lantern",
                await lantern.Serve("/v1/", app => app.MapLantern(lantern.books, "token", new StandingClock())),
                ""
            )
        );
        return lantern;
    }

    public override void Add(string key) =>
        books.Edit(records =>
            records.Sites[key] = new LanternSite
            {
                Id = key,
                Host = $"{key}.lantern.example",
                Name = key,
                FirstOnline = DateTimeOffset.UnixEpoch,
                Members = new Dictionary<string, string> { [SmallOrganisation.Staffed[0].Mail] = "holder" },
                Pages = 9,
            }
        );

    public override void ChangeThere(string key, Random chance) =>
        books.SetMembers(key, chance.Next(2) == 0, [], SmallOrganisation.Start);

    // It has no idempotency keys, so its log alone does not identify a change.
    public override bool HadEffect(HostChange hostChange) => hostChange.Attempts > 1;

    public override void CheckLog(string key, IReadOnlyList<HostChange> carried)
    {
        var log = books.Read(records =>
            records.Effects.Where(effect => effect.Site == key).Select(effect => effect.Request).ToList()
        );
        Assert.DoesNotContain("delete", log);

        // Suspended and resumed in turn: no order was repeated. One that the host refused in the end, because somebody
        // changed access meanwhile, may have had half its effect; a read has seen that.
        var turns = log.Where(request => request is "suspend" or "resume").ToList();
        Assert.All(turns.Index(), turn => Assert.Equal(turn.Index % 2 == 0 ? "suspend" : "resume", turn.Item));
        Assert.True(turns.Count >= carried.Count(hostChange => hostChange.WantedState.Existence is not null));
    }
}
