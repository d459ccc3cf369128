using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>Who asks to get in: one person of the register, or anybody of a kind.</summary>
public abstract record Visitor
{
    private Visitor() { }

    public sealed record OnePerson(PersonId Person) : Visitor;

    /// <summary>Somebody from outside whom nobody has invited yet.</summary>
    public sealed record NewGuest : Visitor;

    /// <summary>Somebody of an organisation on the partner list, signed in.</summary>
    public sealed record Partner : Visitor;

    public sealed record NotSignedIn : Visitor;

    /// <summary>True if an access set certainly admits them; with <paramref name="perhaps"/>, if it may.</summary>
    internal bool IsIn(AccessSet access, PeopleDirectory directory, bool perhaps) =>
        (
            this is OnePerson(var person)
            && directory.PlaceOf(person) is { } place
            && HasByName(access.Inside, access.Guests, place)
        ) || DoorIn(access.Doors, directory, perhaps) is not null;

    /// <summary>The strictest limit under which an opening still admits them; null if it does not admit them at all.</summary>
    /// <param name="ownUnit">The people of the site's own unit and below.</param>
    internal Limit? Needed(Opening opening, PeopleSet ownUnit, PeopleDirectory directory, bool perhaps)
    {
        var place = this is OnePerson(var person) ? directory.PlaceOf(person) : null;
        if (place is { } inside && opening.Inside.Contains(inside))
        {
            var isWide = opening.IsWide || opening.Growth?.TooMany.Contains(inside) == true;
            return Limit.Shut with
            {
                Inside =
                    (isWide ? InsideLimit.Staff : InsideLimit.Named)
                    | (ownUnit.Contains(inside) ? InsideLimit.Unit : InsideLimit.Staff),
            };
        }

        var door =
            place is { } guest && opening.Guests.Contains(guest)
                ? opening.Doors.Doors().FirstOrDefault(door => door.Who == OutsideLevel.NamedGuests)
                : DoorIn(opening.Doors, directory, perhaps);
        return door is { Who: not OutsideLevel.NoOne } through
            ? Limit.Shut with
            {
                Widest = through.Who,
                LeastSignIn = through.VisitorSignIn,
            }
            : null;
    }

    private static bool HasByName(PeopleSet inside, PeopleSet guests, int place) =>
        inside.Contains(place) || guests.Contains(place);

    // Which organisation a guest belongs to is not in the register: a guest may be a partner.
    private Door? DoorIn(DoorSet doors, PeopleDirectory directory, bool perhaps) =>
        doors
            .Doors()
            .Where(door =>
                door.Who switch
                {
                    OutsideLevel.Anonymous => this is not NotSignedIn || door.VisitorSignIn == VisitorSignIn.None,
                    OutsideLevel.Partners => this is Partner
                        || (
                            perhaps
                            && (this is NewGuest || (this is OnePerson(var who) && directory.Find(who)?.IsOutside == true))
                        ),
                    _ => false,
                }
            )
            .Select(door => (Door?)door)
            .FirstOrDefault();
}
