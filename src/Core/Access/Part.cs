using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

public static class Parts
{
    /// <summary>Who gets into a section, from the access paths of its own grants through its own layers and of the
    /// site.</summary>
    public static AccessBounds Effective(
        SectionTie tie,
        Power power,
        AccessBounds ofPart,
        AccessBounds ofSite,
        PeopleDirectory directory
    ) =>
        tie switch
        {
            SectionTie.Nested => new(
                ofSite.AtLeast.Meet(ofPart.AtLeast, directory),
                ofSite.AtMost.Meet(ofPart.AtMost, directory)
            ),
            _ when power == Power.View => new(ofSite.AtLeast.Union(ofPart.AtLeast), ofSite.AtMost.Union(ofPart.AtMost)),
            _ => ofPart,
        };
}

/// <summary>Who can effectively view a section of a site.</summary>
/// <param name="IsAjar">True if it has its own access and its grants admit somebody whom its site does not; a site open to
/// anonymous visitors admits everybody.
/// </param>
public sealed record PartReach(AccessBounds View, Truth IsAjar)
{
    /// <summary>The bounds that hold for every possible value.</summary>
    public static PartReach Shared(IReadOnlyList<PartReach> of) =>
        new(AccessBounds.Shared(of.Select(one => one.View)), Truths.Shared(of.Select(one => one.IsAjar)));
}

/// <summary>True if somebody from outside would get in now, and if not, what kind of no it is.</summary>
public enum Admission : byte
{
    In,
    Shut,
    NotOnTheList,
}

public static class Admissions
{
    /// <summary>A guest who is not on the list is refused by the list, not by the door for named guests: the people who may
    /// invite guests decide.
    /// </summary>
    public static Admission OfGuest(bool isOnTheList, Limit limit) =>
        limit.Widest == OutsideLevel.NoOne ? Admission.Shut
        : isOnTheList || limit.GuestInviter != GuestInviter.NoOne ? Admission.In
        : Admission.NotOnTheList;
}

/// <summary>Who gains and who loses by a change: named people, and doors otherwise; the two are never summed.</summary>
public sealed record ReachChange(AccessSet Gained, AccessSet Lost)
{
    public static ReachChange Between(AccessSet before, AccessSet after) => new(after.Except(before), before.Except(after));

    public bool IsNothing => Gained.IsNone && Lost.IsNone;
}

/// <summary>Which kinds of site could satisfy a request: a kind that always admits all staff cannot be for named
/// people.</summary>
public static class KindFloors
{
    public static bool CanHold(Sites.SiteKind kind, InsideLevel wanted) => !kind.AlwaysAllStaff || wanted == InsideLevel.Staff;
}
