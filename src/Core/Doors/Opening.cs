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

    public static Ask Of(Grant grant, Roll roll) => OfAll([grant], roll)[0];

    public static IReadOnlyList<Ask> OfAll(IEnumerable<Grant> grants, Roll roll)
    {
        var openings = roll.Once(static on => new Openings(on));
        return [.. grants.Select(grant => new Ask(grant, openings.Of(grant)))];
    }
}
