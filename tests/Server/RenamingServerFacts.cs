using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Many sites renamed at once: proposals, adjusted by line, carried out at the host, undone.</summary>
public class RenamingServerFacts(Installation here)
{
    [Fact]
    public async Task Names_are_proposed_adjusted_by_line_given_at_the_host_and_given_back()
    {
        var bell = await here.SignIn("n.bell");
        long[] sites =
        [
            await here.NewSite("re-a"),
            await here.NewSite("re-b"),
            await here.NewSite("re-other"),
            await here.NewSite("re-c"),
        ];
        here.Slipway.Edit(records => records.Sites["t-re-other"] = records.Sites["t-re-other"] with { Title = "Lock gates" });
        await here.ReadSlipway();
        var batch = await Planned(
            bell,
            new
            {
                way = "replace",
                sites,
                find = "test",
                words = "Pier",
                reason = "The pier has the name now.",
            }
        );

        Assert.Equal(
            ["Test re-a > Pier re-a", "Test re-b > Pier re-b", "left-out", "Test re-c > Pier re-c"],
            await Lines(bell, batch)
        );
        await bell.Post(
            $"/api/batches/{batch}/adjust",
            new
            {
                sites,
                action = "site.look",
                name = "One for all",
            },
            HttpStatusCode.BadRequest
        );
        await bell.Post($"/api/batches/{batch}/adjust", Renamed(sites[0], new string('x', 1001)), HttpStatusCode.BadRequest);
        await bell.Post($"/api/batches/{batch}/adjust", Renamed(sites[1], "Pier\n of  re-b"));
        await bell.Post($"/api/batches/{batch}/adjust", Renamed(sites[2], "Lock gates, pier"));
        await bell.Post($"/api/batches/{batch}/adjust", new { sites = new[] { sites[3] }, action = (string?)null });
        string[] adjusted = ["Test re-a > Pier re-a", "Test re-b > Pier of re-b", "Lock gates > Lock gates, pier", "left-out"];
        Assert.Equal(adjusted, await Lines(bell, batch));

        // Left out and back again: the name is still the one that was planned.
        await bell.Post($"/api/batches/{batch}/adjust", new { sites = new[] { sites[3] }, action = "site.look" });
        Assert.Equal("Test re-c > Pier re-c", (await Lines(bell, batch))[3]);
        await bell.Post($"/api/batches/{batch}/adjust", Renamed(sites[3], "Test re-c"));
        Assert.Equal("refused", (await Lines(bell, batch))[3]);

        await bell.Post($"/api/batches/{batch}/start", new { });
        await Done(bell, batch, 3);
        Assert.Equal(["Pier re-a", "Pier of re-b", "Lock gates, pier", "Test re-c"], Titles("re-a", "re-b", "re-other", "re-c"));
        Assert.Equal(adjusted[..3], (await Lines(bell, batch))[..3]);

        var undo = (await bell.Post($"/api/batches/{batch}/undo/plan", new { })).GetProperty("id").GetGuid();
        await bell.Post($"/api/batches/{undo}/start", new { });
        await Done(bell, undo, 3);
        Assert.Equal(["Test re-a", "Test re-b", "Lock gates", "Test re-c"], Titles("re-a", "re-b", "re-other", "re-c"));
    }

    [Fact]
    public async Task A_list_renames_the_sites_that_it_names_and_says_which_of_its_lines_cannot_be_used()
    {
        var bell = await here.SignIn("n.bell");
        await here.NewSite("re-list-a");
        await here.NewSite("re-list-b");
        here.Slipway.Edit(records => records.Sites["t-re-list-a"] = records.Sites["t-re-list-a"] with { Team = "CMS" });
        await here.ReadSlipway();

        Assert.Equal(
            "Line 3: no site in use in your scope has the address or the name Test re-list-z. Line 4: no new name for Test re-list-b. Line 5: Test re-list-a has a new name in line 2 already.",
            await Problem(
                bell,
                new
                {
                    way = "list",
                    list = "Site\tNew name\nTest re-list-a\tOne\nTest re-list-z\tTwo\nTest re-list-b\t\nTest re-list-a\tThree",
                }
            )
        );
        Assert.Contains("names no column \"new name\"", await Problem(bell, new { way = "list", list = "site;name\na;b" }));
        Assert.Contains("The list is empty", await Problem(bell, new { way = "list", list = " " }));

        var batch = await Planned(
            bell,
            new { way = "list", list = "Site,New name\nTest re-list-a,\"Ebb, flood\"\n\nTest re-list-b,Test re-list-b\n" }
        );
        Assert.Equal(["Test re-list-a > Ebb, flood", "left-out"], await Lines(bell, batch));

        // A steward's list names nothing outside the scope, not even that it is there.
        var nair = await here.SignIn("h.nair");
        Assert.Equal(
            "Line 2: no site in use in your scope has the address or the name Test re-list-a.",
            await Problem(nair, new { way = "list", list = "site;new name\nTest re-list-a;x" })
        );
    }

    [Fact]
    public async Task What_is_missing_is_said_and_a_way_that_changes_nothing_is_no_plan()
    {
        var bell = await here.SignIn("n.bell");
        long[] sites = [await here.NewSite("re-none")];
        here.Slipway.Edit(records => records.Sites["t-re-none"] = records.Sites["t-re-none"] with { Title = "Sluices" });
        await here.ReadSlipway();

        Assert.Equal("Type what the names have now.", await Problem(bell, new { way = "replace", sites }));
        Assert.Equal(
            "Type what the names are to begin with.",
            await Problem(
                bell,
                new
                {
                    way = "begin",
                    sites,
                    words = " ",
                }
            )
        );
        Assert.Equal(
            "200 characters are the maximum.",
            await Problem(
                bell,
                new
                {
                    way = "begin",
                    sites,
                    words = new string('x', 201),
                }
            )
        );
        Assert.Equal("Name at least one site.", await Problem(bell, new { way = "tidy", sites = Array.Empty<long>() }));
        Assert.Equal(
            "None of the sites gets another name this way. Choose other words.",
            Caller.Why(await bell.Post("/api/batches/renaming", new { way = "tidy", sites }, HttpStatusCode.UnprocessableEntity))
        );
        var long1 = await Planned(
            bell,
            new
            {
                way = "begin",
                sites,
                words = new string('x', 195),
            }
        );
        Assert.Equal(["refused"], await Lines(bell, long1));
    }

    [Fact]
    public async Task An_exception_that_is_left_out_can_be_included_again()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("re-except");
        var batch = (
            await bell.Post(
                "/api/batches",
                new
                {
                    action = "exception.grant",
                    sites = new[] { site },
                    rule = (await bell.Get("/api/rules"))
                        .GetProperty("rules")[0]
                        .GetProperty("rule")
                        .GetProperty("id")
                        .GetString(),
                    through = "2099-01-01",
                    reason = "late",
                }
            )
        ).GetProperty("id").GetGuid();
        foreach (var action in (string?[])[null, "exception.grant"])
        {
            await bell.Post($"/api/batches/{batch}/adjust", new { sites = new[] { site }, action });
        }

        Assert.NotEqual(["left-out"], await Lines(bell, batch));
    }

    private static object Renamed(long site, string name) =>
        new
        {
            sites = new[] { site },
            action = "site.look",
            name,
        };

    private static async Task<Guid> Planned(Caller who, object request) =>
        (await who.Post("/api/batches/renaming", request)).GetProperty("id").GetGuid();

    private static async Task<string?> Problem(Caller who, object request) =>
        (await who.Post("/api/batches/renaming", request, HttpStatusCode.BadRequest)).GetProperty("detail").GetString();

    // Each line as the old and the new name; its outcome where it is not renamed.
    private static async Task<List<string>> Lines(Caller who, Guid batch) =>
        [
            .. (await who.Get($"/api/batches/{batch}/lines"))
                .GetProperty("lines")
                .EnumerateArray()
                .Select(line =>
                    line.GetProperty("nameBefore").ValueKind == JsonValueKind.String
                        ? $"{line.GetProperty("nameBefore").GetString()} > {line.GetProperty("name").GetString()}"
                        : line.GetProperty("outcome").GetString()!
                ),
        ];

    private static Task Done(Caller who, Guid batch, int count) =>
        Installation.Until(
            async () => BatchFacts.Counts(await who.Get($"/api/batches/{batch}")).Contains(("done", count)),
            "all are done"
        );

    private IEnumerable<string> Titles(params string[] slugs) =>
        here.Slipway.Read(records => slugs.Select(slug => records.Sites[$"t-{slug}"].Title).ToList());
}
