using AtticLedger.Server.Mail;

namespace AtticLedger.Server.Days;

/// <summary>What fell due while no server ran is done as soon as one does; the schedule goes on from there.</summary>
internal sealed class DueAtStart(DayRunner days, MailRoom room, ILogger<DueAtStart> log) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            var done = await days.RunDue(stoppingToken);
            if (done > 0)
            {
                log.LogInformation("{Count} things had fallen due and are done", done);
            }

            await room.SendDue(stoppingToken);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogError(fault, "What was due at the start could not be done; the schedule tries again");
        }
    }
}
