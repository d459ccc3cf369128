using System.Net;
using System.Text.Json;
using AtticLedger.Core.Terms;
using AtticLedger.Server.DueWork;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Manual tasks at a host without a connector, over HTTP.</summary>
public sealed class ManualTaskServerFacts(Installation installation) : ManualHost(installation)
{
    [Fact]
    public async Task A_manual_task_is_assigned_done_with_a_picture_and_verified_by_the_next_list()
    {
        // Other servers, some with clocks ahead, have mailed her about such tasks.
        var older = here.Mailbox.To("t.aske@merrowby.example").Select(one => one.Id).ToHashSet();
        var (site, hostChange) = await Restrict();
        var given = await bell.Get($"/api/manual-tasks/{hostChange}");
        Assert.Equal(
            ["Open Tide tables.", "Take them off."],
            given.GetProperty("steps").EnumerateArray().Select(step => step.GetString())
        );
        Assert.Equal("t.aske@merrowby.example", given.GetProperty("line").GetProperty("to").GetProperty("mail").GetString());
        Assert.Equal(1, (await bell.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("underWay").GetInt32());

        // The link in the mail opens the task, for the person it is assigned to.
        StandIns.Mail.KeptMail? mail = null;
        await Installation.Until(
            async () =>
            {
                await server.Services.GetRequiredService<Mail.Outbox>().SendDue(CancellationToken.None);
                mail = here
                    .Mailbox.To("t.aske@merrowby.example")
                    .FirstOrDefault(one =>
                        !older.Contains(one.Id)
                        && one.Text.Contains("Manual task at Foreshore: Tide tables", StringComparison.Ordinal)
                    );
                return mail is not null;
            },
            "Aske has a mail about it"
        );

        // Vane sees the task of his site but cannot report it done; Aske has to add evidence.
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        var link = await aske.Post($"/api/links/{mail!.Token("Open the task")}/open", new { });
        Assert.Equal(
            ("manual-task", hostChange),
            (link.GetProperty("purpose").GetString(), link.GetProperty("subject").GetString())
        );
        await vane.Post($"/api/manual-tasks/{hostChange}/done", new { report = "sure" }, HttpStatusCode.UnprocessableEntity);
        await aske.Post($"/api/manual-tasks/{hostChange}/done", new { }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Picture(aske, hostChange, "no picture"u8.ToArray())).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Picture(aske, hostChange, Png)).StatusCode);
        Assert.Equal(
            Png,
            await (await bell.Http.GetAsync($"/api/manual-tasks/{hostChange}/picture")).Content.ReadAsByteArrayAsync()
        );
        Assert.Equal("confirmed", State(await aske.Post($"/api/manual-tasks/{hostChange}/done", new { report = (string?)null })));
        await aske.Post($"/api/manual-tasks/{hostChange}/done", new { report = "again" }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal(0, (await bell.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("underWay").GetInt32());

        var plan = await Take(Head + Tide.Replace("staff; anonymous", "staff") + Wrecks);
        Assert.True(plan.GetProperty("hostChanges")[0].GetProperty("isSo").GetBoolean());
        Assert.Equal("verified", State(await bell.Get($"/api/manual-tasks/{hostChange}")));
    }

    [Fact]
    public async Task Done_but_not_so_goes_back_with_the_difference_and_a_second_person_can_see_it()
    {
        var (_, hostChange) = await Restrict();
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        Assert.Equal(HttpStatusCode.OK, (await Picture(aske, hostChange, Png)).StatusCode);
        await aske.Post($"/api/manual-tasks/{hostChange}/done", new { });

        // A list from before the task was done does not verify it.
        var before = Uri.EscapeDataString(DateTimeOffset.UtcNow.AddHours(-1).ToString("O"));
        Assert.Equal(0, (await Take(Head + Tide + Wrecks, $"&asOf={before}")).GetProperty("hostChanges").GetArrayLength());
        Assert.Equal("confirmed", State(await bell.Get($"/api/manual-tasks/{hostChange}")));

        await Take(Head + Tide + Wrecks);
        var back = await aske.Get($"/api/manual-tasks/{hostChange}");
        Assert.Equal(("sent", 1), (State(back), back.GetProperty("line").GetProperty("returned").GetInt32()));
        Assert.EndsWith("reports something else: Anonymous visitors can still view.", back.GetProperty("words").GetString());

        // The earlier picture is not evidence for what was done since.
        var again = await aske.Post($"/api/manual-tasks/{hostChange}/done", new { }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal(
            "The task was returned. Describe what you did since and how it can be checked.",
            Caller.Sentence(again.GetProperty("reasons")[0])
        );
        await aske.Post($"/api/manual-tasks/{hostChange}/done", new { report = "now" });
        await aske.Post($"/api/manual-tasks/{hostChange}/check", new { isSo = true }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal("verified", State(await bell.Post($"/api/manual-tasks/{hostChange}/check", new { isSo = true })));
        Assert.Equal(
            ["task.verified", "task.done", "task.returned", "task.done", "task.assigned"],
            (await Actions()).Where(action => action.StartsWith("task.", StringComparison.Ordinal))
        );
    }

    [Fact]
    public async Task A_site_is_moved_to_the_attic_by_a_manual_task_and_stays_in_use_if_that_fails()
    {
        await Take(Head + Tide + Wrecks);
        var site = await Id("Wrecks");
        var hostChange = await MoveToAttic(site, "Wrecks");
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        await aske.Post($"/api/manual-tasks/{hostChange}/report-failure", new { }, HttpStatusCode.UnprocessableEntity);
        await aske.Post($"/api/manual-tasks/{hostChange}/report-failure", new { words = "the disk is read-only" });
        var atticEntry = (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry");
        Assert.Equal(
            ("not-done", "the disk is read-only"),
            (atticEntry.GetProperty("state").GetString(), atticEntry.GetProperty("words").GetString())
        );

        hostChange = await MoveToAttic(site, "Wrecks");
        await aske.Post($"/api/manual-tasks/{hostChange}/done", new { report = "renamed" });
        Assert.Equal(
            "in-attic",
            (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("state").GetString()
        );

        // The list still has it in use, so the task is returned to the person.
        await Take(Head + Tide + Wrecks);
        Assert.Equal(
            "moving-to-attic",
            (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("state").GetString()
        );
        await aske.Post($"/api/manual-tasks/{hostChange}/done", new { report = "renamed, really" });
        await Take(
            "key,name,address,unit,owners,editors,viewers,shut\n" + Tide.TrimEnd() + ",\n" + Wrecks.TrimEnd() + ",2026-01-01\n"
        );
        Assert.Equal("verified", State(await bell.Get($"/api/manual-tasks/{hostChange}")));
        Assert.Equal(
            "in-attic",
            (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("state").GetString()
        );
    }

    [Fact]
    public async Task Overdue_is_notified_reassigned_belongs_to_another_and_cancelled_to_nobody()
    {
        var (site, hostChange) = await Restrict();
        await server
            .Services.GetRequiredService<Database>()
            .Change(change => change.Set(Core.Sites.Setting.DemoClock, $"{6 * 86_400}"));
        await server.Services.GetRequiredService<DemoTime>().Follow(CancellationToken.None);
        await server.Services.GetRequiredService<DayRunner>().RunDue(CancellationToken.None);
        (bell, vane) = (await here.SignIn("n.bell", bell.Http.BaseAddress), await here.SignIn("i.vane", bell.Http.BaseAddress));
        Assert.True((await bell.Get("/api/manual-tasks"))[0].GetProperty("isOverdue").GetBoolean());
        Assert.Single(await Actions(), "task.overdue");
        Assert.Equal(0, await server.Services.GetRequiredService<DayRunner>().RunDue(CancellationToken.None));

        await bell.Post(
            $"/api/manual-tasks/{hostChange}/reassign",
            new { to = "nobody@merrowby.example" },
            HttpStatusCode.UnprocessableEntity
        );
        var on = await bell.Post($"/api/manual-tasks/{hostChange}/reassign", new { to = "i.vane@merrowby.example" });
        Assert.Equal(
            ("i.vane@merrowby.example", false),
            (
                on.GetProperty("line").GetProperty("to").GetProperty("mail").GetString(),
                on.GetProperty("line").GetProperty("isOverdue").GetBoolean()
            )
        );
        Assert.True((await vane.Get($"/api/manual-tasks/{hostChange}")).GetProperty("mayDo").GetBoolean());

        Assert.Equal("withdrawn", State(await bell.Post($"/api/manual-tasks/{hostChange}/cancel", new { words = "not needed" })));
        Assert.Equal(0, (await bell.Get($"/api/sites/{site}")).GetProperty("line").GetProperty("underWay").GetInt32());
    }

    [Fact]
    public async Task Whom_it_does_not_concern_learns_nothing_of_it()
    {
        var (_, hostChange) = await Restrict();
        await bell.Post($"/api/manual-tasks/{Guid.NewGuid()}/done", new { report = "x" }, HttpStatusCode.NotFound);
        var sollis = await here.SignIn("g.sollis", bell.Http.BaseAddress);
        await sollis.Post($"/api/manual-tasks/{hostChange}/cancel", new { }, HttpStatusCode.Forbidden);
        Assert.False((await sollis.Get($"/api/manual-tasks/{hostChange}")).GetProperty("mayDo").GetBoolean());

        await bell.Put(
            "/api/sources/Foreshore/manual-procedure",
            new
            {
                account = "",
                support = "",
                days = 0,
                reach = "",
                owners = "x",
                moveToAttic = "x",
                restore = "x",
            },
            HttpStatusCode.UnprocessableEntity
        );
        await bell.Put(
            "/api/sources/Organisation/manual-procedure",
            new
            {
                account = "",
                support = "",
                days = 5,
                reach = "x",
                owners = "x",
                moveToAttic = "x",
                restore = "x",
            },
            HttpStatusCode.UnprocessableEntity
        );
        await vane.Put(
            "/api/sources/Foreshore/manual-procedure",
            new
            {
                account = "",
                support = "",
                days = 1,
                reach = "x",
                owners = "x",
                moveToAttic = "x",
                restore = "x",
            },
            HttpStatusCode.Forbidden
        );
    }
}
