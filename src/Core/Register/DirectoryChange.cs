using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>The difference between two directories that can affect sites: changed people, groups and units, and days that have
/// passed. A site that is not affected has the same row with both.
/// </summary>
/// <param name="People">People who are new, or whose record, standing or status as active owner has changed.</param>
/// <param name="Groups">Groups that have a new name or other members, or that contain one of these people.</param>
/// <param name="Units">Units with other people.</param>
/// <param name="UnitsOfPeople">These, and units that contain one of the people: the effect of a grant to the whole unit can
/// differ.</param>
/// <param name="NearlyStaff">If the set of staff has changed: grants to groups and units that together reach at least this
/// number of people can add up to all staff in one directory and not in the other. Null if the staff is the same.
/// </param>
/// <param name="Uncertain">True if the possible values of unknown facts have changed.</param>
/// <param name="LinksEnded">The span of last days of the links that ended between the two, both included.</param>
public sealed record DirectoryChange(
    IReadOnlySet<PersonId> People,
    IReadOnlySet<GroupId> Groups,
    IReadOnlySet<UnitCode> Units,
    IReadOnlySet<UnitCode> UnitsOfPeople,
    int? NearlyStaff,
    bool Uncertain,
    (DateOnly First, DateOnly Last)? LinksEnded
)
{
    public bool IsNothing =>
        People.Count == 0 && Groups.Count == 0 && Units.Count == 0 && NearlyStaff is null && !Uncertain && LinksEnded is null;

    /// <summary>Null if every site can be affected: units were rebuilt, people were removed, or the staff became empty or not
    /// empty.</summary>
    public static DirectoryChange? Between(PeopleDirectory before, PeopleDirectory after, int activeDays)
    {
        var isLonger =
            before.People.Count <= after.People.Count
            && before.People.Zip(after.People).All(pair => pair.First.Id == pair.Second.Id);
        if (
            !isLonger
            || !before.Unplaced.Equals(after.Unplaced)
            || before.Staff.IsEmpty != after.Staff.IsEmpty
            || !before
                .Units.OrderBy(unit => unit.Code.Value, StringComparer.Ordinal)
                .SequenceEqual(after.Units.OrderBy(unit => unit.Code.Value, StringComparer.Ordinal))
        )
        {
            return null;
        }

        var changed = Enumerable
            .Range(0, after.People.Count)
            .Where(place => place >= before.People.Count || IsOther(place))
            .ToList();
        var places = PeopleSet.Of(changed);
        bool IsOther(int place) =>
            before.People[place] != after.People[place]
            || before.Standings[place] != after.Standings[place]
            || !InactiveIn(before, place).SequenceEqual(InactiveIn(after, place));
        IEnumerable<InactiveReason> InactiveIn(PeopleDirectory directory, int place) =>
            SiteOwners.Unfitness(directory.People[place], directory.Standings[place], directory, activeDays);

        // A possible owner where owners are unknown, and their classification: it matters although no site names them.
        bool IsOtherAsOwner(int place) =>
            place >= before.People.Count
            || before.People[place].Classification != after.People[place].Classification
            || InactiveIn(before, place).Any() != InactiveIn(after, place).Any();

        var groups = before
            .Groups.Concat(after.Groups)
            .Select(group => group.Id)
            .Distinct()
            .Where(group =>
                before.Find(group)?.Name != after.Find(group)?.Name
                || before.Expand(group) is var old
                    && after.Expand(group) is var now
                    && (
                        old.Complete != now.Complete
                        || !old.Perhaps.Equals(now.Perhaps)
                        || !old.OpenEnds.SetEquals(now.OpenEnds)
                        || !old.People.Equals(now.People)
                        || now.People.Intersect(places).Count > 0
                    )
            );
        var units = after
            .Units.Select(unit => unit.Code)
            .Where(unit => !before.OfUnit(unit).Equals(after.OfUnit(unit)))
            .ToHashSet();
        var staffMoved = before.Staff.Except(after.Staff).Count + after.Staff.Except(before.Staff).Count;
        var (from, to) = (before.Time.DayOf(before.Now), after.Time.DayOf(after.Now));
        return new DirectoryChange(
            changed.Select(place => after.People[place].Id).ToHashSet(),
            groups.ToHashSet(),
            units,
            after
                .Units.Select(unit => unit.Code)
                .Where(unit => units.Contains(unit) || after.OfUnit(unit).Intersect(places).Count > 0)
                .ToHashSet(),
            staffMoved == 0 ? null : Math.Max(0, Math.Min(before.Staff.Count, after.Staff.Count) - staffMoved),
            staffMoved > 0
                || changed.Exists(IsOtherAsOwner)
                || !before.Inside.Equals(after.Inside)
                || !before.Services.Equals(after.Services)
                || !before.Guests.Equals(after.Guests)
                || !before.Left.Equals(after.Left),
            to > from ? (from, to.AddDays(-1)) : null
        );
    }

    /// <summary>True if all sites of a unit can be affected: a limit to the own unit now admits other people, or changes between
    /// all staff and not.</summary>
    public bool TouchesSitesOf(UnitCode unit, PeopleDirectory before, PeopleDirectory after) =>
        Units.Contains(unit) || Math.Max(before.OfUnit(unit).Count, after.OfUnit(unit).Count) >= NearlyStaff;

    /// <summary>True if the row of a site can differ between the two directories. Errs on the side of true.</summary>
    public bool Touches(SiteFacts site, PeopleDirectory before, PeopleDirectory after)
    {
        if (
            site.Unit.Has(out var unit)
                ? TouchesSitesOf(unit, before, after)
                : site.Unit.IsUnknown && (Uncertain || Units.Count > 0 || NearlyStaff is not null)
        )
        {
            return true;
        }

        // Everybody of the staff can join by themselves.
        if (
            NearlyStaff is not null
            && !site.Joining.IsNone
            && (!site.Joining.Has(out var joining) || joining.Way == JoinWay.Open)
        )
        {
            return true;
        }

        if (!site.Sharing.Has(out var sharing))
        {
            return site.Sharing.IsUnknown && Uncertain;
        }

        var reached = 0;
        foreach (var grant in sharing.Grants)
        {
            var isTouched = grant.Subject switch
            {
                Subject.OnePerson(var person) => People.Contains(person) || (Uncertain && after.PlaceOf(person) is null),
                Subject.OneGroup(var group) => Groups.Contains(group) || (Uncertain && !after.Expand(group).Complete),
                Subject.WholeUnit(var whole) => UnitsOfPeople.Contains(whole),

                // If all staff edit a site, they are counted; if they own it, each is an owner.
                Subject.AllStaff => (grant.Power >= Power.Edit && NearlyStaff is not null)
                    || (grant.Power == Power.Own && People.Count > 0),
                _ => false,
            };
            if (isTouched || (LinksEnded is var (first, last) && grant.Through >= first && grant.Through <= last))
            {
                return true;
            }

            reached += grant.Subject switch
            {
                Subject.OneGroup(var group) => Math.Max(before.Expand(group).People.Count, after.Expand(group).People.Count),
                Subject.WholeUnit(var whole) => Math.Max(before.OfUnit(whole).Count, after.OfUnit(whole).Count),
                Subject.OnePerson => 1,
                _ => 0,
            };
        }

        return reached >= NearlyStaff;
    }
}
