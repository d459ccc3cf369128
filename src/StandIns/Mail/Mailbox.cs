using System.Buffers;
using System.Net;
using MimeKit;
using SmtpServer;
using SmtpServer.ComponentModel;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace AtticLedger.StandIns.Mail;

/// <summary>A received mail.</summary>
public sealed record KeptMail(string Id, string To, string Subject, DateTimeOffset Date, string Text, string Html);

/// <summary>A mail server that stores mail and forwards nothing: SMTP (RFC 5321) on loopback. A message that arrives twice with
/// one Message-ID is stored once.
/// </summary>
public sealed class Mailbox(string? folder)
{
    private readonly Lock gate = new();
    private readonly Dictionary<string, KeptMail> mails = [];

    public static Mailbox Load(string folder)
    {
        Directory.CreateDirectory(folder);
        var mailbox = new Mailbox(folder);
        foreach (var file in Directory.EnumerateFiles(folder, "*.eml"))
        {
            mailbox.Take(MimeMessage.Load(file));
        }

        return mailbox;
    }

    public IReadOnlyList<KeptMail> To(string? address)
    {
        lock (gate)
        {
            return
            [
                .. mails
                    .Values.Where(mail => address is null || mail.To.Equals(address, StringComparison.OrdinalIgnoreCase))
                    .OrderByDescending(mail => mail.Date)
                    .ThenBy(mail => mail.Id, StringComparer.Ordinal),
            ];
        }
    }

    public KeptMail? Find(string id)
    {
        lock (gate)
        {
            return mails.GetValueOrDefault(id);
        }
    }

    /// <summary>Serves SMTP until it is stopped.</summary>
    public Task Serve(int port, CancellationToken stop)
    {
        var options = new SmtpServerOptionsBuilder()
            .ServerName("mail.merrowby.example")
            .Endpoint(endpoint => endpoint.Endpoint(new IPEndPoint(IPAddress.Loopback, port)))
            .Build();
        var services = new SmtpServer.ComponentModel.ServiceProvider();
        services.Add(new Store(this));
        return new SmtpServer.SmtpServer(options, services).StartAsync(stop);
    }

    private void Take(MimeMessage message)
    {
        var id = message.MessageId ?? Guid.NewGuid().ToString();
        lock (gate)
        {
            mails[id] = new KeptMail(
                id,
                message.To.Mailboxes.FirstOrDefault()?.Address ?? "",
                message.Subject ?? "",
                message.Date,
                message.TextBody ?? "",
                message.HtmlBody ?? ""
            );
        }
    }

    private async Task Keep(ReadOnlySequence<byte> bytes, CancellationToken stop)
    {
        using var stream = new MemoryStream(bytes.ToArray());
        var message = await MimeMessage.LoadAsync(stream, stop);
        if (folder is not null)
        {
            var name = Convert.ToHexStringLower(
                System.Security.Cryptography.SHA256.HashData(
                    System.Text.Encoding.UTF8.GetBytes(message.MessageId ?? Guid.NewGuid().ToString())
                )
            )[..32];
            await WholeFile.Write(Path.Combine(folder, $"{name}.eml"), stream.ToArray(), stop);
        }

        Take(message);
    }

    private sealed class Store(Mailbox mailbox) : MessageStore
    {
        public override async Task<SmtpResponse> SaveAsync(
            ISessionContext context,
            IMessageTransaction transaction,
            ReadOnlySequence<byte> buffer,
            CancellationToken cancellationToken
        )
        {
            await mailbox.Keep(buffer, cancellationToken);
            return SmtpResponse.Ok;
        }
    }
}
