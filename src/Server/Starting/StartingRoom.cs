using AtticLedger.Server.Work;

namespace AtticLedger.Server.Starting;

/// <summary>Starting a site: the request, its answer, and making it at the host.</summary>
public sealed class StartingRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<LiveAddresses>();
        services.AddWorker<MakingRunner>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapStart();
        app.MapSiteRequests();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [new("making", TimeSpan.FromSeconds(10), (services, _) =>
            {
                services
                    .GetRequiredService<WakeUps>()
                    .Wake(services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping, WorkKind.Making);
                return Task.CompletedTask;
            })];
}
