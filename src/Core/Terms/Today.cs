namespace AtticLedger.Core.Terms;

/// <summary>The day from which periods are counted, and the organisation's calendar.</summary>
public sealed record Today(DateOnly Day, OrganisationTime Time)
{
    public static Today At(DateTimeOffset now, OrganisationTime time) => new(time.DayOf(now), time);

    /// <summary>The first instant of the day that many days later; earlier for a negative number. Beyond the calendar it is the
    /// calendar's first or last day.</summary>
    public DateTimeOffset Plus(int days) => Time.StartOf(Day.Plus(days));

    // The zone alone tells calendars apart.
    public bool Equals(Today? other) => other is not null && Day == other.Day && Time.Zone.Equals(other.Time.Zone);

    public override int GetHashCode() => Day.GetHashCode();
}
