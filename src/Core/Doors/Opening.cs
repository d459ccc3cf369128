using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>Whom one grant lets in, before or after limits.</summary>
public sealed class Opening(PeopleSet inside, bool isWide, PeopleSet guests, DoorSet doors)
{
    private Overlap? overlap;

    public PeopleSet Inside => inside;

    /// <summary>Whether it is granted to everybody of a kind, not by name.</summary>
    public bool IsWide => isWide;

    public PeopleSet Guests => guests;

    public DoorSet Doors => doors;

    public static Opening Nothing { get; } = new(PeopleSet.Empty, false, PeopleSet.Empty, DoorSet.Empty);

    public bool IsNothing => Inside.IsEmpty && Doors.IsEmpty;

    /// <summary>What of this opening a limit lets through. <paramref name="ownUnit"/>: the people of the site's own unit and below.</summary>
    public Opening Under(Limit limit, PeopleSet ownUnit)
    {
        var left =
            limit.Inside == InsideLimit.Nobody || (IsWide && limit.Inside.HasFlag(InsideLimit.Named)) ? PeopleSet.Empty
            : limit.Inside.HasFlag(InsideLimit.Unit) ? Inside.Intersect(ownUnit)
            : Inside;
        var open = Doors.IsEmpty ? Doors : Doors.Intersect(limit.Lets);

        // Most limits refuse nothing of most openings: those are handed on as they are.
        return ReferenceEquals(left, Inside) && open == Doors ? this : new Opening(left, IsWide, open.IsEmpty ? PeopleSet.Empty : Guests, open);
    }

    /// <summary>Whether it lets in any of some people; many sites ask it of the same ones.</summary>
    public bool LetsIn(PeopleSet people)
    {
        var known = overlap;
        if (known is null || !ReferenceEquals(known.People, people))
        {
            overlap = known = new Overlap(people, Inside.Overlaps(people), Guests.Overlaps(people));
        }

        return known.Inside || known.Guests;
    }

    private sealed record Overlap(PeopleSet People, bool Inside, bool Guests);
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
public readonly record struct Ask(Grant? Grant, OpeningBounds Lets)
{
    /// <summary>What a site asks for when nobody could read it: at least nothing, at most everything.</summary>
    public static Ask Anything(Roll roll) =>
        new(null, new OpeningBounds(Opening.Nothing, new Opening(roll.Inside, true, roll.Guests, DoorSet.All)));

    public static Ask Of(Grant grant, Roll roll) => OfAll([grant], roll)[0];

    public static Ask[] OfAll(IReadOnlyList<Grant> grants, Roll roll)
    {
        var openings = roll.Once(static on => new Openings(on));
        var asks = new Ask[grants.Count];
        for (var i = 0; i < asks.Length; i++)
        {
            asks[i] = new Ask(grants[i], openings.Of(grants[i]));
        }

        return asks;
    }
}
