using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>
/// What sites can feel of the difference between two rolls: people, groups and units that are not what they were, and
/// days that have passed. A site that none of it touches has the same line on both.
/// </summary>
/// <param name="People">People whose record, standing or fitness is another, or who are new.</param>
/// <param name="Groups">Groups that have another name or reach other people, or that reach one of these people.</param>
/// <param name="Units">Units that reach other people.</param>
/// <param name="UnitsOfPeople">These and units that reach one of the people: what is granted to a whole unit may be another.</param>
/// <param name="NearlyStaff">
/// Where the staff is another set: grants to groups and units that together reach at least so many people can add up to
/// all of the staff on one roll and not on the other. Null where the staff is the same.
/// </param>
/// <param name="Uncertain">Whether what is possible, where facts are not known, is another.</param>
/// <param name="LinksEnded">Links that ended between the two: those whose last day is in this span, both included.</param>
public sealed record RollChange(
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

    /// <summary>Null where every site may feel it: units were set up anew, people were struck off the list, there is no staff any more or staff at last.</summary>
    public static RollChange? Between(Roll before, Roll after, int fitDays)
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
            || !UnfitIn(before, place).SequenceEqual(UnfitIn(after, place));
        IEnumerable<Unfit> UnfitIn(Roll roll, int place) =>
            KeyHolders.Unfitness(roll.People[place], roll.Standings[place], roll, fitDays);

        // Who may be an owner where owners are not known, and of which class: it counts although no site names them.
        bool IsOtherAsOwner(int place) =>
            place >= before.People.Count
            || before.People[place].Class != after.People[place].Class
            || UnfitIn(before, place).Any() != UnfitIn(after, place).Any();

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
        return new RollChange(
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

    /// <summary>Whether all sites of a unit may feel it: a limit to the own unit lets in others now, or all of the staff or not.</summary>
    public bool TouchesSitesOf(UnitCode unit, Roll before, Roll after) =>
        Units.Contains(unit) || Math.Max(before.OfUnit(unit).Count, after.OfUnit(unit).Count) >= NearlyStaff;

    /// <summary>Whether the line of a site may be another on the two rolls. Says yes too often rather than too seldom.</summary>
    public bool Touches(SiteFacts site, Roll before, Roll after)
    {
        if (
            site.Unit.Has(out var unit)
                ? TouchesSitesOf(unit, before, after)
                : site.Unit.IsUnknown && (Uncertain || Units.Count > 0 || NearlyStaff is not null)
        )
        {
            return true;
        }

        // Whoever may join by themselves is all of the staff.
        if (
            NearlyStaff is not null
            && !site.Content.Joining.IsNone
            && (!site.Content.Joining.Has(out var joining) || joining.Way == JoinWay.Open)
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

                // Where all of the staff edit a site they are counted; where they own it each is named.
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
