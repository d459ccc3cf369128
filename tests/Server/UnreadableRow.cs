using System.Net;
using AtticLedger.Server.Feed;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>A row that cannot be computed is shown as such: no action is possible on it, nothing overwrites it, and all others
/// are fine.</summary>
public class UnreadableRow(Installation here)
{
    [Fact]
    public async Task Costs_one_line_on_every_screen_and_on_every_server()
    {
        var site = await here.NewSite("unreadable", new SlipwayEntry("world", "read", "none"));
        var gone = await here.NewSite("gone-meanwhile", new SlipwayEntry("everyone", "read"));
        var other = await here.NewSite("readable", new SlipwayEntry("world", "read", "none"));
        await Optional(site, "'{\"plan\":5}'");
        var (second, address) = await here.Join();
        try
        {
            var bell = await here.SignIn("n.bell", address);
            var line = Assert.Single((await bell.Get("/api/register?filter=fault%20pr")).GetProperty("lines").EnumerateArray());
            Assert.Equal((site, "Test unreadable"), (line.GetProperty("id").GetInt64(), line.GetProperty("title").GetString()));
            Assert.True((await bell.Get("/api/register")).GetProperty("whole").GetInt32() > 100);
            Assert.Contains(
                "StoredPlan",
                (await bell.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("fault").GetString()
            );

            var named = new
            {
                inside = "staff",
                outside = "no-one",
                visitorSignIn = "account",
            };
            var target = new
            {
                view = named,
                preview = named,
                edit = named,
            };
            Assert.Contains(
                "cannot be computed",
                (await bell.Post($"/api/sites/{site}/restrict/plan", new { target }))
                    .GetProperty("refused")[0]
                    .GetProperty("sentence")
                    .GetString()
            );
            Assert.Contains(
                "cannot be computed",
                (await bell.Post($"/api/sites/{site}/move-to-attic/plan", new { }))
                    .GetProperty("refused")[0]
                    .GetProperty("sentence")
                    .GetString()
            );
            Assert.NotEqual(
                System.Text.Json.JsonValueKind.Null,
                (await bell.Post($"/api/sites/{other}/restrict/plan", new { target })).GetProperty("plan").ValueKind
            );

            // A sync of its host leaves it alone, names it, and imports the others.
            here.Slipway.Edit(records =>
                records.Sites["t-readable"] = records.Sites["t-readable"] with { Title = "Read all the same" }
            );
            here.Slipway.Edit(records =>
                records.Sites["t-unreadable"] = records.Sites["t-unreadable"] with { Title = "Not read" }
            );
            here.Slipway.Edit(records => records.Sites.Remove("t-gone-meanwhile"));
            await here.ReadSlipway();
            Assert.Equal(
                "Read all the same",
                (await bell.Get($"/api/sites/{other}")).GetProperty("line").GetProperty("title").GetString()
            );
            Assert.Contains(
                (await bell.Get("/api/sources"))
                    .EnumerateArray()
                    .Single(source => source.GetProperty("name").GetString() == "Slipway")
                    .GetProperty("refused")
                    .EnumerateArray(),
                words => words.GetString()!.StartsWith("t-unreadable cannot be imported", StringComparison.Ordinal)
            );

            // It was named, so other sites that the host lacks are still marked as no longer reported.
            Assert.True((await bell.Get($"/api/sites/{gone}")).GetProperty("noLongerReported").GetBoolean());
        }
        finally
        {
            await Optional(site, "null");
            here.Slipway.Edit(records =>
                records.Sites["t-unreadable"] = records.Sites["t-unreadable"] with { Title = "Test unreadable" }
            );
            await here.ReadSlipway();
            await here.Leave(second);
        }

        Assert.Equal(HttpStatusCode.OK, (await (await here.SignIn("n.bell")).Send(HttpMethod.Get, $"/api/sites/{site}")).Status);
    }

    private async Task Optional(long site, string value)
    {
        await using var owner = NpgsqlDataSource.Create(Databases.Owner(here.DatabaseName));
        await using var command = owner.CreateCommand($"update site set optional = {value} where id = {site}");
        await command.ExecuteNonQueryAsync();
        await here.Server.Services.GetRequiredService<LiveRegister>().Refresh();
    }
}
