namespace AtticLedger.Core.Terms;

/// <summary>
/// The organisation's calendar: which instant a day begins and ends at. It has an answer for every day from 0001-01-01 to
/// 9999-12-31, because hosts and lists use such days for "always" and "never".
/// </summary>
public sealed class OrganisationTime(TimeZoneInfo zone)
{
    /// <summary>The last instant that there is, to the microsecond.</summary>
    public static readonly DateTimeOffset Last = Microsecond(DateTimeOffset.MaxValue);

    public TimeZoneInfo Zone { get; } = zone;

    /// <summary>The same instant, with the offset of the zone.</summary>
    public DateTimeOffset InZone(DateTimeOffset instant) => TimeZoneInfo.ConvertTime(instant, Zone);

    public DateOnly DayOf(DateTimeOffset instant) => DateOnly.FromDateTime(InZone(instant).DateTime);

    /// <summary>
    /// The earliest instant that carries the date: of two local midnights the first, and after a gap over midnight the
    /// first instant that exists.
    /// </summary>
    public DateTimeOffset StartOf(DateOnly day) => At(day, TimeOnly.MinValue);

    /// <summary>The instant of a time of day: of two the first, and after a gap the first that exists.</summary>
    public DateTimeOffset At(DateOnly day, TimeOnly time)
    {
        var local = day.ToDateTime(time, DateTimeKind.Unspecified);
        while (Zone.IsInvalidTime(local))
        {
            local = local.AddMinutes(1);
        }

        var offset = Zone.IsAmbiguousTime(local) ? Zone.GetAmbiguousTimeOffsets(local).Max() : Zone.GetUtcOffset(local);
        var ticks = Math.Clamp(local.Ticks - offset.Ticks, DateTimeOffset.MinValue.Ticks, Last.Ticks);
        return new DateTimeOffset(ticks, TimeSpan.Zero);
    }

    /// <summary>The first instant after the day: a date that is good "through D" is over here. The last day of all is never
    /// over.</summary>
    public DateTimeOffset EndOf(DateOnly day) => day == DateOnly.MaxValue ? Last : StartOf(day.AddDays(1));

    /// <summary>The last day that still has time before an end.</summary>
    public DateOnly LastDayBefore(DateTimeOffset end) => DayOf(end == DateTimeOffset.MinValue ? end : end.AddTicks(-1));

    public bool IsOver(DateOnly lastDay, DateTimeOffset now) => now >= EndOf(lastDay);

    /// <summary>Instants are kept to the microsecond, as PostgreSQL keeps them.</summary>
    public static DateTimeOffset Microsecond(DateTimeOffset instant) =>
        new(instant.UtcTicks - (instant.UtcTicks % TimeSpan.TicksPerMicrosecond), TimeSpan.Zero);
}
