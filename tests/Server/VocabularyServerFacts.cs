using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>The vocabulary over HTTP: counts, changes with their effect shown first, undo, and conflicting changes.</summary>
public sealed class VocabularyServerFacts(Installation here)
{
    [Fact]
    public async Task An_unmapped_tag_is_mapped_as_previewed_and_the_change_is_undone()
    {
        var bell = await here.SignIn("n.bell");
        var before = await bell.Get("/api/vocabulary");
        var boats = Loose(before, "boats");
        var ships = Count(before, "ships");
        Assert.True(boats > 0);
        Assert.Equal(boats, await Found(bell, "unmapped eq \"boats\""));

        var request = new
        {
            action = "mean",
            fact = "tags",
            code = "ships",
            word = "boats",
        };
        var plan = await bell.Post("/api/vocabulary/plan", request);
        Assert.Equal(boats, plan.GetProperty("count").GetInt32());
        Assert.Equal("ships", plan.GetProperty("sites")[0].GetProperty("after").GetString());
        Assert.Equal(ships, Count(await bell.Get("/api/vocabulary"), "ships"));

        var done = await bell.Post("/api/vocabulary", new { request, fingerprint = plan.GetProperty("fingerprint").GetString() });
        var after = await bell.Get("/api/vocabulary");
        Assert.Equal((ships + boats, 0), (Count(after, "ships"), Loose(after, "boats")));
        Assert.Equal(ships + boats, await Found(bell, "tags eq \"ships\""));

        // The plan was used, and its change has already happened.
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await bell.Send(
                    HttpMethod.Post,
                    "/api/vocabulary",
                    new { request, fingerprint = plan.GetProperty("fingerprint").GetString() }
                )
            ).Status
        );

        await bell.Post("/api/vocabulary/undo", new { entry = done.GetProperty("place").GetInt64() });
        var back = await bell.Get("/api/vocabulary");
        Assert.Equal((ships, boats), (Count(back, "ships"), Loose(back, "boats")));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await bell.Send(HttpMethod.Post, "/api/vocabulary/undo", new { entry = done.GetProperty("place").GetInt64() })
            ).Status
        );
    }

    [Fact]
    public async Task A_plan_that_another_change_has_made_old_is_answered_with_the_new_one()
    {
        var (bell, aske) = (await here.SignIn("n.bell"), await here.SignIn("t.aske"));
        var request = new
        {
            action = "rename",
            fact = "tags",
            code = "safety",
            word = "Safety first",
        };
        var plan = await bell.Post("/api/vocabulary/plan", request);
        var other = new
        {
            action = "add",
            fact = "tags",
            word = "Fog",
        };
        var added = await aske.Post(
            "/api/vocabulary",
            new
            {
                request = other,
                fingerprint = (await aske.Post("/api/vocabulary/plan", other)).GetProperty("fingerprint").GetString(),
            }
        );
        var (late, anew) = await bell.Send(
            HttpMethod.Post,
            "/api/vocabulary",
            new { request, fingerprint = plan.GetProperty("fingerprint").GetString() }
        );
        Assert.Equal(HttpStatusCode.Conflict, late);
        Assert.NotEqual(plan.GetProperty("fingerprint").GetString(), anew.GetProperty("fingerprint").GetString());
        await aske.Post("/api/vocabulary/undo", new { entry = added.GetProperty("place").GetInt64() });
    }

    [Fact]
    public async Task A_classification_that_a_limit_names_is_not_merged_away()
    {
        var bell = await here.SignIn("n.bell");
        var plan = await bell.Post(
            "/api/vocabulary/plan",
            new
            {
                action = "merge",
                fact = "classification",
                code = "Sealed",
                into = "Guarded",
            }
        );
        Assert.StartsWith("A limit applies to sites classified Sealed", Caller.Sentence(plan.GetProperty("refused")));
    }

    [Fact]
    public async Task Terms_are_counted_over_the_scope()
    {
        var (whole, part) = (
            await (await here.SignIn("n.bell")).Get("/api/vocabulary"),
            await (await here.SignIn("h.nair")).Get("/api/vocabulary")
        );
        Assert.True(
            Count(part, "Guarded", "classification") is > 0 and var seen && seen < Count(whole, "Guarded", "classification")
        );
    }

    [Fact]
    public async Task Tags_that_are_decided_for_a_site_are_approved_ones()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.SiteId("cruise");
        var request = new
        {
            fact = "tags",
            sites = new[] { site },
            value = "ships, oddments",
        };
        var plan = await bell.Post("/api/classification/facts/plan", request);
        Assert.StartsWith(
            "\"oddments\" is not a tag in the vocabulary. Choose one of: volunteers, public, ships",
            Caller.Sentence(plan.GetProperty("refused"))
        );

        var good = request with { value = "public, ships" };
        var done = await bell.Post(
            "/api/classification/facts",
            new
            {
                request = good,
                fingerprint = (await bell.Post("/api/classification/facts/plan", good)).GetProperty("fingerprint").GetString(),
            }
        );
        var tags = (await bell.Get($"/api/sites/{site}")).GetProperty("tags");
        Assert.Equal("""["For the public","Ships"]""", tags.GetProperty("approved").GetRawText());
        await bell.Post(
            "/api/classification/facts/undo",
            new { fact = "tags", together = done.GetProperty("together").GetString() }
        );
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
