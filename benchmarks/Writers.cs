using System.Diagnostics;
using System.Net;
using AtticLedger.Bench.Kills;

namespace AtticLedger.Bench;

/// <summary>
/// Clients that write without pause, first one and then many at once, each on its own sites. Client, server and database share
/// the cores, so many clients can only be as much faster as one client leaves cores idle; that is measured too.
/// </summary>
internal static class Writers
{
    private const int Many = 20;
    private const double Times = 5;
    private const double OfWhatCoresAllow = 0.7;
    private static readonly TimeSpan Span = TimeSpan.FromSeconds(10);
    private static readonly TimeSpan WarmUp = TimeSpan.FromSeconds(25);

    /// <returns>True if the promise was kept.</returns>
    public static async Task<bool> Run(Uri server, string password)
    {
        var clients = new List<Client>();
        for (var place = 0; place < Many; place++)
        {
            clients.Add(
                await Client.SignIn(server, place % 2 == 0 ? "n.bell@merrowby.example" : "t.aske@merrowby.example", password)
            );
        }

        var all = (await clients[0].Get("/api/register/range?filter=existence%20eq%20%22in-use%22"))
            .Body.GetProperty("sites")
            .EnumerateArray()
            .Select(site => site.GetInt64())
            .ToList();
        var sites = clients.Select((_, place) => all.Where((_, at) => at % Many == place).ToArray()).ToList();
        await Write(clients, sites, WarmUp);
        var idle = Idle();
        var one = await Write(clients[..1], sites, Span);
        var most = 1 / Math.Max(0.01, 1 - Share(idle, Idle()));
        var many = await Write(clients, sites, Span);

        var report = new Report();
        Report.Table($"actions in {Span.TotalSeconds:0} s, previewed and carried out over HTTP");
        report.Faster(
            $"{Many} writers, an action",
            Span.TotalMilliseconds / many.Done,
            "one writer",
            Span.TotalMilliseconds / one.Done,
            Math.Min(Times, most * OfWhatCoresAllow)
        );
        Report.Line(
            $"| what {Environment.ProcessorCount} cores allow, from how busy one writer keeps them | | | {most:0.0} | {Times:0} times, or {OfWhatCoresAllow:0.0} of this where it is less |"
        );
        report.None($"of {many.Done + many.Refused:N0} actions of {Many} writers refused", many.Refused);
        Report.Line(
            $"| the slowest action | {many.Slowest.TotalMilliseconds:#,0} ms | one writer {one.Slowest.TotalMilliseconds:#,0} ms | | |"
        );
        report.End();
        clients.ForEach(client => client.Dispose());
        return report.IsKept;
    }

    /// <summary>How long the cores were idle, and the total time of all cores.</summary>
    private static (long Idle, long All) Idle()
    {
        var ticks = File.ReadLines("/proc/stat")
            .First()
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)[1..]
            .Select(text => long.Parse(text, System.Globalization.CultureInfo.InvariantCulture))
            .ToList();
        return (ticks[3] + ticks[4], ticks.Sum());
    }

    private static double Share((long Idle, long All) from, (long Idle, long All) to) =>
        (double)(to.Idle - from.Idle) / Math.Max(1, to.All - from.All);

    private static async Task<(int Done, int Refused, TimeSpan Slowest)> Write(
        IReadOnlyList<Client> clients,
        List<long[]> sites,
        TimeSpan span
    )
    {
        var (done, refused, slowest) = (0, 0, 0L);
        var watch = Stopwatch.StartNew();
        await Task.WhenAll(
            clients.Select(
                async (client, place) =>
                {
                    for (var round = 0; watch.Elapsed < span; round++)
                    {
                        var began = watch.ElapsedTicks;
                        if (await Hold(client, sites[place][round % sites[place].Length], $"held {round}"))
                        {
                            Interlocked.Increment(ref done);
                        }
                        else
                        {
                            Interlocked.Increment(ref refused);
                        }

                        var took = watch.ElapsedTicks - began;
                        for (
                            var most = slowest;
                            took > most && Interlocked.CompareExchange(ref slowest, took, most) != most;
                            most = slowest
                        ) { }
                    }
                }
            )
        );
        return (done, refused, TimeSpan.FromSeconds((double)slowest / Stopwatch.Frequency));
    }

    private static async Task<bool> Hold(Client client, long site, string reason)
    {
        var preview = await client.SendOnce(HttpMethod.Post, $"/api/sites/{site}/hold/plan", new { reason });
        return preview.Status == HttpStatusCode.OK
            && preview.Body.GetProperty("plan") is { ValueKind: System.Text.Json.JsonValueKind.Object } plan
            && (
                await client.SendOnce(
                    HttpMethod.Post,
                    $"/api/sites/{site}/hold",
                    new { reason, fingerprint = plan.GetProperty("fingerprint").GetString() }
                )
            ).Status == HttpStatusCode.OK;
    }
}
