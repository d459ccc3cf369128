using System.Net;
using System.Text.Json;
using AtticLedger.Server.Looks;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Name, description, logo and address of a site, changed at its host.</summary>
public class LookServerFacts(Installation here)
{
    [Fact]
    public async Task A_site_is_renamed_at_its_host_its_other_owners_are_told_and_it_is_undone()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("look-name", Owner("i.vane"));
        var look = Look(name: "Low water", description: "When it is low.");

        var preview = await bell.Post($"/api/sites/{site}/look/plan", look);
        Assert.Equal(
            ["name: Test look-name > Low water", "description:  > When it is low."],
            Fields(preview.GetProperty("plan").GetProperty("fields"))
        );
        await Carry(bell, site, "look", look);
        await Shows(site, one => one is { Title: "Low water", About: "When it is low.", Slug: "look-name" });
        var page = await bell.Get($"/api/sites/{site}");
        Assert.Equal("Low water", page.GetProperty("line").GetProperty("title").GetString());
        Assert.Contains(
            "site.look",
            (await bell.Get($"/api/journal?site={site}"))
                .GetProperty("entries")
                .EnumerateArray()
                .Select(entry => entry.GetProperty("action").GetString())
        );
        var change = page.GetProperty("hostChanges")[0];
        Assert.True(change.GetProperty("canUndo").GetBoolean());
        Assert.Single(
            await here.Database.Read(connection => connection.AddressedUnder($"look:{change.GetProperty("id").GetGuid()}"))
        );
        var undo = $"/api/host-changes/{change.GetProperty("id").GetGuid()}/undo";
        await bell.Post(undo, new { fingerprint = await bell.Plan($"{undo}/plan"), reason = (string?)null });
        await Shows(site, one => one is { Title: "Test look-name", About: null });
    }

    [Fact]
    public async Task A_changed_address_names_the_pages_that_link_to_it_and_the_old_one_is_held_while_it_forwards()
    {
        var (bell, nair) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"));
        var site = await here.NewSite("look-old", Owner("i.vane"));
        foreach (var from in (string[])["look-one", "look-two", "look-three"])
        {
            await here.NewSite(from);
        }

        here.Slipway.Edit(records =>
        {
            records.Sites["t-look-one"] = Linking(records.Sites["t-look-one"], "PIL", "See [[look-old]].", "And [[look-old]]!");
            records.Sites["t-look-two"] = Linking(records.Sites["t-look-two"], "PIL", "See [[look-old]].");
            records.Sites["t-look-three"] = Linking(records.Sites["t-look-three"], "CMS", "Or [[look-old]].");
        });
        await here.ReadSlipway();
        await ReadPages();

        var now = (await bell.Get($"/api/sites/{site}/look")).GetProperty("address");
        Assert.Equal("slipway.example/", now.GetProperty("before").GetString());
        Assert.Equal([("Test look-one", 2), ("Test look-two", 1), ("Test look-three", 1)], Links(now.GetProperty("impact")));
        var check = await bell.Post($"/api/sites/{site}/address/check", new { own = "look-one" });
        Assert.False(check.GetProperty("isFree").GetBoolean());
        Assert.Equal("Test look-one", check.GetProperty("swapWith").GetProperty("title").GetString());
        var change = Address("look-new", 30);
        var plan = (await nair.Post($"/api/sites/{site}/address/plan", change)).GetProperty("plan").GetProperty("address");
        Assert.Equal([("Test look-one", 2), ("Test look-two", 1)], Links(plan));
        Assert.Equal(1, plan.GetProperty("hiddenLinking").GetInt32());

        await Carry(bell, site, "address", change);
        await Shows(site, one => one is { Slug: "look-new", Formerly: [{ Slug: "look-old" }] });
        await Installation.Until(
            async () =>
                (await bell.Get($"/api/sites/{site}/look"))
                    .GetProperty("address")
                    .GetProperty("forwards")
                    .EnumerateArray()
                    .Any(forward => forward.GetProperty("address").GetString() == "slipway.example/look-old"),
            "the register has the forwarding"
        );

        // Nobody else gets the old address meanwhile; the site itself may return to it.
        var other = await here.NewSite("look-other", Owner("i.vane"));
        var refused = await bell.Post($"/api/sites/{other}/address/plan", Address("look-old", 0));
        Assert.Contains("forwards to Test look-old", refused.GetProperty("refused").GetRawText());
        Assert.Contains(
            "forwards to Test look-old",
            (await bell.Post($"/api/sites/{other}/address/check", new { own = "look-old" })).GetRawText()
        );
        await Carry(bell, site, "address", Address("look-old", 0));
        await Shows(site, one => one is { Slug: "look-old", Formerly: [] });
    }

    [Fact]
    public async Task Two_sites_exchange_their_addresses_in_one_change_and_back()
    {
        var bell = await here.SignIn("n.bell");
        var (one, two) = (await here.NewSite("swap-one"), await here.NewSite("swap-two"));

        await Carry(bell, one, "address", Address("swap-two", 0, swap: true));
        await Shows(one, site => site.Slug == "swap-two", "t-swap-one");
        await Shows(two, site => site.Slug == "swap-one", "t-swap-two");
        await Installation.Until(
            async () =>
                await AddressOf(bell, one) == "slipway.example/swap-two"
                && await AddressOf(bell, two) == "slipway.example/swap-one",
            "both rows have the other address"
        );

        var change = (await bell.Get($"/api/sites/{one}")).GetProperty("hostChanges")[0].GetProperty("id").GetGuid();
        var undo = $"/api/host-changes/{change}/undo";
        await bell.Post(undo, new { fingerprint = await bell.Plan($"{undo}/plan"), reason = (string?)null });
        await Shows(one, site => site.Slug == "swap-one", "t-swap-one");
        await Shows(two, site => site.Slug == "swap-two", "t-swap-two");
    }

    [Fact]
    public async Task Of_two_changes_to_one_address_at_one_instant_one_is_done_and_one_is_refused()
    {
        const int Rounds = 20;
        var bell = await here.SignIn("n.bell");
        var (one, two) = (await here.NewSite("race-one"), await here.NewSite("race-two"));
        var answers = new List<HttpStatusCode>();
        for (var round = 0; round < Rounds; round++)
        {
            var change = Address($"race-{round}-wanted", 0);
            var plans = new[]
            {
                await bell.Plan($"/api/sites/{one}/address/plan", change),
                await bell.Plan($"/api/sites/{two}/address/plan", change),
            };
            var both = await Task.WhenAll(
                new[] { one, two }.Select(
                    async (site, at) =>
                        (
                            await bell.Send(
                                HttpMethod.Post,
                                $"/api/sites/{site}/address",
                                new
                                {
                                    change.own,
                                    change.forwardDays,
                                    change.swap,
                                    change.reason,
                                    fingerprint = plans[at],
                                },
                                Guid.NewGuid().ToString()
                            )
                        ).Status
                )
            );
            answers.AddRange(both);
            await here.Quiet();
        }

        Assert.Equal(
            [(HttpStatusCode.OK, Rounds), (HttpStatusCode.UnprocessableEntity, Rounds)],
            answers.GroupBy(status => status).Select(same => (same.Key, same.Count())).OrderBy(pair => pair.Key)
        );
    }

    [Fact]
    public async Task A_logo_is_kept_borrowed_and_warned_about_before_its_site_goes()
    {
        var bell = await here.SignIn("n.bell");
        var (lender, borrower) = (await here.NewSite("logo-lender"), await here.NewSite("logo-borrower"));
        using var picture = new ByteArrayContent(PictureFacts.Png(400, 200));
        picture.Headers.ContentType = new("image/png");
        using var request = new HttpRequestMessage(HttpMethod.Put, "/api/pictures") { Content = picture };
        request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
        using var answer = await bell.Http.SendAsync(request);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        using var kept = JsonDocument.Parse(await answer.Content.ReadAsStringAsync());
        Assert.Equal(
            (256, 128),
            (kept.RootElement.GetProperty("width").GetInt32(), kept.RootElement.GetProperty("height").GetInt32())
        );
        var hash = kept.RootElement.GetProperty("hash").GetString()!;

        await Carry(
            bell,
            lender,
            "look",
            Look(
                logo: new
                {
                    source = "kept-with-site",
                    picture = hash,
                    site = (long?)null,
                    link = (string?)null,
                }
            )
        );
        await Shows(lender, site => site is { Logo: "own", LogoPicture: not null });
        await Installation.Until(
            async () =>
                (await bell.Get($"/api/sites/{lender}/look")).GetProperty("logo").GetProperty("picture").GetString() == hash,
            "the host says which picture it keeps"
        );
        await Carry(
            bell,
            borrower,
            "look",
            Look(
                logo: new
                {
                    source = "borrowed",
                    picture = (string?)null,
                    site = (long?)lender,
                    link = (string?)null,
                }
            )
        );
        await Shows(borrower, site => site is { Logo: "site", LogoFrom: "t-logo-lender" });

        var move = await bell.Post($"/api/sites/{lender}/move-to-attic/plan", new { });
        Assert.Contains("Test logo-borrower shows its logo.", move.GetProperty("plan").GetProperty("advice").GetRawText());
    }

    [Fact]
    public async Task Hostile_texts_are_sent_and_shown_as_texts()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("look-hostile");
        const string Script = "<script>alert(1)</script>\u0000 \n \u202e";
        await Carry(bell, site, "look", Look(Script, Script));
        await Shows(site, one => one.Title == "<script>alert(1)</script>\uFFFD \u202e");
        Assert.Contains(
            "begins with https",
            (
                await bell.Post(
                    $"/api/sites/{site}/look/plan",
                    Look(
                        logo: new
                        {
                            source = "linked",
                            picture = (string?)null,
                            site = (long?)null,
                            link = "javascript:alert(1)",
                        }
                    )
                )
            ).GetRawText()
        );
    }

    private static object Look(string? name = null, string? description = null, object? logo = null) =>
        new
        {
            name,
            description,
            logo,
            reason = (string?)null,
        };

    private sealed record AddressChange(string own, int forwardDays, bool swap, string? reason);

    private static AddressChange Address(string own, int forwardDays, bool swap = false) => new(own, forwardDays, swap, null);

    private static async Task Carry(Caller caller, long site, string what, object change)
    {
        var fingerprint = await caller.Plan($"/api/sites/{site}/{what}/plan", change);
        var body = JsonSerializer.SerializeToNode(change)!.AsObject();
        body["fingerprint"] = fingerprint;
        await caller.Post($"/api/sites/{site}/{what}", body);
    }

    private async Task Shows(long site, Func<SlipwaySite, bool> isSo, string? key = null)
    {
        var id = key
            ?? (await here.Database.Read(connection => connection.Sites(new Core.Sites.Scope.Everything(), [new(site)])))
                .Single()
                .HostKey;
        await Installation.Until(
            () => Task.FromResult(here.Slipway.Read(records => isSo(records.Sites[id]))),
            $"{id} is so at the host"
        );
        await here.Quiet();
    }

    private static async Task<string?> AddressOf(Caller caller, long site) =>
        (await caller.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("address").GetString();

    private Task ReadPages() => here.Server.Services.GetRequiredService<PageReader>().ReadDue(CancellationToken.None);

    private SlipwayEntry Owner(string who) =>
        new(
            $"p:{here.Slipway.Read(records => records.People.Values.Single(person => person.Mail == $"{who}@merrowby.example").Id)}",
            "own"
        );

    private static SlipwaySite Linking(SlipwaySite site, string team, params IEnumerable<string> texts) =>
        site with
        {
            Team = team,
            Edited = DateTimeOffset.UtcNow,
            Working = [.. texts.Select((text, at) => new SlipwayPage($"Page {at}", text))],
        };

    private static IEnumerable<string> Fields(JsonElement fields) =>
        fields
            .EnumerateArray()
            .Select(field =>
                $"{field.GetProperty("field").GetString()}: {field.GetProperty("before").GetString()} > {field.GetProperty("after").GetString()}"
            );

    private static IEnumerable<(string?, int)> Links(JsonElement impact) =>
        impact
            .GetProperty("links")
            .EnumerateArray()
            .Select(link => (link.GetProperty("title").GetString(), link.GetProperty("pages").GetInt32()));
}
