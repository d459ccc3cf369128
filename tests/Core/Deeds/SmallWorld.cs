using System.Collections.Immutable;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Deeds;

/// <summary>
/// What the database would hold about one site. Immutable, so that every order of events can be walked from every state;
/// each method is one commit.
/// </summary>
internal sealed record SmallWorld
{
    public static readonly HouseTime Time = new(TimeZoneInfo.Utc);

    public required DateTimeOffset Now { get; init; }

    public required SiteFacts Site { get; init; }

    public required ImmutableList<Person> People { get; init; }

    public IReadOnlyList<Unit> Units { get; init; } = [];

    public IReadOnlyList<Group> Groups { get; init; } = [];

    public House House { get; init; } = new();

    public RuleBook Rules { get; init; } = new([], default);

    public ImmutableDictionary<OrderId, Order> Orders { get; init; } = ImmutableDictionary<OrderId, Order>.Empty;

    public ImmutableDictionary<OfferId, Offer> Offers { get; init; } = ImmutableDictionary<OfferId, Offer>.Empty;

    public ImmutableList<Stay> Stays { get; init; } = [];

    public ImmutableList<Hold> Holds { get; init; } = [];

    public ImmutableHashSet<(PersonId, string)> Written { get; init; } = [];

    public ImmutableList<Draft> Journal { get; init; } = [];

    /// <summary>Sites that stand around this one.</summary>
    public Surroundings Around { get; init; } = new();

    public Roll Roll => new(People, Units, Groups, Now, Time);

    public Stay? Open => Stays.LastOrDefault(stay => stay.State.IsOpen());

    public IEnumerable<Order> OpenOrders => Orders.Values.Where(order => order.State.IsOpen()).OrderBy(order => order.Place);

    public SmallWorld Pass(TimeSpan time) => this with { Now = Now + time };

    public DeedFacts Facts() =>
        new(
            Site with
            {
                UnderWay = [.. OpenOrders.Select(order => new UnderWay(order.Id, order.Wish))],
            },
            [.. Orders.Values],
            House,
            Rules,
            Roll
        )
        {
            Offers = [.. Offers.Values.Where(offer => offer.State.IsOpen())],
            Stay = Open,
            Holds = Holds,
            Around = Around,
        };

    public IReadOnlyList<Due> Due() =>
        DueNow.Of(new DueFacts([.. Facts().Offers], [], Open is { } stay ? [(stay, Facts().Clock)] : [], Roll, Written));

    public SmallWorld Commit(Decision.Plan plan)
    {
        var world = Write(plan.Entries);
        var place = (long)Journal.Count + 1;
        foreach (var order in plan.Orders)
        {
            world = world.Put(order.Place == 0 ? order with { Place = place } : order);
        }

        foreach (var offer in plan.Offers)
        {
            world = world with { Offers = world.Offers.SetItem(offer.Id, offer) };
        }

        return world with
        {
            Stays = plan.Stay is { } stay ? world.Put(stay.Id == 0 ? stay with { Place = place } : stay) : world.Stays,
            Holds =
                plan.Hold is not { } hold ? world.Holds
                : hold.Id == 0 ? world.Holds.Add(hold with { Id = world.Holds.Count + 1 })
                : [.. world.Holds.Select(one => one.Id == hold.Id ? hold : one)],
            People = plan.Person is not { } person
                ? world.People
                : [.. world.People.Select(one => one.Id == person.Id ? person : one)],
            Written = world.Written.Union(plan.Letters.Select(letter => (letter.To, letter.Key))),
        };
    }

    public SmallWorld Put(Order order) => this with { Orders = Orders.SetItem(order.Id, order) };

    public SmallWorld Follow(Aftermath after)
    {
        var world = Write(after.Entries);
        return world with
        {
            Offers = after.Offer is { } offer ? world.Offers.SetItem(offer.Id, offer) : world.Offers,
            Stays = after.Stay is { } stay ? world.Put(stay) : world.Stays,
        };
    }

    /// <summary>The host's answer to an order, and all that follows from it.</summary>
    public SmallWorld Answered(Order order, HostAnswer answer)
    {
        var answered = Lane.Answered(order, answer, Now);
        var world = Put(answered);
        if (answer is HostAnswer.Done done)
        {
            world = world with { Site = Intake.Confirm(Site, order.Wish, done, Now) };
        }

        return answered.State.IsOpen() ? world : world.Ended(answered);
    }

    /// <summary>The last look before the host is asked: null where the order can go.</summary>
    public SmallWorld? Withdrawn(Order order) =>
        Lane.Withdrawn(order, Roll) is { } withdrawn ? Put(withdrawn).Ended(withdrawn) : null;

    /// <summary>Takes in what a read of the host showed.</summary>
    public SmallWorld Seen(SiteFacts said, DateTimeOffset began)
    {
        var taken = Intake.Take(Site, said, [.. Orders.Values.Where(order => order.State == OrderState.Confirmed)], began, Now);
        var world = this with
        {
            Site = taken.Site,
            Orders = Orders.SetItems(taken.Moved.Select(order => KeyValuePair.Create(order.Id, order))),
        };
        return world
            .Write(taken.Entry is { } entry ? [entry] : [])
            .Follow(Aftermath.Seen(taken.Site, Stays.LastOrDefault(), [], isFirst: false, Now));
    }

    /// <summary>The host no longer has the site, in use or in its bin.</summary>
    public SmallWorld Gone()
    {
        var taken = Intake.Vanish(Site, Now);
        return (this with { Site = taken.Site })
            .Write(taken.Entry is { } entry ? [entry] : [])
            .Follow(Aftermath.Seen(taken.Site, Stays.LastOrDefault(), [], isFirst: false, Now));
    }

    public SmallWorld Write(IEnumerable<Draft> drafts) => this with { Journal = Journal.AddRange(drafts) };

    private SmallWorld Ended(Order order) =>
        Follow(
            Aftermath.Answered(
                order,
                Site,
                Offers.Values.FirstOrDefault(offer => offer.Order == order.Id),
                Stays.LastOrDefault(),
                Roll,
                Now
            )
        );

    private ImmutableList<Stay> Put(Stay stay) =>
        stay.Id == 0 ? Stays.Add(stay with { Id = Stays.Count + 1 }) : [.. Stays.Select(one => one.Id == stay.Id ? stay : one)];
}
