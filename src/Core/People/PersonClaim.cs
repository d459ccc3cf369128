using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>What an imported list claims about a person; unknown where it claims nothing.</summary>
/// <param name="Leaves">The last day of people who leave or have left; none for people who stay.</param>
/// <param name="Away">The last day of an absence; none for people who are back.</param>
public sealed record PersonClaim(
    string Mail,
    Known<string> Name,
    Known<PersonKind> Kind,
    Known<UnitCode> Unit,
    Known<string> Classification,
    Known<Standing> Standing,
    Known<DateOnly> Leaves,
    Known<DateOnly> Away
)
{
    /// <summary>The person with the claimed facts, at an instant; a fact that is not reported stays.</summary>
    /// <param name="before">Null if the register does not have them yet: then the kind is required.</param>
    public Person Onto(Person? before, DateTimeOffset now, OrganisationTime time)
    {
        var was = before
            ?? new Person(default, Kind.Or(PersonKind.Guest), Mail, Mail, People.Standing.Current, null, Known<UnitCode>.None);
        var standing = StandingFrom(was.Standing);
        var person = was with
        {
            Kind = Kind.Or(was.Kind),
            Name = Name.Or(was.Name),
            Unit = Unit.IsUnknown ? was.Unit : Unit,
            Classification = Classification.IsUnknown ? was.Classification : Classification.Or(""),
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

        // A past day is over, even if the list still has it.
        return person.StandingAt(now, time) is var today && today == standing
            ? person
            : person with
            {
                Standing = today,
                Day = today == People.Standing.Current ? null : person.Day,
            };
    }

    // A day without a standing implies it; and a person who leaves or is away can also be "current" in the staff list.
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
