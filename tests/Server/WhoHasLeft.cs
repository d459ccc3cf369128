using System.Net;
using System.Net.Http.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A person who has left is refused everywhere as soon as the register knows it, even before a sync has ended their
/// sessions.</summary>
public sealed class WhoHasLeft(Installation installation) : OwnServer(installation)
{
    [Fact]
    public async Task Does_not_sign_in_and_is_answered_like_a_stranger()
    {
        await here.SignIn("t.aske", address);
        await Leaves("t.aske");
        var (left, stranger) = (await Try("t.aske"), await Try("nobody"));
        Assert.Equal(HttpStatusCode.Unauthorized, left.StatusCode);
        Assert.Equal(await Title(stranger), await Title(left));
    }

    [Fact]
    public async Task Has_no_session_any_more()
    {
        var aske = await here.SignIn("t.aske", address);
        await Leaves("t.aske");
        Assert.Equal(HttpStatusCode.Unauthorized, (await aske.Send(HttpMethod.Get, "/api/session")).Status);
    }

    [Fact]
    public async Task Reads_and_changes_nothing_by_the_API()
    {
        var aske = await here.SignIn("t.aske", address);
        await Leaves("t.aske");
        foreach (
            var (method, path) in new[]
            {
                (HttpMethod.Get, "/api/register"),
                (HttpMethod.Get, "/api/register/export"),
                (HttpMethod.Get, "/api/journal"),
                (HttpMethod.Post, "/api/accounts/plan"),
                (HttpMethod.Post, "/api/sources/Slipway/sync"),
                (HttpMethod.Post, "/api/calendar"),
            }
        )
        {
            Assert.Equal((path, HttpStatusCode.Unauthorized), (path, (await aske.Send(method, path, new { })).Status));
        }
    }

    [Fact]
    public async Task Gets_no_more_of_the_event_stream()
    {
        var aske = await here.SignIn("t.aske", address);
        using var stream = await aske.Http.GetStreamAsync("/api/events");
        using var reader = new StreamReader(stream);
        Assert.StartsWith("data:", await reader.ReadLineAsync());
        await Leaves("t.aske");
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        while (await reader.ReadLineAsync(patience.Token) is not null)
        {
            // Requests that were under way.
        }
    }

    [Fact]
    public async Task Gets_no_mail_to_choose_a_password_by()
    {
        await Leaves("t.aske");
        using var anyone = Anyone();
        Assert.Equal(
            HttpStatusCode.Accepted,
            (await anyone.PostAsJsonAsync("/api/session/link", new { mail = "t.aske@merrowby.example" })).StatusCode
        );
        await using var notifications = Database.Source.CreateCommand(
            "select count(*) from notification where key like 'password:%'"
        );
        Assert.Equal(0L, await notifications.ExecuteScalarAsync());
    }

    [Fact]
    public async Task Chooses_no_password_by_a_link_from_before()
    {
        var token = await Link("t.aske", LinkPurpose.Password);
        await Leaves("t.aske");
        using var anyone = Anyone();
        var answer = await anyone.PostAsJsonAsync($"/api/links/{token}/password", new { password = "quite another harbour" });
        Assert.False(answer.IsSuccessStatusCode);
        var hash = (await Database.Read(connection => connection.AccountByMail("t.aske@merrowby.example")))!.PasswordHash!;
        Assert.False(Passwords.Verify(hash, "quite another harbour", out _));
    }

    [Fact]
    public async Task Opens_no_link_of_a_mail()
    {
        var token = await Link("t.aske", LinkPurpose.Yours);
        using var anyone = Anyone();
        Assert.True((await anyone.GetAsync(new Uri($"/api/links/{token}", UriKind.Relative))).IsSuccessStatusCode);
        await Leaves("t.aske");
        Assert.False((await anyone.GetAsync(new Uri($"/api/links/{token}", UriKind.Relative))).IsSuccessStatusCode);
    }

    [Fact]
    public async Task Reads_no_calendar_by_its_link()
    {
        var aske = await here.SignIn("t.aske", address);
        var link = new Uri(
            new Uri((await aske.Post("/api/calendar", new { })).GetProperty("link").GetString()!).AbsolutePath,
            UriKind.Relative
        );
        using var anyone = Anyone();
        Assert.True((await anyone.GetAsync(link)).IsSuccessStatusCode);
        await Leaves("t.aske");
        Assert.Equal(HttpStatusCode.NotFound, (await anyone.GetAsync(link)).StatusCode);
    }

    [Fact]
    public async Task Is_no_second_person_although_the_request_came_in_before()
    {
        var aske = Viewer.Of((await Database.Read(connection => connection.AccountByMail("t.aske@merrowby.example")))!);
        await Leaves("t.aske");
        await Assert.ThrowsAsync<NoLongerError>(() =>
            server
                .Services.GetRequiredService<ActionExecutor>()
                .Carry(aske, ApprovalActions.Approve(Guid.NewGuid(), "", aske), "", Guid.NewGuid().ToString(), "")
        );
    }

    [Fact]
    public async Task The_sync_that_says_so_ends_the_sessions_and_writes_it_down()
    {
        await here.SignIn("t.aske", address);
        await Leaves("t.aske");
        var entries = await Database.Change(async change =>
        {
            var drafts = await change.EndSessionsOfLeft();
            await change.Append(drafts);
            return drafts;
        });
        Assert.Equal(JournalAction.SessionRevoked, Assert.Single(entries).Action);
        Assert.Empty(await Database.Change(change => change.EndSessionsOfLeft()));
    }

    [Fact]
    public async Task The_last_administrator_is_not_removed()
    {
        var bell = await here.SignIn("n.bell", address);
        await Leaves("t.aske");
        var plan = await bell.Post(
            "/api/accounts/plan",
            new
            {
                mail = "n.bell@merrowby.example",
                change = "role",
                role = "auditor",
            }
        );
        Assert.Contains("the last administrator", plan.GetProperty("refused")[0].GetProperty("sentence").GetString());
    }

    private HttpClient Anyone() => new() { BaseAddress = address, DefaultRequestHeaders = { { "X-Attic-Ledger", "1" } } };

    private async Task<HttpResponseMessage> Try(string who)
    {
        using var anyone = Anyone();
        return await anyone.PostAsJsonAsync(
            "/api/session",
            new { mail = $"{who}@merrowby.example", password = Installation.Password }
        );
    }

    private static async Task<string?> Title(HttpResponseMessage answer) =>
        (await answer.Content.ReadFromJsonAsync<System.Text.Json.JsonElement>()).GetProperty("title").GetString();

    private Task<string> Link(string who, LinkPurpose purpose) =>
        Database.Change(async change =>
        {
            var person = (await change.Connection.AccountByMail($"{who}@merrowby.example"))!.Person;
            return await change.MakeLink(person, new NotificationLink(purpose, "", change.Now.AddDays(1), "A link"), null);
        });

    private Task Leaves(string who) =>
        Database.Change(async change =>
        {
            var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
            await change.UpdatePerson(
                directory.Find(directory.ByMail[$"{who}@merrowby.example"])! with
                {
                    Standing = Standing.Left,
                }
            );
            await change.Append([
                new Draft(JournalAction.PeopleSynced, EntryActor.OfSource("Staff list"), EntrySubject.OfSource("Staff list")),
            ]);
        });
}
