using System.Net;

namespace AtticLedger.Server.Tests;

/// <summary>The finder over HTTP.</summary>
public class FindFacts(Installation here)
{
    [Fact]
    public async Task A_site_is_found_by_a_part_of_its_name_or_address_the_very_name_first_in_whatever_state()
    {
        var bell = await here.SignIn("n.bell");
        var found = await bell.Get("/api/find?text=PILOT-exam");
        Assert.Equal("slipway.example/pilot-exam", found.GetProperty("sites")[0].GetProperty("address").GetString());

        var whole = await bell.Get("/api/find?text=Collision%20inquiry");
        Assert.Equal("Collision inquiry", whole.GetProperty("sites")[0].GetProperty("title").GetString());

        var attic = (await bell.Get("/api/register?status=attic&limit=1"))
            .GetProperty("lines")[0]
            .GetProperty("title")
            .GetString()!;
        Assert.Contains(
            (await bell.Get($"/api/find?text={Uri.EscapeDataString(attic)}")).GetProperty("sites").EnumerateArray(),
            site => site.GetProperty("existence").GetString() == "attic"
        );
    }

    [Fact]
    public async Task What_is_not_listed_is_counted_and_nothing_is_listed_of_nothing()
    {
        var bell = await here.SignIn("n.bell");
        var many = await bell.Get("/api/find?text=a");
        Assert.Equal(8, many.GetProperty("sites").GetArrayLength());
        Assert.True(many.GetProperty("moreSites").GetInt32() > 50);

        var none = await bell.Get("/api/find?text=zzzzzz");
        Assert.Equal(
            0,
            none.GetProperty("sites").GetArrayLength()
                + none.GetProperty("people").GetArrayLength()
                + none.GetProperty("moreSites").GetInt32()
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await bell.Send(HttpMethod.Get, "/api/find?text=%20")).Status);
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await bell.Send(HttpMethod.Get, $"/api/find?text={new string('x', 101)}")).Status
        );
    }

    [Fact]
    public async Task A_steward_and_an_owner_find_only_what_they_may_see()
    {
        var (bell, nair, vane) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"), await here.SignIn("i.vane"));
        Assert.Equal(1, (await bell.Get("/api/find?text=inquiry-9")).GetProperty("sites").GetArrayLength());
        Assert.Equal(0, (await nair.Get("/api/find?text=inquiry-9")).GetProperty("sites").GetArrayLength());
        Assert.Equal(0, (await vane.Get("/api/find?text=bell")).GetProperty("people").GetArrayLength());

        var whole = (await bell.Get("/api/find?text=i.vane")).GetProperty("people")[0].GetProperty("sites").GetInt32();
        var part = (await nair.Get("/api/find?text=i.vane")).GetProperty("people")[0].GetProperty("sites").GetInt32();
        var owned = (
            await nair.Get($"/api/register?limit=0&where={Uri.EscapeDataString("owners.value:is:i.vane@merrowby.example")}")
        )
            .GetProperty("total")
            .GetInt32();
        Assert.Equal(owned, part);
        Assert.True(whole >= part);
    }
}
