using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>Whom one grant lets in, before or after limits.</summary>
public sealed class Opening(PeopleSet inside, bool isWide, PeopleSet guests, DoorSet doors)
{
    private Overlap? overlap;

    public PeopleSet Inside => inside;

    /// <summary>True if it is granted to everybody of a kind, not by name.</summary>
    public bool IsWide => isWide;

    public PeopleSet Guests => guests;

    public DoorSet Doors => doors;

    /// <summary>How it may grow, where it is that of a group of which not all members are known.</summary>
    internal Growth? Growth { get; init; }

    public static Opening Nothing { get; } = new(PeopleSet.Empty, false, PeopleSet.Empty, DoorSet.Empty);

    public bool IsNothing => Inside.IsEmpty && Doors.IsEmpty;

    /// <summary>What of this opening a limit lets through. <paramref name="ownUnit"/>: the people of the site's own unit and below.</summary>
    public Opening Under(Limit limit, PeopleSet ownUnit)
    {
        var left = limit.Inside == InsideLimit.Nobody ? PeopleSet.Empty : Inside;
        if (limit.Inside.HasFlag(InsideLimit.Named))
        {
            left =
                IsWide ? PeopleSet.Empty
                : Growth is { } growth ? left.Except(growth.TooMany)
                : left;
        }

        left = limit.Inside.HasFlag(InsideLimit.Unit) ? left.Intersect(ownUnit) : left;
        var open = Doors.IsEmpty ? Doors : Doors.Intersect(limit.Lets);

        // Most limits refuse nothing of most openings: those are handed on as they are.
        return ReferenceEquals(left, Inside) && open == Doors
            ? this
            : new Opening(left, IsWide, open.IsEmpty ? PeopleSet.Empty : Guests, open) { Growth = Growth };
    }

    /// <summary>True if it lets in any of some people; many sites ask it of the same ones.</summary>
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
/// A group of which not all members are known: whoever is in it gets in by name as long as it is not all of the staff, and
/// then it is a wide grant.
/// </summary>
/// <param name="From">Its members for certain.</param>
/// <param name="TooMany">The one member of staff with whom it would be all of the staff; empty where more than one is missing.</param>
/// <param name="OpenEnds">The groups through which members are missing: two groups with the same ones grow together.</param>
internal sealed record Growth(PeopleSet From, PeopleSet TooMany, IReadOnlySet<GroupId> OpenEnds)
{
    /// <summary>True if one of the two can have a member whom the other does not have.</summary>
    public bool GrowsApartFrom(Growth other) =>
        OpenEnds.Count == 0
        || other.OpenEnds.Count == 0
        || (!OpenEnds.IsSubsetOf(other.OpenEnds) && !other.OpenEnds.IsSubsetOf(OpenEnds));
}

/// <summary>
/// An opening between what is certain and what is possible. Where the members of a group are not all known, the certain
/// side is read as the limits would refuse it most, the possible side as they would refuse it least.
/// </summary>
/// <param name="Wide">What is possible if the grant turns out to be one to all of the staff; null where it cannot.</param>
public sealed record OpeningBounds(Opening AtLeast, Opening AtMost, Opening? Wide = null)
{
    public static OpeningBounds Exactly(Opening opening) => new(opening, opening);
}

/// <summary>A grant as whom it lets in.</summary>
public readonly record struct Ask(Grant? Grant, OpeningBounds Lets, Power Power)
{
    /// <summary>What a site asks for when nobody could read it: at least nothing, at most everything, by name or widely.</summary>
    public static Ask Anything(Roll roll) =>
        new(
            null,
            new OpeningBounds(
                Opening.Nothing,
                new Opening(roll.Inside, false, roll.Guests, DoorSet.All),
                new Opening(roll.Inside, true, roll.Guests, DoorSet.All)
            ),
            Power.Own
        );

    public static Ask Of(Grant grant, Roll roll) => OfAll([grant], roll)[0];

    public static Ask[] OfAll(IReadOnlyList<Grant> grants, Roll roll)
    {
        var openings = roll.Once(static on => new Openings(on));
        var asks = new Ask[grants.Count];
        for (var i = 0; i < asks.Length; i++)
        {
            asks[i] = new Ask(grants[i], openings.Of(grants[i]), grants[i].Power);
        }

        return asks;
    }

    /// <summary>What open joining asks: that all of the staff have what members have. Joining by request asks nothing.</summary>
    public static IEnumerable<Ask> OfJoining(Known<Joining> joining, Roll roll)
    {
        if (joining.IsNone || (joining.Has(out var way) && way.Way != JoinWay.Open))
        {
            return [];
        }

        var staff = roll.Once(static of => new Joiners(of));
        return !joining.Has(out way) ? [new Ask(null, staff.Perhaps, Power.Manage)]
            : way.Members.Has(out var power) ? [new Ask(null, staff.Certainly, power)]
            : [new Ask(null, staff.Certainly, Power.View), new Ask(null, staff.Perhaps, Power.Manage)];
    }

    private sealed class Joiners
    {
        public Joiners(Roll roll)
        {
            var staff = new Opening(roll.Staff, true, PeopleSet.Empty, DoorSet.Empty);
            (Certainly, Perhaps) = (OpeningBounds.Exactly(staff), new OpeningBounds(Opening.Nothing, staff));
        }

        public OpeningBounds Certainly { get; }

        public OpeningBounds Perhaps { get; }
    }
}
