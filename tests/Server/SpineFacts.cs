using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>A site that exceeds policy is found, explained, restricted and verified, over HTTP from end to end.</summary>
public class SpineFacts(Installation here)
{
    private static readonly SlipwayEntry World = new("world", "read", "none");
    private static readonly SlipwayEntry Everyone = new("everyone", "read");

    [Fact]
    public async Task A_site_that_exceeds_policy_is_found_explained_restricted_and_verified()
    {
        var site = await here.NewSite("spine", World, Everyone, new SlipwayEntry("p:s0004", "own"));
        var bell = await here.SignIn("n.bell");
        var sitePage = await bell.Get($"/api/sites/{site}");
        Assert.Contains(sitePage.GetProperty("findings").EnumerateArray(), found =>
            found.GetProperty("headline").GetString()
            == "Anonymous visitors can view the published site; policy allows nobody outside"
        );
        Assert.Equal(HttpStatusCode.OK, await Visit("spine"));

        var hostChange = (await bell.Restrict(site)).GetProperty("hostChange").GetGuid();
        await Installation.Until(async () => await bell.StateOf(site, hostChange) == "verified", "the order is seen");
        Assert.Equal(HttpStatusCode.NotFound, await Visit("spine"));
        Assert.Equal(HttpStatusCode.OK, await Visit("spine", "i.vane@merrowby.example"));
        Assert.DoesNotContain((await bell.Get($"/api/sites/{site}")).GetProperty("findings").EnumerateArray(), found =>
            found.GetProperty("finding").GetProperty("rule").GetString() == "R-07"
        );

        var undo = (await bell.Send(HttpMethod.Post, $"/api/host-changes/{hostChange}/undo/plan")).Body.GetProperty("plan");
        Assert.Equal("R-07", undo.GetProperty("opened")[0].GetProperty("id").GetString());
        var (status, undone) = await bell.Send(
            HttpMethod.Post,
            $"/api/host-changes/{hostChange}/undo",
            new { fingerprint = undo.GetProperty("fingerprint").GetString() },
            "undo-spine"
        );
        Assert.Equal(HttpStatusCode.OK, status);
        await Installation.Until(
            async () => await bell.StateOf(site, undone.GetProperty("hostChange").GetGuid()) == "verified",
            "the undoing is seen"
        );
        Assert.Equal(HttpStatusCode.OK, await Visit("spine"));
        Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
    }

    [Fact]
    public async Task An_action_on_one_server_shows_at_once_on_another_and_each_change_is_sent_once()
    {
        var (_, other) = await here.Join();
        var bell = await here.SignIn("n.bell");
        for (var i = 0; i < 5; i++)
        {
            var site = await here.NewSite($"two-{i}", World, Everyone);
            var hostChange = (await bell.Restrict(site)).GetProperty("hostChange").GetGuid();
            var there = await bell.At(other).Get($"/api/sites/{site}");
            Assert.Contains(there.GetProperty("hostChanges").EnumerateArray(), one =>
                one.GetProperty("id").GetGuid() == hostChange
            );
            await Installation.Until(async () => await bell.StateOf(site, hostChange) == "verified", "the order is seen");
            Assert.Single(
                here.Slipway.Read(records => records.Effects.Where(effect => effect.Key == hostChange.ToString()).ToList())
            );
            var entries = (await bell.Get($"/api/journal?site={site}"))
                .GetProperty("entries")
                .EnumerateArray()
                .Select(entry => entry.GetProperty("action").GetString())
                .ToList();
            Assert.Single(entries, "change.sent");
            Assert.Single(entries, "change.confirmed");
        }
    }

    [Fact]
    public async Task An_action_that_always_meets_a_conflict_is_not_done_and_says_so()
    {
        var site = await here.NewSite("busy", World, Everyone);
        await using (var owner = NpgsqlDataSource.Create(Databases.Owner(here.DatabaseName)))
        {
            await using var always = owner.CreateCommand(
                $"""
                create function always_busy() returns trigger language plpgsql as $busy$ begin raise exception 'busy' using errcode = '40001'; end $busy$;
                create trigger always_busy before insert on host_change for each row when (new.site = {site}) execute function always_busy();
                """
            );
            await always.ExecuteNonQueryAsync();
        }

        var bell = await here.SignIn("n.bell");
        var target = (await bell.Get($"/api/sites/{site}")).GetProperty("remedy");
        var fingerprint = (await bell.Send(HttpMethod.Post, $"/api/sites/{site}/restrict/plan", new { target }))
            .Body.GetProperty("plan")
            .GetProperty("fingerprint")
            .GetString();
        var (status, said) = await bell.Send(
            HttpMethod.Post,
            $"/api/sites/{site}/restrict",
            new { target, fingerprint },
            "busy-1"
        );

        Assert.Equal(HttpStatusCode.ServiceUnavailable, status);
        Assert.Equal(
            "Other people kept changing the same facts. Nothing was done; try again.",
            said.GetProperty("title").GetString()
        );
        Assert.Empty((await bell.Get($"/api/sites/{site}")).GetProperty("hostChanges").EnumerateArray());
    }

    [Fact]
    public async Task Of_two_administrators_the_second_gets_the_new_plan_and_nothing_is_done()
    {
        var site = await here.NewSite(
            "both",
            World,
            Everyone,
            new SlipwayEntry("g:34", "read"),
            new SlipwayEntry("p:x001", "read")
        );
        var (bell, aske) = (await here.SignIn("n.bell"), await here.SignIn("t.aske"));
        var target = (await bell.Get($"/api/sites/{site}")).GetProperty("remedy");
        var previewed = (await aske.Send(HttpMethod.Post, $"/api/sites/{site}/restrict/plan", new { target })).Body.GetProperty(
            "plan"
        );

        var partners = JsonSerializer.Deserialize<JsonElement>(
            """{"inside":"staff","outside":"named-guests","visitorSignIn":"account"}"""
        );
        var smaller = new
        {
            view = partners,
            preview = partners,
            edit = partners,
        };
        var first = (await bell.Send(HttpMethod.Post, $"/api/sites/{site}/restrict/plan", new { target = smaller }))
            .Body.GetProperty("plan")
            .GetProperty("fingerprint")
            .GetString();
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await bell.Send(
                    HttpMethod.Post,
                    $"/api/sites/{site}/restrict",
                    new { target = smaller, fingerprint = first },
                    "both-1"
                )
            ).Status
        );

        var (status, plan) = await aske.Send(
            HttpMethod.Post,
            $"/api/sites/{site}/restrict",
            new { target, fingerprint = previewed.GetProperty("fingerprint").GetString() },
            "both-2"
        );
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Equal(previewed.GetProperty("changes").GetArrayLength() - 1, plan.GetProperty("changes").GetArrayLength());
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await aske.Send(
                    HttpMethod.Post,
                    $"/api/sites/{site}/restrict",
                    new { target, fingerprint = plan.GetProperty("fingerprint").GetString() },
                    "both-3"
                )
            ).Status
        );
    }

    [Fact]
    public async Task The_same_request_under_the_same_key_is_done_once_and_another_is_refused()
    {
        var site = await here.NewSite("again", World);
        var bell = await here.SignIn("n.bell");
        var target = (await bell.Get($"/api/sites/{site}")).GetProperty("remedy");
        var fingerprint = (await bell.Send(HttpMethod.Post, $"/api/sites/{site}/restrict/plan", new { target }))
            .Body.GetProperty("plan")
            .GetProperty("fingerprint")
            .GetString();
        var answers = await Task.WhenAll(
            Enumerable
                .Range(0, 4)
                .Select(_ => bell.Send(HttpMethod.Post, $"/api/sites/{site}/restrict", new { target, fingerprint }, "again-key"))
        );

        Assert.All(answers, answer => Assert.Equal(HttpStatusCode.OK, answer.Status));
        Assert.Single(answers.Select(answer => answer.Body.GetProperty("hostChange").GetGuid()).Distinct());
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await bell.Send(
                    HttpMethod.Post,
                    $"/api/sites/{site}/restrict",
                    new
                    {
                        target,
                        fingerprint,
                        reason = "other",
                    },
                    "again-key"
                )
            ).Status
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await bell.Send(HttpMethod.Post, $"/api/sites/{site}/restrict", new { target, fingerprint }, key: "")).Status
        );
    }

    [Fact]
    public async Task What_a_host_refuses_is_shown_in_its_words()
    {
        var site = await here.NewSite("refused", World);
        var bell = await here.SignIn("n.bell");
        here.Slipway.Edit(records => records.Sites.Remove("t-refused"));
        var hostChange = (await bell.Restrict(site)).GetProperty("hostChange").GetGuid();
        await Installation.Until(async () => await bell.StateOf(site, hostChange) == "refused", "the order is refused");

        Assert.Equal(
            "There is no such site.",
            (await bell.Get($"/api/sites/{site}")).GetProperty("hostChanges")[0].GetProperty("words").GetString()
        );
    }

    [Fact]
    public async Task A_filter_that_cannot_be_read_names_its_column()
    {
        var bell = await here.SignIn("n.bell");
        var (status, problem) = await bell.Send(
            HttpMethod.Get,
            "/api/register?filter=" + Uri.EscapeDataString("owners[standing is \"left\"]")
        );

        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal(17, problem.GetProperty("column").GetInt32());
    }

    private async Task<HttpStatusCode> Visit(string slug, string? mail = null)
    {
        using var visitor = new HttpClient { BaseAddress = here.Front };
        if (mail is not null)
        {
            visitor.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
                "Basic",
                Convert.ToBase64String(Encoding.UTF8.GetBytes($"{mail}:{VisitorsFront.Password}"))
            );
        }

        using var answer = await visitor.GetAsync(slug);
        return answer.StatusCode;
    }
}
