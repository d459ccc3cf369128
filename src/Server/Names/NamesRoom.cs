using AtticLedger.Server.Work;

namespace AtticLedger.Server.Names;

/// <summary>The names of sites beside each other.</summary>
public sealed class NamesRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings) => services.AddSingleton<LiveTwins>();

    public override void Endpoints(IEndpointRouteBuilder app) => app.MapTwins();
}
