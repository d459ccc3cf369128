using System.Diagnostics;

namespace AtticLedger.Bench;

/// <summary>Medians in milliseconds. Garbage from earlier work is collected before each measurement.</summary>
internal static class Timing
{
    public const int Times = 7;

    public static async Task<double> Median(Func<Task> what) => (await Beside(what, () => Task.CompletedTask)).One;

    /// <summary>Measures two in turn, so that a slow minute of the machine affects both.</summary>
    public static async Task<(double One, double Other)> Beside(Func<Task> one, Func<Task> other)
    {
        await one();
        await other();
        var (all, others) = (new List<double>(), new List<double>());
        for (var i = 0; i < Times; i++)
        {
            foreach (var (what, times) in new[] { (one, all), (other, others) })
            {
                GC.Collect();
                times.Add(await Once(what));
            }
        }

        return (At(all, 0.5), At(others, 0.5));
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
