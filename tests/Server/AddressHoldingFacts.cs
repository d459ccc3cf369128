using System.Net;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>No two sites of a host hold one address, whatever the host reports and whoever asks at once.</summary>
public class AddressHoldingFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:s0004", "own");

    [Fact]
    public async Task Of_two_sites_that_are_restored_at_one_address_at_once_one_gets_it()
    {
        var bell = await here.SignIn("n.bell");
        var sites = new[] { await InAttic(bell, "hold-one"), await InAttic(bell, "hold-two") };
        const string free = "slipway.example/hold-free";
        Assert.Null(await Holder(free));
        var requests = new List<object>();
        foreach (var site in sites)
        {
            requests.Add(
                new { address = free, fingerprint = await bell.Plan($"/api/sites/{site}/restore/plan", new { address = free }) }
            );
        }

        var answers = await Task.WhenAll(
            sites.Zip(requests, (site, request) => bell.Send(HttpMethod.Post, $"/api/sites/{site}/restore", request))
        );

        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.UnprocessableEntity], answers.Select(answer => answer.Status).Order());
        var refused = answers.Single(answer => answer.Status == HttpStatusCode.UnprocessableEntity).Body;
        Assert.Equal("address-taken", refused.GetProperty("reasons")[0].GetProperty("code").GetString());
        var winner = sites[answers.Index().Single(answer => answer.Item.Status == HttpStatusCode.OK).Index];
        Assert.Equal(winner, await Holder(free));
        await bell.Comes(winner, "restored");
        Assert.Equal(winner, await Holder(free));
    }

    [Fact]
    public async Task What_a_host_reports_at_one_address_is_kept_and_the_first_holds_it_until_it_moves()
    {
        const string shared = "slipway.example/hold-shared";
        var first = await here.NewSite("hold-shared");
        await here.NewSite("hold-later");
        var later = await here.SiteId("hold-later");
        await Move("t-hold-later", "hold-shared");
        Assert.Equal((first, 2L), (await Holder(shared), await Count($"select count(*) from site where address = '{shared}'")));
        Assert.Null(await Holder("slipway.example/hold-later"));

        await Move("t-hold-shared", "hold-elsewhere");
        Assert.Equal((later, first), (await Holder(shared), await Holder("slipway.example/hold-elsewhere")));

        // Both change places: each holds what it has.
        here.Slipway.Edit(records =>
        {
            records.Sites["t-hold-shared"] = records.Sites["t-hold-shared"] with
            {
                Slug = "hold-shared",
                Edited = DateTimeOffset.UtcNow,
            };
            records.Sites["t-hold-later"] = records.Sites["t-hold-later"] with
            {
                Slug = "hold-elsewhere",
                Edited = DateTimeOffset.UtcNow,
            };
        });
        await here.ReadSlipway();
        Assert.Equal((first, later), (await Holder(shared), await Holder("slipway.example/hold-elsewhere")));
    }

    private async Task Move(string key, string slug)
    {
        here.Slipway.Edit(records =>
            records.Sites[key] = records.Sites[key] with { Slug = slug, Edited = DateTimeOffset.UtcNow }
        );
        await here.ReadSlipway();
    }

    private async Task<long> InAttic(Caller bell, string slug)
    {
        var site = await here.NewSite(slug, Vane);
        var fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan");
        await bell.Post($"/api/sites/{site}/move-to-attic", new { typed = $"Test {slug}", fingerprint });
        await bell.Comes(site, "in-attic");
        return site;
    }

    private Task<long?> Holder(string address) =>
        here.Database.Read(async connection =>
            (
                await connection.Rows(
                    "select site from address_holding where host = 'Slipway' and address = $1",
                    row => (long?)row.GetInt64(0),
                    address
                )
            ).SingleOrDefault()
        );

    private Task<long> Count(string sql) =>
        here.Database.Read(async connection => (await connection.Rows(sql, row => row.GetInt64(0))).Single());
}
