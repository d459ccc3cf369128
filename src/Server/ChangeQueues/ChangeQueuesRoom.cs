using AtticLedger.Server.Work;

namespace AtticLedger.Server.ChangeQueues;

/// <summary>Changes on their way to hosts.</summary>
public sealed class ChangeQueuesRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddWorker<ChangeQueueRunner>();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [new("change-queues", TimeSpan.FromSeconds(10), (services, _) =>
            {
                services
                    .GetRequiredService<WakeUps>()
                    .Wake(
                        services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping,
                        WorkKind.Batches,
                        WorkKind.HostChanges
                    );
                return Task.CompletedTask;
            })];
}
