using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;

namespace AtticLedger.Simulation.Tests;

/// <summary>
/// What the database would hold: one site, its orders, and the journal. Commits are atomic; whoever is killed between two
/// of them has done the first and not the second.
/// </summary>
internal sealed class World
{
    private static readonly DateTimeOffset Start = new(2026, 11, 24, 7, 0, 0, TimeSpan.Zero);
    private static readonly Person Bell = new(new PersonId(1), PersonKind.Staff, "Nora Bell", "n.bell@merrowby.example", Standing.Current, null, Known.Of(new UnitCode("PIL")));
    private static readonly House House = new() { Limits = [new LimitSetting(LayerKind.Organisation, "", Enforcer.House, Known.Of(PowerLimits.Same(Limit.Open with { Widest = OutsideLevel.NamedGuests })))] };
    private static readonly RuleBook Rules = new([new Rule(new("R-07"), "Within the house's limits", "too wide", Level.Must, "", new Demand.WithinAllowed(), default)], new DateOnly(2026, 11, 24));
    private static readonly HouseTime Time = new(TimeZoneInfo.Utc);
    private readonly List<string> journal = [];

    public DateTimeOffset Now { get; private set; } = Start;

    public SiteFacts Site { get; set; } = null!;

    public Dictionary<OrderId, Order> Orders { get; } = [];

    public Resolution Resolution { get; } = new(new Dictionary<string, PersonId> { ["n.bell@merrowby.example"] = Bell.Id }, new Dictionary<(string, string), GroupId>(), new HashSet<string> { "PIL" });

    public Head Head { get; private set; } = Head.Start;

    public void Pass(TimeSpan time) => Now += time;

    public DeedFacts Facts()
    {
        var site = Site with { UnderWay = [.. Open().Select(order => new UnderWay(order.Id, order.Wish))] };
        return new DeedFacts(site, [.. Orders.Values], House, Rules, new Roll([Bell], [new Unit(new UnitCode("PIL"), "Pilotage", null)], [], Now, Time));
    }

    public IEnumerable<Order> Open() => Orders.Values.Where(order => order.State.IsOpen()).OrderBy(order => order.Place);

    public void Commit(Decision.Plan plan)
    {
        var place = Write(plan.Entries);
        foreach (var order in plan.Orders)
        {
            Orders[order.Id] = order.Place == 0 ? order with { Place = place } : order;
        }
    }

    /// <returns>The number of the first.</returns>
    public long Write(IEnumerable<Draft> drafts)
    {
        var first = Head.Number + 1;
        foreach (var draft in drafts)
        {
            var text = draft.Text(Head.Number + 1, Now, Head.Hash);
            journal.Add(text);
            Head = new Head(Head.Number + 1, Head.HashOf(text));
        }

        return first;
    }

    public ChainCheck Check()
    {
        var checker = new ChainChecker(Head.Hash);
        journal.ForEach(text => checker.Take(text));
        return checker.End();
    }
}
