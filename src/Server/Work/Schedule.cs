using Quartz;

namespace AtticLedger.Server.Work;

/// <summary>Work that the schedule starts from time to time. It has to do no harm when it runs twice or late.</summary>
/// <param name="Name">Unique; it identifies the job in the database.</param>
public sealed record ScheduledWork(string Name, TimeSpan Every, Func<IServiceProvider, CancellationToken, Task> Run);

/// <summary>The scheduled work of all rooms. Quartz runs each on one server of the cluster at a time.</summary>
internal static class Schedule
{
    public static void AddSchedule(this IServiceCollection services, Settings settings)
    {
        foreach (var room in Room.All)
        {
            room.Background(services);
        }

        List<ScheduledWork> all = [.. Room.All.SelectMany(room => room.Jobs(settings))];
        services.AddSingleton<IReadOnlyList<ScheduledWork>>(all);
        services.AddQuartz(quartz =>
        {
            quartz.UsePersistentStore(store =>
            {
                store.UsePostgres(settings.Database);
                store.UseClustering();
            });
            foreach (var work in all)
            {
                quartz.AddJob<ScheduledJob>(job => job.WithIdentity(work.Name));
                quartz.AddTrigger(trigger =>
                    trigger
                        .ForJob(work.Name)
                        .WithIdentity(work.Name)
                        .StartNow()
                        .WithSimpleSchedule(schedule => schedule.WithInterval(work.Every).RepeatForever())
                );
            }
        });
        services.AddQuartzHostedService(hosted => hosted.WaitForJobsToComplete = true);
    }
}

[DisallowConcurrentExecution]
internal sealed class ScheduledJob(IReadOnlyList<ScheduledWork> all, IServiceProvider services) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        if (all.FirstOrDefault(work => work.Name == context.JobDetail.Key.Name) is { } work)
        {
            await work.Run(services, cancellationToken);
        }
    }
}
