using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>One grant through which somebody outside effectively gets in, or may.</summary>
/// <param name="Doors">The doors that the host's limits leave open.</param>
/// <param name="Guests">The guests of these doors who are known by name.</param>
/// <param name="AreAll">True if these are all: a group may have been read in part.</param>
/// <param name="Excess">True if it exceeds policy.</param>
public sealed record OutsideWay(Grant Grant, DoorSet Doors, IReadOnlyList<Person> Guests, bool AreAll, Truth Excess)
{
    /// <summary>The ways in from outside of a site, each grant alone through all its layers; the strongest power first.</summary>
    public static IReadOnlyList<OutsideWay> Of(SiteFacts site, Organisation organisation, PeopleDirectory directory)
    {
        if (!site.Sharing.Has(out var sharing))
        {
            return [];
        }

        var accessPaths = AccessPaths.Of(site, organisation, directory);
        return
        [
            .. from grant in sharing.Grants
            where grant.Power != Power.View || AccessPaths.IsPublished(site.Status) != Truth.No
            let accessPath = accessPaths.Of([Ask.Of(grant, directory)], grant.Power > Power.Edit ? Power.Edit : grant.Power)
            let effective = accessPath.Effective.AtMost
            where !effective.Doors.IsEmpty
            orderby grant.Power descending, grant.Key
            let behind = IsReadWhole(grant, directory) ? effective : accessPath.Effective.AtLeast
            select new OutsideWay(
                grant,
                effective.Doors,
                [.. behind.Guests.Places().Select(place => directory.People[place])],
                IsReadWhole(grant, directory),
                grant.Power == Power.View
                    ? AccessPaths.IsPublished(site.Status).And(accessPath.Excess.Outside)
                    : accessPath.Excess.Outside
            ),
        ];
    }

    // Anybody may be a member of a group that was read in part: that names nobody.
    private static bool IsReadWhole(Grant grant, PeopleDirectory directory) =>
        grant.Subject is not Subject.OneGroup(var group) || directory.Expand(group).Complete;
}
