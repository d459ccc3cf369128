using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Work;

/// <summary>Keeps up with what is committed, also by other servers.</summary>
public interface IFollowsLedger
{
    /// <summary>True for what sets the clock by which the others compute: it comes first.</summary>
    bool SetsTheClock => false;

    Task Follow(CancellationToken stop);
}

/// <summary>Wakes this server when another has committed. A notification only wakes; the events are read from the feed, and a
/// slow poll covers lost notifications.
/// </summary>
internal sealed class LedgerListener(
    Database database,
    IEnumerable<IFollowsLedger> followers,
    WakeUps wakeUps,
    ILogger<LedgerListener> log
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
            foreach (var follower in followers.OrderByDescending(follower => follower.SetsTheClock))
            {
                await follower.Follow(stop);
            }

            wakeUps.Wake(stop, WorkKind.Batches, WorkKind.HostChanges, WorkKind.Syncs, WorkKind.Making);
            await connection.WaitAsync(SlowPoll, stop);
        }
    }
}
