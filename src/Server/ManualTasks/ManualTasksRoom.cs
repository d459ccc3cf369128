using AtticLedger.Server.Work;

namespace AtticLedger.Server.ManualTasks;

/// <summary>Changes that a person makes at a host without a connector.</summary>
public sealed class ManualTasksRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapManualTasks();
    }
}
