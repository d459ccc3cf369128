namespace AtticLedger.StandIns.Slipway;

public enum Fault
{
    None,
    LoseBefore,
    LoseAfter,
    Refuse,
    Busy,
}

/// <summary>A seeded switch that makes Slipway behave badly: chances in hundredths, for changes only.</summary>
public sealed class Faults(int seed, int loseBefore, int loseAfter, int refuse, int busy, TimeSpan delay)
{
    private readonly Random chance = new(seed);
    private readonly Lock gate = new();

    public static Faults None => new(0, 0, 0, 0, 0, TimeSpan.Zero);

    public TimeSpan Delay { get; } = delay;

    public Fault Next()
    {
        lock (gate)
        {
            var drawn = chance.Next(100);
            return drawn < loseBefore ? Fault.LoseBefore
                : drawn < loseBefore + loseAfter ? Fault.LoseAfter
                : drawn < loseBefore + loseAfter + refuse ? Fault.Refuse
                : drawn < loseBefore + loseAfter + refuse + busy ? Fault.Busy
                : Fault.None;
        }
    }
}
