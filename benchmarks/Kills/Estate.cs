using System.Diagnostics;
using System.Globalization;

namespace AtticLedger.Bench.Kills;

/// <summary>
/// The processes of one installation, found by their PID files. They are killed here and started again by whatever started them.
/// </summary>
internal sealed class Estate(string folder, Uri first, Uri second, Uri slipway) : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(2);
    private readonly HttpClient http = new() { Timeout = TimeSpan.FromSeconds(5) };

    /// <summary>The processes to kill; the servers most often.</summary>
    public static IReadOnlyList<string> Processes { get; } =
    ["server", "second", "server", "second", "standins", "postgres", "postgres"];

    public Uri First => first;

    public Uri Second => second;

    public Uri Slipway => slipway;

    /// <summary>Kills a process (SIGKILL).</summary>
    /// <returns>False if it was not running.</returns>
    public bool Kill(string name)
    {
        try
        {
            var file = name == "postgres" ? Path.Combine(folder, "pg", "postmaster.pid") : Path.Combine(folder, $"{name}.pid");
            using var process = Process.GetProcessById(int.Parse(File.ReadLines(file).First(), CultureInfo.InvariantCulture));
            process.Kill();
            return process.WaitForExit(TimeSpan.FromSeconds(10));
        }
        catch (Exception gone) when (gone is ArgumentException or InvalidOperationException or IOException or FormatException)
        {
            return false;
        }
    }

    /// <summary>Waits until both servers and the hosts answer.</summary>
    /// <exception cref="TimeoutException">They did not answer in time.</exception>
    public async Task Ready()
    {
        foreach (var place in new[] { new Uri(first, "/health/ready"), new Uri(second, "/health/ready"), new Uri(slipway, "/") })
        {
            await Until(async () => await Answers(place), $"{place} answers");
        }
    }

    /// <exception cref="TimeoutException">It did not happen in time.</exception>
    public static async Task Until(Func<Task<bool>> holds, string what, TimeSpan? within = null)
    {
        for (var watch = Stopwatch.StartNew(); !await holds(); )
        {
            if (watch.Elapsed > (within ?? Patience))
            {
                throw new TimeoutException($"This did not happen in time: {what}.");
            }

            await Task.Delay(100);
        }
    }

    public void Dispose() => http.Dispose();

    private async Task<bool> Answers(Uri place)
    {
        try
        {
            using var answer = await http.GetAsync(place);
            return (int)answer.StatusCode is 200 or 401 or 404;
        }
        catch (Exception none) when (none is HttpRequestException or TaskCanceledException)
        {
            return false;
        }
    }
}
