using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Reports over HTTP.</summary>
public class ReportFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:s0004", "own");

    [Fact]
    public async Task Outside_access_names_the_way_in_and_what_policy_does_not_allow()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite(
            "report-a",
            new SlipwayEntry("world", "read", "none"),
            new SlipwayEntry("everyone", "edit"),
            Vane
        );
        var row = Assert.Single(Rows(await bell.Get("/api/reports/outside")), row => row.Site == site);

        Assert.Equal(("view", "anonymous visitors", "Anonymous visitors"), (row["may"], row["who"], row["granted to"]));
    }

    [Fact]
    public async Task Every_owner_is_listed_with_why_they_are_not_active()
    {
        var bell = await here.SignIn("n.bell");
        var (one, none) = (
            await here.NewSite("report-b", Vane),
            await here.NewSite("report-c", new SlipwayEntry("everyone", "read"))
        );
        var rows = Rows(await bell.Get("/api/reports/owners"));

        Assert.Equal(
            ("i.vane@merrowby.example", "yes", "1"),
            Assert.Single(rows, row => row.Site == one) is var row ? (row["mail"], row["active"], row["active owners"]) : default
        );
        Assert.Equal(
            ("nobody", "no owner"),
            Assert.Single(rows, row => row.Site == none) is var other ? (other["owner"], other["why not"]) : default
        );
    }

    [Fact]
    public async Task An_action_links_its_person_and_journal_entry_and_a_move_to_the_attic_its_attic_entry()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("report-d", Vane);
        await bell.Post(
            $"/api/sites/{site}/move-to-attic",
            new
            {
                typed = "Test report-d",
                fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan"),
                reason = "not used",
            }
        );
        await Installation.Until(
            async () => Words(await bell.Get("/api/reports/attic"), "Test report-d").Contains("in the attic"),
            "it is moved"
        );
        var action = Assert.Single(Rows(await bell.Get("/api/reports/actions")), row =>
            row.Site == site && row["action"] == Core.Journal.JournalAction.SiteMoveToAttic.Label
        );
        Assert.Equal(("n.bell@merrowby.example", "not used"), (action["mail"], action["reason"]));
        Assert.Empty(Rows(await bell.Get("/api/reports/actions?from=2020-01-01&through=2020-01-31")));
    }

    [Fact]
    public async Task The_register_of_a_day_that_is_over_is_what_it_showed_on_that_day_whatever_happened_since()
    {
        SlipwayEntry keeper = new("p:1", "own");
        await using var organisation = await SmallOrganisation.Found(
            here,
            ("away", [keeper]),
            ("edited", [keeper, new("everyone", "read")]),
            ("gone", [keeper]),
            ("narrowed", [keeper, new("world", "edit", "none")])
        );
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 4);
        var shown = await bell.Get("/api/reports/register");
        var day = shown.GetProperty("on").GetString();
        var (away, restricted) = (await server.Site(bell, "away"), await server.Site(bell, "narrowed"));

        await bell.Post("/api/clock", new { hours = 48 });
        var order = (await bell.Restrict(restricted)).GetProperty("hostChange").GetGuid();
        await bell.Post(
            $"/api/sites/{away}/move-to-attic",
            new { typed = "away", fingerprint = await bell.Plan($"/api/sites/{away}/move-to-attic/plan") }
        );
        organisation.Slipway.Edit(records =>
        {
            records.Sites.Remove("gone");
            records.Sites["edited"] = records.Sites["edited"] with
            {
                Title = "Edited since",
                Label = "Guarded",
                Entries = [keeper],
            };
            records.Sites["new"] = records.Sites["edited"] with { Id = "new", Slug = "new", Title = "New since" };
        });
        await bell.Post("/api/sources/Slipway/sync", new { }, HttpStatusCode.OK);
        await Installation.Until(
            async () =>
                (await bell.Get("/api/journal?action=site.no-longer-reported")).GetProperty("entries").GetArrayLength() == 1,
            "one is no longer reported"
        );
        await Installation.Until(
            async () =>
                await bell.StateOf(restricted, order) is "confirmed" or "verified"
                && Words(await bell.Get("/api/reports/register"), "away").Contains("in the attic"),
            "one is restricted and one moved to the attic"
        );

        Assert.Equal(
            shown.GetProperty("rows").GetRawText(),
            (await bell.Get($"/api/reports/register?on={day}")).GetProperty("rows").GetRawText()
        );
        Assert.Equal(
            ["Edited since", "New since", "away", "gone", "narrowed"],
            Rows(await bell.Get("/api/reports/register")).Select(row => row["site"]).Order(StringComparer.Ordinal)
        );
        Assert.Equal(
            ("5", "1", "1"),
            Rows(await bell.Get("/api/reports/coverage")).Single() is var now
                ? (now["sites"], now["in the attic"], now["no longer reported"])
                : default
        );
        Assert.Equal(
            ("4", "0", "0"),
            Rows(await bell.Get($"/api/reports/coverage?on={day}")).Single() is var then
                ? (then["sites"], then["in the attic"], then["no longer reported"])
                : default
        );
        Assert.Equal(0, (await bell.Get("/api/reports/register?on=2020-01-01")).GetProperty("total").GetInt32());
    }

    [Fact]
    public async Task A_report_is_a_file_too_and_formulas_in_it_are_inert()
    {
        var bell = await here.SignIn("n.bell");
        await here.NewSite("report-f", Vane);
        here.Slipway.Edit(records => records.Sites["t-report-f"] = records.Sites["t-report-f"] with { Title = "=1+1" });
        await here.ReadSlipway();
        var text = await bell.Http.GetStringAsync("/api/reports/owners/export?as=csv");

        Assert.StartsWith(
            "site,address,unit,active owners,owner,mail,through,active,why not,link",
            text,
            StringComparison.Ordinal
        );
        Assert.Contains("'=1+1", text);
        Assert.Equal(HttpStatusCode.BadRequest, (await bell.Send(HttpMethod.Get, "/api/reports/owners/export?as=exe")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await bell.Send(HttpMethod.Get, "/api/reports/gossip")).Status);
        foreach (var day in new[] { "on=9999-12-31", "on=0001-01-01", "from=0001-01-01", "through=9999-12-31" })
        {
            Assert.Equal(HttpStatusCode.BadRequest, (await bell.Send(HttpMethod.Get, $"/api/reports/register?{day}")).Status);
        }

        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await (await here.SignIn("h.nair")).Send(HttpMethod.Get, "/api/reports/owners")).Status
        );
    }

    // The cells of the row for the site with this name.
    private static List<string> Words(JsonElement report, string site) =>
        [.. Rows(report).Single(row => row["site"] == site).Cells.Values];

    private static List<Row> Rows(JsonElement report)
    {
        var heads = report
            .GetProperty("columns")
            .EnumerateArray()
            .Select(column => column.GetProperty("head").GetString()!)
            .ToList();
        return
        [
            .. report
                .GetProperty("rows")
                .EnumerateArray()
                .Select(row => new Row(
                    row.GetProperty("site") is { ValueKind: JsonValueKind.Number } site ? site.GetInt64() : null,
                    heads
                        .Zip(row.GetProperty("cells").EnumerateArray().Select(cell => cell.GetString()!))
                        .ToDictionary(pair => pair.First, pair => pair.Second)
                )),
        ];
    }

    private sealed record Row(long? Site, Dictionary<string, string> Cells)
    {
        public string this[string head] => Cells[head];
    }
}
