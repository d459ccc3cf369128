using AtticLedger.Server.Batches;
using AtticLedger.Server.ChangeQueues;
using AtticLedger.Server.DueWork;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Feed;

/// <summary>Wakes this server when another has committed. A notification only wakes; the events are read from the feed, and a
/// slow poll covers lost notifications.
/// </summary>
public sealed class FeedListener(
    Database database,
    LiveRegister index,
    ChangeQueueRunner changeQueues,
    SourceSync sources,
    BatchRunner batches,
    IServiceProvider services,
    ILogger<FeedListener> log
) : BackgroundService
{
    private static readonly TimeSpan SlowPoll = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan Retry = TimeSpan.FromSeconds(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await Listen(stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception fault)
            {
                log.LogWarning(fault, "The feed is not available; the server retries");
                await Task.Delay(Retry, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
        }
    }

    private async Task Listen(CancellationToken stop)
    {
        await using var connection = await database.Source.OpenConnectionAsync(stop);
        await using (var listen = new NpgsqlCommand("listen ledger", connection))
        {
            await listen.ExecuteNonQueryAsync(stop);
        }

        while (true)
        {
            if (services.GetService<DemoTime>() is { } demo)
            {
                await demo.Follow(stop);
            }

            await index.Refresh();
            batches.Wake(stop);
            changeQueues.Wake(stop);
            sources.Wake(stop);
            await connection.WaitAsync(SlowPoll, stop);
        }
    }
}
