namespace AtticLedger.Server.Work;

/// <summary>Background work by name: one at a time per name, independent of other names.</summary>
/// <param name="failed">Told of a fault; the work can be started again.</param>
internal sealed class OneEach(Action<string, Exception> failed)
{
    private readonly Lock starting = new();
    private readonly Dictionary<string, int> running = [];

    /// <summary>Starts the work of a name, unless it is still running.</summary>
    public void Start(string name, Func<Task> work, CancellationToken stop) => Begin(name, work, again: false, stop);

    /// <summary>Starts the work of a name. If it is running, it runs once more afterwards: what woke it may be newer than what
    /// it has read.</summary>
    public void Wake(string name, Func<Task> work, CancellationToken stop) => Begin(name, work, again: true, stop);

    private void Begin(string name, Func<Task> work, bool again, CancellationToken stop)
    {
        lock (starting)
        {
            if (running.TryGetValue(name, out var wakes))
            {
                running[name] = again ? wakes + 1 : wakes;
                return;
            }

            running[name] = 0;
        }

        _ = Task.Run(() => Run(name, work, stop), CancellationToken.None);
    }

    private async Task Run(string name, Func<Task> work, CancellationToken stop)
    {
        for (var seen = 0; ; )
        {
            try
            {
                await work();
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                // The server stops; whatever was leased expires.
            }
            catch (Exception fault)
            {
                failed(name, fault);
            }

            lock (starting)
            {
                if (running[name] == seen || stop.IsCancellationRequested)
                {
                    running.Remove(name);
                    return;
                }

                seen = running[name];
            }
        }
    }
}
