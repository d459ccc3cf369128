namespace AtticLedger.Server;

/// <summary>Work in the background by name: of each name one at a time, and none waits for that of another.</summary>
internal sealed class OneEach
{
    private readonly Lock starting = new();
    private readonly Dictionary<string, Task> running = [];

    /// <summary>Starts what has a name, unless what has the same name is still at work.</summary>
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
