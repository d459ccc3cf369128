using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>One grant by which somebody outside gets in in fact, or may.</summary>
/// <param name="Doors">The doors that the host's limits leave open.</param>
/// <param name="Guests">The guests behind them who are known by name.</param>
/// <param name="AreAll">Whether these are all of them: a group may have been read in part.</param>
/// <param name="Beyond">Whether the house would not have it.</param>
public sealed record OutsideWay(Grant Grant, DoorSet Doors, IReadOnlyList<Person> Guests, bool AreAll, Truth Beyond)
{
    /// <summary>The ways of a site, each grant taken alone through all its layers; the strongest power first.</summary>
    public static IReadOnlyList<OutsideWay> Of(SiteFacts site, House house, Roll roll)
    {
        if (!site.Sharing.Has(out var sharing))
        {
            return [];
        }

        var passages = Passages.Of(site, house, roll);
        return
        [
            .. from grant in sharing.Grants
            where grant.Power != Power.View || Passages.WasPublished(site.Stage) != Truth.No
            let passage = passages.Of([Ask.Of(grant, roll)], grant.Power > Power.Edit ? Power.Edit : grant.Power)
            let actual = passage.Actual.AtMost
            where !actual.Doors.IsEmpty
            orderby grant.Power descending, grant.Key
            let behind = IsReadWhole(grant, roll) ? actual : passage.Actual.AtLeast
            select new OutsideWay(
                grant,
                actual.Doors,
                [.. behind.Guests.Places().Select(place => roll.People[place])],
                IsReadWhole(grant, roll),
                grant.Power == Power.View ? Passages.WasPublished(site.Stage).And(passage.Beyond.Outside) : passage.Beyond.Outside
            ),
        ];
    }

    // Of a group that was read in part, anybody may be a member: that names nobody.
    private static bool IsReadWhole(Grant grant, Roll roll) =>
        grant.Subject is not Subject.OneGroup(var group) || roll.Expand(group).Complete;
}
