using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>Whom one grant lets in, before or after limits. <paramref name="IsWide"/>: granted to everybody of a kind, not by name.</summary>
public sealed record Opening(PeopleSet Inside, bool IsWide, PeopleSet Guests, DoorSet Doors)
{
    public static Opening Nothing { get; } = new(PeopleSet.Empty, false, PeopleSet.Empty, DoorSet.Empty);

    public bool IsNothing => Inside.IsEmpty && Doors.IsEmpty;

    /// <summary>What of this opening a limit lets through. <paramref name="ownUnit"/>: the people of the site's own unit and below.</summary>
    public Opening Under(Limit limit, PeopleSet ownUnit)
    {
        var inside =
            limit.Inside == InsideLimit.Nobody || (IsWide && limit.Inside.HasFlag(InsideLimit.Named)) ? PeopleSet.Empty
            : limit.Inside.HasFlag(InsideLimit.Unit) ? Inside.Intersect(ownUnit)
            : Inside;
        var doors = Doors.IsEmpty ? Doors : Doors.Intersect(limit.Lets);

        // Most limits refuse nothing of most openings: those are handed on as they are.
        return ReferenceEquals(inside, Inside) && doors == Doors ? this : new Opening(inside, IsWide, doors.IsEmpty ? PeopleSet.Empty : Guests, doors);
    }
}

/// <summary>
/// An opening between what is certain and what is possible. Where the members of a group are not all known, the certain
/// side is read as the limits would refuse it most, the possible side as they would refuse it least.
/// </summary>
public sealed record OpeningBounds(Opening AtLeast, Opening AtMost)
{
    public static OpeningBounds Exactly(Opening opening) => new(opening, opening);
}

/// <summary>A grant as whom it lets in.</summary>
public sealed record Ask(Grant? Grant, OpeningBounds Lets)
{
    /// <summary>What a site asks for when nobody could read it: at least nothing, at most everything.</summary>
    public static Ask Anything(Roll roll) =>
        new(null, new OpeningBounds(Opening.Nothing, new Opening(roll.Inside, true, roll.Guests, DoorSet.All)));

    public static Ask Of(Grant grant, Roll roll) => new(grant, Bounds(grant, roll));

    private static OpeningBounds Bounds(Grant grant, Roll roll)
    {
        if (grant.Through is { } last && roll.Time.IsOver(last, roll.Now))
        {
            return OpeningBounds.Exactly(Opening.Nothing);
        }

        return grant.Subject switch
        {
            Subject.OnePerson(var person) => OfPerson(person, grant.Proof, roll),
            Subject.OneGroup(var group) => OfGroup(roll.Expand(group), grant.Proof, roll),
            Subject.WholeUnit(var unit) => OpeningBounds.Exactly(new(roll.OfUnit(unit), true, PeopleSet.Empty, DoorSet.Empty)),
            Subject.AllStaff => OpeningBounds.Exactly(new(roll.Staff, true, PeopleSet.Empty, DoorSet.Empty)),
            Subject.Partners => Outside(OutsideLevel.Partners, grant.Proof),
            Subject.PassersBy => Outside(OutsideLevel.PassersBy, grant.Proof),
            _ => throw new InvalidOperationException($"A grant to {grant.Subject} has no meaning here."),
        };
    }

    private static OpeningBounds Outside(OutsideLevel who, Proof proof) =>
        OpeningBounds.Exactly(new(PeopleSet.Empty, true, PeopleSet.Empty, DoorSet.Of(new Door(who, proof))));

    private static OpeningBounds OfPerson(PersonId person, Proof proof, Roll roll) =>
        roll.PlaceOf(person) is { } place
            ? OpeningBounds.Exactly(Split(PeopleSet.Of([place]), false, proof, roll))
            : new OpeningBounds(Opening.Nothing, new Opening(PeopleSet.Empty, false, roll.Guests, NamedDoor(proof)));

    private static OpeningBounds OfGroup(Expansion expansion, Proof proof, Roll roll) =>
        expansion.Complete
            ? OpeningBounds.Exactly(Split(expansion.People, roll.CountsAsStaff(expansion.People), proof, roll))
            : new OpeningBounds(
                Split(expansion.People, true, proof, roll),
                new Opening(roll.Inside, false, roll.Guests, NamedDoor(proof)));

    private static Opening Split(PeopleSet people, bool isWide, Proof proof, Roll roll)
    {
        // A guest in an inside group is outside.
        var guests = people.Intersect(roll.Guests);
        return new Opening(people.Except(guests), isWide, guests, guests.IsEmpty ? DoorSet.Empty : NamedDoor(proof));
    }

    private static DoorSet NamedDoor(Proof proof) => DoorSet.Of(new Door(OutsideLevel.NamedGuests, proof));
}
