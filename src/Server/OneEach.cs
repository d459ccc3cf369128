namespace AtticLedger.Server;

/// <summary>Background work by name: one at a time per name, independent of other names.</summary>
internal sealed class OneEach
{
    private readonly Lock starting = new();
    private readonly Dictionary<string, Task> running = [];

    /// <summary>Starts the work of a name, unless it is still running.</summary>
    public void Start(string name, Func<Task> work, CancellationToken stop)
    {
        lock (starting)
        {
            if (!running.TryGetValue(name, out var at) || at.IsCompleted)
            {
                running[name] = Task.Run(work, stop);
            }
        }
    }
}
