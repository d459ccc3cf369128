namespace AtticLedger.Server.Work;

/// <summary>What a worker does.</summary>
public enum WorkKind
{
    HostChanges,
    Mail,
    Batches,
    Syncs,
    Making,
    Invitations,
}

/// <summary>Does what is due, in the background, when it is woken. What is due is decided from the database and the instant, so
/// waking too often or on two servers does no harm, and the schedule wakes whatever nobody did.
/// </summary>
public abstract class Worker
{
    private readonly OneEach runs;

    protected Worker(ILogger log) =>
        runs = new OneEach((name, fault) => log.LogError(fault, "{Work} failed; the schedule retries", name));

    public abstract WorkKind Kind { get; }

    public void Wake(CancellationToken stop) => runs.Wake(Kind.ToString(), () => Work(stop), stop);

    protected abstract Task Work(CancellationToken stop);
}

/// <summary>Wakes workers by what they do, so that a room need not know the one that carries out its work.</summary>
public sealed class WakeUps(IServiceProvider services)
{
    public void Wake(CancellationToken stop, params ReadOnlySpan<WorkKind> kinds)
    {
        foreach (var worker in services.GetServices<Worker>())
        {
            if (kinds.Contains(worker.Kind))
            {
                worker.Wake(stop);
            }
        }
    }
}

public static class Workers
{
    /// <summary>Adds a worker under its own type, and to those that can be woken.</summary>
    public static IServiceCollection AddWorker<TWorker>(this IServiceCollection services)
        where TWorker : Worker =>
        services.AddSingleton<TWorker>().AddSingleton<Worker>(provider => provider.GetRequiredService<TWorker>());
}
