using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>Whom one grant admits, before or after limits.</summary>
public sealed class Opening(PeopleSet inside, bool isWide, PeopleSet guests, DoorSet doors)
{
    // The two sets of people that were asked about last.
    private Overlap? overlap;
    private Overlap? earlier;

    public PeopleSet Inside => inside;

    /// <summary>True if it is granted to everybody of a kind, not by name.</summary>
    public bool IsWide => isWide;

    public PeopleSet Guests => guests;

    public DoorSet Doors => doors;

    /// <summary>Its possible growth, if it belongs to a group with unknown members.</summary>
    internal Growth? Growth { get; init; }

    public static Opening Nothing { get; } = new(PeopleSet.Empty, false, PeopleSet.Empty, DoorSet.Empty);

    public bool IsNothing => Inside.IsEmpty && Doors.IsEmpty;

    /// <summary>The part of this opening that a limit admits. <paramref name="ownUnit"/>: the people of the site's own unit and
    /// below.</summary>
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

        // Most limits refuse nothing of most openings, which are then returned unchanged.
        return ReferenceEquals(left, Inside) && open == Doors
            ? this
            : new Opening(left, IsWide, open.IsEmpty ? PeopleSet.Empty : Guests, open) { Growth = Growth };
    }

    /// <summary>True if it admits any of the people; many sites ask this about the same people.</summary>
    public bool LetsIn(PeopleSet people)
    {
        var known = overlap;
        if (!ReferenceEquals(known?.People, people))
        {
            known = earlier;
            if (!ReferenceEquals(known?.People, people))
            {
                known = new Overlap(people, Inside.Overlaps(people) || Guests.Overlaps(people));
                (earlier, overlap) = (overlap, known);
            }
        }

        return known.IsSo;
    }

    /// <summary>What it admits of some people, by name only.</summary>
    public Opening Among(PeopleSet people) => new(Inside.Intersect(people), IsWide, Guests.Intersect(people), DoorSet.Empty);

    private sealed class Overlap(PeopleSet people, bool isSo)
    {
        public PeopleSet People => people;

        public bool IsSo => isSo;
    }
}

/// <summary>A group with unknown members: its members get in by name unless it is all staff; then it is a wide grant.
/// </summary>
/// <param name="From">Its certain members.</param>
/// <param name="TooMany">The one member of staff with whom it would be all staff; empty if more than one is missing.</param>
/// <param name="OpenEnds">The groups whose members are missing: two groups with the same ones grow together.</param>
internal sealed record Growth(PeopleSet From, PeopleSet TooMany, IReadOnlySet<GroupId> OpenEnds)
{
    /// <summary>True if one of the two can have a member that the other lacks.</summary>
    public bool GrowsApartFrom(Growth other) =>
        OpenEnds.Count == 0
        || other.OpenEnds.Count == 0
        || (!OpenEnds.IsSubsetOf(other.OpenEnds) && !other.OpenEnds.IsSubsetOf(OpenEnds));
}

/// <summary>An opening as bounds: certain and possible. For a group with unknown members, the certain side assumes that limits
/// refuse most, the possible side that they refuse least.
/// </summary>
/// <param name="Wide">What is possible if the grant turns out to be one to all staff; null if it cannot.</param>
public sealed record OpeningBounds(Opening AtLeast, Opening AtMost, Opening? Wide = null)
{
    public static OpeningBounds Exactly(Opening opening) => new(opening, opening);
}

/// <summary>A grant as the people and doors it admits.</summary>
public readonly record struct Ask(Grant? Grant, OpeningBounds Lets, Power Power)
{
    /// <summary>The set access of a site that could not be read: at least nothing, at most everything, by name or wide.</summary>
    public static Ask Anything(PeopleDirectory directory) =>
        new(
            null,
            new OpeningBounds(
                Opening.Nothing,
                new Opening(directory.Inside, false, directory.Guests, DoorSet.All),
                new Opening(directory.Inside, true, directory.Guests, DoorSet.All)
            ),
            Power.Own
        );

    public static Ask Of(Grant grant, PeopleDirectory directory) => OfAll([grant], directory)[0];

    public static Ask[] OfAll(IReadOnlyList<Grant> grants, PeopleDirectory directory)
    {
        var openings = directory.Once(static on => new Openings(on));
        var asks = new Ask[grants.Count];
        for (var i = 0; i < asks.Length; i++)
        {
            asks[i] = new Ask(grants[i], openings.Of(grants[i]), grants[i].Power);
        }

        return asks;
    }

    /// <summary>The set access of open joining: all staff have the power of members. Joining by request adds nothing.</summary>
    public static IEnumerable<Ask> OfJoining(Known<Joining> joining, PeopleDirectory directory)
    {
        if (joining.IsNone || (joining.Has(out var way) && way.Way != JoinWay.Open))
        {
            return [];
        }

        var staff = directory.Once(static of => new Joiners(of));
        return !joining.Has(out way) ? [new Ask(null, staff.Perhaps, Power.Manage)]
            : way.Members.Has(out var power) ? [new Ask(null, staff.Certainly, power)]
            : [new Ask(null, staff.Certainly, Power.View), new Ask(null, staff.Perhaps, Power.Manage)];
    }

    private sealed class Joiners
    {
        public Joiners(PeopleDirectory directory)
        {
            var staff = new Opening(directory.Staff, true, PeopleSet.Empty, DoorSet.Empty);
            (Certainly, Perhaps) = (OpeningBounds.Exactly(staff), new OpeningBounds(Opening.Nothing, staff));
        }

        public OpeningBounds Certainly { get; }

        public OpeningBounds Perhaps { get; }
    }
}
