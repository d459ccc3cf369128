using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>One action on many sites, over HTTP.</summary>
public class BatchFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:s0004", "own");

    [Fact]
    public async Task A_batch_previews_its_effect_and_ends_with_a_true_line_for_each_site()
    {
        var bell = await here.SignIn("n.bell");
        var (wide, other, restrict) = (await Wide("batch-a"), await Wide("batch-b"), await here.NewSite("batch-c", Vane));
        var batch = await Plan(bell, "site.restrict", wide, restrict, other);

        var plan = await bell.Get($"/api/batches/{batch}");
        Assert.Equal("planned", plan.GetProperty("state").GetString());
        Assert.Equal([("waiting", 2), ("refused", 1)], Counts(plan));
        Assert.Equal(2, plan.GetProperty("effect").GetProperty("doorsShut").GetInt32());
        Assert.True(IsOpen("batch-a"));

        Assert.Equal(
            "The reason is 501 characters long; 500 is the maximum.",
            await Refusal(bell, $"/api/batches/{batch}/start", new { reason = new string('x', 501) })
        );
        await bell.Post($"/api/batches/{batch}/start", new { reason = "tidy" });
        Assert.Equal("tidy", (await Ended(bell, batch)).GetProperty("reason").GetString());
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")).Contains(("done", 2)),
            "both sites narrowed"
        );
        var lines = (await bell.Get($"/api/batches/{batch}/lines")).GetProperty("lines").EnumerateArray().ToList();
        Assert.Equal([wide, restrict, other], lines.Select(line => line.GetProperty("site").GetInt64()));
        Assert.Equal(
            ["The access set on the site is already within this."],
            lines[1].GetProperty("refused").EnumerateArray().Select(Caller.Sentence)
        );
        Assert.False(IsOpen("batch-a") || IsOpen("batch-b"));
        Assert.Equal(["batch.ended", "batch.started"], await Actions(bell, batch));
    }

    [Fact]
    public async Task Sites_below_are_moved_to_the_attic_before_the_one_above_them()
    {
        var bell = await here.SignIn("n.bell");
        var above = await here.NewSite("batch-above", Vane);
        await here.NewSite("batch-below", Vane);
        here.Slipway.Edit(records =>
            records.Sites["t-batch-below"] = records.Sites["t-batch-below"] with { Parent = "t-batch-above" }
        );
        await here.ReadSlipway();
        var planned = await bell.Post(
            "/api/batches",
            new
            {
                action = "site.move-to-attic",
                sites = new[] { above },
                withBelow = true,
            }
        );
        var batch = planned.GetProperty("id").GetGuid();
        await bell.Post($"/api/batches/{batch}/start", new { number = 2 });
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")) is [("done", 2)],
            "both are in the attic"
        );
        var moved = (await bell.Get($"/api/batches/{batch}/lines")).GetProperty("lines").EnumerateArray();
        Assert.Equal(["Test batch-below", "Test batch-above"], moved.Select(line => line.GetProperty("title").GetString()));
    }

    [Fact]
    public async Task A_site_that_is_another_by_its_turn_is_left_alone_and_can_be_planned_again()
    {
        var bell = await here.SignIn("n.bell");
        var site = await Wide("batch-d");
        var batch = await Plan(bell, "site.restrict", site);
        here.Slipway.Edit(records =>
            records.Sites["t-batch-d"] = records.Sites["t-batch-d"] with
            {
                Entries = [.. records.Sites["t-batch-d"].Entries, new SlipwayEntry("partners", "read", "account")],
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
    public async Task Moving_many_to_the_attic_demands_their_number_typed_and_a_second_person_where_needed()
    {
        var bell = await here.SignIn("n.bell");
        var small = await here.NewSite("batch-f", Vane);
        var wide = await here.NewSite("batch-g", new SlipwayEntry("everyone", "read"), Vane);
        var batch = await Plan(bell, "site.move-to-attic", small, wide);
        Assert.Equal(1, (await bell.Get($"/api/batches/{batch}")).GetProperty("effect").GetProperty("seconds").GetInt32());
        Assert.Equal("Type the number of sites: 2.", await Refusal(bell, $"/api/batches/{batch}/start"));
        Assert.Equal("Type the number of sites: 2.", await Refusal(bell, $"/api/batches/{batch}/start", new { number = 3 }));

        await bell.Post($"/api/batches/{batch}/start", new { number = 2 });
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")) is [("done", 1), ("asks-second", 1)],
            "one is moved and one waits"
        );
        var approval = (await bell.Get($"/api/batches/{batch}/lines?outcome=asks-second"))
            .GetProperty("lines")[0]
            .GetProperty("approval")
            .GetGuid();
        Assert.Equal("requested", (await bell.Get($"/api/approvals/{approval}")).GetProperty("state").GetString());
        await bell.Post($"/api/approvals/{approval}/withdraw", new { });
        Assert.Equal([("done", 1), ("withdrawn", 1)], Counts(await bell.Get($"/api/batches/{batch}")));
    }

    [Fact]
    public async Task A_batch_is_undone_as_one_where_nobody_has_changed_the_same_since()
    {
        var bell = await here.SignIn("n.bell");
        var (kept, changed) = (await Wide("batch-u"), await Wide("batch-v"));
        var batch = await Plan(bell, "site.restrict", kept, changed);
        Assert.Equal("It has not been started.", await Refusal(bell, $"/api/batches/{batch}/undo/plan"));
        await bell.Post($"/api/batches/{batch}/start", new { });
        await Installation.Until(
            async () => Counts(await bell.Get($"/api/batches/{batch}")) is [("done", 2)],
            "both sites narrowed"
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
        Assert.Equal(("change.undo", batch), (plan.GetProperty("action").GetString(), plan.GetProperty("undoes").GetGuid()));
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
    public async Task Sites_that_were_moved_to_the_attic_together_are_restored_together()
    {
        var bell = await here.SignIn("n.bell");
        var batch = await Plan(
            bell,
            "site.move-to-attic",
            await here.NewSite("batch-w", Vane),
            await here.NewSite("batch-x", Vane)
        );
        await bell.Post($"/api/batches/{batch}/start", new { number = 2 });
        await Installation.Until(async () => Counts(await bell.Get($"/api/batches/{batch}")) is [("done", 2)], "both are moved");

        var undo = (await bell.Post($"/api/batches/{batch}/undo/plan", new { })).GetProperty("id").GetGuid();
        await bell.Post($"/api/batches/{undo}/start", new { });
        await Installation.Until(async () => Counts(await bell.Get($"/api/batches/{undo}")) is [("done", 2)], "both are back");
        Assert.All(["batch-w", "batch-x"], slug =>
            Assert.True(here.Slipway.Read(records => records.Sites[$"t-{slug}"].Deleted is null))
        );
    }

    [Fact]
    public async Task A_scope_bounds_what_a_steward_can_plan_and_nobody_else_steers_or_sees_a_plan()
    {
        var (bell, nair) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"));
        var inside = await Wide("batch-h");
        var outside = await here.SiteId("inquiry-9");
        var (status, body) = await nair.Send(
            HttpMethod.Post,
            "/api/batches",
            new { action = "site.restrict", sites = new[] { inside, outside } }
        );
        Assert.Equal((HttpStatusCode.UnprocessableEntity, "One of these sites does not exist."), (status, Caller.Why(body)));

        var batch = await Plan(nair, "site.restrict", inside);
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
    [InlineData("site.restrict", 0, "The list of sites is empty.")]
    [InlineData("site.restrict", 5001, "5001 sites are too many.")]
    [InlineData("site.explode", 1, "The action \"site.explode\" is not possible for many sites at once.")]
    public async Task What_cannot_be_planned_is_refused_in_words(string action, int sites, string words)
    {
        var bell = await here.SignIn("n.bell");
        var (status, body) = await bell.Send(HttpMethod.Post, "/api/batches", new { action, sites = Enumerable.Range(1, sites) });
        Assert.Equal((HttpStatusCode.BadRequest, words), (status, body.GetProperty("title").GetString()));
    }

    [Fact]
    public async Task A_range_of_the_list_names_its_sites_in_sequence()
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

    private static async Task<Guid> Plan(Caller who, string action, params long[] sites) =>
        (await who.Post("/api/batches", new { action, sites })).GetProperty("id").GetGuid();

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
        Caller.Why(await who.Post(path, body ?? new { }, HttpStatusCode.UnprocessableEntity));

    private static async Task<List<string?>> Actions(Caller who, Guid batch) =>
        [
            .. (await who.Get("/api/journal?limit=200"))
                .GetProperty("entries")
                .EnumerateArray()
                .Where(entry => entry.GetProperty("subject").GetString() == $"batch:{batch}")
                .Select(entry => entry.GetProperty("action").GetString()),
        ];
}
