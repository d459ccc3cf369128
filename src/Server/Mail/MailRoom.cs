using AtticLedger.Core.Deeds;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Mail;

/// <summary>
/// Sends what was written to people: all that waits for one person in one mail, once something in it is to go out. A mail
/// is claimed while it is sent; if this server dies meanwhile, it is sent again under the same Message-ID.
/// </summary>
public sealed class MailRoom(Database database, Settings settings, IServiceProvider services, ILogger<MailRoom> log)
{
    private static readonly TimeSpan ClaimTime = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan FirstPasswordTime = TimeSpan.FromDays(14);
    private readonly SemaphoreSlim sending = new(1, 1);

    private Mailer? Mailer => services.GetService<Mailer>();

    /// <summary>Sends what is due, in the background.</summary>
    public void Wake(CancellationToken stop) => _ = Task.Run(() => SendDue(stop), stop);

    /// <returns>How many mails went out.</returns>
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
            log.LogError(fault, "The letters could not be sent; the schedule tries again");
            return 0;
        }
        finally
        {
            sending.Release();
        }
    }

    // What is wrong with one person's letters keeps nobody else's back.
    private async Task<bool> SendTo(Mailer mailer, PersonId person, CancellationToken stop)
    {
        try
        {
            return await database.Change(change => Compose(change, person), stop) is { } mail && await Send(mailer, mail, stop);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogError(fault, "The letters to person {Person} could not be sent; the schedule tries again", person.Value);
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
            log.LogWarning("{Why} It is tried again", fault.Message);
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

        var roll = await change.Roll(await change.Connection.HouseTime());
        if (roll.Find(id) is not { Mail.Length: > 0 } person || !person.MaySignIn(change.Now, roll.Time))
        {
            await change.Drop(id);
            return null;
        }

        // The same letters as in a mail that was perhaps sent already keep its id, so that it is known again.
        var ids = waiting.Select(pair => pair.Mail).Distinct().ToList();
        var mail = ids is [{ } before] ? before : Guid.NewGuid();
        await change.Claim([.. waiting.Select(pair => pair.Letter.Id)], mail, ClaimTime);
        var letters = waiting.ConvertAll(pair => pair.Letter);
        var texts = new List<MailText>();
        if (
            (await change.Connection.AccountOf(id))?.PasswordHash is null
            && letters.TrueForAll(letter => letter.Link?.Purpose != LinkPurpose.Password)
            && letters.Exists(letter => letter.Link is not null)
        )
        {
            var link = new LetterLink(LinkPurpose.Password, "", change.Now + FirstPasswordTime, "Choose a password");
            texts.Add(
                new MailText(
                    "Before you sign in for the first time",
                    ["You have no password here yet. Choose one first; the link works once."],
                    link.Label,
                    Address(await change.MakeLink(id, link, letters[0].Id))
                )
            );
        }

        foreach (var letter in letters)
        {
            texts.Add(
                new MailText(
                    letter.Title,
                    letter.Sentences,
                    letter.Link?.Label,
                    letter.Link is { } link ? Address(await change.MakeLink(id, link, letter.Id)) : null
                )
            );
        }

        var subject = letters.Count == 1 ? letters[0].Title : $"{letters[^1].Title}, and {letters.Count - 1} more";
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
