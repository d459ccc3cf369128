using System.Net;
using System.Net.Http.Json;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

public class SignInFacts(Installation here)
{
    [Fact]
    public async Task An_unknown_address_and_a_wrong_password_look_the_same()
    {
        var unknown = await Try("nobody-at-all@merrowby.example", "x");
        var wrong = await Try("g.sollis@merrowby.example", "x");

        Assert.Equal(HttpStatusCode.Unauthorized, unknown.StatusCode);
        Assert.Equal(unknown.StatusCode, wrong.StatusCode);
        Assert.Equal(Title(await unknown.Content.ReadAsStringAsync()), Title(await wrong.Content.ReadAsStringAsync()));
    }

    [Fact]
    public async Task Signing_in_is_throttled_whether_or_not_there_is_such_an_account()
    {
        foreach (var mail in new[] { "ghost@merrowby.example", "k.brandt@merrowby.example" })
        {
            // A pause of a second may be over before a slow machine tries again; the pauses grow, so one is met.
            var (tries, throttled) = (0, await Try(mail, "wrong"));
            for (; throttled.StatusCode == HttpStatusCode.Unauthorized; tries++)
            {
                throttled = await Try(mail, "wrong");
            }

            Assert.True(tries >= SignIn.FreeOfMail, $"{tries} attempts were free.");
            Assert.Equal(HttpStatusCode.TooManyRequests, throttled.StatusCode);
            Assert.InRange(throttled.Headers.RetryAfter!.Delta!.Value.TotalSeconds, 1, 60);
        }
    }

    [Fact]
    public async Task A_revoked_session_ends_at_once_its_event_stream_included()
    {
        var one = await here.SignIn("t.aske");
        var other = await here.SignIn("t.aske");
        using var stream = await one.Http.GetStreamAsync("/api/events");
        using var reader = new StreamReader(stream);
        Assert.StartsWith("data:", await reader.ReadLineAsync());

        var id = (await one.Get("/api/sessions"))
            .EnumerateArray()
            .Single(session => session.GetProperty("isThis").GetBoolean())
            .GetProperty("id")
            .GetGuid();
        Assert.Equal(HttpStatusCode.OK, (await other.Send(HttpMethod.Delete, $"/api/sessions/{id}")).Status);

        Assert.Equal(HttpStatusCode.Unauthorized, (await one.Send(HttpMethod.Get, "/api/session")).Status);
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        while (await reader.ReadLineAsync(patience.Token) is not null)
        {
            // A request that was under way before the session ended.
        }
    }

    [Fact]
    public async Task A_change_without_our_header_is_refused_and_written_down()
    {
        var bell = await here.SignIn("n.bell");
        bell.Http.DefaultRequestHeaders.Remove(ForgeryGuard.Header);
        Assert.Equal(HttpStatusCode.Forbidden, (await bell.Send(HttpMethod.Post, "/api/sources/Slipway/sync")).Status);

        Assert.Equal(["POST /api/sources/Slipway/sync 1 no forgery header"], await RefusedRequests(bell));
    }

    [Fact]
    public async Task What_a_policy_refuses_is_written_down_and_refused_sign_ins_are_gathered_by_the_minute()
    {
        var sollis = await here.SignIn("g.sollis");
        Assert.Equal(HttpStatusCode.Forbidden, (await sollis.Send(HttpMethod.Post, "/api/sources/Slipway/sync")).Status);
        Assert.Equal(["POST /api/sources/Slipway/sync 1 not allowed by the endpoint's policy"], await RefusedRequests(sollis));

        // On a database of its own, where nobody else fails to sign in, with a clock that is moved by a minute.
        var clock = new MovedClock();
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), clock);
        var signIn = new SignIn(database);
        await signIn.Try("a@merrowby.example", "x", new("caller", null, ""));
        await signIn.Try("b@merrowby.example", "x", new("caller", null, ""));
        clock.Move(TimeSpan.FromMinutes(1));
        var refusals = new Refusals(database);
        await refusals.Gather();
        await refusals.Gather();
        var entry = Assert.Single(await database.Read(connection => connection.Journal(new JournalQuery(null, null, null, 10))));
        Assert.Contains("\"count\":\"2\"", entry.Text);
    }

    [Fact]
    public async Task A_hundred_refused_requests_in_a_minute_are_one_entry()
    {
        var clock = new MovedClock();
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), clock);
        var (account, person) = await database.Change(async change =>
        {
            var person = await change.AddPerson(
                new(
                    default,
                    Core.People.PersonKind.Staff,
                    "Greta Sollis",
                    "g.sollis@merrowby.example",
                    Core.People.Standing.Current,
                    null,
                    Core.Terms.Known<Core.Terms.UnitCode>.None
                )
            );
            await change.PutAccount(person, Role.Auditor, null, null);
            return ((await change.Connection.AccountOf(person))!.Id, person);
        });
        for (var i = 0; i < 100; i++)
        {
            await database.Change(change => change.AddRefusal(account, person, "not allowed", "POST", $"/api/accounts/{i}"));
        }

        var refusals = new Refusals(database);
        await refusals.Gather();
        Assert.Empty(await database.Read(connection => connection.Journal(new JournalQuery(null, null, null, 10))));
        clock.Move(TimeSpan.FromMinutes(1));

        // Whoever is removed meanwhile does not take their attempts along.
        await database.Change(change => change.RemoveAccount(account));
        await refusals.Gather();
        await refusals.Gather();
        var entry = Assert.Single(await database.Read(connection => connection.Journal(new JournalQuery(null, null, null, 10))));
        Assert.Contains("\"count\":\"100\"", entry.Text);
        Assert.Contains("/api/accounts/0", entry.Text);
    }

    // What is counted for an account and not gathered into the journal yet.
    private async Task<List<string>> RefusedRequests(Caller who)
    {
        var mail = (await who.Get("/api/session")).GetProperty("mail").GetString()!;
        var account = (await here.Database.Read(connection => connection.AccountByMail(mail)))!.Id;
        await using var command = here.Database.Source.CreateCommand(
            "select method || ' ' || path || ' ' || sum(count) || ' ' || reason from refused_request where account = $1 group by method, path, reason"
        );
        command.Parameters.Add(new() { Value = account });
        await using var rows = await command.ExecuteReaderAsync();
        List<string> found = [];
        while (await rows.ReadAsync())
        {
            found.Add(rows.GetString(0));
        }

        return found;
    }

    [Theory]
    [InlineData("{}")]
    [InlineData("{\"mail\":null,\"password\":\"x\"}")]
    [InlineData("{\"mail\":\"a")]
    [InlineData("[]")]
    public async Task A_request_that_cannot_be_read_is_a_bad_one(string body)
    {
        using var content = new StringContent(body, System.Text.Encoding.UTF8, "application/json");
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await new Caller(here.Address).Http.PostAsync("/api/session", content)).StatusCode
        );
    }

    [Fact]
    public async Task What_the_database_cannot_hold_is_no_mail_address_and_is_refused_in_a_link()
    {
        Assert.Equal(HttpStatusCode.Unauthorized, (await Try("a\0b@merrowby.example", "x")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await Try(new string('a', 100_000), "x")).StatusCode);

        // In an address it is refused by name, with the headers of every page.
        using var answer = await (await here.SignIn("n.bell")).Http.GetAsync(
            new Uri("/api/journal?action=%00", UriKind.Relative)
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("NUL", await answer.Content.ReadAsStringAsync());
        Assert.True(answer.Headers.Contains("Content-Security-Policy"));
    }

    [Fact]
    public async Task An_address_that_is_too_long_is_answered_with_a_sentence()
    {
        var bell = await here.SignIn("n.bell");
        var filter = Uri.EscapeDataString(string.Join(" or ", Enumerable.Range(0, 800).Select(number => $"id eq {number}")));
        var (status, answer) = await bell.Send(HttpMethod.Get, $"/api/register?filter={filter}");
        Assert.Equal(HttpStatusCode.RequestUriTooLong, status);
        Assert.Contains("the maximum is 8000", answer.GetProperty("title").GetString());
    }

    [Fact]
    public async Task Pages_come_with_a_strict_content_policy()
    {
        using var http = new HttpClient { BaseAddress = here.Address };
        using var answer = await http.GetAsync("/health");
        var policy = string.Join("", answer.Headers.GetValues("Content-Security-Policy"));

        Assert.Equal(
            [
                "base-uri 'none'",
                "connect-src 'self'",
                "default-src 'none'",
                "font-src 'self'",
                "form-action 'self'",
                "frame-ancestors 'none'",
                "img-src 'self' data:",
                "script-src 'self'",
                "style-src 'self'",
            ],
            policy.Split("; ").Order(StringComparer.Ordinal)
        );
        Assert.Equal("nosniff", Assert.Single(answer.Headers.GetValues("X-Content-Type-Options")));
    }

    private async Task<HttpResponseMessage> Try(string mail, string password) =>
        await new Caller(here.Address).Http.PostAsJsonAsync("/api/session", new { mail, password });

    private static string? Title(string body) =>
        System.Text.Json.JsonDocument.Parse(body).RootElement.GetProperty("title").GetString();

    private sealed class MovedClock : TimeProvider
    {
        private TimeSpan moved;

        public void Move(TimeSpan by) => moved += by;

        public override DateTimeOffset GetUtcNow() => base.GetUtcNow() + moved;
    }
}
