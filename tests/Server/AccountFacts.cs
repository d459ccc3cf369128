using System.Buffers.Binary;
using System.Net;
using System.Text.Json;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Accounts: each change is previewed, carried out as previewed, effective at once and in the journal.</summary>
public sealed class AccountFacts(Installation installation) : OwnServer(installation)
{
    private Caller bell = null!;

    public override async ValueTask InitializeAsync()
    {
        await base.InitializeAsync();
        bell = await here.SignIn("n.bell", address);
    }

    [Fact]
    public async Task Another_role_applies_at_once_ends_the_sessions_and_is_written_down()
    {
        var nair = await here.SignIn("h.nair", address);
        var plan = await Carry(
            new
            {
                mail = "h.nair@merrowby.example",
                change = "role",
                role = "auditor",
            }
        );
        Assert.Equal(
            "Hamish Nair, now steward of Marine Operations, becomes auditor.",
            plan.GetProperty("follows")[0].GetString()
        );

        Assert.Equal(HttpStatusCode.Unauthorized, (await nair.Send(HttpMethod.Get, "/api/session")).Status);
        Assert.Equal(
            "auditor",
            (await (await here.SignIn("h.nair", address)).Get("/api/session")).GetProperty("role").GetString()
        );
        var entry = (await bell.Get("/api/journal?action=account.changed"))
            .GetProperty("entries")[0]
            .GetProperty("text")
            .GetString()!;
        Assert.Contains("\"role\":\"Steward\"", entry);
        Assert.Contains("\"role\":\"Auditor\"", entry);
    }

    [Fact]
    public async Task A_new_account_comes_with_a_mail_to_choose_a_password()
    {
        await Carry(
            new
            {
                mail = "r.quist@merrowby.example",
                change = "role",
                role = "steward",
                part = "PIL",
            }
        );
        await using var notifications = server
            .Services.GetRequiredService<Database>()
            .Source.CreateCommand("select count(*) from notification where key like 'password:given:%'");
        Assert.Equal(1L, await notifications.ExecuteScalarAsync());
    }

    [Fact]
    public async Task All_sessions_end_and_an_account_that_is_removed_lets_nobody_in()
    {
        var (one, other) = (await here.SignIn("i.vane", address), await here.SignIn("i.vane", address));
        var plan = await Carry(new { mail = "i.vane@merrowby.example", change = "end-sessions" });
        Assert.Equal("Their 2 sessions end at once.", plan.GetProperty("follows")[0].GetString());
        Assert.Equal(
            (HttpStatusCode.Unauthorized, HttpStatusCode.Unauthorized),
            ((await one.Send(HttpMethod.Get, "/api/session")).Status, (await other.Send(HttpMethod.Get, "/api/session")).Status)
        );

        await Carry(new { mail = "i.vane@merrowby.example", change = "remove" });
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (
                await new Caller(address).Send(
                    HttpMethod.Post,
                    "/api/session",
                    new { mail = "i.vane@merrowby.example", password = Installation.Password }
                )
            ).Status
        );
        Assert.DoesNotContain("i.vane@", (await bell.Get("/api/accounts")).ToString());
    }

    [Fact]
    public async Task A_plan_whose_effect_has_changed_is_not_carried_out()
    {
        var request = new { mail = "i.vane@merrowby.example", change = "end-sessions" };
        var plan = await bell.Post("/api/accounts/plan", request);
        await here.SignIn("i.vane", address);
        var (status, now) = await bell.Send(
            HttpMethod.Post,
            "/api/accounts/change",
            new { request, fingerprint = plan.GetProperty("fingerprint").GetString() }
        );
        Assert.Equal(
            (HttpStatusCode.Conflict, "Their session ends at once."),
            (status, now.GetProperty("follows")[0].GetString())
        );
    }

    [Theory]
    [InlineData("nobody@merrowby.example", "role", "auditor", null, "No person in the register has the address")]
    [InlineData("p.lund@merrowby.example", "role", "auditor", null, "no longer on the staff list")]
    [InlineData("i.vane@merrowby.example", "role", "steward", null, "Choose the unit")]
    [InlineData("i.vane@merrowby.example", "role", "steward", "NONE", "There is no unit NONE.")]
    [InlineData("i.vane@merrowby.example", "role", "owner", null, "has this role already")]
    [InlineData("i.vane@merrowby.example", "role", "owner", "PIL", "Only stewards have a unit.")]
    [InlineData("n.bell@merrowby.example", "remove", null, null, "Another administrator has to remove your account.")]
    [InlineData("p.lund@merrowby.example", "remove", null, null, "has no account")]
    public async Task Every_reason_why_not_is_a_sentence(string mail, string change, string? role, string? part, string words)
    {
        var plan = await bell.Post(
            "/api/accounts/plan",
            new
            {
                mail,
                change,
                role,
                part,
            }
        );
        Assert.Equal(JsonValueKind.Null, plan.GetProperty("fingerprint").ValueKind);
        Assert.Contains(plan.GetProperty("refused").EnumerateArray(), reason =>
            Caller.Sentence(reason).Contains(words, StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task Ones_own_password_is_changed_with_the_old_one_and_ends_the_other_sessions()
    {
        var (vane, elsewhere) = (await here.SignIn("i.vane", address), await here.SignIn("i.vane", address));
        Task<(HttpStatusCode Status, JsonElement Body)> Change(string old, string password) =>
            vane.Send(HttpMethod.Post, "/api/session/password", new { old, password });
        Assert.Equal((HttpStatusCode)422, (await Change(Installation.Password, "short")).Status);
        Assert.Contains(
            "too common",
            (await Change(Installation.Password, "qwertyuiop12")).Body.GetProperty("title").GetString()!
                + (await Change(Installation.Password, "000000000000")).Body.GetProperty("title").GetString()
        );
        Assert.Equal((HttpStatusCode)422, (await Change("not the old one", "four quite odd words")).Status);
        Assert.Equal(HttpStatusCode.NoContent, (await Change(Installation.Password, "four quite odd words")).Status);

        Assert.Equal(
            (HttpStatusCode.OK, HttpStatusCode.Unauthorized),
            (
                (await vane.Send(HttpMethod.Get, "/api/session")).Status,
                (await elsewhere.Send(HttpMethod.Get, "/api/session")).Status
            )
        );
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (
                await new Caller(address).Send(
                    HttpMethod.Post,
                    "/api/session",
                    new { mail = "i.vane@merrowby.example", password = Installation.Password }
                )
            ).Status
        );
    }

    [Fact]
    public async Task A_password_hashed_with_fewer_rounds_is_hashed_again_when_it_is_used()
    {
        var database = server.Services.GetRequiredService<Database>();
        var vane = (await database.Read(connection => connection.AccountByMail("i.vane@merrowby.example")))!;
        var weak = new Microsoft.AspNetCore.Identity.PasswordHasher<object>(
            Microsoft.Extensions.Options.Options.Create(
                new Microsoft.AspNetCore.Identity.PasswordHasherOptions { IterationCount = 1000 }
            )
        ).HashPassword(new object(), Installation.Password);
        await database.Change(change => change.SetPassword(vane.Id, weak));
        await here.SignIn("i.vane", address);
        Assert.True(
            Passwords.Verify(
                (await database.Read(connection => connection.Account(vane.Id)))!.PasswordHash!,
                Installation.Password,
                out var isWeak
            ) && !isWeak
        );
    }

    [Fact]
    public void The_product_hashes_in_at_least_the_recommended_rounds_of_hmac_sha512()
    {
        try
        {
            Passwords.HashInRounds(Passwords.Rounds);
            var header = Convert.FromBase64String(Passwords.Hash(Installation.Password)).AsSpan();
            Assert.Equal(2u, BinaryPrimitives.ReadUInt32BigEndian(header[1..]));
            Assert.True(BinaryPrimitives.ReadUInt32BigEndian(header[5..]) >= 210_000);
        }
        finally
        {
            Passwords.HashInRounds(FewRounds.Rounds);
        }
    }

    private async Task<JsonElement> Carry(object request)
    {
        var plan = await bell.Post("/api/accounts/plan", request);
        return await bell.Post(
            "/api/accounts/change",
            new { request, fingerprint = plan.GetProperty("fingerprint").GetString() }
        );
    }
}
