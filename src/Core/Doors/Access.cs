using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>Who gets in: the union of openings. Inside is a set of people, outside a set of doors and the guests behind the named ones.</summary>
public sealed record Access(PeopleSet Inside, PeopleSet Guests, DoorSet Doors)
{
    public static Access None { get; } = new(PeopleSet.Empty, PeopleSet.Empty, DoorSet.Empty);

    public bool IsNone => Inside.IsEmpty && Doors.IsEmpty;

    public static Access Of(IReadOnlyList<Opening> openings) =>
        openings.Count == 0
            ? None
            : new Access(
                PeopleSet.UnionOf([.. openings.Select(opening => opening.Inside)]),
                PeopleSet.UnionOf([.. openings.Select(opening => opening.Guests)]),
                openings.Aggregate(DoorSet.Empty, (doors, opening) => doors.Union(opening.Doors)));

    public Access Except(Access other) =>
        ReferenceEquals(this, other) ? None : new(Inside.Except(other.Inside), Guests.Except(other.Guests), Doors.Except(other.Doors));

    /// <summary>The same access itself where none of the people is in it.</summary>
    public Access Without(PeopleSet people)
    {
        var (inside, guests) = (Inside.Except(people), Guests.Except(people));
        return ReferenceEquals(inside, Inside) && ReferenceEquals(guests, Guests) ? this : new(inside, guests, Doors);
    }

    public Access Union(Access other) => new(Inside.Union(other.Inside), Guests.Union(other.Guests), Doors.Union(other.Doors));

    /// <summary>
    /// Who gets through both. Somebody whom one side lets in by name and the other only as a passer-by gets through.
    /// </summary>
    public Access Meet(Access other, Roll roll)
    {
        var (one, two) = (WithPassersBy(roll), other.WithPassersBy(roll));
        return new Access(
            one.Inside.Intersect(two.Inside),
            one.Guests.Intersect(two.Guests),
            Doors.Intersect(two.Doors).Union(one.Doors.Intersect(other.Doors)));
    }

    private Access WithPassersBy(Roll roll)
    {
        var narrower = Doors.Doors().Select(door => DoorSet.Upto(door.Who, door.Proof)).Aggregate(Doors, (all, some) => all.Union(some));
        return Doors.Widest == OutsideLevel.PassersBy ? new Access(roll.Inside, roll.Guests, narrower) : this with { Doors = narrower };
    }

    /// <summary>
    /// The word for the inside: staff where all of the staff get in, unit where all of the site's own unit do, named where
    /// anybody does.
    /// </summary>
    public InsideLevel LevelInside(Roll roll, PeopleSet ownUnit) =>
        Inside.IsEmpty ? InsideLevel.Nobody
        : roll.CountsAsStaff(Inside) ? InsideLevel.Staff
        : !ownUnit.IsEmpty && Inside.Includes(ownUnit) ? InsideLevel.Unit
        : InsideLevel.Named;
}

/// <summary>Access between what is certain and what is possible; the same twice where everything is known.</summary>
public sealed record AccessBounds(Access AtLeast, Access AtMost);
