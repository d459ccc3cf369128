using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;

namespace AtticLedger.Hosts;

/// <summary>A mail, ready to be sent. The id becomes its Message-ID, by which a server that gets it twice can know it again.</summary>
public sealed record Mail(Guid Id, string ToName, string ToAddress, string Subject, string Text, string Html, DateTimeOffset Date);

/// <summary>Sends mail by SMTP (RFC 5321), one connection a mail.</summary>
/// <param name="server">As <c>smtp://host:port</c>.</param>
public sealed class Mailer(Uri server, string from)
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    /// <exception cref="HostException">The server did not take it; the message says why. It may have taken it all the same.</exception>
    public async Task Send(Mail mail, CancellationToken stop)
    {
        using var message = new MimeMessage();
        message.From.Add(new MailboxAddress("Attic Ledger", from));
        message.To.Add(new MailboxAddress(mail.ToName, mail.ToAddress));
        message.Subject = mail.Subject;
        message.Date = mail.Date;
        message.MessageId = $"{mail.Id:N}@attic-ledger";

        // RFC 3834: nobody's absence note is to answer a machine.
        message.Headers.Add("Auto-Submitted", "auto-generated");
        message.Body = new BodyBuilder { TextBody = mail.Text, HtmlBody = mail.Html }.ToMessageBody();
        using var client = new SmtpClient { Timeout = (int)Patience.TotalMilliseconds };
        try
        {
            await client.ConnectAsync(server.Host, server.Port, SecureSocketOptions.StartTlsWhenAvailable, stop);
            await client.SendAsync(message, stop);
            await client.DisconnectAsync(true, stop);
        }
        catch (Exception fault) when (fault is not OperationCanceledException || !stop.IsCancellationRequested)
        {
            throw new HostException($"The mail server at {server.Host}:{server.Port} did not take the mail: {fault.Message}", fault);
        }
    }
}
