using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Server.Feed;
using AtticLedger.StandIns;
using AtticLedger.StandIns.Slipway;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Rules that their users write: planned, in force from a day, changed, switched off, undone.</summary>
public class RuleBookFacts(Installation here)
{
    private static readonly SlipwayEntry Keeper = new("p:1", "own");

    [Fact]
    public async Task A_rule_in_force_finds_what_its_plan_said_and_no_index_is_built_for_it()
    {
        var (server, bell) = await Started();
        try
        {
            var builds = server.Services.GetRequiredService<LiveRegister>().Builds;
            var today = await bell.Today();
            var request = New("title sw \"site\"", "not (title ew \"3\")", today);
            var plan = await bell.Post("/api/rules/plan", request);
            Assert.Equal(
                ("R-01", 1, 40, 4),
                (
                    plan.GetProperty("rule").GetString(),
                    plan.GetProperty("version").GetInt32(),
                    plan.GetProperty("tried").GetProperty("covers").GetInt32(),
                    plan.GetProperty("tried").GetProperty("breaks").GetInt32()
                )
            );

            var done = await bell.WriteRule(request);
            Assert.Equal(4, await Found(bell, "breaks eq \"R-01\""));
            var (id, finding) = await First(bell, "breaks eq \"R-01\"");
            Assert.Equal("R-01", finding.GetProperty("rule").GetString());

            // Narrower: two findings end, the others stay and keep since when they are there.
            var since = finding.GetProperty("since").GetString();
            var change = New("title sw \"site 1\" or title sw \"site 2\"", "not (title ew \"3\")", today, "R-01", "Fewer.");
            plan = await bell.Post("/api/rules/plan", change);
            Assert.Equal(
                (2, 0, 2),
                (
                    plan.GetProperty("tried").GetProperty("breaks").GetInt32(),
                    plan.GetProperty("tried").GetProperty("added").GetInt32(),
                    plan.GetProperty("tried").GetProperty("cleared").GetInt32()
                )
            );
            Assert.Equal(
                ["scope"],
                plan.GetProperty("differences").EnumerateArray().Select(one => one.GetProperty("what").GetString())
            );
            var changed = await bell.WriteRule(change);
            Assert.Equal(2, await Found(bell, "breaks eq \"R-01\""));
            Assert.Equal(since, (await First(bell, "breaks eq \"R-01\"")).Finding.GetProperty("since").GetString());

            // Undone, it is as it was; undone again it is off, and the earlier change cannot be undone any more.
            await bell.Post("/api/rules/undo", new { rule = "R-01", version = changed.GetProperty("version").GetInt32() });
            Assert.Equal(4, await Found(bell, "breaks eq \"R-01\""));
            Assert.Equal(
                "R-01 has changed since. Undo the later change first.",
                Caller.Why(
                    await bell.Post(
                        "/api/rules/undo",
                        new { rule = "R-01", version = done.GetProperty("version").GetInt32() },
                        HttpStatusCode.UnprocessableEntity
                    )
                )
            );
            await bell.WriteRule(
                new
                {
                    rule = "R-01",
                    text = (object?)null,
                    from = today,
                    reason = "No longer needed.",
                }
            );
            Assert.Equal(0, await Found(bell, "breaks eq \"R-01\""));
            var book = await bell.Get("/api/rules");
            Assert.Equal(0, book.GetProperty("rules").GetArrayLength());
            Assert.Equal("R-01", book.GetProperty("switchedOff")[0].GetProperty("id").GetString());
            var versions = (await bell.Get("/api/rules/R-01")).GetProperty("versions").EnumerateArray().ToList();
            Assert.Equal([4, 3, 2, 1], versions.Select(one => one.GetProperty("version").GetInt32()));
            Assert.Equal(
                ("Nora Bell", "No longer needed.", true),
                (
                    versions[0].GetProperty("by").GetString(),
                    versions[0].GetProperty("reason").GetString(),
                    versions[0].GetProperty("isOff").GetBoolean()
                )
            );
            Assert.Equal(builds, server.Services.GetRequiredService<LiveRegister>().Builds);
            Assert.NotEqual(0, id);
        }
        finally
        {
            await here.Leave(server);
        }
    }

    [Fact]
    public async Task What_cannot_be_written_is_refused_with_every_reason()
    {
        var (server, bell) = await Started();
        try
        {
            var today = await bell.Today();
            var plan = await bell.Post(
                "/api/rules/plan",
                new
                {
                    rule = (string?)null,
                    text = new
                    {
                        title = " ",
                        @short = new string('x', 41),
                        level = "note",
                        scope = "unit eq",
                        demand = "purpose pr",
                    },
                    from = today.AddDays(-1),
                    reason = "",
                }
            );
            Assert.Equal(
                ["rule-begins-before", "rule-text-missing", "rule-text-too-long", "rule-unreadable"],
                plan.GetProperty("refused").EnumerateArray().Select(one => one.GetProperty("code").GetString())
            );
            Assert.StartsWith(
                "The scope cannot be read, column 8:",
                Caller.Sentence(plan.GetProperty("refused")[3]),
                StringComparison.Ordinal
            );

            // More than half of all sites: it asks for a second look, and is not written without it.
            var wide = New("", "pages ge 100", today);
            plan = await bell.Post("/api/rules/plan", wide);
            var fingerprint = plan.GetProperty("fingerprint").GetString();
            Assert.Equal("rule-touches-most", plan.GetProperty("look").GetProperty("code").GetString());
            var refused = await bell.Post(
                "/api/rules",
                new
                {
                    request = wide,
                    looked = false,
                    fingerprint,
                },
                HttpStatusCode.UnprocessableEntity
            );
            Assert.StartsWith(
                "40 of 40 sites in use would newly break the rule.",
                Caller.Why(refused)!,
                StringComparison.Ordinal
            );

            // The rule book changed meanwhile: the new plan comes back, and nothing is written.
            await bell.WriteRule(New("", "title pr", today));
            var another = await bell.Post(
                "/api/rules",
                new
                {
                    request = wide,
                    looked = true,
                    fingerprint,
                },
                HttpStatusCode.Conflict
            );
            Assert.Equal("R-02", another.GetProperty("rule").GetString());
            Assert.Equal(
                "R-01 says this already.",
                Caller.Sentence(
                    (await bell.Post("/api/rules/plan", New("", "title pr", today, "R-01", "Again."))).GetProperty("refused")[0]
                )
            );
            Assert.Equal(
                "There is no rule R-77.",
                Caller.Sentence(
                    (await bell.Post("/api/rules/plan", New("", "title pr", today, "R-77", "Again."))).GetProperty("refused")[0]
                )
            );
        }
        finally
        {
            await here.Leave(server);
        }
    }

    [Fact]
    public async Task A_rule_from_a_coming_day_judges_from_that_day_on_and_one_that_counts_days_judges_each_day()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("one", [Keeper]), ("two", [Keeper]));
        organisation.Slipway.Edit(records =>
            records.Sites["two"] = records.Sites["two"] with { Created = DateTimeOffset.UtcNow }
        );
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 2);
        var today = await bell.Today();
        await bell.WriteRule(New("title eq \"one\"", "title eq \"two\"", today.AddDays(1)));
        await bell.WriteRule(New("title eq \"two\"", "created ge \"-P3D\"", today));
        Assert.Equal((0, 0), (await Found(bell, "breaks eq \"R-08\""), await Found(bell, "breaks eq \"R-09\"")));
        Assert.Equal(
            [(false, 1), (true, 0)],
            (await bell.Get("/api/rules"))
                .GetProperty("rules")
                .EnumerateArray()
                .Where(rule => rule.GetProperty("rule").GetProperty("id").GetString() is "R-08" or "R-09")
                .Select(rule => (rule.GetProperty("isInForce").GetBoolean(), rule.GetProperty("breaks").GetInt32()))
        );

        await bell.Post("/api/clock", new { hours = 24 });
        await Installation.Until(async () => await Found(bell, "breaks eq \"R-08\"") == 1, "the rule is in force");
        Assert.Equal(0, await Found(bell, "breaks eq \"R-09\""));
        await bell.Post("/api/clock", new { hours = 24 * 4 });
        await Installation.Until(async () => await Found(bell, "breaks eq \"R-09\"") == 1, "the site is older than three days");
    }

    [Fact]
    public async Task A_rule_book_goes_out_as_a_file_and_in_again_as_a_whole_or_not_at_all()
    {
        var (server, bell) = await Started();
        try
        {
            var today = await bell.Today();
            await bell.WriteRule(New("title sw \"site\"", "not (title ew \"3\")", today));
            var file = JsonNode.Parse((await bell.Get("/api/rules/file")).GetRawText())!;
            Assert.Equal(("rule-book", "R-01"), ((string?)file["format"], (string?)file["rules"]![0]!["id"]));

            // The same file changes nothing. Changed, with one more rule and one that cannot be read, nothing is imported.
            Assert.Equal((0, 0, 1, 0), Counts(await Plan(file)));
            file["rules"]![0]!["demand"] = "not (title ew \"33\")";
            file["rules"]!.AsArray().Add(Rule("NAME-1", "pages le 9"));
            file["rules"]!.AsArray().Add(Rule("NAME-2", "pages le nine"));
            var plan = await Plan(file);
            Assert.Equal((1, 1, 0, 1), Counts(plan));
            Assert.Equal(
                "The demand cannot be read, column 10: expected a quoted text, a number, true, false or null.",
                Caller.Sentence(plan.GetProperty("rules")[0].GetProperty("refused")[0])
            );
            await bell.Post("/api/rules/file", Import(file, plan), HttpStatusCode.UnprocessableEntity);
            Assert.Equal(1, (await bell.Get("/api/rules")).GetProperty("rules").GetArrayLength());

            file["rules"]!.AsArray().RemoveAt(2);
            plan = await Plan(file);
            var line = plan.GetProperty("rules").EnumerateArray().Single(one => one.GetProperty("id").GetString() == "R-01");
            Assert.Equal((4, 1), (line.GetProperty("before").GetInt32(), line.GetProperty("after").GetInt32()));
            var done = await bell.Post("/api/rules/file", Import(file, plan));
            Assert.Equal((1, 1), (done.GetProperty("added").GetInt32(), done.GetProperty("changed").GetInt32()));
            Assert.Equal((1, 0), (await Found(bell, "breaks eq \"R-01\""), await Found(bell, "breaks eq \"NAME-1\"")));
            Assert.Equal(
                "As agreed",
                (await bell.Get("/api/rules/NAME-1")).GetProperty("versions")[0].GetProperty("reason").GetString()
            );
            await bell.Post("/api/rules/file", Import(file, plan), HttpStatusCode.Conflict);

            // A rule that most sites would break takes a second look, as where it is written by hand.
            file["rules"]!.AsArray().Add(Rule("NAME-3", "title eq \"nothing\""));
            plan = await Plan(file);
            var look = plan.GetProperty("rules").EnumerateArray().Single(one => one.GetProperty("id").GetString() == "NAME-3");
            Assert.Contains("would newly break the rule", Caller.Sentence(look.GetProperty("look")), StringComparison.Ordinal);
            await bell.Post("/api/rules/file", Import(file, plan), HttpStatusCode.UnprocessableEntity);
            done = await bell.Post("/api/rules/file", Import(file, plan, looked: true));
            Assert.Equal(1, done.GetProperty("added").GetInt32());

            foreach (
                var (text, place) in new[]
                {
                    ("[]", "$"),
                    ("{", "$"),
                    ("""{"format":"rule-book","version":2,"rules":[]}""", "$.version"),
                    ("""{"format":"rule-book","version":1,"rules":[null]}""", "$.rules[0]"),
                    ("""{"format":"rule-book","version":1,"rules":[{"id":"A-1","colour":"red"}]}""", "$.rules[0].colour"),
                    (
                        """{"format":"rule-book","version":1,"rules":[{"id":"A-1","title":"t","short":"s","level":"grave","demand":"purpose pr"}]}""",
                        "$.rules[0].level"
                    ),
                }
            )
            {
                var fault = (await bell.Post("/api/rules/file/plan", new { book = text })).GetProperty("fault");
                Assert.Equal(place, fault.GetProperty("place").GetString());
            }
        }
        finally
        {
            await here.Leave(server);
        }

        Task<JsonElement> Plan(JsonNode file) => bell.Post("/api/rules/file/plan", new { book = file.ToJsonString() });

        static object Import(JsonNode file, JsonElement plan, bool looked = false) =>
            new
            {
                book = file.ToJsonString(),
                reason = "As agreed",
                looked,
                fingerprint = plan.GetProperty("fingerprint").GetString(),
            };

        static JsonNode Rule(string id, string demand) =>
            new JsonObject
            {
                ["id"] = id,
                ["title"] = "A rule of a file",
                ["short"] = "of a file",
                ["level"] = "note",
                ["demand"] = demand,
            };

        static (int, int, int, int) Counts(JsonElement plan) =>
            (
                plan.GetProperty("added").GetInt32(),
                plan.GetProperty("changed").GetInt32(),
                plan.GetProperty("unchanged").GetInt32(),
                plan.GetProperty("refused").GetInt32()
            );
    }

    private async Task<(WebApplication Server, Caller Bell)> Started()
    {
        var records = new SlipwayRecords
        {
            Workspace = new SlipwayWorkspace("Test", "world", false, ""),
            People = { ["1"] = new("1", "Idris Vane", "i.vane@merrowby.example", false, true, "PIL") },
        };
        foreach (var number in Enumerable.Range(0, 40))
        {
            records.Sites[$"s{number}"] = new SlipwaySite
            {
                Id = $"s{number}",
                Slug = $"s{number}",
                Title = $"Site {number}",
                Team = "PIL",
                Published = DateTimeOffset.UtcNow,
                Entries = [Keeper],
                Working = [new("a", "b")],
                Live = [new("a", "b")],
            };
        }

        var clock = new MovableClock(null, TimeSpan.Zero);
        return await here.Against(app => app.MapSlipway(new SlipwayBooks(records, file: null), Installation.Token, clock));
    }

    private static object New(string scope, string demand, DateOnly from, string? rule = null, string? reason = null) =>
        new
        {
            rule,
            text = new
            {
                title = "A rule",
                @short = "a rule",
                level = "warning",
                scope,
                demand,
            },
            from,
            reason,
        };

    private static async Task<(long Site, JsonElement Finding)> First(Caller caller, string filter)
    {
        var site = (await caller.Get($"/api/register?limit=1&filter={Uri.EscapeDataString(filter)}"))
            .GetProperty("lines")[0]
            .GetProperty("id")
            .GetInt64();
        var findings = (await caller.Get($"/api/sites/{site}")).GetProperty("findings");
        return (site, findings[0].GetProperty("finding"));
    }

    private static async Task<int> Found(Caller caller, string filter) =>
        (await caller.Get($"/api/register?limit=0&filter={Uri.EscapeDataString(filter)}")).GetProperty("total").GetInt32();
}
