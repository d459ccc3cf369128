using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>Who gets in: the union of openings, minus some people. Inside is a set of people; outside is a set of doors and the
/// guests of the named doors. The sets are built on demand: most questions are answered by the openings one by one.
/// </summary>
public sealed class AccessSet : IEquatable<AccessSet>
{
    private readonly Opening[] openings;
    private readonly PeopleSet? without;
    private PeopleSet? inside;
    private PeopleSet? guests;
    private PeopleSet? letsInNoneOf;

    public AccessSet(PeopleSet inside, PeopleSet guests, DoorSet doors)
        : this([], doors, null)
    {
        this.inside = inside;
        this.guests = guests;
    }

    private AccessSet(Opening[] openings, DoorSet doors, PeopleSet? without)
    {
        this.openings = openings;
        this.without = without;
        Doors = doors;
    }

    public static AccessSet None { get; } = new(PeopleSet.Empty, PeopleSet.Empty, DoorSet.Empty);

    public DoorSet Doors { get; }

    public PeopleSet Inside => inside ??= Less(PeopleSet.UnionOf([.. openings.Select(opening => opening.Inside)]));

    public PeopleSet Guests => guests ??= Less(PeopleSet.UnionOf([.. openings.Select(opening => opening.Guests)]));

    public bool IsNone => IsNobodyInside && Doors.IsEmpty && Guests.IsEmpty;

    private bool IsNobodyInside
    {
        get
        {
            if (inside is null && without is null)
            {
                foreach (var opening in openings)
                {
                    if (!opening.Inside.IsEmpty)
                    {
                        return false;
                    }
                }

                return true;
            }

            return Inside.IsEmpty;
        }
    }

    public static AccessSet Of(params Opening[] openings)
    {
        if (openings.Length == 0)
        {
            return None;
        }

        var doors = DoorSet.Empty;
        foreach (var opening in openings)
        {
            doors = opening.Doors.IsEmpty ? doors : doors.Union(opening.Doors);
        }

        return new AccessSet(openings, doors, null);
    }

    public AccessSet Except(AccessSet other) =>
        ReferenceEquals(this, other)
            ? None
            : new(Inside.Except(other.Inside), Guests.Except(other.Guests), Doors.Except(other.Doors));

    /// <summary>Returns the same instance if none of the people is in it.</summary>
    public AccessSet Without(PeopleSet people)
    {
        // The powers of a site often admit the same people and are evaluated one after the other.
        if (ReferenceEquals(letsInNoneOf, people))
        {
            return this;
        }

        if (inside is null && without is null)
        {
            foreach (var opening in openings)
            {
                if (opening.LetsIn(people))
                {
                    return new AccessSet(openings, Doors, people);
                }
            }

            letsInNoneOf = people;
            return this;
        }

        var (left, names) = (Inside.Except(people), Guests.Except(people));
        return ReferenceEquals(left, Inside) && ReferenceEquals(names, Guests) ? this : new(left, names, Doors);
    }

    /// <summary>True if the other access admits everyone whom this one admits by name, inside and outside, and has every door
    /// that this one has.</summary>
    public bool IsWithin(AccessSet other) => IsWithin(other, PeopleSet.Empty);

    /// <summary>The same, whether or not the other access admits some of the people.</summary>
    public bool IsWithin(AccessSet other, PeopleSet but)
    {
        if (ReferenceEquals(this, other))
        {
            return true;
        }

        if (!Doors.Except(other.Doors).IsEmpty)
        {
            return false;
        }

        return inside is not null || without is not null || other.inside is not null
                ? other.Inside.Includes(Inside.Except(but)) && other.Guests.Includes(Guests.Except(but))
            : ReferenceEquals(openings, other.openings) ? Array.TrueForAll(openings, opening => other.KeepsAllOf(opening, but))
            : Array.TrueForAll(openings, opening => other.HasAllOf(opening, but));
    }

    public AccessSet Union(AccessSet other) =>
        new(Inside.Union(other.Inside), Guests.Union(other.Guests), Doors.Union(other.Doors));

    /// <summary>The intersection, name by name and door by door.</summary>
    internal AccessSet InBoth(AccessSet other) =>
        new(Inside.Intersect(other.Inside), Guests.Intersect(other.Guests), Doors.Intersect(other.Doors));

    /// <summary>Who is admitted by both. A person whom one side admits by name and the other as an anonymous visitor is admitted.
    /// </summary>
    public AccessSet Meet(AccessSet other, PeopleDirectory directory)
    {
        var (one, two) = (WithAnonymous(directory), other.WithAnonymous(directory));
        return new AccessSet(
            one.Inside.Intersect(two.Inside),
            one.Guests.Intersect(two.Guests),
            Doors.Intersect(two.Doors).Union(one.Doors.Intersect(other.Doors))
        );
    }

    /// <summary>The same access, including all people who get in as anonymous visitors through a door open to anybody.</summary>
    public AccessSet WithAnonymous(PeopleDirectory directory)
    {
        var narrower = Doors
            .Doors()
            .Select(door => DoorSet.Upto(door.Who, door.VisitorSignIn))
            .Aggregate(Doors, (all, some) => all.Union(some));
        return Doors.Widest == OutsideLevel.Anonymous
            ? new AccessSet(directory.Inside, directory.Guests, narrower)
            : new AccessSet(Inside, Guests, narrower);
    }

    /// <summary>Those of some people who get in by name or group, inside or outside. No set of everybody is built for it.
    /// </summary>
    public PeopleSet Among(PeopleSet people)
    {
        if (inside is not null || without is not null)
        {
            return Inside.Intersect(people).Union(Guests.Intersect(people));
        }

        var among = PeopleSet.Empty;
        foreach (var opening in openings)
        {
            if (opening.LetsIn(people))
            {
                among = among.Union(opening.Inside.Intersect(people)).Union(opening.Guests.Intersect(people));
            }
        }

        return among;
    }

    /// <summary>True if nobody inside gets in.</summary>
    internal bool LetsInNobodyInside => IsNobodyInside;

    /// <summary>True if the people are at least one, and all of them get in.</summary>
    internal bool LetsInAll(PeopleSet people) => !people.IsEmpty && HasAll(people);

    public bool Equals(AccessSet? other) =>
        other is not null && Doors == other.Doors && Inside.Equals(other.Inside) && Guests.Equals(other.Guests);

    public override bool Equals(object? obj) => Equals(obj as AccessSet);

    public override int GetHashCode() => HashCode.Combine(Doors, Inside.Count, Guests.Count);

    /// <summary>The number of people who get in by name or group, inside and outside, without service accounts.</summary>
    public int CountPeople(PeopleDirectory directory) =>
        AllCount
        - (inside is null && without is null ? Among(directory.Services).Count : Inside.Intersect(directory.Services).Count);

    private int AllCount =>
        (inside?.Count ?? (without is null ? PeopleSet.CountOfUnion(openings, static opening => opening.Inside) : Inside.Count))
        + (
            guests?.Count ?? (without is null ? PeopleSet.CountOfUnion(openings, static opening => opening.Guests) : Guests.Count)
        );

    // An opening that is also here needs no look at its people, except for those removed here.
    private bool HasAllOf(Opening opening, PeopleSet but) =>
        (opening.Inside.IsEmpty && opening.Guests.IsEmpty)
        || (
            KeepsAllOf(opening, but)
            && (
                Array.IndexOf(openings, opening) >= 0
                || (
                    opening.Inside.All(place => GetsIn(place) || but.Contains(place))
                    && opening.Guests.All(place => GuestGetsIn(place) || but.Contains(place))
                )
            )
        );

    private bool KeepsAllOf(Opening opening, PeopleSet but) =>
        without is not { } gone || ReferenceEquals(gone, but) || !opening.LetsIn(gone.Except(but));

    // One missing person decides it, so no union is built.
    private bool HasAll(PeopleSet people)
    {
        if (inside is not null || without is not null)
        {
            return Inside.Includes(people);
        }

        var most = 0;
        foreach (var opening in openings)
        {
            if (opening.Inside.Includes(people))
            {
                return true;
            }

            most += opening.Inside.Count;
        }

        return most >= people.Count && people.All(GetsIn);
    }

    private bool GetsIn(int person)
    {
        foreach (var opening in openings)
        {
            if (opening.Inside.Contains(person))
            {
                return true;
            }
        }

        return false;
    }

    private bool GuestGetsIn(int person)
    {
        foreach (var opening in openings)
        {
            if (opening.Guests.Contains(person))
            {
                return true;
            }
        }

        return false;
    }

    private PeopleSet Less(PeopleSet people) => without is null ? people : people.Except(without);
}

/// <summary>Access as bounds: certain and possible; the two are equal if everything is known.</summary>
public sealed record AccessBounds(AccessSet AtLeast, AccessSet AtMost)
{
    public static AccessBounds Nothing { get; } = new(AccessSet.None, AccessSet.None);

    /// <summary>The bounds over several possibilities: certain is what all of them admit, possible is what any of them
    /// admits.</summary>
    internal static AccessBounds Shared(IEnumerable<AccessBounds> of) =>
        of.Aggregate((one, other) => new AccessBounds(one.AtLeast.InBoth(other.AtLeast), one.AtMost.Union(other.AtMost)));
}
