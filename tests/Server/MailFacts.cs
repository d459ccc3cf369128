using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Work;
using AtticLedger.StandIns.Mail;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Notifications are mailed over real SMTP.</summary>
public class MailFacts(Installation here)
{
    private Outbox Room => here.Server.Services.GetRequiredService<Outbox>();

    [Fact]
    public async Task What_is_not_urgent_waits_for_the_morning_and_goes_with_what_is_in_one_mail()
    {
        var quist = await Person("p.wick");
        await Write(
            new Notification(quist, "one", "A notice", ["First."]),
            new Notification(quist, "two", "Another notice", ["Second."])
        );
        await Room.SendDue(CancellationToken.None);
        Assert.Empty(here.Mailbox.To("p.wick@merrowby.example"));

        await Write(
            new Notification(quist, "three", "An offer", ["Third & <b>last</b>."], Urgent: true),
            new Notification(quist, "one", "A notice", ["Never written twice."])
        );
        var mail = await here.MailTo("p.wick", "Third");
        Assert.Single(here.Mailbox.To("p.wick@merrowby.example"));
        Assert.Equal("An offer, and 2 more", mail.Subject);
        foreach (var sentence in new[] { "First.", "Second.", "Third & <b>last</b>." })
        {
            Assert.Contains(sentence, mail.Text, StringComparison.Ordinal);
        }

        Assert.DoesNotContain("Never written twice.", mail.Text, StringComparison.Ordinal);
        Assert.Contains("Third &amp; &lt;b&gt;last&lt;/b&gt;.", mail.Html, StringComparison.Ordinal);
        Assert.Equal(0, await Room.SendDue(CancellationToken.None));
    }

    [Theory]
    [InlineData("smtp+tls")]
    [InlineData("smtps")]
    public async Task Where_TLS_is_required_nothing_is_sent_without_it(string scheme)
    {
        var name = await Databases.Migrated();
        var (server, _) = await here.Start(null, null, name, smtp: new UriBuilder(here.Smtp) { Scheme = scheme }.Uri);
        var database = server.Services.GetRequiredService<Database>();
        var mail = $"only-by-{scheme.Replace("+", "-", StringComparison.Ordinal)}@merrowby.example";
        var person = await database.Change(change =>
            change.AddPerson(
                new(default, Core.People.PersonKind.Staff, "Ada", mail, Core.People.Standing.Current, null, Known<UnitCode>.None)
            )
        );
        await database.Change(change =>
            change.Write(new Notification(person, "secret", "A secret", ["For nobody else."], Urgent: true), change.Now)
        );

        Assert.Equal(0, await server.Services.GetRequiredService<Outbox>().SendDue(CancellationToken.None));
        Assert.Empty(here.Mailbox.To(mail));
        Assert.Single(await database.Read(connection => connection.Waiting(person)));
        await here.Leave(server);
    }

    [Fact]
    public async Task Notifications_of_the_night_go_out_at_seven_in_the_organisations_time_zone()
    {
        var person = await Person("n.wick");
        await Write(new Notification(person, "morning", "In the morning", ["Good morning."]));
        var time = await here.Database.Read(connection => connection.OrganisationTime());
        var sendAt = await here.Database.Read(async connection =>
            (await connection.Addressees(here.Database.Now.AddDays(2))).Contains(person)
        );
        var seven = time.At(time.DayOf(here.Database.Now), new TimeOnly(7, 0));
        var due = here.Database.Now < seven ? seven : time.At(time.DayOf(here.Database.Now).AddDays(1), new TimeOnly(7, 0));

        Assert.True(sendAt);
        Assert.DoesNotContain(person, await here.Database.Read(connection => connection.Addressees(due.AddSeconds(-1))));
        Assert.Contains(person, await here.Database.Read(connection => connection.Addressees(due)));
    }

    [Fact]
    public async Task Who_has_left_or_is_from_outside_gets_no_mail_and_no_letter_stays_behind()
    {
        var left = await Person("p.lund");
        await Write(new Notification(left, "late", "Too late", ["x"], Urgent: true));
        await Room.SendDue(CancellationToken.None);

        Assert.Empty(here.Mailbox.To("p.lund@merrowby.example"));
        Assert.Empty(await here.Database.Read(connection => connection.Waiting(left)));
    }

    [Fact]
    public async Task A_mail_that_was_perhaps_sent_is_sent_again_under_the_same_id_and_kept_once()
    {
        using var stop = new CancellationTokenSource();
        var mailbox = new Mailbox(folder: null);
        var port = Installation.FreePort();
        var serving = mailbox.Serve(port, stop.Token);
        var mailer = new Mailer(new Uri($"smtp://127.0.0.1:{port}"), null, "ledger@merrowby.example");
        var mail = new Hosts.Mail(
            Guid.NewGuid(),
            "Nora Bell",
            "n.bell@merrowby.example",
            "Überschrift – Ä",
            "Grüße\nzwei Zeilen\n",
            "<p>Grüße</p>",
            DateTimeOffset.UtcNow
        );
        await mailer.Send(mail, CancellationToken.None);
        await mailer.Send(mail with { Text = "Grüße, noch einmal" }, CancellationToken.None);

        var kept = Assert.Single(mailbox.To(null));
        Assert.Equal(("Überschrift – Ä", "Grüße, noch einmal"), (kept.Subject, kept.Text.Trim()));
        await stop.CancelAsync();
        await serving;
        var fault = await Assert.ThrowsAsync<HostException>(() => mailer.Send(mail, CancellationToken.None));
        Assert.Contains($"127.0.0.1:{port} refused the mail", fault.Message, StringComparison.Ordinal);
    }

    private async Task<PersonId> Person(string who) =>
        (await here.Database.Read(connection => connection.PeopleByMail()))[$"{who}@merrowby.example"];

    private Task Write(params Notification[] notifications) =>
        here.Database.Change(async change => await change.Write(notifications, await change.Connection.OrganisationTime()));
}
