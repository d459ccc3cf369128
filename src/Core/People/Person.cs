using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

public enum PersonKind : byte
{
    Staff,
    Guest,
    Service,

    /// <summary>A person with an account who is not in a staff list: inside, but not staff.</summary>
    Operator,
}

/// <summary>How closely a person belongs to the organisation, the closest first.</summary>
public enum Standing : byte
{
    Current,
    Absent,
    Leaving,
    Left,
}

/// <summary>A person in the register. <paramref name="Day"/> depends on the standing: absent until, leaving on (the last day of
/// work), or left on; null if the standing has no day. Names repeat, so a person is shown with the mail address.
/// <paramref name="Classification"/> is the person's classification, which can have limits of its own.
/// </summary>
public sealed record Person(
    PersonId Id,
    PersonKind Kind,
    string Name,
    string Mail,
    Standing Standing,
    DateOnly? Day,
    Known<UnitCode> Unit,
    string Classification = "",
    bool MailFails = false
)
{
    public bool IsOutside => Kind == PersonKind.Guest;

    /// <summary>True if they may sign in and act: staff and operators who have not left. Every way in checks this, so a person
    /// who has left loses access everywhere at once.
    /// </summary>
    public bool MaySignIn(DateTimeOffset now, OrganisationTime time) =>
        Kind is PersonKind.Staff or PersonKind.Operator && StandingAt(now, time) != Standing.Left;

    /// <summary>The standing at an instant: a leaver's last day passes without a recorded change.</summary>
    public Standing StandingAt(DateTimeOffset now, OrganisationTime time) =>
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

/// <summary>A group as its source reports it. Groups nest and can form cycles. <paramref name="Complete"/> is false if the
/// source reported only a part of the members.</summary>
public sealed record Group(GroupId Id, string Name, IReadOnlyList<Member> Members, bool Complete = true);
