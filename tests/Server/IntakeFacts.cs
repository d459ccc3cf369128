using System.Text.Json;
using AtticLedger.Core.Sites;
using AtticLedger.Hosts;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Intake from hosts: changes made at the host, missing facts and wrong facts.</summary>
public class IntakeFacts(Installation here)
{
    [Fact]
    public async Task A_change_made_at_the_host_is_journalled_and_the_same_sync_twice_writes_nothing()
    {
        var site = await here.NewSite("behind", new SlipwayEntry("everyone", "read"));
        var bell = await here.SignIn("n.bell");
        here.Slipway.SetSharing(
            "t-behind",
            null,
            [
                new System.Text.Json.Nodes.JsonObject
                {
                    ["entry"] = "world",
                    ["role"] = "read",
                    ["proof"] = "none",
                },
            ],
            DateTimeOffset.UtcNow
        );
        await here.ReadSlipway();
        var seen = (await bell.Get($"/api/journal?site={site}")).GetProperty("entries").EnumerateArray().ToList();
        Assert.Contains("\"grant world\"", seen[0].GetProperty("text").GetString());

        await here.ReadSlipway();
        Assert.Equal(seen.Count, (await bell.Get($"/api/journal?site={site}")).GetProperty("entries").GetArrayLength());
    }

    [Fact]
    public async Task A_site_that_a_complete_sync_no_longer_lists_is_no_longer_reported_until_it_is_back()
    {
        var site = await here.NewSite("goes", new SlipwayEntry("everyone", "read"));
        var bell = await here.SignIn("n.bell");
        var record = here.Slipway.Read(records => records.Sites["t-goes"]);
        here.Slipway.Edit(records => records.Sites.Remove("t-goes"));
        await here.ReadSlipway();
        await Installation.Until(
            async () => (await bell.Get($"/api/sites/{site}")).GetProperty("noLongerReported").GetBoolean(),
            "the site is no longer reported"
        );

        here.Slipway.Edit(records => records.Sites["t-goes"] = record);
        await here.ReadSlipway();
        await Installation.Until(
            async () => !(await bell.Get($"/api/sites/{site}")).GetProperty("noLongerReported").GetBoolean(),
            "the site is back"
        );
    }

    [Fact]
    public async Task An_entry_in_an_unknown_word_costs_the_access_of_its_own_site_only()
    {
        var site = await here.NewSite("goes-too", new SlipwayEntry("everyone", "read"));
        var odd = await here.NewSite("odd", new SlipwayEntry("everyone", "juggle"));
        var bell = await here.SignIn("n.bell");
        here.Slipway.Edit(records => records.Sites.Remove("t-goes-too"));
        await here.ReadSlipway();
        await Installation.Until(
            async () => (await bell.Get($"/api/sites/{site}")).GetProperty("noLongerReported").GetBoolean(),
            "the site is no longer reported"
        );
        Assert.Contains(
            (await bell.Get("/api/sources"))
                .EnumerateArray()
                .Single(source => source.GetProperty("name").GetString() == "Slipway")
                .GetProperty("refused")
                .EnumerateArray(),
            words => words.GetString()!.StartsWith("t-odd: Slipway reported an unknown role", StringComparison.Ordinal)
        );
        Assert.False((await bell.Get($"/api/sites/{odd}")).GetProperty("noLongerReported").GetBoolean());
        here.Slipway.Edit(records => records.Sites.Remove("t-odd"));
        await here.ReadSlipway();
    }

    [Fact]
    public async Task A_limit_that_a_host_sets_for_all_its_sites_is_seen_at_once_and_written_down()
    {
        var site = await here.NewSite("limited", new SlipwayEntry("world", "read", "none"));
        var bell = await here.SignIn("n.bell");
        var workspace = here.Slipway.Read(records => records.Workspace);
        async Task<string?> Outside() =>
            (await bell.Get($"/api/sites/{site}"))
                .GetProperty("accessPaths")
                .EnumerateArray()
                .Single(accessPath => accessPath.GetProperty("power").GetString() == "view")
                .GetProperty("effective")
                .GetProperty("outsideLabels")
                .GetString();
        Assert.Equal("anonymous visitors", await Outside());
        here.Slipway.Edit(records => records.Workspace = workspace with { Outside = "none" });
        try
        {
            await here.ReadSlipway();
            await Installation.Until(async () => await Outside() == "no one", "nobody from outside gets in any more");
            Assert.Equal(
                "host.synced",
                (await bell.Get("/api/journal?action=host.synced")).GetProperty("entries")[0].GetProperty("action").GetString()
            );
        }
        finally
        {
            here.Slipway.Edit(records => records.Workspace = workspace);
            await here.ReadSlipway();
        }
    }

    [Fact]
    public async Task A_grant_that_a_host_reports_twice_is_the_wider_of_both_and_breaks_no_sync()
    {
        var site = await here.NewSite(
            "twice",
            new SlipwayEntry("world", "read", "none"),
            new SlipwayEntry("world", "edit", "account")
        );
        var grants = (await here.Database.Read(connection => connection.Sites(new Core.Sites.Scope.Everything(), [new(site)])))
            .Single()
            .Expected.Or([]);

        var grant = Assert.Single(grants);
        Assert.Equal((Core.Terms.Power.Edit, Core.Terms.VisitorSignIn.None), (grant.Power, grant.VisitorSignIn));
    }

    [Theory]
    [InlineData("world", "reign", "Slipway reported an unknown role of the entry world: \"reign\".")]
    [InlineData("moon", "read", "Slipway returned a sharing entry of an unknown kind: \"moon\".")]
    public async Task A_grant_that_is_not_understood_leaves_who_is_let_in_unknown_there_and_every_other_site_synced(
        string entry,
        string role,
        string words
    )
    {
        var strange = await here.NewSite("strange", new SlipwayEntry(entry, role));
        await here.NewSite("beside-strange", new SlipwayEntry("everyone", "read"));
        var bell = await here.SignIn("n.bell");

        Assert.Contains(
            "who has access",
            (await bell.Get($"/api/sites/{strange}"))
                .GetProperty("unknowns")
                .EnumerateArray()
                .Select(fact => fact.GetProperty("label").GetString())
        );
        var source = (await bell.Get("/api/sources"))
            .EnumerateArray()
            .Single(one => one.GetProperty("name").GetString() == "Slipway");
        Assert.Contains($"t-strange: {words}", source.GetProperty("refused").EnumerateArray().Select(one => one.GetString()));
        here.Slipway.Edit(records =>
        {
            records.Sites.Remove("t-strange");
            records.Sites.Remove("t-beside-strange");
        });
    }

    [Fact]
    public async Task What_a_host_withholds_is_unknown_and_cannot_be_judged()
    {
        var bell = await here.SignIn("n.bell");
        var sitePage = await bell.Get($"/api/sites/{await here.SiteId("payroll")}");

        Assert.Contains(
            "who has access",
            sitePage.GetProperty("unknowns").EnumerateArray().Select(fact => fact.GetProperty("label").GetString())
        );
        Assert.All(sitePage.GetProperty("findings").EnumerateArray(), found =>
            Assert.True(found.GetProperty("finding").GetProperty("cannotTell").GetBoolean())
        );
        Assert.Equal(
            0,
            (await bell.Get("/api/register?rule=any&filter=" + Uri.EscapeDataString("name eq \"Payroll questions\"")))
                .GetProperty("total")
                .GetInt32()
        );
    }

    [Fact]
    public async Task What_was_decided_while_a_page_was_read_is_not_written_over()
    {
        var id = await here.NewSite("raced", new SlipwayEntry("everyone", "read"));
        var bell = await here.SignIn("n.bell");
        var site = (await here.Database.Read(connection => connection.Sites(new Scope.Everything(), [new(id)]))).Single();
        var intake = new SiteIntake(here.Database, Microsoft.Extensions.Logging.Abstractions.NullLogger.Instance);
        var began = here.Database.Now;
        var host = new SlipwayHost(
            new HostConnection(
                "Slipway",
                new HttpClient
                {
                    BaseAddress = new Uri(here.SlipwayAddress, "/api/"),
                    DefaultRequestHeaders = { { "Authorization", $"Bearer {Installation.Token}" } },
                },
                "slipway.example"
            )
        );
        here.Slipway.Edit(records => records.Sites["t-raced"] = records.Sites["t-raced"] with { Visits7 = 4711 });
        var said = (await host.ReadSite("t-raced", CancellationToken.None))!;
        var tries = 0;
        await here.Database.Change(async change =>
        {
            // It decides on the facts at the start of the transaction; then somebody changes the site.
            await change.Connection.OrganisationTime();
            if (++tries == 1)
            {
                var request = new
                {
                    fact = "purpose",
                    sites = new[] { id },
                    value = "handbook",
                };
                await bell.Post(
                    "/api/classification/facts",
                    new
                    {
                        request,
                        fingerprint = (await bell.Post("/api/classification/facts/plan", request))
                            .GetProperty("fingerprint")
                            .GetString(),
                    }
                );
            }

            await intake.Take(change, "Slipway", [said], began, false);
        });

        var now = (await here.Database.Read(connection => connection.Sites(new Scope.Everything(), [new(id)]))).Single();
        Assert.Equal((2, 4711, "handbook"), (tries, now.Visits.Or(0), now.Purpose.Or("")));
        Assert.NotEqual(4711, site.Visits.Or(0));
    }

    [Fact]
    public async Task Hostile_content_is_stored_as_text_and_cut_and_the_sync_goes_on()
    {
        var hostile = JsonSerializer.Serialize(
            new[]
            {
                Site("a", "<script>alert(1)</script><img src=x onerror=alert(1)>"),
                Site("b", "\u202egnp.exe\u200b\u200d \0 nul"),
                Site("c", new string('x', 5000)),
                Site("d", "'; drop table site; --"),
            }
        );
        var members = string.Join(",", Enumerable.Repeat("{\"person\":\"p1\"}", 1_000_000));
        var (server, bell) = await here.Against(app =>
        {
            app.MapGet("/api/workspace", () => Json("""{"outside":"world","signIn":false,"strange":{"deep":[1,2,3]}}"""));
            app.MapGet("/api/people", () =>
                Json("""{"items":[{"id":"p1","name":"<b>Eve</b>","mail":"eve@out.example","guest":true}],"next":null}""")
            );
            app.MapGet("/api/groups", () =>
                Json(
                    $$$"""{"items":[{"id":"g1","name":"Ring","truncated":false,"members":[{"group":"g2"}]},{"id":"g2","name":"Ring 2","truncated":false,"members":[{"group":"g1"}]},{"id":"g3","name":"Crowd","truncated":false,"members":[{{{members}}}]}],"next":null}"""
                )
            );
            app.MapGet("/api/sites", () => Json($$"""{"items":{{hostile}},"next":null,"total":4,"unknown":"field"}"""));
            app.MapGet("/api/bin", () =>
                Json(
                    """{"items":[{"id":"e","title":"\u202e","deleted":"yesterday","recoverableUntil":7}],"next":null,"total":1}"""
                )
            );
        });

        var source = (await bell.Get("/api/sources")).EnumerateArray().Single();
        Assert.True(source.GetProperty("complete").GetBoolean(), source.ToString());
        var lines = (await bell.Get("/api/register?sort=title")).GetProperty("lines").EnumerateArray().ToList();
        Assert.Equal(5, lines.Count);
        Assert.Contains(lines, line =>
            line.GetProperty("title").GetString() == "<script>alert(1)</script><img src=x onerror=alert(1)>"
        );
        Assert.All(lines, line => Assert.InRange(line.GetProperty("title").GetString()!.Length, 1, 2001));
        await here.Leave(server);
    }

    [Theory]
    [InlineData("{\"items\":[{\"id\":\"a\"", "not JSON")]
    [InlineData("{\"items\":[],\"total\":1,\"next\":\"again\"}", "form a circle")]
    public async Task A_host_that_speaks_nonsense_is_refused_with_a_clear_message(string page, string words)
    {
        var (server, bell) = await here.Against(app =>
        {
            app.MapGet("/api/workspace", () => Json("""{"outside":"none","signIn":true}"""));
            app.MapGet("/api/people", () => Json("""{"items":[]}"""));
            app.MapGet("/api/groups", () => Json("""{"items":[]}"""));
            app.MapGet("/api/sites", () => Json(page));
        });

        var source = (await bell.Get("/api/sources")).EnumerateArray().Single();
        Assert.False(source.GetProperty("complete").GetBoolean());
        Assert.Contains(words, source.GetProperty("error").GetString());
        await here.Leave(server);
    }

    private static object Site(string id, string title) =>
        new
        {
            id,
            slug = id,
            title,
            team = (string?)null,
            label = "Open",
            template = "pages",
            offline = false,
            unpublished = 0,
            published = "2026-01-01T00:00:00Z",
            sharing = new { entries = new[] { new { entry = "everyone", role = "read" } } },
        };

    private static IResult Json(string text) => Results.Text(text, "application/json");
}
