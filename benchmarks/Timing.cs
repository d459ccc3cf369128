using System.Diagnostics;

namespace AtticLedger.Bench;

/// <summary>Medians in milliseconds. Garbage of what was done before is not charged to what is measured.</summary>
internal static class Timing
{
    public const int Times = 7;

    public static async Task<double> Median(Func<Task> what, int times = Times)
    {
        await what();
        var all = new List<double>();
        for (var i = 0; i < times; i++)
        {
            GC.Collect();
            all.Add(await Once(what));
        }

        return At(all, 0.5);
    }

    public static async Task<double> Once(Func<Task> what)
    {
        var watch = Stopwatch.StartNew();
        await what();
        return watch.Elapsed.TotalMilliseconds;
    }

    public static double At(IEnumerable<double> all, double part)
    {
        double[] sorted = [.. all.Order()];
        return sorted[(int)Math.Round(part * (sorted.Length - 1))];
    }
}
