using AtticLedger.Server.Work;

namespace AtticLedger.Server.Looks;

/// <summary>How sites present themselves: name, description, logo and address; and the pages that link to them.</summary>
public sealed class LooksRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton(new PictureFetcher(PublicAddresses.Has));
        services.AddSingleton<PageReader>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapLooks();
        app.MapPictures();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [new("pages", TimeSpan.FromSeconds(30), (services, stop) => services.GetRequiredService<PageReader>().ReadDue(stop))];
}
