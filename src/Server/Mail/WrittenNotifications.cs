using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Mail;

/// <summary>Notifications, stored with what they are about: urgent ones are due at once, the others in the morning.</summary>
internal static class WrittenNotifications
{
    private static readonly TimeOnly Morning = new(7, 0);

    public static async Task Write(this Change change, IEnumerable<Notification> notifications, OrganisationTime time)
    {
        foreach (var notification in notifications)
        {
            await change.Write(notification, notification.Urgent ? change.Now : NextMorning(change.Now, time));
        }
    }

    private static DateTimeOffset NextMorning(DateTimeOffset now, OrganisationTime time)
    {
        var today = time.At(time.DayOf(now), Morning);
        return now < today ? today : time.At(time.DayOf(now).AddDays(1), Morning);
    }
}
