using AtticLedger.Server.Work;

namespace AtticLedger.Server.Classification;

/// <summary>Facts of sites that are missing, and setting them.</summary>
public sealed class ClassificationRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<ClassificationActions>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapClassification();
    }
}
