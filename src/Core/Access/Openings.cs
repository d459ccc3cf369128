using System.Collections.Concurrent;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>Whom grants admit in one directory. A subject admits the same people on every site, so each is computed once. Safe
/// for concurrent use.
/// </summary>
internal sealed class Openings(PeopleDirectory directory)
{
    private static readonly OpeningBounds Nothing = OpeningBounds.Exactly(Opening.Nothing);
    private readonly OpeningBounds?[] ofStrangers = [.. Enum.GetValues<VisitorSignIn>().Select(_ => (OpeningBounds?)null)];
    private readonly OpeningBounds?[][] ofPeople =
    [
        .. Enum.GetValues<VisitorSignIn>().Select(_ => new OpeningBounds?[directory.People.Count]),
    ];
    private readonly ConcurrentDictionary<(GroupId, VisitorSignIn), OpeningBounds> ofGroups = new();
    private readonly ConcurrentDictionary<(Subject, VisitorSignIn), OpeningBounds> ofOthers = new();

    public OpeningBounds Of(Grant grant)
    {
        if (grant.Through is { } last && directory.Time.IsOver(last, directory.Now))
        {
            return Nothing;
        }

        return grant.Subject switch
        {
            Subject.OnePerson(var person) => OfPerson(person, grant.VisitorSignIn),
            Subject.OneGroup(var group) => ofGroups.GetOrAdd(
                (group, grant.VisitorSignIn),
                static (key, on) => on.OfGroup(key.Item1, key.Item2),
                this
            ),
            var other => ofOthers.GetOrAdd(
                (other, grant.VisitorSignIn),
                static (key, on) => on.OfOther(key.Item1, key.Item2),
                this
            ),
        };
    }

    private OpeningBounds OfOther(Subject subject, VisitorSignIn visitorSignIn) =>
        subject switch
        {
            Subject.WholeUnit(var unit) => OfUnit(unit),
            Subject.AllStaff => OpeningBounds.Exactly(Wide(directory.Staff)),
            Subject.Partners => Outside(OutsideLevel.Partners, visitorSignIn),
            Subject.Anonymous => Outside(OutsideLevel.Anonymous, visitorSignIn),
            _ => throw new InvalidOperationException($"A grant to {subject} has no meaning here."),
        };

    private OpeningBounds OfUnit(UnitCode unit) =>
        OwnUnit.Of(unit, directory) is var people && people.IsKnown
            ? OpeningBounds.Exactly(Wide(people.AtLeast))
            : new OpeningBounds(Wide(people.AtLeast), Wide(people.AtMost));

    private static Opening Wide(PeopleSet inside) => new(inside, true, PeopleSet.Empty, DoorSet.Empty);

    private static OpeningBounds Outside(OutsideLevel who, VisitorSignIn visitorSignIn) =>
        OpeningBounds.Exactly(new(PeopleSet.Empty, true, PeopleSet.Empty, DoorSet.Of(new Door(who, visitorSignIn))));

    // Most grants are to one person; computing one opening twice at the same time does no harm.
    private OpeningBounds OfPerson(PersonId person, VisitorSignIn visitorSignIn) =>
        directory.PlaceOf(person) is { } place
            ? ofPeople[(int)visitorSignIn][place] ??= OpeningBounds.Exactly(Split(PeopleSet.Of([place]), false, visitorSignIn))
            : ofStrangers[(int)visitorSignIn] ??= new OpeningBounds(
                Opening.Nothing,
                new Opening(PeopleSet.Empty, false, directory.Guests, NamedDoor(visitorSignIn))
            );

    private OpeningBounds OfGroup(GroupId group, VisitorSignIn visitorSignIn)
    {
        var expansion = directory.Expand(group);
        var isStaff = directory.CountsAsStaff(expansion.People);
        if (expansion.Complete)
        {
            return OpeningBounds.Exactly(Split(expansion.People, isStaff, visitorSignIn));
        }

        var isOpen = expansion.OpenEnds.Count > 0;
        var most = isOpen ? directory.Inside : expansion.People.Except(directory.Guests).Union(expansion.Perhaps);
        var guests = isOpen ? directory.Guests : expansion.People.Intersect(directory.Guests);
        var door = guests.IsEmpty && !isOpen ? DoorSet.Empty : NamedDoor(visitorSignIn);
        var mayBeStaff = directory.CountsAsStaff(most);
        var missing = directory.Staff.Except(expansion.People);
        var growth = new Growth(
            expansion.People,
            mayBeStaff && missing.Count == 1 ? missing : PeopleSet.Empty,
            expansion.OpenEnds
        );
        return new OpeningBounds(
            Split(expansion.People, mayBeStaff, visitorSignIn),
            new Opening(most, isStaff, guests, door) { Growth = mayBeStaff && !isStaff ? growth : null },
            mayBeStaff && !isStaff ? new Opening(most, true, guests, door) : null
        );
    }

    private Opening Split(PeopleSet people, bool isWide, VisitorSignIn visitorSignIn)
    {
        // A guest in an inside group is outside.
        var guests = people.Intersect(directory.Guests);
        return new Opening(people.Except(guests), isWide, guests, guests.IsEmpty ? DoorSet.Empty : NamedDoor(visitorSignIn));
    }

    private static DoorSet NamedDoor(VisitorSignIn visitorSignIn) =>
        DoorSet.Of(new Door(OutsideLevel.NamedGuests, visitorSignIn));
}
