using System.Net;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;

namespace AtticLedger.Hosts;

/// <summary>A mail, ready to be sent. The id becomes its Message-ID, by which a server can recognise a repeated mail.</summary>
public sealed record Mail(
    Guid Id,
    string ToName,
    string ToAddress,
    string Subject,
    string Text,
    string Html,
    DateTimeOffset Date
);

/// <summary>Sends mail by SMTP (RFC 5321), one connection per mail.</summary>
/// <param name="server">As <c>smtp://host:port</c>, or with <c>smtp+tls</c> or <c>smtps</c> if TLS is required.</param>
/// <param name="login">For a server that requires one; only sent over TLS.</param>
public sealed class Mailer(Uri server, NetworkCredential? login, string from)
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    private SecureSocketOptions Security =>
        server.Scheme switch
        {
            "smtps" => SecureSocketOptions.SslOnConnect,
            "smtp+tls" => SecureSocketOptions.StartTls,
            _ => SecureSocketOptions.StartTlsWhenAvailable,
        };

    /// <exception cref="HostException">The server did not accept it; the message says why. It may have accepted it all the
    /// same.</exception>
    public async Task Send(Mail mail, CancellationToken stop)
    {
        using var message = new MimeMessage();
        message.From.Add(new MailboxAddress("Attic Ledger", from));
        message.To.Add(new MailboxAddress(mail.ToName, mail.ToAddress));
        message.Subject = mail.Subject;
        message.Date = mail.Date;
        message.MessageId = $"{mail.Id:N}@attic-ledger";

        // RFC 3834: prevents automatic replies.
        message.Headers.Add("Auto-Submitted", "auto-generated");
        message.Body = new BodyBuilder { TextBody = mail.Text, HtmlBody = mail.Html }.ToMessageBody();
        using var client = new SmtpClient { Timeout = (int)Patience.TotalMilliseconds };
        try
        {
            await client.ConnectAsync(server.Host, server.Port, Security, stop);
            if (login is not null)
            {
                if (!client.IsSecure)
                {
                    throw new HostException("It offers no TLS, and the password is only sent with TLS.");
                }

                await client.AuthenticateAsync(login, stop);
            }

            await client.SendAsync(message, stop);
            await client.DisconnectAsync(true, stop);
        }
        catch (Exception fault) when (fault is not OperationCanceledException || !stop.IsCancellationRequested)
        {
            throw new HostException($"The mail server at {server.Host}:{server.Port} refused the mail: {fault.Message}", fault);
        }
    }
}
