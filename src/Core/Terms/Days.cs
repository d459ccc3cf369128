namespace AtticLedger.Core.Terms;

/// <summary>Counting in days from any day that somebody wrote, where the calendar's first and last day stand for everything beyond them.</summary>
public static class Days
{
    public static DateOnly Plus(this DateOnly day, int days) =>
        DateOnly.FromDayNumber(
            (int)Math.Clamp((long)day.DayNumber + days, DateOnly.MinValue.DayNumber, DateOnly.MaxValue.DayNumber)
        );

    public static DateTimeOffset Plus(this DateTimeOffset instant, TimeSpan time) =>
        new(Math.Clamp(instant.UtcTicks + time.Ticks, DateTimeOffset.MinValue.Ticks, HouseTime.Last.Ticks), TimeSpan.Zero);
}
