using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Saved views and exported lists, over HTTP.</summary>
public class ViewFacts(Installation here)
{
    [Fact]
    public async Task A_saved_view_counts_what_it_shows_and_says_when_it_has_grown()
    {
        await here.Quiet();
        var bell = await here.SignIn("n.bell");
        var view = new
        {
            sentence = new { where = new[] { "title:has:Test grown" }, sort = "title" },
            show = new[] { "classification" },
        };
        await here.NewSite("grown-1", new SlipwayEntry("everyone", "read"));
        var id = (
            await bell.Post(
                "/api/views",
                new
                {
                    name = "Grown",
                    view,
                    isShared = false,
                }
            )
        ).GetProperty("id").GetInt64();
        Assert.Equal((1, 0), await CountOf(bell, id));

        await here.NewSite("grown-2", new SlipwayEntry("everyone", "read"));
        Assert.Equal((2, 1), await CountOf(bell, id));
        await bell.Send(HttpMethod.Post, $"/api/views/{id}/seen");
        Assert.Equal((2, 0), await CountOf(bell, id));

        // The same name replaces it, in upper or lower case.
        Assert.Equal(id, (
                await bell.Post(
                    "/api/views",
                    new
                    {
                        name = " GROWN ",
                        view = new { sentence = new { unit = "PIL" } },
                        isShared = false,
                    }
                )
            ).GetProperty("id").GetInt64());
        Assert.Equal(HttpStatusCode.OK, (await bell.Send(HttpMethod.Delete, $"/api/views/{id}")).Status);
        Assert.Null(await Find(bell, id));
    }

    [Fact]
    public async Task A_shared_view_counts_for_each_reader_what_they_may_see_and_only_its_author_deletes_it()
    {
        await here.Quiet();
        var (bell, nair, vane) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"), await here.SignIn("i.vane"));
        var own = (
            await bell.Post(
                "/api/views",
                new
                {
                    name = "Mine alone",
                    view = new { sentence = new { } },
                    isShared = false,
                }
            )
        ).GetProperty("id").GetInt64();
        var shared = (
            await bell.Post(
                "/api/views",
                new
                {
                    name = "For all",
                    view = new { sentence = new { } },
                    isShared = true,
                }
            )
        ).GetProperty("id").GetInt64();
        foreach (var caller in new[] { bell, nair, vane })
        {
            var total = (await caller.Get("/api/register?limit=0")).GetProperty("total").GetInt32();
            Assert.Equal((total, 0), await CountOf(caller, shared));
        }

        Assert.Null(await Find(nair, own));
        Assert.Equal(HttpStatusCode.NotFound, (await nair.Send(HttpMethod.Delete, $"/api/views/{shared}")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await nair.Send(HttpMethod.Post, $"/api/views/{own}/seen")).Status);
        await bell.Send(HttpMethod.Delete, $"/api/views/{shared}");
        await bell.Send(HttpMethod.Delete, $"/api/views/{own}");
    }

    [Theory]
    [InlineData("", "name pr", HttpStatusCode.UnprocessableEntity)]
    [InlineData("   ", "name pr", HttpStatusCode.UnprocessableEntity)]
    [InlineData("x", "name is 3", HttpStatusCode.BadRequest)]
    public async Task A_view_without_a_name_or_with_a_sentence_that_cannot_be_read_is_not_kept(
        string name,
        string filter,
        HttpStatusCode expected
    )
    {
        var bell = await here.SignIn("n.bell");
        Assert.Equal(
            expected,
            (
                await bell.Send(
                    HttpMethod.Post,
                    "/api/views",
                    new
                    {
                        name,
                        view = new { sentence = new { filter } },
                        isShared = true,
                    }
                )
            ).Status
        );
    }

    [Fact]
    public async Task A_sentence_of_any_length_is_not_kept()
    {
        var bell = await here.SignIn("n.bell");
        var answer = await bell.Post(
            "/api/views",
            new
            {
                name = "long",
                view = new { sentence = new { filter = $"name eq \"{new string('x', 8000)}\"" } },
                isShared = false,
            },
            HttpStatusCode.UnprocessableEntity
        );
        Assert.Contains("the maximum is 8000", Caller.Sentence(answer.GetProperty("reasons")[0]));
    }

    [Fact]
    public async Task An_export_has_the_rows_of_the_sentence_in_scope_and_no_formulas()
    {
        await here.Quiet();
        here.Slipway.Edit(records =>
            records.Sites["t-formula"] = new SlipwaySite
            {
                Id = "t-formula",
                Slug = "formula",
                Title = "=HYPERLINK(\"x\"),\n\"y\"",
                Team = "PIL",
                Created = DateTimeOffset.UtcNow,
                Edited = DateTimeOffset.UtcNow,
                Entries = [new("everyone", "read")],
                Working = [new("a", "b")],
                Live = [],
            }
        );
        await here.ReadSlipway();
        await here.SiteId("formula");
        var (bell, nair) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"));
        var all = await bell.Http.GetStringAsync("/api/register/export?unit=PIL&sort=title&show=classification&show=edit.inside");
        var lines = await bell.Get("/api/register?unit=PIL&sort=title&limit=500");

        Assert.Equal(
            "title,address,host,unit,status,existence,view.inside,view.outside,preview.inside,preview.outside,edit.inside,edit.outside,owners,owners.active.count,edited,visits,breaks,excepted,unsure,underway.count,fault,classification,link",
            all.Split("\r\n")[0]
        );
        Assert.Contains("\"'=HYPERLINK(\"\"x\"\"),", all);
        foreach (
            var address in lines.GetProperty("lines").EnumerateArray().Select(line => line.GetProperty("address").GetString())
        )
        {
            Assert.Contains($",{address},", all);
        }

        var part = await nair.Http.GetStringAsync("/api/register/export");
        Assert.DoesNotContain("inquiry-9", part);
        Assert.Contains("inquiry-9", await bell.Http.GetStringAsync("/api/register/export"));
        Assert.Equal(HttpStatusCode.BadRequest, (await bell.Send(HttpMethod.Get, "/api/register/export?filter=nope")).Status);
        here.Slipway.Edit(records => records.Sites.Remove("t-formula"));
    }

    private static async Task<JsonElement?> Find(Caller who, long id) =>
        (await who.Get("/api/views"))
            .EnumerateArray()
            .Cast<JsonElement?>()
            .FirstOrDefault(view => view!.Value.GetProperty("id").GetInt64() == id);

    private static async Task<(int Count, int Grown)> CountOf(Caller who, long id)
    {
        var view = (await Find(who, id))!.Value;
        return (view.GetProperty("count").GetInt32(), view.GetProperty("grown").GetInt32());
    }
}
