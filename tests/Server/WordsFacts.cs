using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>The house's words over HTTP: counted, changed with the effect foreseen, taken back, and never behind another's back.</summary>
public sealed class WordsFacts(Installation here)
{
    [Fact]
    public async Task A_free_word_is_given_a_meaning_as_foreseen_and_the_change_is_taken_back()
    {
        var bell = await here.SignIn("n.bell");
        var before = await bell.Get("/api/words");
        var boats = Loose(before, "boats");
        var ships = Count(before, "ships");
        Assert.True(boats > 0);
        Assert.Equal(boats, await Found(bell, "words eq \"boats\""));

        var wish = new
        {
            deed = "mean",
            fact = "tags",
            code = "ships",
            word = "boats",
        };
        var plan = await bell.Post("/api/words/plan", wish);
        Assert.Equal(boats, plan.GetProperty("count").GetInt32());
        Assert.Equal("ships", plan.GetProperty("sites")[0].GetProperty("after").GetString());
        Assert.Equal(ships, Count(await bell.Get("/api/words"), "ships"));

        var done = await bell.Post("/api/words", new { wish, fingerprint = plan.GetProperty("fingerprint").GetString() });
        var after = await bell.Get("/api/words");
        Assert.Equal((ships + boats, 0), (Count(after, "ships"), Loose(after, "boats")));
        Assert.Equal(ships + boats, await Found(bell, "tags eq \"ships\""));

        // The plan is spent, and what it asked for is so already.
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await bell.Send(
                    HttpMethod.Post,
                    "/api/words",
                    new { wish, fingerprint = plan.GetProperty("fingerprint").GetString() }
                )
            ).Status
        );

        await bell.Post("/api/words/take-back", new { entry = done.GetProperty("entry").GetInt64() });
        var back = await bell.Get("/api/words");
        Assert.Equal((ships, boats), (Count(back, "ships"), Loose(back, "boats")));
        Assert.Equal(
            HttpStatusCode.Conflict,
            (
                await bell.Send(HttpMethod.Post, "/api/words/take-back", new { entry = done.GetProperty("entry").GetInt64() })
            ).Status
        );
    }

    [Fact]
    public async Task A_plan_that_another_change_has_made_old_is_answered_with_the_new_one()
    {
        var (bell, aske) = (await here.SignIn("n.bell"), await here.SignIn("t.aske"));
        var wish = new
        {
            deed = "rename",
            fact = "tags",
            code = "safety",
            word = "Safety first",
        };
        var plan = await bell.Post("/api/words/plan", wish);
        var other = new
        {
            deed = "add",
            fact = "tags",
            word = "Fog",
        };
        var added = await aske.Post(
            "/api/words",
            new { wish = other, fingerprint = (await aske.Post("/api/words/plan", other)).GetProperty("fingerprint").GetString() }
        );
        var (late, anew) = await bell.Send(
            HttpMethod.Post,
            "/api/words",
            new { wish, fingerprint = plan.GetProperty("fingerprint").GetString() }
        );
        Assert.Equal(HttpStatusCode.Conflict, late);
        Assert.NotEqual(plan.GetProperty("fingerprint").GetString(), anew.GetProperty("fingerprint").GetString());
        await aske.Post("/api/words/take-back", new { entry = added.GetProperty("entry").GetInt64() });
    }

    [Fact]
    public async Task A_class_that_limits_speak_of_is_not_merged_away()
    {
        var bell = await here.SignIn("n.bell");
        var plan = await bell.Post(
            "/api/words/plan",
            new
            {
                deed = "merge",
                fact = "class",
                code = "Sealed",
                into = "Guarded",
            }
        );
        Assert.StartsWith("The house has limits for Sealed", plan.GetProperty("refused").GetString());
    }

    [Fact]
    public async Task Words_are_counted_over_what_one_may_see()
    {
        var (whole, part) = (
            await (await here.SignIn("n.bell")).Get("/api/words"),
            await (await here.SignIn("h.nair")).Get("/api/words")
        );
        Assert.True(Count(part, "Guarded", "class") is > 0 and var seen && seen < Count(whole, "Guarded", "class"));
    }

    [Fact]
    public async Task Tags_that_are_decided_for_a_site_are_approved_ones()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.SiteId("cruise");
        var wish = new
        {
            fact = "tags",
            sites = new[] { site },
            value = "ships, oddments",
        };
        var plan = await bell.Post("/api/said/plan", wish);
        Assert.StartsWith(
            "\"oddments\" is no tag of the house. There are: volunteers, public, ships",
            plan.GetProperty("refused").GetString()
        );

        var good = wish with { value = "public, ships" };
        var done = await bell.Post(
            "/api/said",
            new { wish = good, fingerprint = (await bell.Post("/api/said/plan", good)).GetProperty("fingerprint").GetString() }
        );
        var tags = (await bell.Get($"/api/sites/{site}")).GetProperty("tags");
        Assert.Equal("""["For the public","Ships"]""", tags.GetProperty("approved").GetRawText());
        await bell.Post("/api/said/take-back", new { fact = "tags", together = done.GetProperty("together").GetString() });
    }

    private static async Task<int> Found(Caller caller, string filter) =>
        (await caller.Get($"/api/register?filter={Uri.EscapeDataString(filter)}")).GetProperty("total").GetInt32();

    private static int Count(JsonElement words, string code, string fact = "tags") =>
        words
            .GetProperty("terms")
            .EnumerateArray()
            .Single(term => term.GetProperty("fact").GetString() == fact && term.GetProperty("code").GetString() == code)
            .GetProperty("count")
            .GetInt32();

    private static int Loose(JsonElement words, string word) =>
        words
            .GetProperty("loose")
            .EnumerateArray()
            .Where(one => one.GetProperty("word").GetString() == word)
            .Sum(one => one.GetProperty("count").GetInt32());
}
