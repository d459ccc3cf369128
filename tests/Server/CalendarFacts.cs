using System.Net;

namespace AtticLedger.Server.Tests;

/// <summary>The calendar link: it shows what its owner may see, is shown once, and can be revoked at once.</summary>
public sealed class CalendarFacts(Installation here)
{
    [Fact]
    public async Task A_calendar_reads_under_the_link_alone_what_its_owner_may_see_until_it_is_revoked()
    {
        var (bell, vane) = (await here.SignIn("n.bell"), await here.SignIn("i.vane"));
        var links = new List<string>();
        foreach (var caller in new[] { bell, vane })
        {
            links.Add(new Uri((await caller.Post("/api/calendar", new { })).GetProperty("link").GetString()!).AbsolutePath);
        }

        using var nobody = new HttpClient { BaseAddress = bell.Http.BaseAddress };
        var (whole, part) = (await nobody.GetStringAsync(links[0]), await nobody.GetStringAsync(links[1]));
        Assert.StartsWith("BEGIN:VCALENDAR", whole);
        Assert.Contains("Storm desk 2023", whole);
        Assert.DoesNotContain("Storm desk 2023", part);
        Assert.All(whole.Split("\r\n"), line => Assert.True(System.Text.Encoding.UTF8.GetByteCount(line) <= 75, line));
        Assert.Equal(
            (await vane.Get("/api/deadlines")).GetProperty("days").GetArrayLength(),
            part.Split("BEGIN:VEVENT").Length - 1
        );

        // A new link replaces the first; once revoked, it answers 404.
        var next = new Uri((await bell.Post("/api/calendar", new { })).GetProperty("link").GetString()!).AbsolutePath;
        Assert.Equal(HttpStatusCode.NotFound, (await nobody.GetAsync(links[0])).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await nobody.GetAsync(next)).StatusCode);
        Assert.NotEqual(System.Text.Json.JsonValueKind.Null, (await bell.Get("/api/deadlines")).GetProperty("readAt").ValueKind);
        Assert.Equal(HttpStatusCode.OK, (await bell.Send(HttpMethod.Delete, "/api/calendar")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await nobody.GetAsync(next)).StatusCode);
        Assert.Equal(System.Text.Json.JsonValueKind.Null, (await bell.Get("/api/deadlines")).GetProperty("madeAt").ValueKind);
        Assert.Equal(
            "calendar.revoked",
            (await bell.Get("/api/journal?action=calendar.revoked")).GetProperty("entries")[0].GetProperty("action").GetString()
        );
        await vane.Send(HttpMethod.Delete, "/api/calendar");
    }

    [Fact]
    public async Task The_dates_of_a_site_are_those_of_the_calendar_with_the_last_days_of_its_own_owners()
    {
        await here.Quiet();
        var bell = await here.SignIn("n.bell");
        static string Words(System.Text.Json.JsonElement day) => $"{day.GetProperty("day")} {day.GetProperty("title")}";
        var days = (await bell.Get("/api/deadlines")).GetProperty("days").EnumerateArray().ToList();
        var ofSites = days.Where(day => day.GetProperty("site").ValueKind == System.Text.Json.JsonValueKind.Number)
            .ToLookup(day => day.GetProperty("site").GetInt64(), Words);
        Assert.NotEmpty(ofSites);
        foreach (var site in ofSites.Take(5))
        {
            var own = (await bell.Get($"/api/sites/{site.Key}/dates"))
                .EnumerateArray()
                .Where(day => day.GetProperty("site").ValueKind == System.Text.Json.JsonValueKind.Number);
            Assert.Equal(site, own.Select(Words));
        }

        // Ottoline Farrow is leaving: that is a deadline of each of her sites and of no other.
        var farrow = (
            await bell.Get($"/api/register?limit=3&where={Uri.EscapeDataString("owners.value:is:o.farrow@merrowby.example")}")
        )
            .GetProperty("lines")[0]
            .GetProperty("id")
            .GetInt64();
        Assert.Contains((await bell.Get($"/api/sites/{farrow}/dates")).EnumerateArray(), day =>
            day.GetProperty("title").GetString() == "Ottoline Farrow's last day"
        );
        var other = await here.NewSite("days", new StandIns.Slipway.SlipwayEntry("p:s0004", "own"));
        Assert.Equal(0, (await bell.Get($"/api/sites/{other}/dates")).GetArrayLength());
    }

    [Fact]
    public async Task A_link_that_does_not_exist_gives_nobody_access_and_no_hint()
    {
        using var nobody = new HttpClient { BaseAddress = (await here.SignIn("n.bell")).Http.BaseAddress };
        Assert.Equal(HttpStatusCode.NotFound, (await nobody.GetAsync("/calendar/not-a-token.ics")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await nobody.GetAsync("/api/deadlines")).StatusCode);
    }
}
