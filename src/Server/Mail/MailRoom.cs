using AtticLedger.Hosts;
using AtticLedger.Server.Work;

namespace AtticLedger.Server.Mail;

/// <summary>Notifications by mail.</summary>
public sealed class MailRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddWorker<Outbox>();
        if (settings.Smtp is { } smtp)
        {
            services.AddSingleton(_ => new Mailer(smtp, settings.SmtpLogin, settings.MailFrom));
        }
    }
}
