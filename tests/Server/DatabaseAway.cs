using System.Net;
using System.Net.Http.Json;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Hosting;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>The database goes down and comes back: the answer has a status and a sentence, nothing is lost, and nothing has to
/// be restarted.</summary>
public class DatabaseAway(Installation here)
{
    [Fact]
    public async Task Is_said_while_it_lasts_and_over_when_it_is_back()
    {
        var (name, relay, through) = await Way();
        await using var _ = relay;
        var (server, address) = await here.Start(null, null, name, connection: through);
        await server.Services.GetRequiredService<LiveRegister>().Refresh();
        var bell = await here.SignIn("n.bell", address);
        Assert.Equal((HttpStatusCode.OK, true), await Ready(address));
        relay.Cut();
        try
        {
            foreach (
                var (method, path) in new[]
                {
                    (HttpMethod.Get, "/api/journal"),
                    (HttpMethod.Get, "/api/register"),
                    (HttpMethod.Post, "/api/batches"),
                }
            )
            {
                using var request = new HttpRequestMessage(method, path)
                {
                    Content =
                        method == HttpMethod.Post
                            ? JsonContent.Create(new { action = "site.restrict", sites = new[] { 1 } })
                            : null,
                };
                using var answer = await bell.Http.SendAsync(request);
                Assert.Equal(HttpStatusCode.ServiceUnavailable, answer.StatusCode);
                Assert.NotNull(answer.Headers.RetryAfter);
                Assert.Contains("database", await answer.Content.ReadAsStringAsync());
                Assert.NotEmpty(answer.Headers.GetValues("Content-Security-Policy"));
            }

            Assert.Equal((HttpStatusCode.ServiceUnavailable, false), await Ready(address));
        }
        finally
        {
            relay.Mend();
        }

        await Installation.Until(
            async () => (await bell.Send(HttpMethod.Get, "/api/register")).Status == HttpStatusCode.OK,
            "it answers again"
        );
        Assert.Equal((HttpStatusCode.OK, true), await Ready(address));
        Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
        await here.Leave(server);
    }

    [Fact]
    public async Task Is_waited_for_by_a_server_that_starts()
    {
        var (_, relay, through) = await Way();
        await using var _1 = relay;
        relay.Cut();
        var port = Installation.FreePort();
        using var process = KilledServer.Start(through, new Uri("http://127.0.0.1:9"), port);
        try
        {
            Assert.False(process.WaitForExit(TimeSpan.FromSeconds(4)));
            relay.Mend();
            await KilledServer.Answering(port);
        }
        finally
        {
            process.Kill(entireProcessTree: true);
        }
    }

    /// <summary>A database with one administrator, and a relay to it.</summary>
    private async Task<(string Name, Relay Relay, string Through)> Way()
    {
        var (name, _) = await KilledServer.Founded(
            here,
            new SlipwayBooks(new SlipwayRecords { Workspace = new SlipwayWorkspace("Test", "world", false, "") }, file: null)
        );
        var direct = new NpgsqlConnectionStringBuilder(Databases.Server(name));
        var relay = new Relay(direct.Host!, direct.Port);
        relay.Mend();
        return (
            name,
            relay,
            new NpgsqlConnectionStringBuilder(direct.ConnectionString) { Port = relay.Port, Timeout = 3 }.ConnectionString
        );
    }

    private static async Task<(HttpStatusCode Status, bool Database)> Ready(Uri address)
    {
        using var http = new HttpClient();
        using var answer = await http.GetAsync(new Uri(address, "/health/ready"));
        var said = await answer.Content.ReadFromJsonAsync<System.Text.Json.JsonElement>();
        return (answer.StatusCode, said.GetProperty("database").GetBoolean());
    }
}
