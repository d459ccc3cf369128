using System.Collections.Concurrent;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>
/// Whom grants let in on one roll. A subject opens the same at every site, so each is worked out once. Safe for
/// concurrent use.
/// </summary>
internal sealed class Openings(Roll roll)
{
    private static readonly OpeningBounds Nothing = OpeningBounds.Exactly(Opening.Nothing);
    private readonly OpeningBounds?[] ofStrangers = [.. Enum.GetValues<Proof>().Select(_ => (OpeningBounds?)null)];
    private readonly OpeningBounds?[][] ofPeople =
    [
        .. Enum.GetValues<Proof>().Select(_ => new OpeningBounds?[roll.People.Count]),
    ];
    private readonly ConcurrentDictionary<(GroupId, Proof), OpeningBounds> ofGroups = new();
    private readonly ConcurrentDictionary<(Subject, Proof), OpeningBounds> ofOthers = new();

    public OpeningBounds Of(Grant grant)
    {
        if (grant.Through is { } last && roll.Time.IsOver(last, roll.Now))
        {
            return Nothing;
        }

        return grant.Subject switch
        {
            Subject.OnePerson(var person) => OfPerson(person, grant.Proof),
            Subject.OneGroup(var group) => ofGroups.GetOrAdd(
                (group, grant.Proof),
                static (key, on) => on.OfGroup(key.Item1, key.Item2),
                this
            ),
            var other => ofOthers.GetOrAdd((other, grant.Proof), static (key, on) => on.OfOther(key.Item1, key.Item2), this),
        };
    }

    private OpeningBounds OfOther(Subject subject, Proof proof) =>
        subject switch
        {
            Subject.WholeUnit(var unit) => OfUnit(unit),
            Subject.AllStaff => OpeningBounds.Exactly(Wide(roll.Staff)),
            Subject.Partners => Outside(OutsideLevel.Partners, proof),
            Subject.PassersBy => Outside(OutsideLevel.PassersBy, proof),
            _ => throw new InvalidOperationException($"A grant to {subject} has no meaning here."),
        };

    private OpeningBounds OfUnit(UnitCode unit) =>
        OwnUnit.Of(unit, roll) is var people && people.IsKnown
            ? OpeningBounds.Exactly(Wide(people.AtLeast))
            : new OpeningBounds(Wide(people.AtLeast), Wide(people.AtMost));

    private static Opening Wide(PeopleSet inside) => new(inside, true, PeopleSet.Empty, DoorSet.Empty);

    private static OpeningBounds Outside(OutsideLevel who, Proof proof) =>
        OpeningBounds.Exactly(new(PeopleSet.Empty, true, PeopleSet.Empty, DoorSet.Of(new Door(who, proof))));

    // By far the most grants are to one person; two that make the same opening at once do no harm.
    private OpeningBounds OfPerson(PersonId person, Proof proof) =>
        roll.PlaceOf(person) is { } place
            ? ofPeople[(int)proof][place] ??= OpeningBounds.Exactly(Split(PeopleSet.Of([place]), false, proof))
            : ofStrangers[(int)proof] ??= new OpeningBounds(
                Opening.Nothing,
                new Opening(PeopleSet.Empty, false, roll.Guests, NamedDoor(proof))
            );

    private OpeningBounds OfGroup(GroupId group, Proof proof)
    {
        var expansion = roll.Expand(group);
        var isStaff = roll.CountsAsStaff(expansion.People);
        if (expansion.Complete)
        {
            return OpeningBounds.Exactly(Split(expansion.People, isStaff, proof));
        }

        var isOpen = expansion.OpenEnds.Count > 0;
        var most = isOpen ? roll.Inside : expansion.People.Except(roll.Guests).Union(expansion.Perhaps);
        var guests = isOpen ? roll.Guests : expansion.People.Intersect(roll.Guests);
        var door = guests.IsEmpty && !isOpen ? DoorSet.Empty : NamedDoor(proof);
        var mayBeStaff = roll.CountsAsStaff(most);
        var missing = roll.Staff.Except(expansion.People);
        var growth = new Growth(
            expansion.People,
            mayBeStaff && missing.Count == 1 ? missing : PeopleSet.Empty,
            expansion.OpenEnds
        );
        return new OpeningBounds(
            Split(expansion.People, mayBeStaff, proof),
            new Opening(most, isStaff, guests, door) { Growth = mayBeStaff && !isStaff ? growth : null },
            mayBeStaff && !isStaff ? new Opening(most, true, guests, door) : null
        );
    }

    private Opening Split(PeopleSet people, bool isWide, Proof proof)
    {
        // A guest in an inside group is outside.
        var guests = people.Intersect(roll.Guests);
        return new Opening(people.Except(guests), isWide, guests, guests.IsEmpty ? DoorSet.Empty : NamedDoor(proof));
    }

    private static DoorSet NamedDoor(Proof proof) => DoorSet.Of(new Door(OutsideLevel.NamedGuests, proof));
}
