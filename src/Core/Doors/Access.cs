using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>
/// Who gets in: the union of openings, less some people. Inside is a set of people, outside a set of doors and the guests
/// behind the named ones. The sets are put together when somebody asks for them: most questions are answered by the
/// openings one by one.
/// </summary>
public sealed class Access : IEquatable<Access>
{
    private readonly Opening[] openings;
    private readonly PeopleSet? without;
    private PeopleSet? inside;
    private PeopleSet? guests;
    private PeopleSet? letsInNoneOf;

    public Access(PeopleSet inside, PeopleSet guests, DoorSet doors)
        : this([], doors, null)
    {
        this.inside = inside;
        this.guests = guests;
    }

    private Access(Opening[] openings, DoorSet doors, PeopleSet? without)
    {
        this.openings = openings;
        this.without = without;
        Doors = doors;
    }

    public static Access None { get; } = new(PeopleSet.Empty, PeopleSet.Empty, DoorSet.Empty);

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

    public static Access Of(params Opening[] openings)
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

        return new Access(openings, doors, null);
    }

    public Access Except(Access other) =>
        ReferenceEquals(this, other)
            ? None
            : new(Inside.Except(other.Inside), Guests.Except(other.Guests), Doors.Except(other.Doors));

    /// <summary>The same access itself where none of the people is in it.</summary>
    public Access Without(PeopleSet people)
    {
        // The powers of a site often let in the same, and are asked one after the other.
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
                    return new Access(openings, Doors, people);
                }
            }

            letsInNoneOf = people;
            return this;
        }

        var (left, names) = (Inside.Except(people), Guests.Except(people));
        return ReferenceEquals(left, Inside) && ReferenceEquals(names, Guests) ? this : new(left, names, Doors);
    }

    /// <summary>True if everybody who gets in here by name gets in there too, from inside and outside, and every door here is open there.</summary>
    public bool IsWithin(Access other)
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
                ? other.Inside.Includes(Inside) && other.Guests.Includes(Guests)
            : ReferenceEquals(openings, other.openings)
                ? other.without is not { } gone || Array.TrueForAll(openings, opening => LetsInNoneOf(opening, gone))
            : Array.TrueForAll(openings, other.HasAllOf);
    }

    public Access Union(Access other) => new(Inside.Union(other.Inside), Guests.Union(other.Guests), Doors.Union(other.Doors));

    /// <summary>What is in both, name by name and door by door.</summary>
    internal Access InBoth(Access other) =>
        new(Inside.Intersect(other.Inside), Guests.Intersect(other.Guests), Doors.Intersect(other.Doors));

    /// <summary>
    /// Who gets through both. Somebody whom one side lets in by name and the other only as a passer-by gets through.
    /// </summary>
    public Access Meet(Access other, Roll roll)
    {
        var (one, two) = (WithPassersBy(roll), other.WithPassersBy(roll));
        return new Access(
            one.Inside.Intersect(two.Inside),
            one.Guests.Intersect(two.Guests),
            Doors.Intersect(two.Doors).Union(one.Doors.Intersect(other.Doors))
        );
    }

    /// <summary>The same with all those in it who get in as passers-by because a door is open to anybody.</summary>
    public Access WithPassersBy(Roll roll)
    {
        var narrower = Doors
            .Doors()
            .Select(door => DoorSet.Upto(door.Who, door.Proof))
            .Aggregate(Doors, (all, some) => all.Union(some));
        return Doors.Widest == OutsideLevel.PassersBy
            ? new Access(roll.Inside, roll.Guests, narrower)
            : new Access(Inside, Guests, narrower);
    }

    /// <summary>True if nobody of the inside gets in.</summary>
    internal bool LetsInNobodyInside => IsNobodyInside;

    /// <summary>True if some people are not none, and all of them get in.</summary>
    internal bool LetsInAll(PeopleSet people) => !people.IsEmpty && HasAll(people);

    public bool Equals(Access? other) =>
        other is not null && Doors == other.Doors && Inside.Equals(other.Inside) && Guests.Equals(other.Guests);

    public override bool Equals(object? obj) => Equals(obj as Access);

    public override int GetHashCode() => HashCode.Combine(Doors, Inside.Count, Guests.Count);

    /// <summary>How many people get in by name or group, from inside and outside; service accounts are not counted.</summary>
    public int CountPeople(Roll roll) => AllCount - roll.Services.Places().Count(IsIn);

    private bool IsIn(int person) => inside is null && without is null ? IsLetIn(person) : Inside.Contains(person);

    private int AllCount =>
        (inside?.Count ?? (without is null ? PeopleSet.CountOfUnion(openings, static opening => opening.Inside) : Inside.Count))
        + (
            guests?.Count ?? (without is null ? PeopleSet.CountOfUnion(openings, static opening => opening.Guests) : Guests.Count)
        );

    // An opening that stands here too needs no look at its people, but for those taken away here.
    private bool HasAllOf(Opening opening) =>
        (opening.Inside.IsEmpty && opening.Guests.IsEmpty)
        || (
            (without is not { } gone || LetsInNoneOf(opening, gone))
            && (Array.IndexOf(openings, opening) >= 0 || (opening.Inside.All(IsLetIn) && opening.Guests.All(IsGuestLetIn)))
        );

    private static bool LetsInNoneOf(Opening opening, PeopleSet gone) => !opening.LetsIn(gone);

    // One person who is missing settles it, so the openings are not put together for it.
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

        return most >= people.Count && people.All(IsLetIn);
    }

    private bool IsLetIn(int person)
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

    private bool IsGuestLetIn(int person)
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

/// <summary>Access between what is certain and what is possible; the same twice where everything is known.</summary>
public sealed record AccessBounds(Access AtLeast, Access AtMost)
{
    public static AccessBounds Nothing { get; } = new(Access.None, Access.None);

    /// <summary>What several possible ones share: at least what is in all of them, at most what is in any.</summary>
    internal static AccessBounds Shared(IEnumerable<AccessBounds> of) =>
        of.Aggregate((one, other) => new AccessBounds(one.AtLeast.InBoth(other.AtLeast), one.AtMost.Union(other.AtMost)));
}
