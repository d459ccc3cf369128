using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Mail;

/// <summary>Sends notifications: all waiting ones of a person in one mail, as soon as one of them is due. A mail is claimed
/// while it is sent; if the server is killed meanwhile, it is sent again with the same Message-ID.
/// </summary>
public sealed class Outbox(Database database, Settings settings, IServiceProvider services, ILogger<Outbox> log) : Worker(log)
{
    private static readonly TimeSpan ClaimTime = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan FirstPasswordTime = TimeSpan.FromDays(14);
    private readonly SemaphoreSlim sending = new(1, 1);

    private Mailer? Mailer => services.GetService<Mailer>();

    public override WorkKind Kind => WorkKind.Mail;

    protected override Task Work(CancellationToken stop) => SendDue(stop);

    /// <returns>The number of mails sent.</returns>
    public async Task<int> SendDue(CancellationToken stop)
    {
        if (Mailer is not { } mailer)
        {
            return 0;
        }

        await sending.WaitAsync(stop);
        try
        {
            var sent = 0;
            foreach (var person in await database.Read(connection => connection.Addressees(database.Now), stop))
            {
                sent += await SendTo(mailer, person, stop) ? 1 : 0;
            }

            return sent;
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogError(fault, "Notifications could not be sent; the schedule retries");
            return 0;
        }
        finally
        {
            sending.Release();
        }
    }

    // A fault with one person's notifications does not stop the others.
    private async Task<bool> SendTo(Mailer mailer, PersonId person, CancellationToken stop)
    {
        try
        {
            return await database.Change(change => Compose(change, person), stop) is { } mail && await Send(mailer, mail, stop);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogError(fault, "Notifications to person {Person} could not be sent; the schedule retries", person.Value);
            return false;
        }
    }

    private async Task<bool> Send(Mailer mailer, Hosts.Mail mail, CancellationToken stop)
    {
        try
        {
            await mailer.Send(mail, stop);
            await database.Change(change => change.Sent(mail.Id), CancellationToken.None);
            return true;
        }
        catch (HostException fault)
        {
            log.LogWarning("{Why} The server retries", fault.Message);
            await database.Change(change => change.NotSent(mail.Id, Pause), CancellationToken.None);
            return false;
        }
    }

    private async Task<Hosts.Mail?> Compose(Change change, PersonId id)
    {
        var waiting = await change.Connection.Waiting(id);
        if (waiting.Count == 0)
        {
            return null;
        }

        var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
        if (directory.Find(id) is not { Mail.Length: > 0 } person || !person.MaySignIn(change.Now, directory.Time))
        {
            await change.Drop(id);
            return null;
        }

        // The same notifications as in a mail that may have been sent keep its id, so that it can be recognised.
        var ids = waiting.Select(pair => pair.Mail).Distinct().ToList();
        var mail = ids is [{ } before] ? before : Guid.NewGuid();
        await change.Claim([.. waiting.Select(pair => pair.Notification.Id)], mail, ClaimTime);
        var notifications = waiting.ConvertAll(pair => pair.Notification);
        var texts = new List<MailText>();
        if (
            (await change.Connection.AccountOf(id))?.PasswordHash is null
            && notifications.TrueForAll(notification => notification.Link?.Purpose != LinkPurpose.Password)
            && notifications.Exists(notification => notification.Link is not null)
        )
        {
            var link = new NotificationLink(LinkPurpose.Password, "", change.Now + FirstPasswordTime, "Choose a password");
            texts.Add(
                new MailText(
                    "Before you sign in for the first time",
                    ["You have no password yet. Choose one first; the link works once."],
                    link.Label,
                    Address(await change.MakeLink(id, link, notifications[0].Id))
                )
            );
        }

        foreach (var notification in notifications)
        {
            texts.Add(
                new MailText(
                    notification.Title,
                    notification.Sentences,
                    notification.Link?.Label,
                    notification.Link is { } link ? Address(await change.MakeLink(id, link, notification.Id)) : null
                )
            );
        }

        var subject =
            notifications.Count == 1 ? notifications[0].Title : $"{notifications[^1].Title}, and {notifications.Count - 1} more";
        return new Hosts.Mail(
            mail,
            person.Name,
            person.Mail,
            subject,
            MailText.Plain(person.Name, texts),
            MailText.Html(person.Name, subject, texts),
            change.Now
        );
    }

    private string Address(string token) => new Uri(settings.Address, $"/l/{token}").ToString();
}
