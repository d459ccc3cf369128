using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>Dated exceptions from rules over HTTP: given, worn out by what gets worse, ended, and over with their day.</summary>
public sealed class ExcuseServerFacts(Installation installation) : HandKeptHost(installation)
{
    private const string Few = "R-03";
    private static readonly DateOnly Today = DateOnly.FromDateTime(DateTime.UtcNow);

    [Fact]
    public async Task An_excused_site_is_no_finding_until_it_gets_worse_or_the_excuse_is_ended_and_its_since_stays()
    {
        var site = await Listed();
        var since = (await Finding(site)).GetProperty("finding").GetProperty("since").GetString();
        Assert.NotNull(since);
        var breaking = (await Breaking())[Few];

        await Excuse(site, Today.AddDays(30));
        var excused = await Finding(site);
        Assert.Equal(
            (true, since),
            (excused.GetProperty("isExcused").GetBoolean(), excused.GetProperty("finding").GetProperty("since").GetString())
        );
        Assert.Equal(
            ("The yard moves", true),
            (
                excused.GetProperty("excuses")[0].GetProperty("reason").GetString(),
                excused.GetProperty("excuses")[0].GetProperty("covers").GetBoolean()
            )
        );
        Assert.Equal(breaking - 1, (await Breaking())[Few]);
        Assert.Equal(["Tide tables"], await Titles("excused[value eq \"R-03\"]"));
        Assert.Empty(await Titles("title eq \"Tide tables\" and breaks[value eq \"R-03\"]"));
        Assert.Equal(
            "Tide tables",
            (await bell.Get("/api/register?rule=excused")).GetProperty("lines")[0].GetProperty("title").GetString()
        );
        Assert.Contains((await bell.Get("/api/calendar")).GetProperty("days").EnumerateArray(), day =>
            day.GetProperty("kind").GetString() == "excuse"
            && day.GetProperty("day").GetString() == $"{Today.AddDays(30):yyyy-MM-dd}"
        );
        Assert.Equal("excused from R-03, yes", await Reported());
        Assert.Contains("End that excuse first.", Reasons(await Plan(site, Today.AddDays(3))));

        // The one key it had is gone: that was not excused. It is again once it stands as it did.
        await Take(Head + Tide.Replace("i.vane@merrowby.example", "-"), "&whole=false");
        Assert.Equal(
            (false, false),
            (
                (await Finding(site)).GetProperty("isExcused").GetBoolean(),
                (await Finding(site)).GetProperty("excuses")[0].GetProperty("covers").GetBoolean()
            )
        );
        Assert.Equal(
            (breaking, "excused from R-03, no, for the site stands worse than it was excused"),
            ((await Breaking())[Few], await Reported())
        );
        await Take(Head + Tide, "&whole=false");
        Assert.Equal(
            (true, since),
            (
                (await Finding(site)).GetProperty("isExcused").GetBoolean(),
                (await Finding(site)).GetProperty("finding").GetProperty("since").GetString()
            )
        );

        var path = $"/api/sites/{site}/excuses/{(await Finding(site)).GetProperty("excuses")[0].GetProperty("id")}/end";
        await bell.Post(path, new { reason = " " }, HttpStatusCode.UnprocessableEntity);
        await bell.Post(path, new { reason = "Moved" });
        var after = await Finding(site);
        Assert.Equal(
            (false, 0, since),
            (
                after.GetProperty("isExcused").GetBoolean(),
                after.GetProperty("excuses").GetArrayLength(),
                after.GetProperty("finding").GetProperty("since").GetString()
            )
        );
        Assert.Equal("excused from R-03, no", await Reported());
        Assert.Equal(
            ["excuse.ended", "excuse.given"],
            (await Deeds()).Where(deed => deed.StartsWith("excuse.", StringComparison.Ordinal))
        );
        await bell.Post(path, new { reason = "Moved" }, HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task With_the_end_of_its_day_what_was_excused_is_a_finding_again()
    {
        var site = await Listed();
        var breaking = (await Breaking())[Few];
        await Excuse(site, Today.AddDays(2));
        await bell.Post("/api/clock", new { hours = 24 });
        Assert.Equal(breaking - 1, (await Breaking())[Few]);
        await bell.Post("/api/clock", new { hours = 48 });
        await Installation.Until(async () => (await Breaking())[Few] == breaking, "the excuse is over");
        Assert.Equal(
            (false, 0),
            (
                (await Finding(site)).GetProperty("isExcused").GetBoolean(),
                (await Finding(site)).GetProperty("excuses").GetArrayLength()
            )
        );
        Assert.Equal("excused from R-03, no", await Reported());
    }

    [Fact]
    public async Task Owners_neither_give_nor_end_excuses_and_see_those_of_their_sites()
    {
        var site = await Listed();
        Assert.Contains("administrators and stewards", Reasons(await Plan(site, Today.AddDays(9), vane)));
        Assert.False((await vane.Get($"/api/sites/{site}")).GetProperty("mayExcuse").GetBoolean());
        await Excuse(site, Today.AddDays(9));
        var seen = (await vane.Get($"/api/sites/{site}"))
            .GetProperty("findings")
            .EnumerateArray()
            .Single(finding => finding.GetProperty("finding").GetProperty("rule").GetString() == Few);
        await vane.Post(
            $"/api/sites/{site}/excuses/{seen.GetProperty("excuses")[0].GetProperty("id")}/end",
            new { reason = "Mine" },
            HttpStatusCode.UnprocessableEntity
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (
                await vane.Send(
                    HttpMethod.Post,
                    "/api/sites/999999/excuse/plan",
                    new
                    {
                        rule = Few,
                        reason = "x",
                        through = Today,
                    }
                )
            ).Status
        );
    }

    private async Task<long> Listed()
    {
        await Take(Head + Tide + Wrecks);
        return await Id("Tide tables");
    }

    private async Task<JsonElement> Finding(long site) =>
        (await bell.Get($"/api/sites/{site}"))
            .GetProperty("findings")
            .EnumerateArray()
            .Single(finding => finding.GetProperty("finding").GetProperty("rule").GetString() == Few);

    private Task<JsonElement> Plan(long site, DateOnly through, Caller? who = null) =>
        (who ?? bell).Post(
            $"/api/sites/{site}/excuse/plan",
            new
            {
                rule = Few,
                reason = "The yard moves",
                through,
            }
        );

    private async Task Excuse(long site, DateOnly through) =>
        await bell.Post(
            $"/api/sites/{site}/excuse",
            new
            {
                rule = Few,
                reason = "The yard moves",
                through,
                fingerprint = (await Plan(site, through)).GetProperty("plan").GetProperty("fingerprint").GetString(),
            }
        );

    private static string Reasons(JsonElement plan) =>
        string.Join(" ", plan.GetProperty("refused").EnumerateArray().Select(reason => reason.GetString()));

    // What the report says of the one excuse there is.
    private async Task<string> Reported()
    {
        var cells = (await bell.Get("/api/reports/holds"))
            .GetProperty("rows")
            .EnumerateArray()
            .Single()
            .GetProperty("cells")
            .EnumerateArray()
            .Select(cell => cell.GetString())
            .ToList();
        return $"{cells[3]}, {cells[^1]}";
    }
}
