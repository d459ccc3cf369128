using System.Globalization;
using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Hosts;
using AtticLedger.StandIns;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Simulation.Tests;

internal sealed class SimulatedSlipway : SimulatedHost
{
    private static readonly string[] Entries = ["everyone", "world", "partners"];
    private readonly SlipwayBooks books = new(
        new SlipwayRecords
        {
            Workspace = new SlipwayWorkspace("Simulated", "world", false, ""),
            People = SmallOrganisation.Staffed.ToDictionary(
                person => person.Id.Value.ToString(CultureInfo.InvariantCulture),
                person => new SlipwayPerson($"{person.Id.Value}", person.Name, person.Mail, false, true, "PIL")
            ),
        },
        file: null
    );

    private SlipwayHost host = null!;

    public override ISiteHost Host => host;

    public override Faults Faults
    {
        set => books.Faults = value;
    }

    public static async Task<SimulatedSlipway> Start()
    {
        var slipway = new SimulatedSlipway();
        slipway.host = new SlipwayHost(
            new HostConnection(
                "Slipway",
                await slipway.Serve("/api/", app =>
                    app.MapSlipway(slipway.books, "token", new StandingClock(), requestsAnHour: int.MaxValue)
                ),
                "slipway.example"
            )
        );
        return slipway;
    }

    public override void Add(string key) =>
        books.Edit(records =>
            records.Sites[key] = new SlipwaySite
            {
                Id = key,
                Slug = key,
                Title = key,
                Team = "PIL",
                Published = DateTimeOffset.UnixEpoch,
                Entries =
                [
                    new("everyone", "read"),
                    new("p:1", "own"),
                    new("partners", "preview", "account"),
                    new("world", "read", "none"),
                ],
                Working = [new(key, "text")],
                Live = [new(key, "text")],
            }
        );

    public override void ChangeThere(string key, Random chance)
    {
        var change = new JsonObject
        {
            ["entry"] = Entries[chance.Next(Entries.Length)],
            ["role"] = chance.Next(3) switch
            {
                0 => null,
                1 => "read",
                _ => "preview",
            },
            ["proof"] = "none",
        };
        books.SetSharing(key, null, [change], SmallOrganisation.Start);
    }

    public override bool HadEffect(HostChange hostChange) =>
        books.Read(records => records.Effects.Exists(effect => effect.Key == hostChange.Id.ToString()));

    public override void CheckLog(string key, IReadOnlyList<HostChange> carried) =>
        Assert.Equal(
            carried.Select(hostChange => hostChange.Id.ToString()).Order(),
            books.Read(records =>
                records.Effects.Where(effect => effect.Site == key).Select(effect => effect.Key).Order().ToList()
            )
        );
}
