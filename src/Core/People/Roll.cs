using System.Collections.Concurrent;
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
    private readonly Dictionary<UnitCode, (IReadOnlyList<Unit> Units, IReadOnlyList<UnitCode> Codes)> chains;
    private readonly Dictionary<UnitCode, PeopleSet> unitPeople;
    private readonly Dictionary<GroupId, Group> groups;
    private readonly IReadOnlyDictionary<GroupId, Expansion> expansions;
    private readonly ConcurrentDictionary<Type, object> once = new();

    public Roll(
        IEnumerable<Person> people,
        IEnumerable<Unit> units,
        IEnumerable<Group> groups,
        DateTimeOffset now,
        HouseTime time
    )
    {
        Now = now;
        Time = time;
        People = [.. people];
        places = People.Select((person, place) => (person.Id, place)).ToDictionary(pair => pair.Id, pair => pair.place);
        Standings = [.. People.Select(person => person.StandingAt(now, time))];
        this.units = units.ToDictionary(unit => unit.Code);
        this.groups = groups.ToDictionary(group => group.Id);

        Staff = Where((person, standing) => person.Kind == PersonKind.Staff && standing != Standing.Left);
        Unplaced = Where(
            (person, standing) => person.Kind == PersonKind.Staff && standing != Standing.Left && person.Unit.IsUnknown
        );
        Services = Where((person, _) => person.Kind == PersonKind.Service);
        Guests = Where((person, _) => person.IsOutside);
        Left = Where((_, standing) => standing == Standing.Left);
        Inside = Where((person, _) => !person.IsOutside);
        chains = this.units.Keys.ToDictionary(
            code => code,
            code =>
            {
                var chain = Chain(code);
                return ((IReadOnlyList<Unit>)chain, (IReadOnlyList<UnitCode>)[.. chain.Select(above => above.Code)]);
            }
        );
        unitPeople = PeopleByUnit();
        expansions = GroupExpansion.Of(this.groups.Values, PlaceOf, OfUnit, Unplaced);
    }

    public DateTimeOffset Now { get; private set; }

    public HouseTime Time { get; }

    public IReadOnlyList<Person> People { get; }

    public IReadOnlyList<Standing> Standings { get; }

    /// <summary>All of the staff: absent and leaving included, people who left and service accounts not.</summary>
    public PeopleSet Staff { get; }

    /// <summary>Staff whose unit no source has told: each may be in any unit.</summary>
    public PeopleSet Unplaced { get; }

    /// <summary>Service accounts: inside, and never counted.</summary>
    public PeopleSet Services { get; }

    public PeopleSet Guests { get; }

    public PeopleSet Left { get; }

    /// <summary>Everybody who is not a guest; service accounts are inside.</summary>
    public PeopleSet Inside { get; }

    public IReadOnlyCollection<Unit> Units => units.Values;

    public IReadOnlyCollection<Group> Groups => groups.Values;

    /// <summary>The same roll at another instant; null where that is on another day, for standings pass with the days.</summary>
    public Roll? At(DateTimeOffset now)
    {
        if (Time.DayOf(now) != Time.DayOf(Now))
        {
            return null;
        }

        var same = (Roll)MemberwiseClone();
        same.Now = now;
        return same;
    }

    /// <summary>True if somebody is of the staff and has not left.</summary>
    public bool IsHere(PersonId person) =>
        PlaceOf(person) is { } place && People[place].Kind == PersonKind.Staff && Standings[place] != Standing.Left;

    /// <summary>True if somebody is on the register and may sign in.</summary>
    /// <seealso cref="Person.MaySignIn"/>
    public bool MaySignIn(PersonId person) => Find(person)?.MaySignIn(Now, Time) == true;

    public int? PlaceOf(PersonId person) => places.TryGetValue(person, out var place) ? place : null;

    /// <summary>Who has a mail address, in lower case.</summary>
    public IReadOnlyDictionary<string, PersonId> ByMail => Once(static roll => new MailBook(roll)).People;

    public Person? Find(PersonId person) => places.TryGetValue(person, out var place) ? People[place] : null;

    public Group? Find(GroupId group) => groups.GetValueOrDefault(group);

    public Unit? Find(UnitCode unit) => units.GetValueOrDefault(unit);

    public Expansion Expand(GroupId group) =>
        expansions.TryGetValue(group, out var expansion)
            ? expansion
            : new Expansion(PeopleSet.Empty, PeopleSet.Empty, new HashSet<GroupId> { group });

    /// <summary>The staff of a unit and of all units below it; those in <see cref="Unplaced"/> may be in it besides.</summary>
    public PeopleSet OfUnit(UnitCode unit) => unitPeople.GetValueOrDefault(unit, PeopleSet.Empty);

    /// <summary>The unit and those above it, the root first. A parent that runs in a circle ends the chain.</summary>
    public IReadOnlyList<Unit> ChainOf(UnitCode unit) => chains.TryGetValue(unit, out var chain) ? chain.Units : [];

    /// <summary>The codes of that chain.</summary>
    public IReadOnlyList<UnitCode> CodesOf(UnitCode unit) => chains.TryGetValue(unit, out var chain) ? chain.Codes : [];

    /// <summary>A group counts as staff where it reaches all of the staff; an empty staff list never qualifies.</summary>
    public bool CountsAsStaff(PeopleSet people) => !Staff.IsEmpty && people.Includes(Staff);

    public PeopleSet Where(Func<Person, Standing, bool> holds) =>
        PeopleSet.Of(Enumerable.Range(0, People.Count).Where(place => holds(People[place], Standings[place])));

    /// <summary>What is worked out from a roll once and for all, by whoever needs it: made when first asked for.</summary>
    public T Once<T>(Func<Roll, T> make)
        where T : class => (T)once.GetOrAdd(typeof(T), static (_, argument) => argument.make(argument.roll), (make, roll: this));

    private Dictionary<UnitCode, PeopleSet> PeopleByUnit()
    {
        var places = units.Keys.ToDictionary(code => code, _ => new List<int>());
        foreach (var place in Staff.Places())
        {
            if (People[place].Unit.Has(out var own) && chains.TryGetValue(own, out var chain))
            {
                foreach (var above in chain.Units)
                {
                    places[above.Code].Add(place);
                }
            }
        }

        return places.ToDictionary(pair => pair.Key, pair => PeopleSet.Of(pair.Value));
    }

    private List<Unit> Chain(UnitCode unit)
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

    private sealed class MailBook(Roll roll)
    {
        public IReadOnlyDictionary<string, PersonId> People { get; } =
            roll
                .People.Where(person => person.Mail.Length > 0)
                .DistinctBy(person => person.Mail.ToLowerInvariant())
                .ToDictionary(person => person.Mail.ToLowerInvariant(), person => person.Id);
    }
}
