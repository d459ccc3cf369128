using AtticLedger.Server.Batches;
using AtticLedger.Server.Days;
using AtticLedger.Server.Lanes;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Feed;

/// <summary>
/// Wakes this server when another has committed. A notification only wakes; what happened is read from the feed, and a
/// slow poll stands behind for notifications that were lost.
/// </summary>
public sealed class FeedListener(
    Database database,
    LedgerSheet sheet,
    OrderLanes lanes,
    SourceReader sources,
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
                log.LogWarning(fault, "The feed is not heard; trying again");
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

            await sheet.Refresh();
            batches.Wake(stop);
            lanes.Wake(stop);
            sources.Wake(stop);
            await connection.WaitAsync(SlowPoll, stop);
        }
    }
}
