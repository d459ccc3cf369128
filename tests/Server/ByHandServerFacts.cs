using System.Net;
using System.Text.Json;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Days;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Orders that people carry out, at a host without a writer, over HTTP.</summary>
public sealed class ByHandServerFacts(Installation installation) : HandKeptHost(installation)
{
    [Fact]
    public async Task An_order_is_given_done_with_proof_and_seen_by_the_next_list()
    {
        // Other servers, some of them with clocks ahead, have written to her of such orders.
        var older = here.Mailbox.To("t.aske@merrowby.example").Select(one => one.Id).ToHashSet();
        var (site, order) = await Narrow();
        var given = await bell.Get($"/api/by-hand/{order}");
        Assert.Equal(
            ["Open Tide tables.", "Take them off."],
            given.GetProperty("steps").EnumerateArray().Select(step => step.GetString())
        );
        Assert.Equal("t.aske@merrowby.example", given.GetProperty("line").GetProperty("to").GetProperty("mail").GetString());
        Assert.Equal(1, (await bell.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("underWay").GetInt32());

        // The letter's link leads there, for the one who has it.
        StandIns.Mail.KeptMail? mail = null;
        await Installation.Until(
            async () =>
            {
                await server.Services.GetRequiredService<Mail.MailRoom>().SendDue(CancellationToken.None);
                mail = here
                    .Mailbox.To("t.aske@merrowby.example")
                    .FirstOrDefault(one =>
                        !older.Contains(one.Id) && one.Text.Contains("To do at Foreshore: Tide tables", StringComparison.Ordinal)
                    );
                return mail is not null;
            },
            "Aske has a mail about it"
        );

        // Vane sees the order of his site and cannot say that it is done; Aske needs something to show.
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        var link = await aske.Post($"/api/links/{mail!.Token("Look at what is to be done")}/open", new { });
        Assert.Equal(("by-hand", order), (link.GetProperty("purpose").GetString(), link.GetProperty("subject").GetString()));
        await vane.Post($"/api/by-hand/{order}/done", new { proof = "sure" }, HttpStatusCode.UnprocessableEntity);
        await aske.Post($"/api/by-hand/{order}/done", new { }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Picture(aske, order, "no picture"u8.ToArray())).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Picture(aske, order, Png)).StatusCode);
        Assert.Equal(Png, await (await bell.Http.GetAsync($"/api/by-hand/{order}/picture")).Content.ReadAsByteArrayAsync());
        Assert.Equal("confirmed", State(await aske.Post($"/api/by-hand/{order}/done", new { proof = (string?)null })));
        await aske.Post($"/api/by-hand/{order}/done", new { proof = "again" }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal(0, (await bell.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("underWay").GetInt32());

        var plan = await Take(Head + Tide.Replace("staff; passers-by", "staff") + Wrecks);
        Assert.True(plan.GetProperty("orders")[0].GetProperty("isSo").GetBoolean());
        Assert.Equal("seen", State(await bell.Get($"/api/by-hand/{order}")));
    }

    [Fact]
    public async Task Done_but_not_so_goes_back_with_the_difference_and_a_second_person_can_see_it()
    {
        var (_, order) = await Narrow();
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        Assert.Equal(HttpStatusCode.OK, (await Picture(aske, order, Png)).StatusCode);
        await aske.Post($"/api/by-hand/{order}/done", new { });

        // A list from before it was done says nothing of it.
        var before = Uri.EscapeDataString(DateTimeOffset.UtcNow.AddHours(-1).ToString("O"));
        Assert.Equal(0, (await Take(Head + Tide + Wrecks, $"&asOf={before}")).GetProperty("orders").GetArrayLength());
        Assert.Equal("confirmed", State(await bell.Get($"/api/by-hand/{order}")));

        await Take(Head + Tide + Wrecks);
        var back = await aske.Get($"/api/by-hand/{order}");
        Assert.Equal(("sent", 1), (State(back), back.GetProperty("line").GetProperty("returned").GetInt32()));
        Assert.EndsWith("says otherwise: Passers-by can still view.", back.GetProperty("words").GetString());

        // The picture from before shows nothing of what was done since.
        var again = await aske.Post($"/api/by-hand/{order}/done", new { }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal(
            "It came back, so say what you did since and how it can be seen.",
            again.GetProperty("reasons")[0].GetString()
        );
        await aske.Post($"/api/by-hand/{order}/done", new { proof = "now" });
        await aske.Post($"/api/by-hand/{order}/check", new { isSo = true }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal("seen", State(await bell.Post($"/api/by-hand/{order}/check", new { isSo = true })));
        Assert.Equal(
            ["by-hand.seen", "by-hand.done", "by-hand.returned", "by-hand.done", "by-hand.given"],
            (await Deeds()).Where(deed => deed.StartsWith("by-hand", StringComparison.Ordinal))
        );
    }

    [Fact]
    public async Task A_site_is_put_away_by_hand_and_one_that_cannot_be_stays_in_use()
    {
        await Take(Head + Tide + Wrecks);
        var site = await Id("Wrecks");
        var order = await PutAway(site, "Wrecks");
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        await aske.Post($"/api/by-hand/{order}/cannot", new { }, HttpStatusCode.UnprocessableEntity);
        await aske.Post($"/api/by-hand/{order}/cannot", new { words = "the disk is read-only" });
        var stay = (await bell.Get($"/api/sites/{site}/stay")).GetProperty("stay");
        Assert.Equal(
            ("not-done", "the disk is read-only"),
            (stay.GetProperty("state").GetString(), stay.GetProperty("words").GetString())
        );

        order = await PutAway(site, "Wrecks");
        await aske.Post($"/api/by-hand/{order}/done", new { proof = "renamed" });
        Assert.Equal("kept", (await bell.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("state").GetString());

        // The list still has it in use: it is on its way again, and back with the person.
        await Take(Head + Tide + Wrecks);
        Assert.Equal(
            "going-away",
            (await bell.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("state").GetString()
        );
        await aske.Post($"/api/by-hand/{order}/done", new { proof = "renamed, really" });
        await Take(
            "key,name,address,unit,owners,editors,viewers,shut\n" + Tide.TrimEnd() + ",\n" + Wrecks.TrimEnd() + ",2026-01-01\n"
        );
        Assert.Equal("seen", State(await bell.Get($"/api/by-hand/{order}")));
        Assert.Equal("kept", (await bell.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("state").GetString());
    }

    [Fact]
    public async Task Overdue_is_told_handed_on_is_another_s_and_called_back_is_nobody_s()
    {
        var (site, order) = await Narrow();
        await server
            .Services.GetRequiredService<Database>()
            .Change(change => change.SetSetting(DemoClock.Setting, $"{6 * 86_400}"));
        await server.Services.GetRequiredService<DemoTime>().Follow(CancellationToken.None);
        await server.Services.GetRequiredService<DayRunner>().RunDue(CancellationToken.None);
        (bell, vane) = (await here.SignIn("n.bell", bell.Http.BaseAddress), await here.SignIn("i.vane", bell.Http.BaseAddress));
        Assert.True((await bell.Get("/api/by-hand"))[0].GetProperty("isOverdue").GetBoolean());
        Assert.Single(await Deeds(), "by-hand.overdue");
        Assert.Equal(0, await server.Services.GetRequiredService<DayRunner>().RunDue(CancellationToken.None));

        await bell.Post(
            $"/api/by-hand/{order}/hand-on",
            new { to = "nobody@merrowby.example" },
            HttpStatusCode.UnprocessableEntity
        );
        var on = await bell.Post($"/api/by-hand/{order}/hand-on", new { to = "i.vane@merrowby.example" });
        Assert.Equal(
            ("i.vane@merrowby.example", false),
            (
                on.GetProperty("line").GetProperty("to").GetProperty("mail").GetString(),
                on.GetProperty("line").GetProperty("isOverdue").GetBoolean()
            )
        );
        Assert.True((await vane.Get($"/api/by-hand/{order}")).GetProperty("mayDo").GetBoolean());

        Assert.Equal("withdrawn", State(await bell.Post($"/api/by-hand/{order}/call-back", new { words = "not needed" })));
        Assert.Equal(0, (await bell.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("underWay").GetInt32());
    }

    [Fact]
    public async Task Whom_it_does_not_concern_learns_nothing_of_it()
    {
        var (_, order) = await Narrow();
        await bell.Post($"/api/by-hand/{Guid.NewGuid()}/done", new { proof = "x" }, HttpStatusCode.NotFound);
        var sollis = await here.SignIn("g.sollis", bell.Http.BaseAddress);
        await sollis.Post($"/api/by-hand/{order}/call-back", new { }, HttpStatusCode.Forbidden);
        Assert.False((await sollis.Get($"/api/by-hand/{order}")).GetProperty("mayDo").GetBoolean());

        await bell.Put(
            "/api/sources/Foreshore/hand",
            new
            {
                account = "",
                support = "",
                days = 0,
                reach = "",
                key = "x",
                putAway = "x",
                bringBack = "x",
            },
            HttpStatusCode.UnprocessableEntity
        );
        await bell.Put(
            "/api/sources/House/hand",
            new
            {
                account = "",
                support = "",
                days = 5,
                reach = "x",
                key = "x",
                putAway = "x",
                bringBack = "x",
            },
            HttpStatusCode.UnprocessableEntity
        );
        await vane.Put(
            "/api/sources/Foreshore/hand",
            new
            {
                account = "",
                support = "",
                days = 1,
                reach = "x",
                key = "x",
                putAway = "x",
                bringBack = "x",
            },
            HttpStatusCode.Forbidden
        );
    }
}
