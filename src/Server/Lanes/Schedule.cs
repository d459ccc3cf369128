using AtticLedger.Server.Accounts;
using AtticLedger.Server.Batches;
using AtticLedger.Server.Days;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Sources;
using Quartz;

namespace AtticLedger.Server.Lanes;

/// <summary>
/// What the schedule wakes. Quartz runs each job on one server of the cluster at a time; what is due is decided from the
/// database and the moment, so a job that ran twice, or late, does no harm.
/// </summary>
internal static class Schedule
{
    public static void AddJobs(IQuartzBuilder quartz, Settings settings)
    {
        Add<LanesJob>(quartz, "lanes", TimeSpan.FromSeconds(10));
        Add<SourcesJob>(quartz, "sources", settings.ReadEvery);
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
internal sealed class LanesJob(OrderLanes lanes, BatchRunner batches, IHostApplicationLifetime life) : IJob
{
    public ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        batches.Wake(life.ApplicationStopping);
        lanes.Wake(life.ApplicationStopping);
        return ValueTask.CompletedTask;
    }
}

[DisallowConcurrentExecution]
internal sealed class SourcesJob(SourceReader sources, IHostApplicationLifetime life) : IJob
{
    public ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        sources.StartDue(life.ApplicationStopping);
        return ValueTask.CompletedTask;
    }
}

/// <summary>Lists that a server began and did not end.</summary>
[DisallowConcurrentExecution]
internal sealed class ListsJob(ListDesk lists) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken) =>
        await lists.GoOn(cancellationToken);
}

/// <summary>What falls due with the days, and the letters that are to go out.</summary>
[DisallowConcurrentExecution]
internal sealed class DaysJob(DayRunner days, MailRoom room, OrderLanes lanes) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        if (await days.RunDue(cancellationToken) > 0)
        {
            lanes.Wake(cancellationToken);
        }

        await room.SendDue(cancellationToken);
    }
}

/// <summary>What passes with time alone: the day of the sheet, and refused sign-ins gathered by the minute.</summary>
[DisallowConcurrentExecution]
internal sealed class MinuteJob(LedgerSheet sheet, Refusals refusals) : IJob
{
    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken)
    {
        await sheet.Refresh();
        await refusals.Gather();
    }
}
