using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>
/// Everybody there is at one instant, in a dense order, with units and groups. A roll is made for an instant because
/// standings pass with the days.
/// </summary>
public sealed class Roll
{
    private readonly Dictionary<PersonId, int> places;
    private readonly Dictionary<UnitCode, Unit> units;
    private readonly Dictionary<UnitCode, PeopleSet> unitPeople;
    private readonly Dictionary<GroupId, Group> groups;
    private readonly IReadOnlyDictionary<GroupId, Expansion> expansions;

    public Roll(
        IEnumerable<Person> people, IEnumerable<Unit> units, IEnumerable<Group> groups, DateTimeOffset now, HouseTime time)
    {
        Now = now;
        Time = time;
        People = [.. people];
        places = People.Select((person, place) => (person.Id, place)).ToDictionary(pair => pair.Id, pair => pair.place);
        Standings = [.. People.Select(person => person.StandingAt(now, time))];
        this.units = units.ToDictionary(unit => unit.Code);
        this.groups = groups.ToDictionary(group => group.Id);

        Staff = Where((person, standing) => person.Kind == PersonKind.Staff && standing != Standing.Left);
        Guests = Where((person, _) => person.IsOutside);
        Left = Where((_, standing) => standing == Standing.Left);
        Inside = Where((person, _) => !person.IsOutside);
        unitPeople = this.units.Keys.ToDictionary(code => code, PeopleIn);
        expansions = GroupExpansion.Of(this.groups.Values, PlaceOf, OfUnit);
    }

    public DateTimeOffset Now { get; }

    public HouseTime Time { get; }

    public IReadOnlyList<Person> People { get; }

    public IReadOnlyList<Standing> Standings { get; }

    /// <summary>All of the staff: absent and leaving included, people who left and service accounts not.</summary>
    public PeopleSet Staff { get; }

    public PeopleSet Guests { get; }

    public PeopleSet Left { get; }

    /// <summary>Everybody who is not a guest; service accounts are inside.</summary>
    public PeopleSet Inside { get; }

    public IReadOnlyCollection<Unit> Units => units.Values;

    public IReadOnlyCollection<Group> Groups => groups.Values;

    public int? PlaceOf(PersonId person) => places.TryGetValue(person, out var place) ? place : null;

    public Person? Find(PersonId person) => places.TryGetValue(person, out var place) ? People[place] : null;

    public Group? Find(GroupId group) => groups.GetValueOrDefault(group);

    public Unit? Find(UnitCode unit) => units.GetValueOrDefault(unit);

    public Expansion Expand(GroupId group) =>
        expansions.TryGetValue(group, out var expansion) ? expansion : new Expansion(PeopleSet.Empty, false);

    /// <summary>The staff of a unit and of all units below it.</summary>
    public PeopleSet OfUnit(UnitCode unit) => unitPeople.GetValueOrDefault(unit, PeopleSet.Empty);

    /// <summary>The unit and those above it, the root first. A parent that runs in a circle ends the chain.</summary>
    public IReadOnlyList<Unit> ChainOf(UnitCode unit)
    {
        var chain = new List<Unit>();
        for (UnitCode? at = unit; at is { } code && units.TryGetValue(code, out var found); at = found.Parent)
        {
            if (chain.Contains(found))
            {
                break;
            }

            chain.Add(found);
        }

        chain.Reverse();
        return chain;
    }

    /// <summary>A group counts as staff where it reaches all of the staff; an empty staff list never qualifies.</summary>
    public bool CountsAsStaff(PeopleSet people) => !Staff.IsEmpty && people.Includes(Staff);

    public PeopleSet Where(Func<Person, Standing, bool> holds) =>
        PeopleSet.Of(Enumerable.Range(0, People.Count).Where(place => holds(People[place], Standings[place])));

    private PeopleSet PeopleIn(UnitCode unit) =>
        Where((person, standing) =>
            person.Kind == PersonKind.Staff
            && standing != Standing.Left
            && person.Unit.Has(out var own)
            && ChainOf(own).Any(above => above.Code == unit));
}
