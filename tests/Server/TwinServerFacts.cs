using System.Net;
using System.Text.Json;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Names;
using AtticLedger.StandIns.Slipway;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Pairs of sites with near names.</summary>
public class TwinServerFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:1", "own");

    [Fact]
    public async Task A_pair_is_both_right_until_it_is_opened_again_or_gets_another_name()
    {
        await using var organisation = await SmallOrganisation.Found(
            here,
            ("Harbour news", [Vane]),
            ("Harbour nwes", [Vane]),
            ("Harbour news (copy)", []),
            ("Regatta 2025", [Vane]),
            ("Regatta 2026", [Vane])
        );
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 5);
        var pairs = await Rows(bell);
        Assert.Equal(
            [
                "same: Harbour news, Harbour news (copy)",
                "near: Harbour news, Harbour nwes",
                "near: Harbour news (copy), Harbour nwes",
            ],
            pairs.Select(Words)
        );

        // An owner sees the pairs of which both are theirs, and decides about no other.
        var vane = await here.SignIn("i.vane", server.Address);
        Assert.Equal(["near: Harbour news, Harbour nwes"], (await Rows(vane)).Select(Words));
        var (one, other) = (Id(pairs[1], "one"), Id(pairs[1], "other"));
        var copy = Id(pairs[0], "other");
        await vane.Post(
            "/api/twins/both-right",
            new
            {
                one,
                other = copy,
                reason = (string?)null,
            },
            HttpStatusCode.NotFound
        );
        await vane.Post(
            "/api/twins/both-right",
            new
            {
                one,
                other = one,
                reason = (string?)null,
            },
            HttpStatusCode.NotFound
        );
        await vane.Post(
            "/api/twins/both-right",
            new
            {
                one,
                other,
                reason = "One is for the press",
            }
        );
        var after = await bell.Get("/api/twins");
        Assert.Equal((2, 1), (after.GetProperty("open").GetInt32(), after.GetProperty("right").GetInt32()));
        var right = Assert.Single(await Rows(bell, "?right=true")).GetProperty("right");
        Assert.Equal(
            ("Idris Vane", "One is for the press"),
            (right.GetProperty("by").GetProperty("name").GetString(), right.GetProperty("reason").GetString())
        );
        Assert.Equal(2, (await Entries(bell)).Count(action => action == "twins.both-right"));

        await bell.Post("/api/twins/open-again", new { one, other });
        Assert.Equal(3, (await Rows(bell)).Count);
        await bell.Post("/api/twins/open-again", new { one, other }, HttpStatusCode.NotFound);

        // Another name at the host: what was said was about the names before.
        await bell.Post(
            "/api/twins/both-right",
            new
            {
                one,
                other,
                reason = (string?)null,
            }
        );
        organisation.Slipway.Edit(records =>
            records.Sites["Harbour nwes"] = records.Sites["Harbour nwes"] with { Title = "Harbour newz" }
        );
        await bell.Post("/api/sources/Slipway/sync", new { });
        await Installation.Until(
            async () => (await Rows(bell)).Select(Words).Contains("near: Harbour news, Harbour newz"),
            "the pair is open again"
        );
        Assert.Empty(await Rows(bell, "?right=true"));
    }

    [Fact]
    public async Task A_rule_reads_how_many_others_in_use_have_near_names_that_nobody_said_to_be_right()
    {
        var bell = await here.SignIn("n.bell");
        foreach (var (slug, title) in Ferries)
        {
            await here.NewSite(slug, Vane);
            here.Slipway.Edit(records => records.Sites[$"t-{slug}"] = records.Sites[$"t-{slug}"] with { Title = title });
        }

        await here.ReadSlipway();
        await Count();
        Assert.Equal(
            ["Ferry to Skerry: 2", "Ferry to Skerry (copy): 2", "Fery to Skerry: 2", "Lighthouse of Skerry: 0"],
            await Ferry(bell)
        );

        var sites = (await bell.Get($"/api/register?filter={Uri.EscapeDataString("title co \"Skerry\"")}"))
            .GetProperty("lines")
            .EnumerateArray()
            .ToDictionary(line => line.GetProperty("title").GetString()!, line => line.GetProperty("id").GetInt64());
        foreach (var other in (string[])["Ferry to Skerry", "Ferry to Skerry (copy)"])
        {
            var pair = new[] { sites[other], sites["Fery to Skerry"] }.Order().ToList();
            await bell.Post(
                "/api/twins/both-right",
                new
                {
                    one = pair[0],
                    other = pair[1],
                    reason = (string?)null,
                }
            );
        }

        await Count();
        string[] apart = ["Ferry to Skerry: 1", "Ferry to Skerry (copy): 1", "Fery to Skerry: 0", "Lighthouse of Skerry: 0"];
        Assert.Equal(apart, await Ferry(bell));

        // Nothing has changed, so nothing is written.
        var entries = (await Entries(bell)).Count(action => action == "site.near-names");
        await Count();
        Assert.Equal(entries, (await Entries(bell)).Count(action => action == "site.near-names"));

        here.Slipway.Edit(records => records.Sites["t-ferry-b"] = records.Sites["t-ferry-b"] with { Title = "Skerry hymns" });
        await here.ReadSlipway();
        await Count();
        Assert.Equal(["Ferry to Skerry: 0", "Fery to Skerry: 0", "Lighthouse of Skerry: 0"], await Ferry(bell));
    }

    private static readonly (string Slug, string Title)[] Ferries =
    [
        ("ferry-a", "Ferry to Skerry"),
        ("ferry-b", "Ferry to Skerry (copy)"),
        ("ferry-c", "Fery to Skerry"),
        ("ferry-d", "Lighthouse of Skerry"),
    ];

    private async Task Count()
    {
        await here.Server.Services.GetRequiredService<NearNameCounter>().Count(CancellationToken.None);
        await here.Server.Services.GetRequiredService<LiveRegister>().Refresh();
    }

    // Each of these sites with the number that a filter finds.
    private static async Task<List<string>> Ferry(Caller caller)
    {
        var found = new List<string>();
        foreach (var (_, title) in Ferries)
        {
            for (var others = 0; others < 4; others++)
            {
                var filter = Uri.EscapeDataString($"title eq \"{title}\" and name.near eq {others}");
                found.AddRange(
                    (await caller.Get($"/api/register?filter={filter}"))
                        .GetProperty("lines")
                        .EnumerateArray()
                        .Select(_ => $"{title}: {others}")
                );
            }
        }

        return found;
    }

    private static async Task<List<JsonElement>> Rows(Caller caller, string query = "") =>
        [.. (await caller.Get($"/api/twins{query}")).GetProperty("rows").EnumerateArray()];

    private static string Words(JsonElement row)
    {
        var titles = new[] { "one", "other" }.Select(part => row.GetProperty(part).GetProperty("title").GetString()!);
        return $"{row.GetProperty("nearness").GetString()}: {string.Join(", ", titles.Order(StringComparer.Ordinal))}";
    }

    private static long Id(JsonElement row, string part) => row.GetProperty(part).GetProperty("id").GetInt64();

    private static async Task<List<string?>> Entries(Caller caller) =>
        [
            .. (await caller.Get("/api/journal?limit=200"))
                .GetProperty("entries")
                .EnumerateArray()
                .Select(entry => entry.GetProperty("action").GetString()),
        ];
}
