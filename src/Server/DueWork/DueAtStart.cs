using AtticLedger.Server.Mail;

namespace AtticLedger.Server.DueWork;

/// <summary>Carries out what fell due while no server ran, as soon as one starts; then the schedule takes over.</summary>
internal sealed class DueAtStart(DayRunner days, Outbox outbox, ILogger<DueAtStart> log) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            var done = await days.RunDue(stoppingToken);
            if (done > 0)
            {
                log.LogInformation("{Count} due actions were done at the start", done);
            }

            await outbox.SendDue(stoppingToken);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogError(fault, "Due actions failed at the start; the schedule retries");
        }
    }
}
