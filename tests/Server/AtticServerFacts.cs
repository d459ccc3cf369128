using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Moving to the attic and restoring, through the whole installation and a real host.</summary>
public class AtticServerFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:s0004", "own");
    private static readonly SlipwayEntry Pilots = new("team:PIL", "read");

    [Fact]
    public async Task A_site_goes_into_the_bin_and_comes_back_as_it_went_and_anonymous_visitors_never_learn_of_it()
    {
        var site = await here.NewSite("attic-way", Vane, Pilots);
        var bell = await here.SignIn("n.bell");
        // The page leads to it as an anonymous visitor only where one may get in.
        Assert.Equal(JsonValueKind.Null, await Front(bell, site));
        Assert.Equal(
            JsonValueKind.String,
            await Front(bell, await here.NewSite("attic-open", Vane, new SlipwayEntry("world", "read", "none")))
        );
        var fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan");
        await bell.Post(
            $"/api/sites/{site}/move-to-attic",
            new { typed = "Test attic", fingerprint },
            HttpStatusCode.UnprocessableEntity
        );
        await bell.Post(
            $"/api/sites/{site}/move-to-attic",
            new
            {
                typed = "Test attic-way",
                fingerprint,
                reason = "tidy",
            }
        );
        await bell.Comes(site, "in-attic");

        Assert.Equal(["t-attic-way"], here.Slipway.Read(records => records.Bin.Keys.Where(key => key == "t-attic-way").ToList()));
        Assert.Equal(
            (HttpStatusCode.Gone, HttpStatusCode.NotFound),
            (await Visit("attic-way", "i.vane"), await Visit("attic-way", null))
        );
        Assert.DoesNotContain((await bell.Get("/api/register?limit=500")).GetProperty("lines").EnumerateArray(), line =>
            line.GetProperty("id").GetInt64() == site
        );
        Assert.Contains((await bell.Get("/api/register?limit=500&status=attic")).GetProperty("lines").EnumerateArray(), line =>
            line.GetProperty("id").GetInt64() == site
        );

        // Two dates, the organisation's and the host's; the earlier one counts.
        var atticEntry = (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry");
        var clock = atticEntry.GetProperty("clock");
        Assert.True(clock.GetProperty("hostIsFirst").GetBoolean());
        Assert.Equal(clock.GetProperty("host").GetDateTimeOffset(), clock.GetProperty("recoverableUntil").GetDateTimeOffset());
        Assert.Equal(
            atticEntry.GetProperty("movedToAtticAt").GetDateTimeOffset().AddDays(30),
            clock.GetProperty("host").GetDateTimeOffset()
        );

        // A site in the attic cannot be restricted, handed over or moved again; it can be restored.
        Assert.Equal(
            JsonValueKind.Null,
            (await bell.Post($"/api/sites/{site}/move-to-attic/plan", new { })).GetProperty("plan").ValueKind
        );
        await bell.Post($"/api/sites/{site}/restore", new { fingerprint = await bell.Plan($"/api/sites/{site}/restore/plan") });
        await bell.Comes(site, "restored");
        await Installation.Until(
            async () =>
                (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("differences").ValueKind == JsonValueKind.Array,
            "what came back was compared"
        );
        Assert.Equal(0, (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("differences").GetArrayLength());
        Assert.Equal(HttpStatusCode.OK, await Visit("attic-way", "i.vane"));
    }

    [Fact]
    public async Task What_somebody_deletes_at_the_host_is_found_notified_and_if_restored_there_compared()
    {
        var site = await here.NewSite("attic-found", Vane, Pilots);
        var bell = await here.SignIn("n.bell");
        here.Slipway.Delete("t-attic-found", null, "r.quist@merrowby.example", DateTimeOffset.UtcNow);
        await here.ReadSlipway();

        var moved = (await bell.Get("/api/desk"))
            .GetProperty("movedRecently")
            .EnumerateArray()
            .Single(atticEntry => atticEntry.GetProperty("site").GetInt64() == site);
        Assert.Equal(
            ("Renata Quist", true),
            (moved.GetProperty("by").GetProperty("name").GetString(), moved.GetProperty("atHost").GetBoolean())
        );
        Assert.Contains((await bell.Get("/api/attic")).GetProperty("entries").EnumerateArray(), atticEntry =>
            atticEntry.GetProperty("site").GetInt64() == site
        );

        here.Slipway.Restore(
            "t-attic-found",
            null,
            null,
            [
                new JsonObject
                {
                    ["entry"] = "world",
                    ["role"] = "read",
                    ["proof"] = "none",
                },
            ],
            DateTimeOffset.UtcNow
        );
        await here.ReadSlipway();
        var page = await bell.Get($"/api/sites/{site}/attic-entry");
        Assert.Equal("restored", page.GetProperty("atticEntry").GetProperty("state").GetString());
        var difference = Assert.Single(page.GetProperty("differences").EnumerateArray());
        Assert.Equal(
            ("Anonymous visitors", "nothing", "view", false),
            (
                difference.GetProperty("what").GetString(),
                difference.GetProperty("before").GetString(),
                difference.GetProperty("after").GetString(),
                difference.GetProperty("meant").GetBoolean()
            )
        );
    }

    [Fact]
    public async Task A_refusal_of_the_host_is_shown_and_the_site_stays_in_use()
    {
        var site = await here.NewSite("attic-refused", Vane, Pilots);
        var bell = await here.SignIn("n.bell");
        here.Slipway.Faults = new Faults(1, 0, 0, refuse: 100, 0, TimeSpan.Zero);
        try
        {
            await bell.Post(
                $"/api/sites/{site}/move-to-attic",
                new { typed = "Test attic-refused", fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan") }
            );
            await bell.Comes(site, "not-done");
        }
        finally
        {
            here.Slipway.Faults = Faults.None;
        }

        Assert.Equal(
            "Nothing is changed during a freeze.",
            (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("words").GetString()
        );
        Assert.Equal("in-use", (await bell.Get($"/api/sites/{site}")).GetProperty("existence").GetString());
        Assert.NotEmpty(await bell.Plan($"/api/sites/{site}/move-to-attic/plan"));
    }

    [Fact]
    public async Task Two_administrators_at_two_servers_agree_at_once_and_it_is_done_once()
    {
        var site = await here.NewSite("attic-two", Vane, new SlipwayEntry("everyone", "read"));
        var (second, address) = await here.Join();
        var vane = await here.SignIn("i.vane");
        var asked = await vane.Post(
            $"/api/sites/{site}/move-to-attic",
            new { typed = "Test attic-two", fingerprint = await vane.Plan($"/api/sites/{site}/move-to-attic/plan") }
        );
        var approval = asked.GetProperty("approval").GetGuid();
        Assert.Equal(JsonValueKind.Null, asked.GetProperty("hostChange").ValueKind);

        // The person who requested it can follow it, but nobody else outside its scope.
        Assert.True((await vane.Get($"/api/approvals/{approval}")).GetProperty("mayWithdraw").GetBoolean());
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await (await here.SignIn("h.nair")).Send(HttpMethod.Get, $"/api/approvals/{approval}")).Status
        );

        var (bell, aske) = (await here.SignIn("n.bell"), await here.SignIn("t.aske", address));
        var fingerprint = (await bell.Get($"/api/approvals/{approval}"))
            .GetProperty("plan")
            .GetProperty("fingerprint")
            .GetString();
        var answers = await Task.WhenAll(
            bell.Send(HttpMethod.Post, $"/api/approvals/{approval}/approve", new { fingerprint }),
            aske.Send(HttpMethod.Post, $"/api/approvals/{approval}/approve", new { fingerprint })
        );
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.UnprocessableEntity], answers.Select(answer => answer.Status).Order());
        await bell.Comes(site, "in-attic");
        Assert.Single(here.Slipway.Read(records => records.Effects.Where(effect => effect.Site == "t-attic-two").ToList()));
        await here.Leave(second);
    }

    [Fact]
    public async Task A_steward_works_in_the_scope_an_owner_on_their_own_sites_and_holds_are_not_for_owners()
    {
        var site = await here.NewSite("attic-part", Vane, Pilots);
        var (nair, vane, bell) = (await here.SignIn("h.nair"), await here.SignIn("i.vane"), await here.SignIn("n.bell"));
        Assert.Contains(
            "Only administrators and stewards place",
            (await vane.Post($"/api/sites/{site}/hold/plan", new { reason = "x" })).GetProperty("refused").ToString(),
            StringComparison.Ordinal
        );
        await nair.Post(
            $"/api/sites/{site}/hold",
            new
            {
                reason = "Inquiry 3",
                fingerprint = await nair.Plan($"/api/sites/{site}/hold/plan", new { reason = "Inquiry 3" }),
            }
        );
        Assert.Contains(
            "A hold blocks it: Inquiry 3.",
            (await vane.Post($"/api/sites/{site}/move-to-attic/plan", new { })).GetProperty("refused").ToString(),
            StringComparison.Ordinal
        );
        var hold = (await bell.Get($"/api/sites/{site}")).GetProperty("holds")[0].GetProperty("id").GetInt64();
        await nair.Post($"/api/sites/{site}/holds/{hold}/release", new { reason = " " }, HttpStatusCode.UnprocessableEntity);
        await nair.Post($"/api/sites/{site}/holds/{hold}/release", new { reason = "closed" });

        // An owner's move to the attic waits for an hour, and anybody who may act on the site can stop it.
        await vane.Post(
            $"/api/sites/{site}/move-to-attic",
            new { typed = "Test attic-part", fingerprint = await vane.Plan($"/api/sites/{site}/move-to-attic/plan") }
        );
        Assert.Equal(
            "announced",
            (await nair.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("state").GetString()
        );
        await nair.Post($"/api/sites/{site}/move-to-attic/stop", new { });
        Assert.Equal(
            "stopped",
            (await vane.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("state").GetString()
        );
        await vane.Post($"/api/sites/{site}/move-to-attic/stop", new { }, HttpStatusCode.UnprocessableEntity);

        // The owners page and the desk of a limited scope show only that scope.
        var whole = (await bell.Get("/api/owners"))
            .GetProperty("lines")
            .EnumerateArray()
            .Select(line => line.GetProperty("site").GetInt64())
            .ToHashSet();
        var part = (await nair.Get("/api/owners")).GetProperty("lines").EnumerateArray().ToList();
        Assert.InRange(part.Count, 1, whole.Count - 1);
        Assert.All(part, line =>
            Assert.Contains(line.GetProperty("unit").GetProperty("code").GetString(), new[] { "MAR", "PIL", "VTS", "TUG", "DRE" })
        );
        Assert.True(
            (await nair.Get("/api/desk")).GetProperty("findings").GetInt32()
                < (await bell.Get("/api/desk")).GetProperty("findings").GetInt32()
        );
    }

    private async Task<HttpStatusCode> Visit(string slug, string? who)
    {
        using var http = new HttpClient { BaseAddress = here.Front };
        if (who is not null)
        {
            http.DefaultRequestHeaders.Add(
                "Authorization",
                $"Basic {Convert.ToBase64String(System.Text.Encoding.UTF8.GetBytes($"{who}@merrowby.example:{VisitorsFront.Password}"))}"
            );
        }

        using var answer = await http.GetAsync(slug);
        return answer.StatusCode;
    }

    private static async Task<JsonValueKind> Front(Caller caller, long site) =>
        (await caller.Get($"/api/sites/{site}")).GetProperty("front").ValueKind;
}
