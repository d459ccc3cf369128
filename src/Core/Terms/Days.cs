using System.Globalization;

namespace AtticLedger.Core.Terms;

/// <summary>Counts days from any date; the calendar's first and last day represent everything beyond them.</summary>
public static class Days
{
    public static DateOnly Plus(this DateOnly day, int days) =>
        DateOnly.FromDayNumber(
            (int)Math.Clamp((long)day.DayNumber + days, DateOnly.MinValue.DayNumber, DateOnly.MaxValue.DayNumber)
        );

    /// <summary>"12 Mar 2027", in texts that people read.</summary>
    public static string InWords(this DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);

    public static DateTimeOffset Plus(this DateTimeOffset instant, TimeSpan time) =>
        new(Math.Clamp(instant.UtcTicks + time.Ticks, DateTimeOffset.MinValue.Ticks, OrganisationTime.Last.Ticks), TimeSpan.Zero);
}
