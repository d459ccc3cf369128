using AtticLedger.Server.Accounts;
using AtticLedger.Server.Batches;
using AtticLedger.Server.DueWork;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Sources;
using Quartz;

namespace AtticLedger.Server.ChangeQueues;

/// <summary>The scheduled jobs. Quartz runs each job on one server of the cluster at a time; what is due is decided from the
/// database and the instant, so a job that runs twice or late does no harm.
/// </summary>
internal static class Schedule
{
    public static void AddJobs(IQuartzBuilder quartz, Settings settings)
    {
        Add<ChangeQueuesJob>(quartz, "change-queues", TimeSpan.FromSeconds(10));
        Add<SourcesJob>(quartz, "sources", settings.SyncEvery);
        Add<ListsJob>(quartz, "lists", TimeSpan.FromSeconds(20));
        Add<DaysJob>(quartz, "days", TimeSpan.FromSeconds(20));
        Add<MinuteJob>(quartz, "minute", TimeSpan.FromMinutes(1));
    }

    private static void Add<TJob>(IQuartzBuilder quartz, string name, TimeSpan every)
        where TJob : class, IJob
    {
        quartz.AddJob<TJob>(job => job.WithIdentity(name));
        quartz.AddTrigger(trigger =>
            trigger
                .ForJob(name)
                .WithIdentity(name)
                .StartNow()
                .WithSimpleSchedule(schedule => schedule.WithInterval(every).RepeatForever())
        );
    }
}

[DisallowConcurrentExecution]
internal sealed class ChangeQueuesJob(ChangeQueueRunner changeQueues, BatchRunner batches, IHostApplicationLifetime life) : IJob
{
    public ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        batches.Wake(life.ApplicationStopping);
        changeQueues.Wake(life.ApplicationStopping);
        return ValueTask.CompletedTask;
    }
}

[DisallowConcurrentExecution]
internal sealed class SourcesJob(SourceSync sources, IHostApplicationLifetime life) : IJob
{
    public ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        sources.StartDue(life.ApplicationStopping);
        return ValueTask.CompletedTask;
    }
}

/// <summary>Resumes interrupted imports.</summary>
[DisallowConcurrentExecution]
internal sealed class ListsJob(ImportActions lists) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken) =>
        await lists.GoOn(cancellationToken);
}

/// <summary>Carries out what falls due, and sends due notifications.</summary>
[DisallowConcurrentExecution]
internal sealed class DaysJob(DayRunner days, Outbox outbox, ChangeQueueRunner changeQueues) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        if (await days.RunDue(cancellationToken) > 0)
        {
            changeQueues.Wake(cancellationToken);
        }

        await outbox.SendDue(cancellationToken);
    }
}

/// <summary>Updates what changes with time alone: the day of the index, and refused sign-ins per minute.</summary>
[DisallowConcurrentExecution]
internal sealed class MinuteJob(LiveRegister index, Refusals refusals) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        await index.Refresh();
        await refusals.Gather();
    }
}
