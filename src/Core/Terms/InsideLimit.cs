namespace AtticLedger.Core.Terms;

/// <summary>
/// What a limit refuses of the staff. Two limits together refuse what either refuses: the union of the flags. "Named" and "unit"
/// cannot be compared; together they allow only named people of the site's own unit.
/// </summary>
[Flags]
public enum InsideLimit : byte
{
    /// <summary>All of the staff may have access.</summary>
    Staff = 0,

    /// <summary>Only people of the site's own unit and below, however granted.</summary>
    Unit = 1,

    /// <summary>Only grants to people and groups, no wide ones.</summary>
    Named = 2,
    NamedInUnit = Unit | Named,
    Nobody = 4 | Unit | Named,
}

/// <summary>How far inside a site is open; derived for display, from the union of all grants.</summary>
public enum InsideLevel : byte
{
    Nobody,
    Named,
    Unit,
    Staff,
}

public static class InsideLimits
{
    public static string Word(this InsideLimit limit) =>
        limit switch
        {
            InsideLimit.Staff => "staff",
            InsideLimit.Unit => "unit",
            InsideLimit.Named => "named",
            InsideLimit.NamedInUnit => "named in unit",
            _ => "nobody",
        };

    /// <summary>The widest level that can come through: the glyph's last cell that is not beyond the limit.</summary>
    public static InsideLevel Level(this InsideLimit limit) =>
        limit switch
        {
            InsideLimit.Staff => InsideLevel.Staff,
            InsideLimit.Unit => InsideLevel.Unit,
            InsideLimit.Nobody => InsideLevel.Nobody,
            _ => InsideLevel.Named,
        };

    public static string Word(this InsideLevel level) => level.ToString().ToLowerInvariant();
}
