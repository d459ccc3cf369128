using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

public enum PersonKind : byte
{
    Staff,
    Guest,
    Service,

    /// <summary>Somebody with an account here whom no list of the staff names: inside, and no member of staff.</summary>
    Operator,
}

/// <summary>How firmly a person belongs to the house, the firmest first.</summary>
public enum Standing : byte
{
    Current,
    Absent,
    Leaving,
    Left,
}

/// <summary>
/// Somebody on the register's list. <paramref name="Day"/> is, by standing: absent until, leaving on (the last day in),
/// or left on; null where the standing has no day. Names repeat, so a person is shown with the mail address.
/// <paramref name="Class"/> is the maker's class, which may carry limits of its own.
/// </summary>
public sealed record Person(
    PersonId Id,
    PersonKind Kind,
    string Name,
    string Mail,
    Standing Standing,
    DateOnly? Day,
    Known<UnitCode> Unit,
    string Class = "",
    bool MailFails = false
)
{
    public bool IsOutside => Kind == PersonKind.Guest;

    /// <summary>
    /// True if they may sign in and act here at all: staff and operators who have not left. Every way in asks this, so that
    /// whoever has left is out everywhere at once.
    /// </summary>
    public bool MaySignIn(DateTimeOffset now, HouseTime time) =>
        Kind is PersonKind.Staff or PersonKind.Operator && StandingAt(now, time) != Standing.Left;

    /// <summary>The standing at an instant: a leaver's last day passes without anybody writing it down.</summary>
    public Standing StandingAt(DateTimeOffset now, HouseTime time) =>
        Standing switch
        {
            Standing.Leaving when Day is { } last && time.IsOver(last, now) => Standing.Left,
            Standing.Absent when Day is { } until && time.IsOver(until, now) => Standing.Current,
            _ => Standing,
        };
}

public sealed record Unit(UnitCode Code, string Name, UnitCode? Parent);

/// <summary>A member of a group: exactly one of the three is set.</summary>
public readonly record struct Member(PersonId? Person, GroupId? Group, UnitCode? Unit)
{
    public static Member Of(PersonId person) => new(person, null, null);

    public static Member Of(GroupId group) => new(null, group, null);

    public static Member Of(UnitCode unit) => new(null, null, unit);
}

/// <summary>A group as its source gave it. Groups nest and may run in circles. <paramref name="Complete"/> is false where the source gave only a part of the members.</summary>
public sealed record Group(GroupId Id, string Name, IReadOnlyList<Member> Members, bool Complete = true);
