using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Putting away and bringing back through the whole installation, on a real host.</summary>
public class AtticServerFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:s0004", "own");
    private static readonly SlipwayEntry Pilots = new("team:PIL", "read");

    [Fact]
    public async Task A_site_goes_into_the_bin_and_comes_back_as_it_went_and_a_passer_by_never_learns_of_it()
    {
        var site = await here.NewSite("attic-way", Vane, Pilots);
        var bell = await here.SignIn("n.bell");
        var fingerprint = await bell.Plan($"/api/sites/{site}/put-away/plan");
        await bell.Post(
            $"/api/sites/{site}/put-away",
            new { typed = "Test attic", fingerprint },
            HttpStatusCode.UnprocessableEntity
        );
        await bell.Post(
            $"/api/sites/{site}/put-away",
            new
            {
                typed = "Test attic-way",
                fingerprint,
                reason = "tidy",
            }
        );
        await Comes(bell, site, "kept");

        Assert.Equal(["t-attic-way"], here.Slipway.Read(records => records.Bin.Keys.Where(key => key == "t-attic-way").ToList()));
        Assert.Equal(
            (HttpStatusCode.Gone, HttpStatusCode.NotFound),
            (await Visit("attic-way", "i.vane"), await Visit("attic-way", null))
        );
        Assert.DoesNotContain((await bell.Get("/api/register?limit=500")).GetProperty("lines").EnumerateArray(), line =>
            line.GetProperty("id").GetInt64() == site
        );
        Assert.Contains((await bell.Get("/api/register?limit=500&stage=attic")).GetProperty("lines").EnumerateArray(), line =>
            line.GetProperty("id").GetInt64() == site
        );

        // Two dates, ours and the host's, and the earlier is the one that counts.
        var stay = (await bell.Get($"/api/sites/{site}/stay")).GetProperty("stay");
        var clock = stay.GetProperty("clock");
        Assert.True(clock.GetProperty("hostIsFirst").GetBoolean());
        Assert.Equal(clock.GetProperty("host").GetDateTimeOffset(), clock.GetProperty("recoverableUntil").GetDateTimeOffset());
        Assert.Equal(
            stay.GetProperty("putAwayAt").GetDateTimeOffset().AddDays(30),
            clock.GetProperty("host").GetDateTimeOffset()
        );

        // What lies there cannot be narrowed, handed over or put away again; it can be brought back.
        Assert.Equal(
            JsonValueKind.Null,
            (await bell.Post($"/api/sites/{site}/put-away/plan", new { })).GetProperty("plan").ValueKind
        );
        await bell.Post(
            $"/api/sites/{site}/bring-back",
            new { fingerprint = await bell.Plan($"/api/sites/{site}/bring-back/plan") }
        );
        await Comes(bell, site, "back");
        await Installation.Until(
            async () => (await bell.Get($"/api/sites/{site}/stay")).GetProperty("differences").ValueKind == JsonValueKind.Array,
            "what came back was compared"
        );
        Assert.Equal(0, (await bell.Get($"/api/sites/{site}/stay")).GetProperty("differences").GetArrayLength());
        Assert.Equal(HttpStatusCode.OK, await Visit("attic-way", "i.vane"));
    }

    [Fact]
    public async Task What_somebody_deletes_at_the_host_is_found_heard_of_and_if_restored_there_compared()
    {
        var site = await here.NewSite("attic-found", Vane, Pilots);
        var bell = await here.SignIn("n.bell");
        here.Slipway.Delete("t-attic-found", null, "r.quist@merrowby.example", DateTimeOffset.UtcNow);
        await here.ReadSlipway();

        var heard = (await bell.Get("/api/desk"))
            .GetProperty("heard")
            .EnumerateArray()
            .Single(stay => stay.GetProperty("site").GetInt64() == site);
        Assert.Equal(
            ("Renata Quist", true),
            (heard.GetProperty("by").GetProperty("name").GetString(), heard.GetProperty("atHost").GetBoolean())
        );
        Assert.Contains((await bell.Get("/api/attic")).GetProperty("stays").EnumerateArray(), stay =>
            stay.GetProperty("site").GetInt64() == site
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
        var page = await bell.Get($"/api/sites/{site}/stay");
        Assert.Equal("back", page.GetProperty("stay").GetProperty("state").GetString());
        var difference = Assert.Single(page.GetProperty("differences").EnumerateArray());
        Assert.Equal(
            ("Passers-by", "nothing", "view", false),
            (
                difference.GetProperty("what").GetString(),
                difference.GetProperty("before").GetString(),
                difference.GetProperty("after").GetString(),
                difference.GetProperty("meant").GetBoolean()
            )
        );
    }

    [Fact]
    public async Task A_host_that_refuses_is_said_and_the_site_stays_in_use()
    {
        var site = await here.NewSite("attic-refused", Vane, Pilots);
        var bell = await here.SignIn("n.bell");
        here.Slipway.Faults = new Faults(1, 0, 0, refuse: 100, 0, TimeSpan.Zero);
        try
        {
            await bell.Post(
                $"/api/sites/{site}/put-away",
                new { typed = "Test attic-refused", fingerprint = await bell.Plan($"/api/sites/{site}/put-away/plan") }
            );
            await Comes(bell, site, "not-done");
        }
        finally
        {
            here.Slipway.Faults = Faults.None;
        }

        Assert.Equal(
            "Nothing is changed during a freeze.",
            (await bell.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("words").GetString()
        );
        Assert.Equal("here", (await bell.Get($"/api/sites/{site}")).GetProperty("existence").GetString());
        Assert.NotEmpty(await bell.Plan($"/api/sites/{site}/put-away/plan"));
    }

    [Fact]
    public async Task Two_administrators_at_two_servers_agree_at_once_and_it_is_done_once()
    {
        var site = await here.NewSite("attic-two", Vane, new SlipwayEntry("everyone", "read"));
        var (second, address) = await here.Join();
        var vane = await here.SignIn("i.vane");
        var asked = await vane.Post(
            $"/api/sites/{site}/put-away",
            new { typed = "Test attic-two", fingerprint = await vane.Plan($"/api/sites/{site}/put-away/plan") }
        );
        var approval = asked.GetProperty("approval").GetGuid();
        Assert.Equal(JsonValueKind.Null, asked.GetProperty("order").ValueKind);

        // Who asked follows it, and nobody else without sight of it.
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
            bell.Send(HttpMethod.Post, $"/api/approvals/{approval}/give", new { fingerprint }),
            aske.Send(HttpMethod.Post, $"/api/approvals/{approval}/give", new { fingerprint })
        );
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.UnprocessableEntity], answers.Select(answer => answer.Status).Order());
        await Comes(bell, site, "kept");
        Assert.Single(here.Slipway.Read(records => records.Effects.Where(effect => effect.Site == "t-attic-two").ToList()));
        await here.Leave(second);
    }

    [Fact]
    public async Task A_steward_works_in_the_part_an_owner_on_their_own_and_holds_are_not_for_owners()
    {
        var site = await here.NewSite("attic-part", Vane, Pilots);
        var (nair, vane, bell) = (await here.SignIn("h.nair"), await here.SignIn("i.vane"), await here.SignIn("n.bell"));
        Assert.Contains(
            "Holds are placed",
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
            "A hold forbids it: Inquiry 3.",
            (await vane.Post($"/api/sites/{site}/put-away/plan", new { })).GetProperty("refused").ToString(),
            StringComparison.Ordinal
        );
        var hold = (await bell.Get($"/api/sites/{site}")).GetProperty("holds")[0].GetProperty("id").GetInt64();
        await nair.Post($"/api/sites/{site}/holds/{hold}/release", new { reason = " " }, HttpStatusCode.UnprocessableEntity);
        await nair.Post($"/api/sites/{site}/holds/{hold}/release", new { reason = "closed" });

        // The owner's own deletion waits for its hour, and can be stopped by whoever may act on the site.
        await vane.Post(
            $"/api/sites/{site}/put-away",
            new { typed = "Test attic-part", fingerprint = await vane.Plan($"/api/sites/{site}/put-away/plan") }
        );
        Assert.Equal(
            "announced",
            (await nair.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("state").GetString()
        );
        await nair.Post($"/api/sites/{site}/put-away/stop", new { });
        Assert.Equal("stopped", (await vane.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("state").GetString());
        await vane.Post($"/api/sites/{site}/put-away/stop", new { }, HttpStatusCode.UnprocessableEntity);

        // Keys and desk of a part are the part's.
        var whole = (await bell.Get("/api/keys"))
            .GetProperty("lines")
            .EnumerateArray()
            .Select(line => line.GetProperty("site").GetInt64())
            .ToHashSet();
        var part = (await nair.Get("/api/keys")).GetProperty("lines").EnumerateArray().ToList();
        Assert.InRange(part.Count, 1, whole.Count - 1);
        Assert.All(part, line =>
            Assert.Contains(line.GetProperty("unit").GetProperty("code").GetString(), new[] { "MAR", "PIL", "VTS", "TUG", "DRE" })
        );
        Assert.True(
            (await nair.Get("/api/desk")).GetProperty("findings").GetInt32()
                < (await bell.Get("/api/desk")).GetProperty("findings").GetInt32()
        );
    }

    private static async Task Comes(Caller caller, long site, string state) =>
        await Installation.Until(
            async () =>
                (await caller.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("state").GetString() == state,
            $"the site is {state}"
        );

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
}
