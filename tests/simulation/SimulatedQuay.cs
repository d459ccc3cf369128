using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Hosts;
using AtticLedger.StandIns;
using AtticLedger.StandIns.Quay;

namespace AtticLedger.Simulation.Tests;

internal sealed class SimulatedQuay : SimulatedHost
{
    private static readonly string?[] Mays = [null, "read", "contribute"];
    private readonly QuayBooks books = new(
        new QuayRecords
        {
            People = SmallOrganisation.Staffed.ToDictionary(
                person => person.Mail,
                person => new QuayPerson(person.Mail, person.Name, IsVisitor: false)
            ),
            Circles =
            {
                ["keepers"] = new QuayCircle(
                    "keepers",
                    "Keepers",
                    [SmallOrganisation.Staffed[0].Mail, SmallOrganisation.Staffed[1].Mail],
                    []
                ),
            },
        },
        file: null
    );

    private QuayHost host = null!;

    public override ISiteHost Host => host;

    public override Faults Faults
    {
        set => books.Faults = value;
    }

    /// <param name="clock">A hurrying one where nothing is given: its lists lag behind deletions.</param>
    public static async Task<SimulatedQuay> Start(TimeProvider? clock = null)
    {
        var quay = new SimulatedQuay();
        quay.host = new QuayHost(
            new HostConnection(
                "Quay",
                await quay.Serve("/quay/", app => app.MapQuay(quay.books, "token", clock ?? new HurryingClock())),
                "quay.example"
            )
        );
        return quay;
    }

    public override void Add(string key) =>
        books.Edit(records =>
            records.Sites[key] = new QuaySite
            {
                Id = key,
                Path = key,
                Name = key,
                Department = "PIL",
                Rights = [new("circle:keepers", "answer for"), new("house", "contribute"), new("department:PIL", "read")],
                Pages = 9,
            }
        );

    public override void ChangeThere(string key, Random chance) =>
        books.SetRights(
            key,
            "",
            new JsonObject { [chance.Next(2) == 0 ? "house" : "department:PIL"] = Mays[chance.Next(Mays.Length)] }
        );

    public override bool HadEffect(HostChange hostChange) => books.WasDone(hostChange.Id.ToString());

    public override void CheckLog(string key, IReadOnlyList<HostChange> carried) =>
        Assert.Equal(
            carried.Select(hostChange => hostChange.Id.ToString()).Order(),
            books.Read(records =>
                records
                    .Effects.Where(effect => effect.Site == key && effect.Key.Length > 0)
                    .Select(effect => effect.Key)
                    .Order()
                    .ToList()
            )
        );

    /// <summary>The lists are always current here.</summary>
    private sealed class HurryingClock : TimeProvider
    {
        private DateTimeOffset now = SmallOrganisation.Start;

        public override DateTimeOffset GetUtcNow() => now += QuayBooks.ListLag;
    }
}
