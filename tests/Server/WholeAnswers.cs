using System.Text.Json;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A host's answer is complete or an error. A few missing sites are marked as no longer reported; for many a person has
/// to confirm it.</summary>
public class WholeAnswers(Installation here)
{
    private const int Sites = 60;

    [Theory]
    [InlineData("{}", "has no list \"items\"")]
    [InlineData("[]", "has no list \"items\"")]
    [InlineData("{\"items\":{},\"total\":0}", "has no list \"items\"")]
    [InlineData("{\"items\":[]}", "has no valid total")]
    [InlineData("{\"items\":[],\"total\":60}", "the total is 60, but 0 were returned")]
    public async Task An_incomplete_response_leaves_no_site_unreported(string answer, string words)
    {
        string? instead = null;
        var (server, bell) = await here.Against(app => Host(app, () => instead));
        Assert.Equal(Sites, await Standing(server));
        instead = answer;
        var source = await Read(server, bell);
        Assert.Equal((false, Sites), (source.GetProperty("complete").GetBoolean(), await Standing(server)));
        Assert.Contains(words, source.GetProperty("error").GetString());
        await here.Leave(server);
    }

    [Fact]
    public async Task So_many_that_are_gone_at_once_wait_for_a_person_and_a_few_do_not()
    {
        var there = Sites;
        var (server, bell) = await here.Against(app => Host(app, () => Page(there)));
        there = Sites - 6;
        Assert.Equal(0, (await Read(server, bell)).GetProperty("heldBack").GetInt32());
        Assert.Equal(Sites - 6, await Standing(server));

        there = 10;
        var held = await Read(server, bell);
        Assert.Equal(
            (44, false, Sites - 6),
            (held.GetProperty("heldBack").GetInt32(), held.GetProperty("complete").GetBoolean(), await Standing(server))
        );
        Assert.Contains("44 sites", held.GetProperty("error").GetString());

        // The confirmation does not cover more sites than the person saw.
        there = 2;
        await bell.Post("/api/sources/Slipway/gone", new { }, System.Net.HttpStatusCode.OK);
        await Installation.Until(
            async () => (await Source(bell)).GetProperty("heldBack").GetInt32() == 52,
            "the read that was asked for holds back more"
        );
        Assert.Equal(Sites - 6, await Standing(server));
        await bell.Post("/api/sources/Slipway/gone", new { }, System.Net.HttpStatusCode.OK);
        await Installation.Until(
            async () => (await Source(bell)).GetProperty("heldBack").GetInt32() == 0,
            "the read that was asked for lets them go"
        );
        Assert.Equal(2, await Standing(server));
        Assert.Equal(
            "source.missing-confirmed",
            (await bell.Get("/api/journal?action=source.missing-confirmed"))
                .GetProperty("entries")[0]
                .GetProperty("action")
                .GetString()
        );
        await bell.Post("/api/sources/Slipway/gone", new { }, System.Net.HttpStatusCode.UnprocessableEntity);
        await here.Leave(server);
    }

    [Fact]
    public async Task A_response_body_that_never_ends_is_abandoned_with_a_message()
    {
        var hangs = false;
        var (server, bell) = await here.Against(app =>
        {
            app.Use(
                async (http, next) =>
                {
                    if (hangs && http.Request.Path == "/api/sites")
                    {
                        http.Response.ContentType = "application/json";
                        await http.Response.WriteAsync("{\"items\":[");
                        await http.Response.Body.FlushAsync();
                        await Task.Delay(Timeout.Infinite, http.RequestAborted);
                    }

                    await next();
                }
            );
            Host(app, () => null);
        });
        hangs = true;
        var source = await Read(server, bell);
        Assert.Contains("within 20 seconds", source.GetProperty("error").GetString());
        Assert.Equal(Sites, await Standing(server));
        await here.Leave(server);
    }

    [Fact]
    public async Task One_site_that_the_database_cannot_hold_is_named_and_all_others_are_stored()
    {
        // A thousand different characters of four bytes: longer than a key of an index can be.
        var key = string.Concat(Enumerable.Range(0x20000, 1000).Select(char.ConvertFromUtf32));
        var page = JsonSerializer.Serialize(
            new { items = new[] { Site("s1"), Site("s2", "a\0b\ud800"), Site(key), Site("s4") }, total = 4 }
        );
        var (server, bell) = await here.Against(app => Host(app, () => page));
        var source = await Source(bell);
        Assert.Equal(3, await Standing(server));
        Assert.Contains("cannot be imported", Assert.Single(source.GetProperty("refused").EnumerateArray()).GetString());
        await here.Leave(server);
    }

    private static void Host(WebApplication app, Func<string?> sites)
    {
        app.MapGet("/api/workspace", () => Json("""{"outside":"none","signIn":true}"""));
        app.MapGet("/api/people", () => Json("""{"items":[]}"""));
        app.MapGet("/api/groups", () => Json("""{"items":[]}"""));
        app.MapGet("/api/sites", () => Json(sites() ?? Page(Sites)));
        app.MapGet("/api/bin", () => Json("""{"items":[],"total":0}"""));
    }

    private static string Page(int sites) =>
        JsonSerializer.Serialize(new { items = Enumerable.Range(1, sites).Select(number => Site($"s{number}")), total = sites });

    private static object Site(string key, string? title = null) =>
        new
        {
            id = key,
            slug = key,
            title = title ?? $"Site {key}",
            team = (string?)null,
            label = "Open",
            template = "pages",
            offline = false,
            published = "2026-01-01T00:00:00Z",
            sharing = new { entries = new[] { new { entry = "everyone", role = "read" } } },
        };

    private static IResult Json(string text) => Results.Text(text, "application/json");

    private static async Task<JsonElement> Read(WebApplication server, Caller bell)
    {
        await server.Services.GetRequiredService<SourceSync>().Read("Slipway", CancellationToken.None);
        return await Source(bell);
    }

    private static async Task<JsonElement> Source(Caller bell) => (await bell.Get("/api/sources")).EnumerateArray().Single();

    private static async Task<int> Standing(WebApplication server) =>
        (await server.Services.GetRequiredService<Database>().Read(connection => connection.Sites(new Scope.Everything()))).Count(
            site => !site.NoLongerReported
        );
}
