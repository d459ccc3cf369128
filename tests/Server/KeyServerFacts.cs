using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Keys handed over through the whole installation, with real mail and a real host; and links that are misused.</summary>
public class KeyServerFacts(Installation here)
{
    private const string Brandt = "k.brandt";

    [Fact]
    public async Task A_key_goes_to_somebody_who_signs_in_for_the_first_time_and_both_have_the_receipt()
    {
        var site = await here.NewSite("key-one", new SlipwayEntry("p:s0004", "own"), new SlipwayEntry("team:PIL", "read"));
        var (vane, offer) = await Offer(site, Brandt);
        var mail = await here.MailTo(Brandt, "The key of Test key-one is offered to you");
        Assert.Contains("Before you sign in for the first time", mail.Text, StringComparison.Ordinal);
        Assert.Contains("href=", mail.Html, StringComparison.Ordinal);
        var brandt = await here.SignInThrough(Brandt, mail);

        // The recipient sees the one site they are offered, and none of its folio.
        Assert.Equal("Test key-one", (await brandt.Get("/api/yours")).GetProperty("offers")[0].GetProperty("title").GetString());
        Assert.Equal(HttpStatusCode.NotFound, (await brandt.Send(HttpMethod.Get, $"/api/sites/{site}")).Status);
        var look = await brandt.Get($"/api/offers/{offer}");
        var fingerprint = look.GetProperty("plan").GetProperty("fingerprint").GetString();

        // Another effect than the one that was seen is not carried out.
        await brandt.Post($"/api/offers/{offer}/countersign", new { fingerprint = "another" }, HttpStatusCode.Conflict);
        var order = (
            await brandt.Post(
                $"/api/offers/{offer}/countersign",
                new { fingerprint, link = mail.Token("Look at the offer and answer it") }
            )
        )
            .GetProperty("order")
            .GetGuid();
        await Installation.Until(
            async () => (await brandt.Get($"/api/offers/{offer}")).GetProperty("state").GetString() == "handed-over",
            "the key is switched"
        );

        Assert.Equal(
            ["p:s0009 own", "team:PIL read"],
            here.Slipway.Read(records => records.Sites["t-key-one"].Entries.Select(entry => $"{entry.Entry} {entry.Role}"))
        );
        await Installation.Until(async () => await brandt.StateOf(site, order) == "seen", "the switch is seen");
        Assert.Equal(HttpStatusCode.NotFound, (await vane.Send(HttpMethod.Get, $"/api/sites/{site}")).Status);
        await here.MailTo(Brandt, "Kester Brandt holds the key of Test key-one now.");
        await here.MailTo("i.vane", "Idris Vane: own before, nothing after.");
        var deeds = (await (await here.SignIn("n.bell")).Get($"/api/journal?site={site}"))
            .GetProperty("entries")
            .EnumerateArray()
            .Select(entry => entry.GetProperty("deed").GetString()!)
            .Where(deed => deed.StartsWith("key.", StringComparison.Ordinal));
        Assert.Equal(["key.handed-over", "key.countersigned", "key.offered"], deeds);
    }

    [Fact]
    public async Task A_link_works_once_for_its_person_until_its_end_and_every_refusal_is_written_down()
    {
        var site = await here.NewSite("key-links", new SlipwayEntry("p:s0004", "own"));
        var (_, offer) = await Offer(site, "t.aske");
        var token = (await here.MailTo("t.aske", "The key of Test key-links is offered to you")).Token(
            "Look at the offer and answer it"
        );
        var (aske, bell) = (await here.SignIn("t.aske"), await here.SignIn("n.bell"));

        var before = (await Refused()).Count;

        // A scanner's GET changes nothing, however often it comes.
        using var scanner = new HttpClient { BaseAddress = here.Address };
        for (var times = 0; times < 3; times++)
        {
            Assert.Equal(
                "offer",
                (await scanner.GetFromJsonAsync<JsonElement>($"/api/links/{token}")).GetProperty("purpose").GetString()
            );
        }

        Assert.Equal(HttpStatusCode.Forbidden, (await scanner.PostAsync($"/api/links/{token}/open", null)).StatusCode);

        // Somebody else, an altered one, and an answer through a stranger's link.
        Assert.Equal(HttpStatusCode.Conflict, (await bell.Send(HttpMethod.Post, $"/api/links/{token}/open")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await aske.Send(HttpMethod.Post, $"/api/links/{token[..^2]}xx/open")).Status);
        var vanes = (await here.MailTo("t.aske", "key-links")).Token("Look at the offer and answer it");
        Assert.Equal(token, vanes);
        await aske.Post($"/api/offers/{offer}/decline", new { link = $"{token[..^2]}xx" }, HttpStatusCode.NotFound);
        Assert.Equal("offered", (await aske.Get($"/api/offers/{offer}")).GetProperty("state").GetString());

        // Its own person opens it as often as they like; acting uses it up.
        Assert.Equal($"{offer}", (await aske.Post($"/api/links/{token}/open", new { })).GetProperty("subject").GetString());
        await aske.Post($"/api/links/{token}/open", new { });
        await aske.Post($"/api/offers/{offer}/decline", new { reason = "too much to do", link = token });
        var again = await aske.Send(HttpMethod.Post, $"/api/links/{token}/open");
        Assert.Equal(
            (HttpStatusCode.Gone, "This link was used before."),
            (again.Status, again.Body.GetProperty("title").GetString())
        );
        Assert.Equal(HttpStatusCode.Gone, (await scanner.GetAsync($"/api/links/{token}")).StatusCode);

        Assert.Equal(
            [
                ("Nora Bell", "The link was sent to somebody else."),
                ("Tomas Aske", "No such link was sent."),
                ("Tomas Aske", "No such link was sent."),
                ("Tomas Aske", "The link was used before."),
            ],
            (await Refused()).Skip(before)
        );

        async Task<List<(string?, string?)>> Refused() =>
            [
                .. (await bell.Get("/api/journal?deed=link.refused&limit=200"))
                    .GetProperty("entries")
                    .EnumerateArray()
                    .Reverse()
                    .Select(entry => (entry.GetProperty("actor").GetString(), entry.GetProperty("reason").GetString())),
            ];
    }

    [Fact]
    public async Task A_password_link_is_single_use_ends_other_links_and_sessions_and_tells_strangers_nothing()
    {
        using var anyone = new HttpClient { BaseAddress = here.Address, DefaultRequestHeaders = { { "X-Attic-Ledger", "1" } } };
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await anyone.PostAsJsonAsync("/api/session/link", new { mail = "nobody@merrowby.example" })).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await anyone.PostAsJsonAsync("/api/session/link", new { mail = "p.lund@merrowby.example" })).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await anyone.PostAsJsonAsync("/api/session/link", new { mail = "c.marsh@merrowby.example" })).StatusCode
        );
        var mail = await here.MailTo("c.marsh", "Choose a password");
        Assert.Empty(here.Mailbox.To("nobody@merrowby.example"));
        Assert.Empty(here.Mailbox.To("p.lund@merrowby.example"));

        var token = mail.Token("Choose a password");
        var tooShort = await anyone.PostAsJsonAsync($"/api/links/{token}/password", new { password = "short" });
        Assert.Equal((HttpStatusCode)422, tooShort.StatusCode);
        var marsh = await here.SignInThrough("c.marsh", mail);
        Assert.Equal("owner", (await marsh.Get("/api/session")).GetProperty("role").GetString());
        Assert.Equal(
            HttpStatusCode.Gone,
            (await anyone.PostAsJsonAsync($"/api/links/{token}/password", new { password = "another long one" })).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await anyone.PostAsJsonAsync($"/api/links/{token}x/password", new { password = "another long one" })).StatusCode
        );
        Assert.Contains(
            (await (await here.SignIn("n.bell")).Get("/api/journal?deed=link.refused&limit=20"))
                .GetProperty("entries")
                .EnumerateArray(),
            entry =>
                entry.GetProperty("actor").GetString() == "anonymous"
                && entry.GetProperty("reason").GetString() == "The link was used before."
        );
    }

    [Fact]
    public async Task The_giver_confirms_afresh_and_an_administrator_needs_another_one_who_did_not_ask()
    {
        var site = await here.NewSite("key-orphan", new SlipwayEntry("p:s0007", "own"));
        var (bell, aske) = (await here.SignIn("n.bell"), await here.SignIn("t.aske"));
        var (to, giver) = (await Person(bell, site, Brandt), await Person(bell, site, "p.lund"));
        var wish = new
        {
            to,
            giver,
            after = "leaves",
            reason = "left in spring",
        };
        var fingerprint = await bell.Plan($"/api/sites/{site}/offer/plan", wish);
        await bell.Post(
            $"/api/sites/{site}/offer",
            new
            {
                wish.to,
                wish.giver,
                wish.after,
                wish.reason,
                fingerprint,
                password = "guessed",
            },
            HttpStatusCode.UnprocessableEntity
        );

        var approval = (
            await bell.Post(
                $"/api/sites/{site}/offer",
                new
                {
                    wish.to,
                    wish.giver,
                    wish.after,
                    wish.reason,
                    fingerprint,
                    password = Installation.Password,
                }
            )
        ).GetProperty("approval").GetGuid();
        Assert.Equal(
            0,
            (await bell.Get($"/api/keys"))
                .GetProperty("lines")
                .EnumerateArray()
                .Count(line =>
                    line.GetProperty("site").GetInt64() == site && line.GetProperty("asked").ValueKind == JsonValueKind.Object
                )
        );
        var seen = (await bell.Get($"/api/approvals/{approval}")).GetProperty("plan").GetProperty("fingerprint").GetString();
        await bell.Post($"/api/approvals/{approval}/give", new { fingerprint = seen }, HttpStatusCode.UnprocessableEntity);

        // The facts change meanwhile: nothing is done, and it is asked anew.
        here.Slipway.SetSharing(
            "t-key-orphan",
            null,
            [
                new System.Text.Json.Nodes.JsonObject { ["entry"] = "p:s0007", ["role"] = "run" },
                new System.Text.Json.Nodes.JsonObject { ["entry"] = "p:s0004", ["role"] = "read" },
            ],
            DateTimeOffset.UtcNow
        );
        here.Slipway.SetSharing(
            "t-key-orphan",
            null,
            [
                new System.Text.Json.Nodes.JsonObject { ["entry"] = "p:s0007", ["role"] = "own" },
                new System.Text.Json.Nodes.JsonObject { ["entry"] = "p:s0009", ["role"] = "edit" },
            ],
            DateTimeOffset.UtcNow
        );
        await here.ReadSlipway();
        await aske.Post($"/api/approvals/{approval}/give", new { fingerprint = seen }, HttpStatusCode.Conflict);
        var anew = await aske.Get($"/api/approvals/{approval}");
        Assert.Equal(("asked", 1), (anew.GetProperty("state").GetString(), anew.GetProperty("renewed").GetInt32()));
        var done = await aske.Post(
            $"/api/approvals/{approval}/give",
            new { fingerprint = anew.GetProperty("plan").GetProperty("fingerprint").GetString() }
        );
        var offer = (await aske.Get($"/api/offers/{done.GetProperty("offer").GetGuid()}"));
        Assert.Equal(
            ("offered", "Tomas Aske"),
            (offer.GetProperty("state").GetString(), offer.GetProperty("second").GetProperty("name").GetString())
        );
        await aske.Post($"/api/approvals/{approval}/give", new { fingerprint = seen }, HttpStatusCode.UnprocessableEntity);
    }

    private async Task<(Caller Vane, Guid Offer)> Offer(long site, string to)
    {
        var vane = await here.SignIn("i.vane");
        var me = (await vane.Get("/api/yours")).GetProperty("person").GetInt64();
        var wish = new
        {
            to = await Person(vane, site, to),
            giver = (long?)me,
            after = "leaves",
        };
        var fingerprint = await vane.Plan($"/api/sites/{site}/offer/plan", wish);
        var done = await vane.Post(
            $"/api/sites/{site}/offer",
            new
            {
                wish.to,
                wish.giver,
                wish.after,
                fingerprint,
                password = Installation.Password,
            }
        );
        return (vane, done.GetProperty("offer").GetGuid());
    }

    private static async Task<long> Person(Caller caller, long site, string who) =>
        (await caller.Get($"/api/sites/{site}/successors?find={who}@"))
            .GetProperty("candidates")[0]
            .GetProperty("person")
            .GetProperty("id")
            .GetInt64();
}
