using AtticLedger.Server.Work;

namespace AtticLedger.Server.Batches;

/// <summary>Actions on many sites.</summary>
public sealed class BatchesRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<BatchActions>();
        services.AddWorker<BatchRunner>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapBatches();
        app.MapRenaming();
    }
}
