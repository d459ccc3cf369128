using System.Net;
using System.Text.Json;
using AtticLedger.Server.Guests;
using AtticLedger.StandIns.Slipway;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Guests: invited, stopped, sent by the product itself, seen at the front, reviewed and removed.</summary>
public class GuestFacts(Installation here)
{
    private static readonly DateOnly Through = DateOnly.FromDateTime(DateTime.UtcNow).AddDays(90);

    [Fact]
    public async Task An_invitation_waits_for_its_one_layer_goes_by_itself_and_ends_with_the_access()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("guest-waits", new SlipwayEntry("p:s0004", "own"));
        const string Mail = "mara.tove@tideworks.example";
        var request = Request(Mail);
        var plan = await Plan(bell, site, request);
        var advice = plan.GetProperty("advice").EnumerateArray().Select(one => one.GetString()!).ToList();
        Assert.Equal(2, advice.Count);
        Assert.Contains("a new guest from outside", advice[0]);
        Assert.Contains("Classification Guarded stops it", advice[1]);
        await Invite(bell, site, request, plan, "guest-1");

        await Runner.RunDue(CancellationToken.None);
        var waiting = await Only(bell, site);
        Assert.Equal("waiting", waiting.GetProperty("state").GetString());
        Assert.Contains("Guarded", Assert.Single(waiting.GetProperty("stoppedBy").EnumerateArray()).GetString());
        Assert.Equal(JsonValueKind.Null, waiting.GetProperty("guest").ValueKind);
        Assert.False(await here.Visits("guest-waits", Mail));
        Assert.Equal(
            "invited-already",
            (await bell.Send(HttpMethod.Post, $"/api/sites/{site}/invitations/plan", Request(Mail.ToUpperInvariant())))
                .Body.GetProperty("refused")[0]
                .GetProperty("code")
                .GetString()
        );

        Label("guest-waits", "Internal");
        await here.ReadSlipway();
        await Runner.RunDue(CancellationToken.None);
        await Runner.RunDue(CancellationToken.None);
        await Installation.Until(async () => await State(bell, site) == "sent", "the invitation is sent");
        Assert.Single(here.Slipway.Read(records => records.People.Values.Where(person => person.Mail == Mail).ToList()));

        Assert.True(await here.Visits("guest-waits", Mail));
        await here.ReadSlipway();
        await here.Quiet();
        Assert.Equal("accepted", await State(bell, site));
        var guest = await Guest(bell, Mail);
        Assert.Equal(1, guest.GetProperty("sites").GetInt32());
        Assert.Equal(Through.ToString("yyyy-MM-dd"), guest.GetProperty("through").GetString());
        Assert.Equal(
            "n.bell@merrowby.example",
            guest.GetProperty("sponsors")[0].GetProperty("person").GetProperty("mail").GetString()
        );

        var id = guest.GetProperty("person").GetProperty("id").GetInt64();
        var removal = (
            await bell.Send(HttpMethod.Post, $"/api/sites/{site}/remove-access/plan", new { person = id })
        ).Body.GetProperty("plan");
        await bell.Send(
            HttpMethod.Post,
            $"/api/sites/{site}/remove-access",
            new { person = id, fingerprint = removal.GetProperty("fingerprint").GetString() },
            "guest-removed"
        );
        await here.Quiet();
        Assert.False(await here.Visits("guest-waits", Mail));
        await Installation.Until(
            async () => (await Guest(bell, Mail)).GetProperty("sites").GetInt32() == 0,
            "the guest has nothing"
        );
        Assert.Equal("over", await State(bell, site));
    }

    [Fact]
    public async Task A_guest_who_is_still_needed_is_marked_as_reviewed_and_only_administrators_say_so()
    {
        var (bell, nair) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"));
        var guests = (await bell.Get("/api/guests?mark=not-reviewed")).GetProperty("guests").EnumerateArray().ToList();
        var id = guests[0].GetProperty("person").GetProperty("id").GetInt64();
        var mail = guests[0].GetProperty("person").GetProperty("mail").GetString()!;

        Assert.Equal(HttpStatusCode.Forbidden, (await Keep(nair, "keep-1")).Status);
        Assert.Equal(HttpStatusCode.OK, (await Keep(bell, "keep-2")).Status);

        var kept = await Guest(bell, mail);
        Assert.DoesNotContain("not-reviewed", kept.GetProperty("marks").EnumerateArray().Select(mark => mark.GetString()));
        Assert.Equal("n.bell@merrowby.example", kept.GetProperty("reviewedBy").GetProperty("mail").GetString());
        Assert.Equal(HttpStatusCode.BadRequest, (await bell.Send(HttpMethod.Get, "/api/guests?mark=lost")).Status);

        Task<(HttpStatusCode Status, JsonElement Body)> Keep(Caller caller, string key) =>
            caller.Send(HttpMethod.Post, $"/api/guests/{id}/keep", new { reason = "Surveys the locks" }, key);
    }

    [Fact]
    public async Task A_withdrawn_invitation_is_not_sent_and_one_that_was_sent_takes_its_access_back()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("guest-withdrawn", new SlipwayEntry("p:s0004", "own"));
        Label("guest-withdrawn", "Internal");
        await here.ReadSlipway();
        const string Mail = "oskar.lind@tideworks.example";
        await Invite(bell, site, Request(Mail), await Plan(bell, site, Request(Mail)), "withdraw-1");
        await Runner.RunDue(CancellationToken.None);
        await Installation.Until(async () => await State(bell, site) == "sent", "the invitation is sent");
        await here.ReadSlipway();
        await here.Quiet();

        var id = (await Only(bell, site)).GetProperty("id").GetGuid();
        var plan = (await bell.Send(HttpMethod.Post, $"/api/invitations/{id}/withdraw/plan")).Body.GetProperty("plan");
        var (status, _) = await bell.Send(
            HttpMethod.Post,
            $"/api/invitations/{id}/withdraw",
            new { fingerprint = plan.GetProperty("fingerprint").GetString() },
            "withdraw-2"
        );
        Assert.Equal(HttpStatusCode.OK, status);
        await here.Quiet();

        Assert.Equal("withdrawn", await State(bell, site));
        Assert.False(await here.Visits("guest-withdrawn", Mail));
        Assert.Equal(
            "invitation-not-open",
            (await bell.Send(HttpMethod.Post, $"/api/invitations/{id}/withdraw/plan"))
                .Body.GetProperty("refused")[0]
                .GetProperty("code")
                .GetString()
        );
    }

    [Fact]
    public async Task An_invitation_that_nobody_accepts_expires_with_its_access()
    {
        var bell = await here.SignIn("n.bell");
        var site = await here.NewSite("guest-expired", new SlipwayEntry("p:s0004", "own"));
        Label("guest-expired", "Internal");
        await here.ReadSlipway();
        const string Mail = "signe.moor@tideworks.example";
        await Invite(bell, site, Request(Mail), await Plan(bell, site, Request(Mail)), "expires-1");
        await Runner.RunDue(CancellationToken.None);
        await Installation.Until(async () => await State(bell, site) == "sent", "the invitation is sent");
        await here.Quiet();

        await here.Database.Change(async change =>
        {
            await using var past = change.Connection.CreateCommand();
            past.CommandText =
                "update host_change set confirmed_at = confirmed_at - interval '32 days' where id in (select change_id from invitation where mail = $1)";
            past.Parameters.AddWithValue(Mail);
            return await past.ExecuteNonQueryAsync();
        });

        // Slipway has not reported yet whether the guest has signed in.
        await Runner.RunDue(CancellationToken.None);
        Assert.Equal("sent", await State(bell, site));
        await here.ReadSlipway();
        await Runner.RunDue(CancellationToken.None);
        await here.Quiet();

        Assert.Equal("expired", await State(bell, site));
        Assert.False(await here.Visits("guest-expired", Mail));
    }

    private InvitationRunner Runner => here.Server.Services.GetRequiredService<InvitationRunner>();

    private static object Request(string mail) =>
        new
        {
            mail,
            power = "view",
            through = Through.ToString("yyyy-MM-dd"),
            reason = "Survey of the east quay",
        };

    private void Label(string slug, string label) =>
        here.Slipway.Edit(records => records.Sites[$"t-{slug}"] = records.Sites[$"t-{slug}"] with { Label = label });

    private static async Task<JsonElement> Plan(Caller caller, long site, object request)
    {
        var (_, answer) = await caller.Send(HttpMethod.Post, $"/api/sites/{site}/invitations/plan", request);
        Assert.True(answer.GetProperty("plan").ValueKind == JsonValueKind.Object, answer.ToString());
        return answer.GetProperty("plan");
    }

    private static async Task Invite(Caller caller, long site, object request, JsonElement plan, string key)
    {
        var body = JsonSerializer.SerializeToNode(request)!.AsObject();
        body["fingerprint"] = plan.GetProperty("fingerprint").GetString();
        Assert.Equal(HttpStatusCode.OK, (await caller.Send(HttpMethod.Post, $"/api/sites/{site}/invitations", body, key)).Status);
    }

    private static async Task<JsonElement> Only(Caller caller, long site) =>
        Assert.Single((await caller.Get($"/api/sites/{site}/invitations")).EnumerateArray());

    private static async Task<string?> State(Caller caller, long site) =>
        (await Only(caller, site)).GetProperty("state").GetString();

    private static async Task<JsonElement> Guest(Caller caller, string mail) =>
        Assert.Single(
            (await caller.Get($"/api/guests?text={Uri.EscapeDataString(mail)}")).GetProperty("guests").EnumerateArray()
        );
}
