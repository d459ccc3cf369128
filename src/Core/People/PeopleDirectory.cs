using System.Collections.Concurrent;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>All people at one instant, with dense indexes, and the units and groups. A directory belongs to an instant because
/// standings change with the days.
/// </summary>
public sealed class PeopleDirectory
{
    private readonly Dictionary<PersonId, int> places;
    private readonly Dictionary<UnitCode, Unit> units;
    private readonly Dictionary<UnitCode, (IReadOnlyList<Unit> Units, IReadOnlyList<UnitCode> Codes)> chains;
    private readonly Dictionary<UnitCode, PeopleSet> unitPeople;
    private readonly Dictionary<GroupId, Group> groups;
    private readonly IReadOnlyDictionary<GroupId, Expansion> expansions;
    private readonly ConcurrentDictionary<Type, object> once = new();

    public PeopleDirectory(
        IEnumerable<Person> people,
        IEnumerable<Unit> units,
        IEnumerable<Group> groups,
        DateTimeOffset now,
        OrganisationTime time
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

    public OrganisationTime Time { get; }

    /// <summary>The day in the organisation's zone.</summary>
    public DateOnly Today => Time.DayOf(Now);

    public IReadOnlyList<Person> People { get; }

    public IReadOnlyList<Standing> Standings { get; }

    /// <summary>All staff: including absent and leaving people, without people who have left and service accounts.</summary>
    public PeopleSet Staff { get; }

    /// <summary>Staff of unknown unit: each may be in any unit.</summary>
    public PeopleSet Unplaced { get; }

    /// <summary>Service accounts: inside, and never counted.</summary>
    public PeopleSet Services { get; }

    public PeopleSet Guests { get; }

    public PeopleSet Left { get; }

    /// <summary>Everybody who is not a guest, including service accounts.</summary>
    public PeopleSet Inside { get; }

    public IReadOnlyCollection<Unit> Units => units.Values;

    public IReadOnlyCollection<Group> Groups => groups.Values;

    /// <summary>The groups that contain a person, also through other groups.</summary>
    public IEnumerable<GroupId> GroupsOf(int place) =>
        Groups.Where(group => Expand(group.Id).People.Contains(place)).Select(group => group.Id);

    /// <summary>The units that a person belongs to: their own and those above it.</summary>
    public IEnumerable<UnitCode> UnitsOf(int place) =>
        Units.Where(unit => OfUnit(unit.Code).Contains(place)).Select(unit => unit.Code);

    /// <summary>The same directory with more units.</summary>
    public PeopleDirectory With(IReadOnlyCollection<Unit> more) =>
        more.Count == 0 ? this : new PeopleDirectory(People, Units.Concat(more), Groups, Now, Time);

    /// <summary>The same directory with one more person.</summary>
    public PeopleDirectory With(Person more) => new(People.Append(more), Units, Groups, Now, Time);

    /// <summary>The same directory with one more member of a group.</summary>
    public PeopleDirectory WithMember(GroupId group, Member member) =>
        new(
            People,
            Units,
            Groups.Select(one => one.Id == group ? one with { Members = [.. one.Members, member] } : one),
            Now,
            Time
        );

    /// <summary>The same directory at another instant; null if that is on another day, because standings change with the
    /// days.</summary>
    public PeopleDirectory? At(DateTimeOffset now)
    {
        if (Time.DayOf(now) != Today)
        {
            return null;
        }

        var same = (PeopleDirectory)MemberwiseClone();
        same.Now = now;
        return same;
    }

    /// <summary>The member of staff with a mail address, however it is written; null if there is none, or they have left.</summary>
    public PersonId? MemberOfStaff(string mail) =>
        ByMail.TryGetValue(mail.Trim().ToLowerInvariant(), out var person) && IsHere(person) ? person : null;

    /// <summary>True if the person is on the staff and has not left.</summary>
    public bool IsHere(PersonId person) =>
        PlaceOf(person) is { } place && People[place].Kind == PersonKind.Staff && Standings[place] != Standing.Left;

    /// <summary>True if the person is in the register and may sign in.</summary>
    /// <seealso cref="Person.MaySignIn"/>
    public bool MaySignIn(PersonId person) => Find(person)?.MaySignIn(Now, Time) == true;

    public int? PlaceOf(PersonId person) => places.TryGetValue(person, out var place) ? place : null;

    /// <summary>The person with a mail address, in lower case.</summary>
    public IReadOnlyDictionary<string, PersonId> ByMail => Once(static directory => new MailBook(directory)).People;

    public Person? Find(PersonId person) => places.TryGetValue(person, out var place) ? People[place] : null;

    public Group? Find(GroupId group) => groups.GetValueOrDefault(group);

    public Unit? Find(UnitCode unit) => units.GetValueOrDefault(unit);

    public Expansion Expand(GroupId group) =>
        expansions.TryGetValue(group, out var expansion)
            ? expansion
            : new Expansion(PeopleSet.Empty, PeopleSet.Empty, new HashSet<GroupId> { group });

    /// <summary>The staff of a unit and of all units below it; people in <see cref="Unplaced"/> may belong too.</summary>
    public PeopleSet OfUnit(UnitCode unit) => unitPeople.GetValueOrDefault(unit, PeopleSet.Empty);

    /// <summary>The unit and its parents, the root first. A cycle ends the chain.</summary>
    public IReadOnlyList<Unit> ChainOf(UnitCode unit) => chains.TryGetValue(unit, out var chain) ? chain.Units : [];

    /// <summary>The codes of that chain.</summary>
    public IReadOnlyList<UnitCode> CodesOf(UnitCode unit) => chains.TryGetValue(unit, out var chain) ? chain.Codes : [];

    /// <summary>A group counts as all staff if it reaches all staff; an empty staff list never qualifies.</summary>
    public bool CountsAsStaff(PeopleSet people) => !Staff.IsEmpty && people.Includes(Staff);

    public PeopleSet Where(Func<Person, Standing, bool> holds) =>
        PeopleSet.Of(Enumerable.Range(0, People.Count).Where(place => holds(People[place], Standings[place])));

    /// <summary>A value computed once per directory, on first use.</summary>
    public T Once<T>(Func<PeopleDirectory, T> make)
        where T : class =>
        (T)once.GetOrAdd(typeof(T), static (_, argument) => argument.make(argument.directory), (make, directory: this));

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

    private sealed class MailBook(PeopleDirectory directory)
    {
        public IReadOnlyDictionary<string, PersonId> People { get; } =
            directory
                .People.Where(person => person.Mail.Length > 0)
                .DistinctBy(person => person.Mail.ToLowerInvariant())
                .ToDictionary(person => person.Mail.ToLowerInvariant(), person => person.Id);
    }
}
