using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>A number that is shown in two places is the same in both, and a list has as many rows as the button that opens it says.
/// </summary>
public class NumbersAgree(Installation here)
{
    // Nothing is decided about sites that their host no longer reports: the register lists them, and the page of owners does not.
    private const string Reported = "no-longer-reported eq false";

    [Fact]
    public async Task A_group_on_the_desk_has_as_many_sites_as_its_filter_finds()
    {
        // One owner leaves, and a second site of theirs has nobody else: the rule's other findings are not theirs.
        await here.NewSite("agree-a", new SlipwayEntry("p:s0004", "own"));
        var bell = await here.SignIn("n.bell");
        var groups = (await bell.Get("/api/desk")).GetProperty("groups").EnumerateArray().ToList();

        Assert.Contains(groups, group => group.GetProperty("person").ValueKind == JsonValueKind.Object);
        Assert.Contains(groups, group => group.GetProperty("rule").ValueKind == JsonValueKind.Object);
        foreach (var group in groups)
        {
            var clause = group.GetProperty("clause").GetString()!;
            Assert.Equal((clause, group.GetProperty("count").GetInt32()), (clause, await Found(bell, "where", clause)));
        }
    }

    [Fact]
    public async Task People_who_are_decided_together_have_as_many_findings_as_the_filter_for_all_of_them_finds_sites()
    {
        // Several of them have access to one site: its finding counts once.
        var bell = await here.SignIn("n.bell");
        var together = (await bell.Get("/api/desk")).GetProperty("together").EnumerateArray().ToList();
        var access = together.FindAll(people => people.GetProperty("kind").GetString() == "still-have-access");

        Assert.NotEmpty(access);
        foreach (var people in access)
        {
            var filter = $"causes ew \" at {people.GetProperty("host").GetString()}\" and {Reported}";
            Assert.Equal(people.GetProperty("critical").GetInt32(), await Found(bell, "filter", filter));
        }
    }

    [Fact]
    public async Task Owners_are_counted_alike_on_their_page_in_the_register_and_in_the_report()
    {
        await here.NewSite("agree-b");
        var bell = await here.SignIn("n.bell");

        // Other tests change owners meanwhile: the numbers are those of one state only if the first is the same afterwards.
        JsonElement owners = default;
        var none = 0;
        await Installation.Until(
            async () =>
            {
                none = await Found(bell, "filter", $"owners.active.count eq 0 and {Reported}");
                owners = await bell.Get("/api/owners");
                return none == await Found(bell, "filter", $"owners.active.count eq 0 and {Reported}")
                    && none == owners.GetProperty("none").GetInt32();
            },
            "sites without an active owner are counted alike"
        );
        int Of(string state) => owners.GetProperty(state).GetInt32();

        Assert.Equal(none, Of("none"));
        Assert.Equal(await Found(bell, "filter", $"owners.active.count eq 1 and {Reported}"), Of("single"));
        Assert.Equal(await Found(bell, "filter", $"owners.active.count ge 2 and {Reported}"), Of("active"));
        Assert.Equal(Of("whole"), Of("none") + Of("single") + Of("active") + Of("unknown"));
        foreach (var state in new[] { "none", "single", "unknown" })
        {
            Assert.Equal(
                Of(state),
                owners.GetProperty("lines").EnumerateArray().Count(line => line.GetProperty("state").GetString() == state)
            );
        }

        Assert.StartsWith(
            $"{Of("whole")} sites in use: {Of("none")} without an active owner, {Of("single")} with one, {Of("active")} with two or more",
            (await bell.Get("/api/reports/owners")).GetProperty("notes")[0].GetString(),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Every_finding_is_cleared_by_its_remedy_or_says_what_stays_and_who_can_change_it()
    {
        var bell = await here.SignIn("n.bell");
        var report = await bell.Get("/api/reports/remedies");
        var rows = report.GetProperty("rows").EnumerateArray().Select(row => row.GetProperty("cells")).ToList();

        Assert.NotEmpty(rows);
        Assert.All(rows, cells =>
        {
            Assert.NotEqual("", cells[5].GetString());
            Assert.True(
                cells[6].GetString() == "yes" || cells[7].GetString()!.Length > 0,
                $"{cells[0]} {cells[2]} is not cleared, and nothing is said."
            );
            Assert.DoesNotContain("No action of this product", cells[7].GetString(), StringComparison.Ordinal);
        });
    }

    [Fact]
    public async Task The_tree_adds_up_what_the_register_has()
    {
        var bell = await here.SignIn("n.bell");
        JsonElement tree = default;
        await Installation.Until(
            async () =>
            {
                tree = await bell.Get("/api/register/tree");
                return await Found(bell, "filter", "existence eq \"in-use\" and no-longer-reported eq false")
                    == tree.GetProperty("rows").GetArrayLength() + tree.GetProperty("alone").GetInt32();
            },
            "every site in use is in the tree or alone"
        );
        var rows = tree.GetProperty("rows").EnumerateArray().ToList();
        Assert.Equal(
            rows.Count,
            rows.Where(row => row.GetProperty("depth").GetInt32() == 0)
                .Sum(row => row.GetProperty("totals").GetProperty("sites").GetInt32())
        );
    }

    [Fact]
    public async Task Each_part_of_a_filter_is_counted_without_itself_and_names_the_site_that_it_leaves_out()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.SiteId("pilot-exam");
        var parts = (await bell.Get($"/api/register/left-out?unit=YRD&filter=title%20co%20%22pilot%22&site={site}"))
            .EnumerateArray()
            .ToDictionary(part => part.GetProperty("part").GetString()!);

        Assert.True(parts["unit"].GetProperty("leavesOut").GetBoolean());
        Assert.False(parts["filter"].GetProperty("leavesOut").GetBoolean());
        Assert.Equal(await Found(bell, "filter", "title co \"pilot\""), parts["unit"].GetProperty("without").GetInt32());
    }

    [Fact]
    public async Task A_hold_of_this_minute_is_in_force_in_the_report()
    {
        var site = await here.NewSite("agree-c", new SlipwayEntry("p:s0004", "own"));
        var bell = await here.SignIn("n.bell");
        object Hold(string? fingerprint) => new { reason = "Inquiry 12", fingerprint };
        await bell.Post($"/api/sites/{site}/hold", Hold(await bell.Plan($"/api/sites/{site}/hold/plan", Hold(null))));
        var report = await bell.Get("/api/reports/holds");
        var columns = report
            .GetProperty("columns")
            .EnumerateArray()
            .Select(column => column.GetProperty("head").GetString())
            .ToList();
        var row = Assert.Single(report.GetProperty("rows").EnumerateArray(), row => row.GetProperty("site").GetInt64() == site);

        Assert.Equal("yes", row.GetProperty("cells")[columns.IndexOf("in force")].GetString());
    }

    private static async Task<int> Found(Caller caller, string how, string text) =>
        (await caller.Get($"/api/register?limit=0&{how}={Uri.EscapeDataString(text)}")).GetProperty("total").GetInt32();
}
