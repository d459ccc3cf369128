using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>One deed on many sites, over HTTP.</summary>
public class BatchFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:s0004", "own");

    [Fact]
    public async Task A_batch_tells_beforehand_what_it_comes_to_and_ends_with_a_true_line_for_each_site()
    {
        var bell = await here.SignIn("n.bell");
        var (wide, other, narrow) = (await Wide("batch-a"), await Wide("batch-b"), await here.NewSite("batch-c", Vane));
        var batch = await Plan(bell, "site.narrow", wide, narrow, other);

        var plan = await bell.Get($"/api/batches/{batch}");
        Assert.Equal("planned", plan.GetProperty("state").GetString());
        Assert.Equal([("waiting", 2), ("refused", 1)], Counts(plan));
        Assert.Equal(2, plan.GetProperty("effect").GetProperty("doorsShut").GetInt32());
        Assert.True(IsOpen("batch-a"));

        Assert.Equal(
            "The reason is 501 characters long; 500 is the most.",
            await Refusal(bell, $"/api/batches/{batch}/start", new { reason = new string('x', 501) })
        );
        await bell.Post($"/api/batches/{batch}/start", new { reason = "tidy" });
        Assert.Equal("tidy", (await Ended(bell, batch)).GetProperty("reason").GetString());
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")).Contains(("done", 2)),
            "both sites are narrowed"
        );
        var lines = (await bell.Get($"/api/batches/{batch}/lines")).GetProperty("lines").EnumerateArray().ToList();
        Assert.Equal([wide, narrow, other], lines.Select(line => line.GetProperty("site").GetInt64()));
        Assert.Equal(
            ["The site asks for no more than this; nothing is to be narrowed."],
            lines[1].GetProperty("words").EnumerateArray().Select(word => word.GetString())
        );
        Assert.False(IsOpen("batch-a") || IsOpen("batch-b"));
        Assert.Equal(["batch.ended", "batch.started"], await Deeds(bell, batch));
    }

    [Fact]
    public async Task A_site_that_is_another_by_its_turn_is_left_alone_and_can_be_planned_again()
    {
        var bell = await here.SignIn("n.bell");
        var site = await Wide("batch-d");
        var batch = await Plan(bell, "site.narrow", site);
        here.Slipway.Edit(records =>
            records.Sites["t-batch-d"] = records.Sites["t-batch-d"] with
            {
                Entries = [.. records.Sites["t-batch-d"].Entries, new SlipwayEntry("partners", "read", "signed-in")],
            }
        );
        await here.ReadSlipway();
        await bell.Post($"/api/batches/{batch}/start", new { });
        var ended = await Ended(bell, batch);
        Assert.Equal([("changed", 1)], Counts(ended));

        var again = (await bell.Post($"/api/batches/{batch}/again", new { })).GetProperty("id").GetGuid();
        Assert.Equal([("waiting", 1)], Counts(await bell.Get($"/api/batches/{again}")));
    }

    [Fact]
    public async Task Putting_away_many_wants_their_number_typed_and_asks_a_second_person_where_one_is_needed()
    {
        var bell = await here.SignIn("n.bell");
        var small = await here.NewSite("batch-f", Vane);
        var wide = await here.NewSite("batch-g", new SlipwayEntry("everyone", "read"), Vane);
        var batch = await Plan(bell, "site.put-away", small, wide);
        Assert.Equal(1, (await bell.Get($"/api/batches/{batch}")).GetProperty("effect").GetProperty("seconds").GetInt32());
        Assert.Equal("Type the number of sites: 2.", await Refusal(bell, $"/api/batches/{batch}/start"));
        Assert.Equal("Type the number of sites: 2.", await Refusal(bell, $"/api/batches/{batch}/start", new { number = 3 }));

        await bell.Post($"/api/batches/{batch}/start", new { number = 2 });
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")) is [("done", 1), ("asks-second", 1)],
            "one is put away and one waits"
        );
        var approval = (await bell.Get($"/api/batches/{batch}/lines?outcome=asks-second"))
            .GetProperty("lines")[0]
            .GetProperty("approval")
            .GetGuid();
        Assert.Equal("asked", (await bell.Get($"/api/approvals/{approval}")).GetProperty("state").GetString());
        await bell.Post($"/api/approvals/{approval}/withdraw", new { });
        Assert.Equal([("done", 1), ("withdrawn", 1)], Counts(await bell.Get($"/api/batches/{batch}")));
    }

    [Fact]
    public async Task A_batch_is_taken_back_as_one_where_nobody_has_changed_the_same_since()
    {
        var bell = await here.SignIn("n.bell");
        var (kept, changed) = (await Wide("batch-u"), await Wide("batch-v"));
        var batch = await Plan(bell, "site.narrow", kept, changed);
        Assert.Equal("It has not been started.", await Refusal(bell, $"/api/batches/{batch}/undo/plan"));
        await bell.Post($"/api/batches/{batch}/start", new { });
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")) is [("done", 2)],
            "both sites are narrowed"
        );
        here.Slipway.Edit(records =>
            records.Sites["t-batch-v"] = records.Sites["t-batch-v"] with
            {
                Entries = [.. records.Sites["t-batch-v"].Entries, new SlipwayEntry("world", "edit", "none")],
            }
        );
        await here.ReadSlipway();

        var undo = (await bell.Post($"/api/batches/{batch}/undo/plan", new { })).GetProperty("id").GetGuid();
        var plan = await bell.Get($"/api/batches/{undo}");
        Assert.Equal(("order.undo", batch), (plan.GetProperty("deed").GetString(), plan.GetProperty("undoes").GetGuid()));
        Assert.Equal([("waiting", 1), ("refused", 1)], Counts(plan));
        Assert.False(IsOpen("batch-u"));

        await bell.Post($"/api/batches/{undo}/start", new { reason = "too soon" });
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{undo}")) is [("done", 1), ("refused", 1)],
            "one is as it was"
        );
        Assert.True(IsOpen("batch-u"));
        var first = await bell.Get($"/api/batches/{batch}");
        Assert.Equal((undo, false), (first.GetProperty("undoneBy").GetGuid(), first.GetProperty("mayUndo").GetBoolean()));
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await (await here.SignIn("i.vane")).Send(HttpMethod.Post, $"/api/batches/{batch}/undo/plan", new { })).Status
        );
    }

    [Fact]
    public async Task Sites_that_were_put_away_together_come_back_together()
    {
        var bell = await here.SignIn("n.bell");
        var batch = await Plan(bell, "site.put-away", await here.NewSite("batch-w", Vane), await here.NewSite("batch-x", Vane));
        await bell.Post($"/api/batches/{batch}/start", new { number = 2 });
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")) is [("done", 2)],
            "both are put away"
        );

        var undo = (await bell.Post($"/api/batches/{batch}/undo/plan", new { })).GetProperty("id").GetGuid();
        await bell.Post($"/api/batches/{undo}/start", new { });
        await Installation.Until(async () => Counts(await bell.Get($"/api/batches/{undo}")) is [("done", 2)], "both are back");
        Assert.All(["batch-w", "batch-x"], slug =>
            Assert.True(here.Slipway.Read(records => records.Sites[$"t-{slug}"].Deleted is null))
        );
    }

    [Fact]
    public async Task A_part_bounds_what_a_steward_can_plan_and_nobody_else_steers_or_sees_a_plan()
    {
        var (bell, nair) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"));
        var inside = await Wide("batch-h");
        var outside = await here.SiteId("inquiry-9");
        var (status, body) = await nair.Send(
            HttpMethod.Post,
            "/api/batches",
            new { deed = "site.narrow", sites = new[] { inside, outside } }
        );
        Assert.Equal(
            (HttpStatusCode.UnprocessableEntity, "One of these sites is not there."),
            (status, body.GetProperty("title").GetString())
        );

        var batch = await Plan(nair, "site.narrow", inside);
        Assert.Equal(HttpStatusCode.NotFound, (await bell.Send(HttpMethod.Get, $"/api/batches/{batch}")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await bell.Send(HttpMethod.Post, $"/api/batches/{batch}/start", new { })).Status);
        await nair.Post($"/api/batches/{batch}/start", new { });
        await Ended(nair, batch);
        Assert.False((await bell.Get($"/api/batches/{batch}")).GetProperty("maySteer").GetBoolean());
        Assert.Contains((await bell.Get("/api/batches")).EnumerateArray(), one => one.GetProperty("id").GetGuid() == batch);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await (await here.SignIn("i.vane")).Send(HttpMethod.Get, $"/api/batches/{batch}")).Status
        );
    }

    [Theory]
    [InlineData("site.narrow", 0, "No site is named.")]
    [InlineData("site.narrow", 5001, "5001 sites are too many.")]
    [InlineData("site.explode", 1, "The deed \"site.explode\" is not done on many sites at once.")]
    public async Task What_cannot_be_planned_is_refused_in_words(string deed, int sites, string words)
    {
        var bell = await here.SignIn("n.bell");
        var (status, body) = await bell.Send(HttpMethod.Post, "/api/batches", new { deed, sites = Enumerable.Range(1, sites) });
        Assert.Equal((HttpStatusCode.BadRequest, words), (status, body.GetProperty("title").GetString()));
    }

    [Fact]
    public async Task A_range_of_the_list_names_its_sites_in_their_order()
    {
        var bell = await here.SignIn("n.bell");
        var lines = (await bell.Get("/api/register?unit=PIL&sort=title&limit=500"))
            .GetProperty("lines")
            .EnumerateArray()
            .Select(line => line.GetProperty("id").GetInt64())
            .ToList();
        var range = (await bell.Get("/api/register/range?unit=PIL&sort=title&from=2&to=6"))
            .GetProperty("sites")
            .EnumerateArray()
            .Select(site => site.GetInt64());
        Assert.Equal(lines[2..7], range);
    }

    private Task<long> Wide(string slug) => here.NewSite(slug, new SlipwayEntry("world", "read", "none"), Vane);

    private bool IsOpen(string slug) =>
        here.Slipway.Read(records => records.Sites[$"t-{slug}"].Entries.Any(entry => entry.Entry == "world"));

    private static async Task<Guid> Plan(Caller who, string deed, params long[] sites) =>
        (await who.Post("/api/batches", new { deed, sites })).GetProperty("id").GetGuid();

    private static async Task<JsonElement> Ended(Caller who, Guid batch)
    {
        await Installation.Until(
            async () => (await who.Get($"/api/batches/{batch}")).GetProperty("state").GetString() == "ended",
            "the batch has ended"
        );
        return await who.Get($"/api/batches/{batch}");
    }

    internal static List<(string, int)> Counts(JsonElement batch) =>
        [
            .. batch
                .GetProperty("counts")
                .EnumerateArray()
                .Select(one => (one.GetProperty("outcome").GetString()!, one.GetProperty("count").GetInt32())),
        ];

    private static async Task<string?> Refusal(Caller who, string path, object? body = null) =>
        (await who.Post(path, body ?? new { }, HttpStatusCode.UnprocessableEntity)).GetProperty("title").GetString();

    private static async Task<List<string?>> Deeds(Caller who, Guid batch) =>
        [
            .. (await who.Get("/api/journal?limit=200"))
                .GetProperty("entries")
                .EnumerateArray()
                .Where(entry => entry.GetProperty("subject").GetString() == $"batch:{batch}")
                .Select(entry => entry.GetProperty("deed").GetString()),
        ];
}
