using System.Text.Json.Nodes;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Core.Tests.Deeds;
using AtticLedger.Hosts;
using AtticLedger.StandIns.Slipway;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.Logging;

using static AtticLedger.Simulation.Tests.SmallHouse;

namespace AtticLedger.Simulation.Tests;

/// <summary>
/// One deterministic run after another: the real decisions, lanes, intake and adapter against the real stand-in, with
/// answers lost before and after their effect, kills between any two commits, and hosts that change things meanwhile.
/// </summary>
public sealed partial class Simulation : IAsyncLifetime
{
    private const int Runs = 2_000;
    private const int Steps = 40;
    private static readonly string[] Entries = ["everyone", "world", "partners"];
    private readonly SlipwayBooks slipway = new(
        new SlipwayRecords
        {
            Workspace = new SlipwayWorkspace("Simulated", "world", false, ""),
            People = Staffed.ToDictionary(person => person.Id.Value.ToString(System.Globalization.CultureInfo.InvariantCulture), person => new SlipwayPerson($"{person.Id.Value}", person.Name, person.Mail, false, true, "PIL")),
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
        app.MapSlipway(slipway, "token", new StandingClock());
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
                await new Run(this, seed, had).Play();
            }
            catch (Exception broken)
            {
                Assert.Fail($"Seed {seed} broke an invariant: {broken.Message}");
            }
        }

        // A run in which nothing goes wrong proves nothing: all of it has to have happened, and often.
        Assert.True(
            had.Seen > Runs && had.Undone > 100 && had.Lost > 1_000 && had.Killed > 1_000 && had.ChangedMeanwhile > 1_000 && had.Predicted > 1_000
            && had.HandedOver > 300 && had.PutAway > 300 && had.BroughtBack > 200 && had.KilledInSwitch > 50 && had.Clean > 100,
            had.ToString());
    }

    /// <summary>The stand-in's clock stands still: days do not matter here.</summary>
    private sealed class StandingClock : TimeProvider
    {
        public override DateTimeOffset GetUtcNow() => Start;
    }
}
