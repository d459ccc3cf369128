namespace AtticLedger.Server.DueWork;

/// <summary>The demo's clock: ahead of the real one by as much as it was moved forward, never back. The difference is in the
/// database, so that all servers agree.
/// </summary>
public sealed class DemoClock : TimeProvider
{
    private long ahead;

    public TimeSpan Ahead => TimeSpan.FromTicks(Interlocked.Read(ref ahead));

    public override DateTimeOffset GetUtcNow() => base.GetUtcNow() + Ahead;

    /// <returns>True if it moved.</returns>
    public bool MoveTo(TimeSpan by)
    {
        for (var before = Interlocked.Read(ref ahead); by.Ticks > before; before = Interlocked.Read(ref ahead))
        {
            if (Interlocked.CompareExchange(ref ahead, by.Ticks, before) == before)
            {
                return true;
            }
        }

        return false;
    }
}
