using System.Net;
using System.Net.Http.Json;
using System.Text.RegularExpressions;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.StandIns.Mail;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>What people do with mails: wait for one, follow its links, choose a first password.</summary>
internal static partial class Notifications
{
    public const string FirstPassword = "seven grey herons";

    /// <summary>The latest mail to somebody about something, once it has arrived.</summary>
    public static async Task<KeptMail> MailTo(this Installation here, string who, string about)
    {
        await here.Server.Services.GetRequiredService<Outbox>().SendDue(CancellationToken.None);
        KeptMail? found = null;
        await Installation.Until(
            () =>
                Task.FromResult(
                    (
                        found = here
                            .Mailbox.To($"{who}@merrowby.example")
                            .FirstOrDefault(mail => mail.Text.Contains(about, StringComparison.Ordinal))
                    )
                        is not null
                ),
            $"{who} has a mail about \"{about}\""
        );
        return found!;
    }

    /// <summary>The token of the link with this label.</summary>
    public static string Token(this KeptMail mail, string label) =>
        mail
            .Text.Split('\n')
            .Where(line => line.StartsWith($"{label}: ", StringComparison.Ordinal))
            .Select(line => TokenIn().Match(line).Groups[1].Value)
            .First();

    /// <summary>Chooses a first password through a mail and signs in.</summary>
    public static async Task<Caller> SignInThrough(this Installation here, string who, KeptMail mail)
    {
        // Other tests try wrong passwords from this address too.
        await here.Database.Change(async change =>
        {
            await Store.AccountTables.GatherFailures(change, change.Now);
            await Store.AccountTables.ForgetFailures(change, change.Now.AddSeconds(1));
        });
        var caller = new Caller(here.Address);
        await caller.Post(
            $"/api/links/{mail.Token("Choose a password")}/password",
            new { password = FirstPassword },
            HttpStatusCode.NoContent
        );
        var answer = await caller.Http.PostAsJsonAsync(
            "/api/session",
            new { mail = $"{who}@merrowby.example", password = FirstPassword }
        );
        Assert.Equal(HttpStatusCode.NoContent, answer.StatusCode);
        return caller;
    }

    [GeneratedRegex("/l/([A-Za-z0-9_-]+)")]
    private static partial Regex TokenIn();
}
