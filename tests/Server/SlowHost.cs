using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Lantern;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A host that does not answer does not slow down anybody else.</summary>
public class SlowHost(Installation here)
{
    [Fact]
    public async Task A_host_that_hangs_stops_no_other_sync()
    {
        var lantern = StandIns.Demo.Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871).Lantern;
        var (hanging, answering) = (
            await here.Run(app => app.Run(async http => await Task.Delay(Timeout.Infinite, http.RequestAborted))),
            await here.Run(app => app.MapLantern(new LanternBooks(lantern, null), Installation.Token, TimeProvider.System))
        );
        var (server, _) = await here.Start(hanging, null, await Databases.Migrated(), lantern: answering);
        var (reader, database) = (
            server.Services.GetRequiredService<SourceSync>(),
            server.Services.GetRequiredService<Database>()
        );
        using var stop = new CancellationTokenSource();
        reader.StartDue(stop.Token);
        await Installation.Until(
            async () =>
                (await database.Read(connection => connection.Sources(database.Now))).Any(source =>
                    source is { Name: "Lantern", Complete: true }
                ),
            "Lantern is read"
        );
        Assert.True(
            (await database.Read(connection => connection.Sources(database.Now)))
                .Single(source => source.Name == "Slipway")
                .IsSyncing
        );

        // Nor is it started twice meanwhile.
        reader.StartDue(stop.Token);
        await stop.CancelAsync();
        await here.Leave(server);
    }
}
