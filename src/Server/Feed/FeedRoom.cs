using AtticLedger.Server.Work;

namespace AtticLedger.Server.Feed;

/// <summary>The register in memory, kept up with the journal, and the stream of events to browsers.</summary>
public sealed class FeedRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton(provider => new IndexSnapshots(
            settings.Snapshots,
            provider.GetRequiredService<ILogger<IndexSnapshots>>()
        ));
        services.AddSingleton<LiveRegister>();
        services.AddSingleton<IFollowsLedger>(provider => provider.GetRequiredService<LiveRegister>());
    }

    public override void Background(IServiceCollection services)
    {
        services.AddHostedService<SnapshotKeeper>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapEvents();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [
            // The day of the index changes with time alone.
            new("minute", TimeSpan.FromMinutes(1), (services, _) => services.GetRequiredService<LiveRegister>().Refresh()),
        ];
}
