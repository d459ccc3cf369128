using AtticLedger.Server.Work;

namespace AtticLedger.Server.Names;

/// <summary>The names of sites beside each other.</summary>
public sealed class NamesRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<LiveTwins>();
        services.AddSingleton<NearNameCounter>();
    }

    public override void Endpoints(IEndpointRouteBuilder app) => app.MapTwins();

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [
            new("near names", TimeSpan.FromSeconds(20), (services, stop) =>
                services.GetRequiredService<NearNameCounter>().Count(stop)
            ),
        ];
}
