using AtticLedger.Server.Mail;
using AtticLedger.Server.Work;

namespace AtticLedger.Server.DueWork;

/// <summary>What falls due, and the clock of a demo.</summary>
public sealed class DueWorkRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<DayRunner>();
        if (settings.IsDemo)
        {
            services.AddSingleton<DemoClock>();
            services.AddSingleton<DemoTime>();
            services.AddSingleton<IFollowsLedger>(provider => provider.GetRequiredService<DemoTime>());
            services.AddSingleton<TimeProvider>(provider => provider.GetRequiredService<DemoClock>());
        }
        else
        {
            services.AddSingleton(TimeProvider.System);
        }
    }

    public override void Background(IServiceCollection services)
    {
        services.AddHostedService<DueAtStart>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapClock();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [
            new("days", TimeSpan.FromSeconds(20), async (services, stop) =>
            {
                if (await services.GetRequiredService<DayRunner>().RunDue(stop) > 0)
                {
                    services
                        .GetRequiredService<WakeUps>()
                        .Wake(services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping, WorkKind.HostChanges);
                }
            }),
            // Apart: a mail server that is slow delays no day.
            new("mail", TimeSpan.FromSeconds(20), (services, stop) => services.GetRequiredService<Outbox>().SendDue(stop)),
        ];
}
