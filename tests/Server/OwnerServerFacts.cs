using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Handovers through the whole installation, with real mail and a real host, and misused links.</summary>
public class OwnerServerFacts(Installation here)
{
    private const string Brandt = "k.brandt";

    [Fact]
    public async Task An_administrator_adds_a_second_owner_and_the_first_one_stays_and_is_told()
    {
        var site = await here.NewSite("key-two", new SlipwayEntry("p:s0004", "own"));
        var (bell, aske) = (await here.SignIn("n.bell"), await here.SignIn("t.aske"));
        var request = new
        {
            to = await Person(bell, site, "t.aske"),
            after = "owns",
            reason = "one owner is too few",
        };
        var fingerprint = await bell.Plan($"/api/sites/{site}/offer/plan", request);
        var offer = (
            await bell.Post(
                $"/api/sites/{site}/offer",
                new
                {
                    request.to,
                    request.after,
                    request.reason,
                    password = Installation.Password,
                    fingerprint,
                }
            )
        ).GetProperty("offer").GetGuid();
        await here.MailTo("i.vane", "Tomas Aske is asked to own Test key-two too");
        Assert.Equal("single", await StateOf(bell, site));

        var seen = (await aske.Get($"/api/offers/{offer}")).GetProperty("plan").GetProperty("fingerprint").GetString();
        await aske.Post($"/api/offers/{offer}/accept", new { fingerprint = seen });
        await Installation.Until(
            async () => (await aske.Get($"/api/offers/{offer}")).GetProperty("state").GetString() == "handed-over",
            "there is a second owner"
        );

        var entries = here.Slipway.Read(records => records.Sites["t-key-two"].Entries.ToList());
        Assert.Contains(new SlipwayEntry("p:s0004", "own"), entries);
        Assert.Equal(2, entries.Count(entry => entry.Role == "own"));
        await Installation.Until(async () => await StateOf(bell, site) is null, "it has two active owners");
    }

    // Null for a site with two active owners, which the page leaves out.
    private static async Task<string?> StateOf(Caller caller, long site) =>
        (await caller.Get("/api/owners"))
            .GetProperty("lines")
            .EnumerateArray()
            .Where(line => line.GetProperty("site").GetInt64() == site)
            .Select(line => line.GetProperty("state").GetString())
            .FirstOrDefault();

    [Fact]
    public async Task A_handover_to_somebody_who_signs_in_for_the_first_time_gives_both_a_receipt()
    {
        var site = await here.NewSite("key-one", new SlipwayEntry("p:s0004", "own"), new SlipwayEntry("team:PIL", "read"));
        var (vane, offer) = await Offer(site, Brandt);
        var mail = await here.MailTo(Brandt, "Test key-one is offered to you");
        Assert.Contains("Before you sign in for the first time", mail.Text, StringComparison.Ordinal);
        Assert.Contains("href=", mail.Html, StringComparison.Ordinal);
        var brandt = await here.SignInThrough(Brandt, mail);

        // The recipient sees the offered site, but not its site page.
        Assert.Equal(
            "Test key-one",
            (await brandt.Get("/api/your-sites")).GetProperty("offers")[0].GetProperty("title").GetString()
        );
        Assert.Equal(HttpStatusCode.NotFound, (await brandt.Send(HttpMethod.Get, $"/api/sites/{site}")).Status);
        var look = await brandt.Get($"/api/offers/{offer}");
        var fingerprint = look.GetProperty("plan").GetProperty("fingerprint").GetString();

        // An effect that differs from the plan is not carried out.
        await brandt.Post($"/api/offers/{offer}/accept", new { fingerprint = "another" }, HttpStatusCode.Conflict);
        var order = (
            await brandt.Post(
                $"/api/offers/{offer}/accept",
                new { fingerprint, link = mail.Token("Review the offer and answer it") }
            )
        )
            .GetProperty("hostChange")
            .GetGuid();
        await Installation.Until(
            async () => (await brandt.Get($"/api/offers/{offer}")).GetProperty("state").GetString() == "handed-over",
            "the handover is completed"
        );

        Assert.Equal(
            ["p:s0009 own", "team:PIL read"],
            here.Slipway.Read(records => records.Sites["t-key-one"].Entries.Select(entry => $"{entry.Entry} {entry.Role}"))
        );
        await Installation.Until(async () => await brandt.StateOf(site, order) == "verified", "the switch is seen");
        Assert.Equal(HttpStatusCode.NotFound, (await vane.Send(HttpMethod.Get, $"/api/sites/{site}")).Status);
        await here.MailTo(Brandt, "Kester Brandt now owns Test key-one.");
        await here.MailTo("i.vane", "Idris Vane: own before, nothing after.");
        var actions = (await (await here.SignIn("n.bell")).Get($"/api/journal?site={site}"))
            .GetProperty("entries")
            .EnumerateArray()
            .Select(entry => entry.GetProperty("action").GetString()!)
            .Where(action => action.StartsWith("owner.", StringComparison.Ordinal));
        Assert.Equal(["owner.handed-over", "owner.accepted", "owner.offered"], actions);
    }

    [Fact]
    public async Task A_link_works_once_for_its_person_until_its_end_and_every_refusal_is_written_down()
    {
        var site = await here.NewSite("key-links", new SlipwayEntry("p:s0004", "own"));
        var (_, offer) = await Offer(site, "t.aske");
        var token = (await here.MailTo("t.aske", "Test key-links is offered to you")).Token("Review the offer and answer it");
        var (aske, bell) = (await here.SignIn("t.aske"), await here.SignIn("n.bell"));

        var before = (await Refused()).Count;

        // A mail scanner's GET changes nothing, however often it is repeated.
        using var scanner = new HttpClient { BaseAddress = here.Address };
        for (var times = 0; times < 3; times++)
        {
            Assert.Equal(
                "offer",
                (await scanner.GetFromJsonAsync<JsonElement>($"/api/links/{token}")).GetProperty("purpose").GetString()
            );
        }

        Assert.Equal(HttpStatusCode.Forbidden, (await scanner.PostAsync($"/api/links/{token}/open", null)).StatusCode);

        // Another person, an altered link, and an answer through a link for somebody else.
        Assert.Equal(HttpStatusCode.Conflict, (await bell.Send(HttpMethod.Post, $"/api/links/{token}/open")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await aske.Send(HttpMethod.Post, $"/api/links/{token[..^2]}xx/open")).Status);
        var vanes = (await here.MailTo("t.aske", "key-links")).Token("Review the offer and answer it");
        Assert.Equal(token, vanes);
        await aske.Post($"/api/offers/{offer}/decline", new { link = $"{token[..^2]}xx" }, HttpStatusCode.NotFound);
        Assert.Equal("offered", (await aske.Get($"/api/offers/{offer}")).GetProperty("state").GetString());

        // The person it is for can open it any number of times; the action uses it up.
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
                ("Nora Bell", "The link is for another person."),
                ("Tomas Aske", "No such link was sent."),
                ("Tomas Aske", "No such link was sent."),
                ("Tomas Aske", "The link was used before."),
            ],
            (await Refused()).Skip(before)
        );

        async Task<List<(string?, string?)>> Refused() =>
            [
                .. (await bell.Get("/api/journal?action=link.refused&limit=200"))
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
            (await (await here.SignIn("n.bell")).Get("/api/journal?action=link.refused&limit=20"))
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
        var (to, currentOwner) = (await Person(bell, site, Brandt), await Person(bell, site, "p.lund"));
        var request = new
        {
            to,
            currentOwner,
            after = "leaves",
            reason = "left in spring",
        };
        var fingerprint = await bell.Plan($"/api/sites/{site}/offer/plan", request);
        await bell.Post(
            $"/api/sites/{site}/offer",
            new
            {
                request.to,
                request.currentOwner,
                request.after,
                request.reason,
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
                    request.to,
                    request.currentOwner,
                    request.after,
                    request.reason,
                    fingerprint,
                    password = Installation.Password,
                }
            )
        ).GetProperty("approval").GetGuid();
        Assert.Equal(
            0,
            (await bell.Get($"/api/owners"))
                .GetProperty("lines")
                .EnumerateArray()
                .Count(line =>
                    line.GetProperty("site").GetInt64() == site && line.GetProperty("offered").ValueKind == JsonValueKind.Object
                )
        );
        var seen = (await bell.Get($"/api/approvals/{approval}")).GetProperty("plan").GetProperty("fingerprint").GetString();
        await bell.Post($"/api/approvals/{approval}/approve", new { fingerprint = seen }, HttpStatusCode.UnprocessableEntity);

        // The facts change meanwhile: nothing is done, and the approval waits again.
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
        await aske.Post($"/api/approvals/{approval}/approve", new { fingerprint = seen }, HttpStatusCode.Conflict);
        var anew = await aske.Get($"/api/approvals/{approval}");
        Assert.Equal(("requested", 1), (anew.GetProperty("state").GetString(), anew.GetProperty("renewed").GetInt32()));
        var done = await aske.Post(
            $"/api/approvals/{approval}/approve",
            new { fingerprint = anew.GetProperty("plan").GetProperty("fingerprint").GetString() }
        );
        var offer = (await aske.Get($"/api/offers/{done.GetProperty("offer").GetGuid()}"));
        Assert.Equal(
            ("offered", "Tomas Aske"),
            (offer.GetProperty("state").GetString(), offer.GetProperty("second").GetProperty("name").GetString())
        );
        await aske.Post($"/api/approvals/{approval}/approve", new { fingerprint = seen }, HttpStatusCode.UnprocessableEntity);
    }

    private async Task<(Caller Vane, Guid Offer)> Offer(long site, string to)
    {
        var vane = await here.SignIn("i.vane");
        var me = (await vane.Get("/api/your-sites")).GetProperty("person").GetInt64();
        var request = new
        {
            to = await Person(vane, site, to),
            currentOwner = (long?)me,
            after = "leaves",
        };
        var fingerprint = await vane.Plan($"/api/sites/{site}/offer/plan", request);
        var done = await vane.Post(
            $"/api/sites/{site}/offer",
            new
            {
                request.to,
                request.currentOwner,
                request.after,
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
