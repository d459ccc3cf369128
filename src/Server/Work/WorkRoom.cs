namespace AtticLedger.Server.Work;

/// <summary>Background work and the schedule.</summary>
public sealed class WorkRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<WakeUps>();
    }

    public override void Background(IServiceCollection services)
    {
        services.AddHostedService<LedgerListener>();
    }
}
