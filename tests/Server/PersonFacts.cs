using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Person pages, and the content part of a site page, over HTTP.</summary>
public class PersonFacts(Installation here)
{
    [Fact]
    public async Task What_one_uses_without_owning_it_is_what_an_administrator_reads_of_that_person()
    {
        var (bell, vane) = (await here.SignIn("n.bell"), await here.SignIn("i.vane"));
        var id = (await vane.Get("/api/your-sites")).GetProperty("person").GetInt64();
        var page = await bell.Get($"/api/people/{id}");
        var used = await vane.Get("/api/your-sites/used");

        Assert.Equal(
            page.GetProperty("sites")
                .EnumerateArray()
                .Where(site =>
                    site.GetProperty("existence").GetString() == "in-use" && site.GetProperty("power").GetString() != "own"
                )
                .Select(site => site.GetProperty("id").GetInt64())
                .Order(),
            used.GetProperty("sites").EnumerateArray().Select(site => site.GetProperty("id").GetInt64()).Order()
        );
    }

    [Fact]
    public async Task A_person_has_the_sites_they_are_granted_something_at_by_the_strongest_power()
    {
        await here.Quiet();
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("person-a", new SlipwayEntry("p:s0004", "edit"), new SlipwayEntry("team:PIL", "read"));
        var unit = await here.NewSite("person-b", new SlipwayEntry("team:PIL", "read"));
        var everybody = await here.NewSite("person-c", new SlipwayEntry("everyone", "read"));
        var page = await bell.Get($"/api/people/{await Vane(bell)}");

        Assert.Equal("i.vane@merrowby.example", page.GetProperty("person").GetProperty("mail").GetString());
        var sites = page.GetProperty("sites").EnumerateArray().ToDictionary(one => one.GetProperty("id").GetInt64());
        Assert.Equal(
            ("edit", JsonValueKind.Null),
            (sites[site].GetProperty("power").GetString(), sites[site].GetProperty("through").ValueKind)
        );
        Assert.Equal(
            ("view", "all of Pilotage"),
            (sites[unit].GetProperty("power").GetString(), sites[unit].GetProperty("through").GetString())
        );
        Assert.DoesNotContain(everybody, sites.Keys);
        Assert.Equal(page.GetProperty("total").GetInt32(), sites.Count);

        foreach (var power in new[] { "view", "edit" })
        {
            var all = await bell.Get($"/api/register?limit=0&where={power}.inside:is:staff");
            Assert.Equal(all.GetProperty("total").GetInt32(), page.GetProperty("asStaff").GetProperty(power).GetInt32());
        }

        var owned = await bell.Get(
            $"/api/register?limit=0&where={Uri.EscapeDataString("owners.value:is:i.vane@merrowby.example")}"
        );
        Assert.Equal(owned.GetProperty("total").GetInt32(), page.GetProperty("owns").GetInt32());
    }

    [Fact]
    public async Task A_scope_bounds_what_is_shown_of_a_person_and_owners_look_up_themselves_only()
    {
        await here.Quiet();
        var (bell, nair, vane) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"), await here.SignIn("i.vane"));
        var id = await Vane(bell);
        var (whole, part) = (await bell.Get($"/api/people/{id}"), await nair.Get($"/api/people/{id}"));
        Assert.InRange(part.GetProperty("total").GetInt32(), 1, whole.GetProperty("total").GetInt32() - 1);
        Assert.All(part.GetProperty("sites").EnumerateArray(), site =>
            Assert.Contains(site.GetProperty("unit").GetProperty("code").GetString(), new[] { "MAR", "PIL", "VTS", "TUG", "DRE" })
        );

        Assert.Equal(id, (await vane.Get($"/api/people/{id}")).GetProperty("person").GetProperty("id").GetInt64());
        var other = await vane.Send(HttpMethod.Get, $"/api/people/{id + 1}");
        var nobody = await vane.Send(HttpMethod.Get, "/api/people/999999");
        Assert.Equal((HttpStatusCode.NotFound, HttpStatusCode.NotFound), (other.Status, nobody.Status));
    }

    [Fact]
    public async Task Who_asked_a_guest_in_is_told_on_both_pages_and_follows_the_host()
    {
        var bell = await here.SignIn("n.bell");
        var vane = await Vane(bell);
        await Sponsor("s0004");
        var guest = Assert.Single((await bell.Get($"/api/people/{vane}")).GetProperty("sponsored").EnumerateArray(), one =>
            one.GetProperty("person").GetProperty("mail").GetString() == "sponsored@guests.example"
        );
        Assert.True(guest.GetProperty("person").GetProperty("isOutside").GetBoolean());
        var id = guest.GetProperty("person").GetProperty("id").GetInt64();
        var sponsor = Assert.Single((await bell.Get($"/api/people/{id}")).GetProperty("sponsors").EnumerateArray());
        Assert.Equal(
            (vane, "Slipway"),
            (sponsor.GetProperty("person").GetProperty("id").GetInt64(), sponsor.GetProperty("source").GetString())
        );

        await Sponsor(null);
        Assert.Equal(0, (await bell.Get($"/api/people/{id}")).GetProperty("sponsors").GetArrayLength());

        async Task Sponsor(string? by)
        {
            here.Slipway.Edit(records =>
                records.People["t-guest"] = new SlipwayPerson(
                    "t-guest",
                    "Sponsored Guest",
                    "sponsored@guests.example",
                    true,
                    true,
                    null,
                    by
                )
            );
            await here.ReadSlipway();
        }
    }

    [Fact]
    public async Task A_grant_that_has_ended_is_on_no_page_of_the_person_and_in_no_batch()
    {
        var bell = await here.SignIn("n.bell");
        var own = await here.SignIn("i.vane");
        var vane = (await own.Get("/api/your-sites")).GetProperty("person").GetInt64();
        var ended = await here.NewSite("ended", new SlipwayEntry("p:s0004", "edit", Until: "2020-01-31"));
        var open = await here.NewSite("not-ended", new SlipwayEntry("p:s0004", "edit", Until: "9999-12-31"));
        await Installation.Until(
            async () => (await Ids(bell, $"/api/people/{vane}")).Contains(open),
            "the site with the open grant is on the page"
        );
        Assert.DoesNotContain(ended, await Ids(bell, $"/api/people/{vane}"));
        Assert.Contains(open, await Ids(own, "/api/your-sites/used"));
        Assert.DoesNotContain(ended, await Ids(own, "/api/your-sites/used"));

        static async Task<List<long>> Ids(Caller caller, string path) =>
            [.. (await caller.Get(path)).GetProperty("sites").EnumerateArray().Select(site => site.GetProperty("id").GetInt64())];
    }

    [Fact]
    public async Task A_site_page_shows_the_content_the_sites_below_and_the_source_of_each_fact()
    {
        var (bell, nair) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"));
        var parent = await here.NewSite("family", new SlipwayEntry("everyone", "read"));
        here.Slipway.Edit(records =>
        {
            foreach (var (slug, team) in new[] { ("family-near", "PIL"), ("family-far", "LEG") })
            {
                records.Sites[$"t-{slug}"] = records.Sites["t-family"] with
                {
                    Id = $"t-{slug}",
                    Slug = slug,
                    Title = slug,
                    Team = team,
                    Parent = "t-family",
                    Bytes = 1000,
                };
            }
        });
        await here.ReadSlipway();
        var child = await here.SiteId("family-near");

        var content = (await bell.Get($"/api/sites/{parent}")).GetProperty("content");
        Assert.Equal(
            ["family-far", "family-near"],
            content.GetProperty("children").EnumerateArray().Select(one => one.GetProperty("title").GetString())
        );
        Assert.False(content.GetProperty("hasParent").GetBoolean());

        // A site below that is outside the scope is counted but not named.
        var seen = (await nair.Get($"/api/sites/{parent}")).GetProperty("content");
        Assert.Equal(
            ["family-near"],
            seen.GetProperty("children").EnumerateArray().Select(one => one.GetProperty("title").GetString())
        );
        Assert.Equal(1, seen.GetProperty("hiddenChildren").GetInt32());

        var sitePage = await bell.Get($"/api/sites/{child}");
        Assert.Equal(parent, sitePage.GetProperty("content").GetProperty("parent").GetProperty("id").GetInt64());
        Assert.Contains(
            "who has access",
            sitePage.GetProperty("sources").EnumerateArray().Select(source => source.GetProperty("fact").GetString())
        );
        here.Slipway.Edit(records =>
        {
            records.Sites.Remove("t-family-near");
            records.Sites.Remove("t-family-far");
        });
    }

    private static async Task<long> Vane(Caller who) =>
        (await who.Get("/api/find?text=i.vane")).GetProperty("people")[0].GetProperty("person").GetProperty("id").GetInt64();
}
