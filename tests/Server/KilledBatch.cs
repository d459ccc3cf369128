using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>The remedies of a cause on five hundred sites, a host that refuses one in ten, and a server that is killed twice meanwhile.</summary>
public class KilledBatch(Installation here)
{
    private const int Sites = 500;

    [Fact]
    public async Task Every_line_ends_in_a_true_state_and_nothing_is_done_twice()
    {
        var slipway = new SlipwayBooks(
            new SlipwayRecords { Workspace = new SlipwayWorkspace("Test", "world", false, "") },
            file: null
        );
        slipway.Edit(records =>
        {
            for (var i = 0; i < Sites; i++)
            {
                records.Sites[$"s{i}"] = new SlipwaySite
                {
                    Id = $"s{i}",
                    Slug = $"many-{i}",
                    Title = $"Many {i}",
                    Team = "PIL",
                    Label = "Guarded",
                    Published = DateTimeOffset.UtcNow,
                    Entries = [new("world", "read", "none"), new("everyone", "read")],
                    Working = [new("a", "b")],
                    Live = [new("a", "b")],
                };
            }
        });
        var (name, address) = await KilledServer.Founded(here, slipway);
        await using var database = Database.Open(Databases.Server(name), TimeProvider.System);

        var port = Installation.FreePort();
        var server = KilledServer.Start(Databases.Server(name), address, port);
        try
        {
            var bell = await here.SignIn("n.bell", await KilledServer.Answering(port));
            await Installation.Until(
                async () => (await bell.Get("/api/register?limit=0")).GetProperty("total").GetInt32() == Sites,
                "the sites read"
            );
            slipway.Faults = new Faults(seed: 11, loseBefore: 2, loseAfter: 3, refuse: 10, busy: 0, TimeSpan.FromMilliseconds(2));
            var batch = (await bell.Post("/api/batches/remedies", new { cause = "R-07" })).GetProperty("id").GetGuid();
            Assert.Equal([("waiting", Sites)], BatchFacts.Counts(await bell.Get($"/api/batches/{batch}")));
            await bell.Post($"/api/batches/{batch}/start", new { });

            foreach (var effects in new[] { 20, 150 })
            {
                await Installation.Until(
                    () => Task.FromResult(slipway.Read(records => records.Effects.Count) >= effects),
                    $"{effects} sites narrowed"
                );
                server.Kill(entireProcessTree: true);
                await server.WaitForExitAsync();
                server = KilledServer.Start(Databases.Server(name), address, port);
                await KilledServer.Answering(port);
            }

            await Installation.Until(
                async () => Open(await bell.Get($"/api/batches/{batch}")) == 0,
                "no line waits or is under way"
            );
            var lines = new List<(long Site, string Outcome)>();
            foreach (var outcome in new[] { "done", "host-refused" })
            {
                lines.AddRange(
                    (await bell.Get($"/api/batches/{batch}/lines?outcome={outcome}&limit=500"))
                        .GetProperty("lines")
                        .EnumerateArray()
                        .Select(line => (line.GetProperty("site").GetInt64(), outcome))
                );
            }

            Assert.Equal(Sites, lines.Select(line => line.Site).Distinct().Count());
            Assert.InRange(lines.Count(line => line.Outcome == "host-refused"), 20, 120);
            var keyOf = (await database.Read(connection => connection.Sites(new Core.Sites.Scope.Everything()))).ToDictionary(
                site => site.Id.Value,
                site => site.HostKey
            );
            var restricted = slipway.Read(records =>
                records
                    .Sites.Values.Where(site => site.Entries.All(entry => entry.Entry != "world"))
                    .Select(site => site.Id)
                    .ToHashSet()
            );
            Assert.All(lines, line =>
                Assert.True(
                    (line.Outcome == "done") == restricted.Contains(keyOf[line.Site]),
                    $"{keyOf[line.Site]} is said to be {line.Outcome}."
                )
            );
            Assert.Equal(restricted.Count, slipway.Read(records => records.Effects.Count));
            Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
        }
        finally
        {
            server.Kill(entireProcessTree: true);
            server.Dispose();
        }
    }

    private static int Open(System.Text.Json.JsonElement batch) =>
        BatchFacts.Counts(batch).Where(one => one.Item1 is "waiting" or "under-way").Sum(one => one.Item2);
}
