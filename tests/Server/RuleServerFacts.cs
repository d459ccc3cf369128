using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>The rule book over HTTP, and rules that are tried out.</summary>
public class RuleServerFacts(Installation here)
{
    [Fact]
    public async Task The_book_counts_what_the_register_finds_within_what_the_viewer_sees()
    {
        await here.Quiet();
        foreach (var who in new[] { "n.bell", "h.nair", "g.sollis" })
        {
            var caller = await here.SignIn(who);
            var rules = (await caller.Get("/api/rules")).GetProperty("rules").EnumerateArray().ToList();
            Assert.Equal(["R-02", "R-03", "R-07"], rules.Select(rule => rule.GetProperty("rule").GetProperty("id").GetString()));
            foreach (var rule in rules)
            {
                var id = rule.GetProperty("rule").GetProperty("id").GetString();
                Assert.Equal(await Found(caller, $"breaks eq \"{id}\""), rule.GetProperty("breaks").GetInt32());
                Assert.Equal(await Found(caller, $"unsure eq \"{id}\""), rule.GetProperty("cannotTell").GetInt32());
                Assert.Equal(await Found(caller, $"excepted eq \"{id}\""), rule.GetProperty("excepted").GetInt32());
            }
        }
    }

    [Fact]
    public async Task A_rule_is_tried_out_with_numbers_examples_and_what_is_missing_and_nothing_is_stored()
    {
        await here.Quiet();
        var bell = await here.SignIn("n.bell");
        var head = (await here.Database.Read(Store.JournalTable.JournalHead)).Number;
        const string scope = "status eq \"published\"";
        const string demand = "purpose pr and owners.active.count ge 2";
        var tried = await bell.Post(
            "/api/rules/try",
            new
            {
                scope,
                demand,
                rule = "R-03",
            }
        );

        var breaks = tried.GetProperty("breaks").GetInt32();
        Assert.True(breaks > 10);
        Assert.Equal(await Found(bell, tried.GetProperty("filter").GetString()!), breaks);
        Assert.Equal(await Found(bell, scope), tried.GetProperty("covers").GetInt32());
        foreach (var part in new[] { "units", "hosts" })
        {
            Assert.Equal(breaks, tried.GetProperty(part).EnumerateArray().Sum(one => one.GetProperty("count").GetInt32()));
        }

        Assert.Equal(
            await Found(bell, $"({scope}) and not ({demand}) and not (breaks eq \"R-03\" or excepted eq \"R-03\")"),
            tried.GetProperty("added").GetInt32()
        );
        var example = tried.GetProperty("examples")[0];
        Assert.Contains(example.GetProperty("evidence").EnumerateArray(), one =>
            one.GetProperty("attribute").GetString() == "purpose"
        );
        Assert.Contains(tried.GetProperty("missing").EnumerateArray(), one =>
            one.GetProperty("attribute").GetString() == "purpose" && one.GetProperty("sites").GetInt32() > 0
        );

        // A number that is known only within bounds is what is missing, too.
        var bounds = await bell.Post("/api/rules/try", new { scope = "", demand = "owners.active.count ge 2" });
        Assert.True(bounds.GetProperty("cannotTell").GetInt32() > 0);
        Assert.Contains(bounds.GetProperty("missing").EnumerateArray(), one =>
            one.GetProperty("attribute").GetString() == "owners.active.count"
            && one.GetProperty("sites").GetInt32() == bounds.GetProperty("cannotTell").GetInt32()
        );
        Assert.Equal(head, (await here.Database.Read(Store.JournalTable.JournalHead)).Number);
    }

    [Fact]
    public async Task What_cannot_be_tried_is_refused_with_its_place()
    {
        var bell = await here.SignIn("n.bell");
        var fault = await bell.Post(
            "/api/rules/try",
            new { scope = "unit eq", demand = "purpose pr" },
            HttpStatusCode.BadRequest
        );
        Assert.Equal(("scope", 8), (fault.GetProperty("part").GetString(), fault.GetProperty("column").GetInt32()));
        fault = await bell.Post(
            "/api/rules/try",
            new { scope = "", demand = string.Join(" and ", Enumerable.Repeat("purpose pr", 10_000)) },
            HttpStatusCode.BadRequest
        );
        Assert.Contains("at most 4000 characters", fault.GetProperty("message").GetString());
        await bell.Post(
            "/api/rules/try",
            new
            {
                scope = "",
                demand = "purpose pr",
                rule = "R-99",
            },
            HttpStatusCode.NotFound
        );
    }

    private static async Task<int> Found(Caller caller, string filter) =>
        (await caller.Get($"/api/register?limit=0&filter={Uri.EscapeDataString(filter)}")).GetProperty("total").GetInt32();
}
