using AtticLedger.Server.Work;

namespace AtticLedger.Server.Execution;

/// <summary>The one way of an action.</summary>
public sealed class ExecutionRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<ActionExecutor>();
    }
}
