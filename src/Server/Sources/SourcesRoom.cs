using AtticLedger.Server.Work;

namespace AtticLedger.Server.Sources;

/// <summary>Hosts, the staff list and imported lists.</summary>
public sealed class SourcesRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddHosts(settings);
        services.AddWorker<SourceSync>();
        services.AddSingleton<ImportActions>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapSources();
        app.MapLists();
        app.MapListUndo();
        app.MapMoves();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [
            new("sources", settings.SyncEvery, (services, _) =>
            {
                services
                    .GetRequiredService<SourceSync>()
                    .StartDue(services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping);
                return Task.CompletedTask;
            }),
            // Interrupted imports are resumed.
            new("lists", TimeSpan.FromSeconds(20), (services, stop) => services.GetRequiredService<ImportActions>().GoOn(stop)),
        ];
}
