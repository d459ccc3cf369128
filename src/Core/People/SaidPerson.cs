using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>What a list that somebody keeps says of a person; it says nothing of what is unknown.</summary>
/// <param name="Leaves">The last day of whoever leaves or has left; none for whoever stays.</param>
/// <param name="Away">The last day of an absence; none for whoever is back.</param>
public sealed record SaidPerson(
    string Mail,
    Known<string> Name,
    Known<PersonKind> Kind,
    Known<UnitCode> Unit,
    Known<string> Class,
    Known<Standing> Standing,
    Known<DateOnly> Leaves,
    Known<DateOnly> Away
)
{
    /// <summary>The person as they are by what is said, at an instant; what is not said stays.</summary>
    /// <param name="before">Null where the register does not have them yet: then their kind has to be said.</param>
    public Person Onto(Person? before, DateTimeOffset now, HouseTime time)
    {
        var was = before
            ?? new Person(default, Kind.Or(PersonKind.Guest), Mail, Mail, People.Standing.Current, null, Known<UnitCode>.None);
        var standing = StandingFrom(was.Standing);
        var person = was with
        {
            Kind = Kind.Or(was.Kind),
            Name = Name.Or(was.Name),
            Unit = Unit.IsUnknown ? was.Unit : Unit,
            Class = Class.IsUnknown ? was.Class : Class.Or(""),
            Standing = standing,
            Day = standing switch
            {
                People.Standing.Leaving or People.Standing.Left => DayFrom(
                    Leaves,
                    was.Standing is People.Standing.Leaving or People.Standing.Left,
                    was.Day
                ),
                People.Standing.Absent => DayFrom(Away, was.Standing == People.Standing.Absent, was.Day),
                _ => null,
            },
        };

        // A day that has passed is over, although the list still has it.
        return person.StandingAt(now, time) is var today && today == standing
            ? person
            : person with
            {
                Standing = today,
                Day = today == People.Standing.Current ? null : person.Day,
            };
    }

    // A day without a word means what it is a day of; and whoever leaves or is away is on the staff "current" besides.
    private Standing StandingFrom(Standing before)
    {
        var isCurrent = Standing.Has(out var said) && said == People.Standing.Current;
        var (leaves, isAway) = (Leaves.Has(out _), Away.Has(out _));
        return Standing.Has(out said) && !isCurrent ? said
            : leaves ? People.Standing.Leaving
            : before is People.Standing.Leaving or People.Standing.Left && !Leaves.IsNone && !isCurrent ? before
            : isAway ? People.Standing.Absent
            : before == People.Standing.Absent && Away.IsUnknown && !isCurrent ? before
            : People.Standing.Current;
    }

    private static DateOnly? DayFrom(Known<DateOnly> said, bool wasSo, DateOnly? before) =>
        said.Has(out var day) ? day
        : said.IsNone || !wasSo ? null
        : before;
}
