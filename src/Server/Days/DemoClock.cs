namespace AtticLedger.Server.Days;

/// <summary>
/// The demo's clock: it runs as clocks do, ahead by as much as it was moved forward, and never back. How far stands in
/// the database, so that all servers are at the same moment.
/// </summary>
public sealed class DemoClock : TimeProvider
{
    public const string Setting = "demo-clock-seconds";
    private long ahead;

    public TimeSpan Ahead => TimeSpan.FromTicks(Interlocked.Read(ref ahead));

    public override DateTimeOffset GetUtcNow() => base.GetUtcNow() + Ahead;

    /// <returns>Whether it moved.</returns>
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
