using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>Dated exceptions from rules over HTTP: granted, void when the site gets worse, ended early, and ended by their last
/// day.</summary>
public sealed class ExceptionServerFacts(Installation installation) : ManualHost(installation)
{
    private const string Few = "R-03";
    private static readonly DateOnly Today = DateOnly.FromDateTime(DateTime.UtcNow);

    [Fact]
    public async Task An_excepted_site_is_no_finding_until_it_gets_worse_or_the_exception_ends_and_its_since_stays()
    {
        var site = await Listed();
        var since = (await Finding(site)).GetProperty("finding").GetProperty("since").GetString();
        Assert.NotNull(since);
        var breaking = (await Breaking())[Few];

        await Exception(site, Today.AddDays(30));
        var excepted = await Finding(site);
        Assert.Equal(
            (true, since),
            (excepted.GetProperty("isExcepted").GetBoolean(), excepted.GetProperty("finding").GetProperty("since").GetString())
        );
        Assert.Equal(
            ("The yard moves", true),
            (
                excepted.GetProperty("exceptions")[0].GetProperty("reason").GetString(),
                excepted.GetProperty("exceptions")[0].GetProperty("covers").GetBoolean()
            )
        );
        Assert.Equal(breaking - 1, (await Breaking())[Few]);
        Assert.Equal(["Tide tables"], await Titles("excepted[value eq \"R-03\"]"));
        Assert.Empty(await Titles("title eq \"Tide tables\" and breaks[value eq \"R-03\"]"));
        Assert.Equal(
            "Tide tables",
            (await bell.Get("/api/register?rule=excepted")).GetProperty("lines")[0].GetProperty("title").GetString()
        );
        Assert.Contains((await bell.Get("/api/deadlines")).GetProperty("days").EnumerateArray(), day =>
            day.GetProperty("kind").GetString() == "exception"
            && day.GetProperty("day").GetString() == $"{Today.AddDays(30):yyyy-MM-dd}"
        );
        Assert.Equal("exception from R-03, yes", await Reported());
        Assert.Contains("End that exception first.", Reasons(await Plan(site, Today.AddDays(3))));

        // Its only owner is gone: the exception does not cover that. It covers the site again once it is as before.
        await Take(Head + Tide.Replace("i.vane@merrowby.example", "-"), "&whole=false");
        Assert.Equal(
            (false, false),
            (
                (await Finding(site)).GetProperty("isExcepted").GetBoolean(),
                (await Finding(site)).GetProperty("exceptions")[0].GetProperty("covers").GetBoolean()
            )
        );
        Assert.Equal(
            (breaking, "exception from R-03, no: the site is further from the rule than when it was granted"),
            ((await Breaking())[Few], await Reported())
        );
        await Take(Head + Tide, "&whole=false");
        Assert.Equal(
            (true, since),
            (
                (await Finding(site)).GetProperty("isExcepted").GetBoolean(),
                (await Finding(site)).GetProperty("finding").GetProperty("since").GetString()
            )
        );

        var path = $"/api/sites/{site}/exceptions/{(await Finding(site)).GetProperty("exceptions")[0].GetProperty("id")}/end";
        await bell.Post(path, new { reason = " " }, HttpStatusCode.UnprocessableEntity);
        await bell.Post(path, new { reason = "Moved" });
        var after = await Finding(site);
        Assert.Equal(
            (false, 0, since),
            (
                after.GetProperty("isExcepted").GetBoolean(),
                after.GetProperty("exceptions").GetArrayLength(),
                after.GetProperty("finding").GetProperty("since").GetString()
            )
        );
        Assert.Equal("exception from R-03, no", await Reported());
        Assert.Equal(
            ["exception.ended", "exception.granted"],
            (await Actions()).Where(action => action.StartsWith("exception.", StringComparison.Ordinal))
        );
        await bell.Post(path, new { reason = "Moved" }, HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task With_the_end_of_its_day_what_was_excepted_is_a_finding_again()
    {
        var site = await Listed();
        var breaking = (await Breaking())[Few];
        await Exception(site, Today.AddDays(2));
        await bell.Post("/api/clock", new { hours = 24 });
        Assert.Equal(breaking - 1, (await Breaking())[Few]);
        await bell.Post("/api/clock", new { hours = 48 });
        await Installation.Until(async () => (await Breaking())[Few] == breaking, "the exception is over");
        Assert.Equal(
            (false, 0),
            (
                (await Finding(site)).GetProperty("isExcepted").GetBoolean(),
                (await Finding(site)).GetProperty("exceptions").GetArrayLength()
            )
        );
        Assert.Equal("exception from R-03, no", await Reported());
    }

    [Fact]
    public async Task Owners_neither_grant_nor_end_exceptions_and_see_those_of_their_sites()
    {
        var site = await Listed();
        Assert.Contains("administrators and stewards", Reasons(await Plan(site, Today.AddDays(9), vane)));
        Assert.False((await vane.Get($"/api/sites/{site}")).GetProperty("mayException").GetBoolean());
        await Exception(site, Today.AddDays(9));
        var seen = (await vane.Get($"/api/sites/{site}"))
            .GetProperty("findings")
            .EnumerateArray()
            .Single(finding => finding.GetProperty("finding").GetProperty("rule").GetString() == Few);
        await vane.Post(
            $"/api/sites/{site}/exceptions/{seen.GetProperty("exceptions")[0].GetProperty("id")}/end",
            new { reason = "Mine" },
            HttpStatusCode.UnprocessableEntity
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (
                await vane.Send(
                    HttpMethod.Post,
                    "/api/sites/999999/exceptions/plan",
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

    [Fact]
    public async Task Where_the_rule_cannot_tell_an_exception_holds_until_it_can()
    {
        // A list without owners says nothing of them.
        await Take("key,name,address,unit\nf9,Quay log,foreshore.example/quay,PIL\n");
        var site = await Id("Quay log");
        Assert.Equal((true, false), await State());
        await Exception(site, Today.AddDays(30));
        Assert.Equal((true, true), await State());
        Assert.Equal((1, 0), (await Few("excepted"), await Few("unsure")));
        Assert.Equal("exception from R-03, yes", await Reported());

        await Take($"{Head}f9,Quay log,foreshore.example/quay,PIL,i.vane@merrowby.example,-,staff\n");
        Assert.Equal((false, false), await State());
        Assert.Equal("exception from R-03, no: it was granted because the rule could not tell", await Reported());

        async Task<(bool CannotTell, bool IsExcepted)> State()
        {
            var found = await Finding(site);
            return (
                found.GetProperty("finding").GetProperty("cannotTell").GetBoolean(),
                found.GetProperty("isExcepted").GetBoolean()
            );
        }

        async Task<int> Few(string verdict) => (await Titles($"title eq \"Quay log\" and {verdict}[value eq \"R-03\"]")).Count;
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
            $"/api/sites/{site}/exceptions/plan",
            new
            {
                rule = Few,
                reason = "The yard moves",
                through,
            }
        );

    private async Task Exception(long site, DateOnly through) =>
        await bell.Post(
            $"/api/sites/{site}/exceptions",
            new
            {
                rule = Few,
                reason = "The yard moves",
                through,
                fingerprint = (await Plan(site, through)).GetProperty("plan").GetProperty("fingerprint").GetString(),
            }
        );

    private static string Reasons(JsonElement plan) =>
        string.Join(" ", plan.GetProperty("refused").EnumerateArray().Select(Caller.Sentence));

    // The report's row for the only exception.
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
