using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

public static class Parts
{
    /// <summary>Who gets into a part, from the passages of the part's own grants through its own layers and of the site.</summary>
    public static AccessBounds Actual(PartTie tie, Power power, AccessBounds ofPart, AccessBounds ofSite, Roll roll) =>
        tie switch
        {
            PartTie.Nested => new(ofSite.AtLeast.Meet(ofPart.AtLeast, roll), ofSite.AtMost.Meet(ofPart.AtMost, roll)),
            _ when power == Power.View => new(ofSite.AtLeast.Union(ofPart.AtLeast), ofSite.AtMost.Union(ofPart.AtMost)),
            _ => ofPart,
        };
}

/// <summary>Who can view a part of a site in fact.</summary>
/// <param name="IsAjar">
/// Whether it stands free and lets in somebody whom its site does not, by its own grants; whoever a site lets in as a
/// passer-by it lets in.
/// </param>
public sealed record PartReach(AccessBounds View, Truth IsAjar)
{
    /// <summary>What several possible ones share.</summary>
    public static PartReach Shared(IReadOnlyList<PartReach> of) =>
        new(AccessBounds.Shared(of.Select(one => one.View)), Truths.Shared(of.Select(one => one.IsAjar)));
}

/// <summary>Whether somebody from outside would get in now, and if not, what kind of no it is.</summary>
public enum Admission : byte
{
    In,
    Shut,
    NotOnTheList,
}

public static class Admissions
{
    /// <summary>
    /// A guest who is not on the list stands before an open door for named guests: the refusal is the list's, not the door's,
    /// and who may vouch for a new guest decides it.
    /// </summary>
    public static Admission OfGuest(bool isOnTheList, Limit limit) =>
        limit.Widest == OutsideLevel.NoOne ? Admission.Shut
        : isOnTheList || limit.Voucher != Voucher.NoOne ? Admission.In
        : Admission.NotOnTheList;
}

/// <summary>Who gains and who loses by a change: people where they are named, doors where they are not; never summed.</summary>
public sealed record ReachChange(Access Gained, Access Lost)
{
    public static ReachChange Between(Access before, Access after) => new(after.Except(before), before.Except(after));

    public bool IsNothing => Gained.IsNone && Lost.IsNone;
}

/// <summary>Which kinds of site could hold a wish: a kind that always lets all of the staff in cannot be for named people.</summary>
public static class KindFloors
{
    public static bool CanHold(Sites.SiteKind kind, InsideLevel wish) => !kind.AlwaysAllStaff || wish == InsideLevel.Staff;
}
