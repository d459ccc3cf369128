using System.Globalization;
using AtticLedger.Core.Terms;
using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;

namespace AtticLedger.Formats.Calendar;

/// <summary>An event of one day in a calendar.</summary>
/// <param name="Key">Identifies the event permanently, so that a calendar moves it instead of adding another.</param>
public sealed record FeedDay(string Key, DateOnly Day, string Title, string Words, Uri Link);

/// <summary>Deadlines as a calendar (RFC 5545) for subscription: all-day events that block no time.</summary>
public static class CalendarFeed
{
    public const string ContentType = "text/calendar; charset=utf-8";

    /// <param name="domain">Appended to the keys, so that they differ from those of other calendars.</param>
    /// <param name="at">When the calendar was made.</param>
    public static string Write(string name, string domain, IEnumerable<FeedDay> days, DateTimeOffset at)
    {
        var calendar = new Ical.Net.Calendar { ProductId = "-//Attic Ledger//Deadlines//EN", Method = "PUBLISH" };

        // RFC 7986, sections 5.1 and 5.7.
        calendar.AddProperty("NAME", name);
        calendar.AddProperty("REFRESH-INTERVAL;VALUE=DURATION", "PT1H");
        foreach (var day in days)
        {
            calendar.Events.Add(
                new CalendarEvent
                {
                    Uid = $"{day.Key}@{domain}",
                    DtStamp = new CalDateTime(at.UtcDateTime, "UTC"),
                    Start = new CalDateTime(day.Day),
                    End = new CalDateTime(day.Day.Plus(1)),
                    Summary = Plain(day.Title),
                    Description = Plain(day.Words),
                    Url = day.Link,
                    Transparency = TransparencyType.Transparent,
                }
            );
        }

        return new CalendarSerializer().SerializeToString(calendar)
            ?? throw new InvalidOperationException(
                string.Create(CultureInfo.InvariantCulture, $"A calendar of {calendar.Events.Count} days could not be written.")
            );
    }

    // Names come from anywhere: control characters are not allowed in a content line.
    private static string Plain(string text) => string.Concat(text.Select(letter => char.IsControl(letter) ? ' ' : letter));
}
