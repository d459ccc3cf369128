using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Store;

namespace AtticLedger.Bench.Kills;

/// <summary>
/// Kills servers, hosts and PostgreSQL, one after the other and sometimes two at once, while people work. Then it waits until
/// nothing is under way, and checks whether anything was lost or done twice.
/// </summary>
internal static class Campaign
{
    private const int Seed = 1871;
    private static readonly TimeSpan Quiet = TimeSpan.FromMinutes(12);

    /// <param name="folder">The folder of the installation.</param>
    /// <returns>True if every invariant held.</returns>
    public static async Task<bool> Run(string folder, int kills)
    {
        using var estate = new Estate(
            folder,
            Address("ATTIC_ADDRESS"),
            Address("ATTIC_BENCH_SECOND"),
            Address("ATTIC_HOSTS__0__ADDRESS")
        );
        await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
        await estate.Ready();
        var people = new List<Client>();
        foreach (var mail in (string[])["n.bell@merrowby.example", "t.aske@merrowby.example"])
        {
            people.Add(await Client.SignIn(estate.First, mail, Setting("ATTIC_DEMO_PASSWORD")));
            people.Add(await Client.SignIn(estate.Second, mail, Setting("ATTIC_DEMO_PASSWORD")));
        }

        var doings = new Doings(estate, people, Seed);
        using var stop = new CancellationTokenSource();
        var work = doings.Run(stop.Token);
        var killed = await Kill(estate, doings, kills);
        await stop.CancelAsync();
        await work;
        await estate.Ready();
        await Estate.Until(async () => await IsQuiet(database, people[0]), "no change, batch or sync is under way", Quiet);

        var invariants = new Invariants(database, people[0], Path.Combine(folder, "standins"));
        await invariants.Look(
            doings,
            async () =>
            {
                estate.Kill("second");
                await Estate.Until(async () => !await IsUp(estate.Second), "the second server is gone");
                await estate.Ready();
            },
            people[1]
        );
        Report.Line("");
        Report.Line(
            $"{killed.Values.Sum()} processes were killed: {string.Join(", ", killed.Select(one => $"{one.Key} {one.Value}"))}."
        );
        Report.Line(
            $"{doings.Answered.Count:N0} actions were answered, {doings.Answered.Count(said => said.IsDone):N0} of them done; {doings.Batches.Count():N0} batches; {doings.Meddled:N0} changes at a host itself; {people.Sum(client => client.Lost):N0} answers were lost on the way and asked for again; {people.Sum(client => client.Bare):N0} were errors without words."
        );
        invariants.Tell();
        foreach (var client in people)
        {
            client.Dispose();
        }

        return invariants.Hold && people.TrueForAll(client => client.Bare == 0);
    }

    private static async Task<Dictionary<string, int>> Kill(Estate estate, Doings doings, int kills)
    {
        var chance = new Random(Seed);
        var killed = Estate.Processes.Distinct().ToDictionary(name => name, _ => 0);
        while (killed.Values.Sum() < kills)
        {
            await Task.Delay(TimeSpan.FromMilliseconds(chance.Next(200, 4000)));
            foreach (var name in Estate.Processes.OrderBy(_ => chance.Next()).Distinct().Take(chance.Next(4) == 0 ? 2 : 1))
            {
                if (estate.Kill(name) && ++killed[name] > 0 && killed.Values.Sum() % 20 == 0)
                {
                    Report.Line(
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"{DateTime.UtcNow:HH:mm:ss} {killed.Values.Sum()} killed, {doings.Answered.Count(said => said.IsDone)} actions done, {doings.Faults.Count} faults"
                        )
                    );
                }
            }

            // Half of the time the next kill comes while others are still starting.
            if (chance.Next(2) == 0)
            {
                await estate.Ready();
            }
        }

        return killed;
    }

    private static async Task<bool> IsQuiet(Database database, Client bell)
    {
        var open = (await database.Read(HostChangeTable.ChangesUnderWay))
            .Where(hostChange => hostChange.State is ChangeState.Queued or ChangeState.Sent)
            .ToList();
        await using var running = database.Source.CreateCommand("select count(*) from batch where state = 1");
        var sources = (await bell.Get("/api/sources"))
            .Body.EnumerateArray()
            .Any(source => source.GetProperty("isSyncing").GetBoolean());
        return open.Count == 0 && (long)(await running.ExecuteScalarAsync())! == 0 && !sources;
    }

    private static async Task<bool> IsUp(Uri server)
    {
        using var http = new HttpClient { Timeout = TimeSpan.FromSeconds(2) };
        try
        {
            using var answer = await http.GetAsync(new Uri(server, "/health"));
            return true;
        }
        catch (Exception none) when (none is HttpRequestException or TaskCanceledException)
        {
            return false;
        }
    }

    private static string Setting(string name) =>
        Environment.GetEnvironmentVariable(name) ?? throw new InvalidOperationException($"Run ./bench: it sets {name}.");

    private static Uri Address(string name) => new(Setting(name));
}
