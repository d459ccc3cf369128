using System.Net;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Lantern;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A host that deletes irrevocably, costs money and has no idempotency keys, over HTTP.</summary>
public sealed class LanternFacts(Installation here) : IAsyncLifetime
{
    private readonly LanternBooks books = new(
        Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871).Lantern,
        file: null
    );
    private WebApplication server = null!;
    private Caller bell = null!;
    private int? brokenPage;

    private SourceSync Reader => server.Services.GetRequiredService<SourceSync>();

    public async ValueTask InitializeAsync()
    {
        var lantern = await here.Run(app =>
        {
            // A page that is cut off in the middle, as by a proxy that gives up.
            app.Use(
                async (context, next) =>
                {
                    if (context.Request.Path == "/v1/sites" && context.Request.Query["page"] == $"{brokenPage}")
                    {
                        context.Response.ContentType = "application/json";
                        await context.Response.WriteAsync("""{"data":[{"id":"l0""");
                        return;
                    }

                    await next(context);
                }
            );
            app.MapLantern(books, Installation.Token, TimeProvider.System);
        });
        (server, var address) = await here.Beside(lantern: lantern);
        bell = await here.SignIn("n.bell", address);
    }

    public async ValueTask DisposeAsync() => await here.Leave(server);

    [Fact]
    public async Task Moving_a_site_to_the_attic_suspends_it_there_says_what_it_costs_and_sends_nothing_final()
    {
        var site = await Id("Merrowby sea fair");
        var plan = (await bell.Post($"/api/sites/{site}/move-to-attic/plan", new { })).GetProperty("plan");
        var loss = plan.GetProperty("loss");
        Assert.True(loss.GetProperty("isOurs").GetBoolean());
        Assert.Equal(JsonValueKind.Null, loss.GetProperty("hostKeepsThrough").ValueKind);
        Assert.StartsWith("Beacon: 96.00 EUR a year; it renews after", loss.GetProperty("cost").GetString());
        Assert.Equal(41, loss.GetProperty("records").GetInt32());

        await MoveToAttic(site, "Merrowby sea fair");
        await Comes(site, "in-attic");
        Assert.NotNull(Lantern("sea-fair").Suspended);
        Assert.Equal(["suspend"], Effects("sea-fair"));

        // Only the organisation's date counts, and a hold needs no bin.
        var atticEntry = (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry");
        Assert.Equal(JsonValueKind.Null, atticEntry.GetProperty("clock").GetProperty("host").ValueKind);
        Assert.Contains(
            "still costs 96.00 EUR a year",
            atticEntry.GetProperty("notes").EnumerateArray().Select(note => note.GetProperty("words").GetString())
        );

        // A complete sync finds it as it is, and restoring opens it again.
        await Reader.Read("Lantern", CancellationToken.None);
        Assert.Equal("attic", (await bell.Get($"/api/sites/{site}")).GetProperty("existence").GetString());
        await bell.Post($"/api/sites/{site}/restore", new { fingerprint = await bell.Plan($"/api/sites/{site}/restore/plan") });
        await Comes(site, "restored");
        Assert.Null(Lantern("sea-fair").Suspended);
        Assert.DoesNotContain("delete", books.Read(records => records.Effects.Select(effect => effect.Request).ToList()));
    }

    [Fact]
    public async Task What_somebody_shuts_there_is_found_in_the_attic_and_what_is_opened_there_is_back()
    {
        var site = await Id("Pilot cadets wanted");
        books.Suspend(Lantern("pilot-cadets").Id, true, DateTimeOffset.UtcNow);
        await Reader.Read("Lantern", CancellationToken.None);
        await Comes(site, "in-attic");
        var atticEntry = (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry");
        Assert.Equal(
            (true, true),
            (atticEntry.GetProperty("atHost").GetBoolean(), atticEntry.GetProperty("isOurs").GetBoolean())
        );

        books.Suspend(Lantern("pilot-cadets").Id, false, DateTimeOffset.UtcNow);
        await Reader.Read("Lantern", CancellationToken.None);
        await Comes(site, "restored");
    }

    [Fact]
    public async Task A_change_whose_response_is_lost_is_looked_up_and_not_repeated()
    {
        var site = await Id("Seal pups 2026");
        books.Faults = new Faults(1, 0, loseAfter: 100, 0, 0, TimeSpan.Zero);
        await MoveToAttic(site, "Seal pups 2026");
        await Comes(site, "in-attic");

        Assert.Equal(["suspend"], Effects("seal-pups"));
        var order = (await bell.Get($"/api/sites/{site}")).GetProperty("hostChanges")[0];
        Assert.True(order.GetProperty("attempts").GetInt32() > 1);
    }

    [Fact]
    public async Task What_somebody_is_owed_blocks_and_a_hold_does_not()
    {
        var shop = await Id("Lightship shop");
        var reasons = (await bell.Post($"/api/sites/{shop}/move-to-attic/plan", new { }))
            .GetProperty("refused")
            .EnumerateArray()
            .Select(Caller.Sentence)
            .ToList();
        Assert.Contains("3 orders are not delivered. Settle them at Lantern first.", reasons);
        Assert.Contains(reasons, reason =>
            reason!.StartsWith("12 vouchers are not used, which can be claimed until the end of ", StringComparison.Ordinal)
        );

        // Records alone do not block, and where the attic is ours a held site can be in it.
        var fair = await Id("Merrowby sea fair");
        await bell.Post(
            $"/api/sites/{fair}/hold",
            new { reason = "audit", fingerprint = await bell.Plan($"/api/sites/{fair}/hold/plan", new { reason = "audit" }) }
        );
        Assert.Equal(
            JsonValueKind.Object,
            (await bell.Post($"/api/sites/{fair}/move-to-attic/plan", new { })).GetProperty("plan").ValueKind
        );
    }

    [Fact]
    public async Task Plans_private_accounts_and_signals_can_be_asked_for()
    {
        Assert.Equal(["Open harbour day", "Regatta results"], await Titles("plan.sites ge 2"));
        Assert.Equal(["Winter lights"], await Titles("plan.renews eq true and status eq \"never-published\""));
        Assert.Equal(["Regatta results"], await Titles("owners[outside eq true and domain ne \"merrowby.example\"]"));
        Assert.Equal(["Lightship shop", "Seal pups 2026"], await Titles("signals.value eq \"tracker\""));
        Assert.Equal(["Lightship shop"], await Titles("owes eq true"));

        var sitePage = await bell.Get($"/api/sites/{await Id("Open harbour day")}");
        Assert.Equal(2, sitePage.GetProperty("content").GetProperty("plan").GetProperty("sites").GetInt32());
        Assert.Contains(
            "classification",
            sitePage.GetProperty("unknowns").EnumerateArray().Select(fact => fact.GetProperty("fact").GetString())
        );
    }

    [Fact]
    public async Task A_list_that_breaks_off_leaves_no_site_unreported_and_the_next_sync_is_complete()
    {
        books.Edit(records =>
        {
            foreach (var number in Enumerable.Range(100, 60))
            {
                records.Sites[$"l{number}"] = records.Sites["l002"] with
                {
                    Id = $"l{number}",
                    Host = $"many-{number}.lantern.example",
                    Name = $"Many {number}",
                };
            }
        });
        await Reader.Read("Lantern", CancellationToken.None);
        books.Edit(records => records.Sites.Remove("l159"));
        brokenPage = 2;
        await Reader.Read("Lantern", CancellationToken.None);

        var source = (await bell.Get("/api/sources"))
            .EnumerateArray()
            .Single(source => source.GetProperty("name").GetString() == "Lantern");
        Assert.False(source.GetProperty("complete").GetBoolean());
        Assert.StartsWith(
            "Lantern answered sites?page=2&per=50 with something that is not JSON",
            source.GetProperty("error").GetString()
        );
        Assert.Empty(await Titles("no-longer-reported eq true"));

        brokenPage = null;
        await Reader.Read("Lantern", CancellationToken.None);
        await Installation.Until(
            async () => await Titles("no-longer-reported eq true") is ["Many 159"],
            "the one that is gone is no longer reported"
        );
    }

    [Fact]
    public async Task The_same_sync_twice_writes_neither_register_nor_journal()
    {
        async Task<(long Head, DateTimeOffset Stamp)> Written() =>
            await server
                .Services.GetRequiredService<Database>()
                .Read(async connection =>
                    (
                        (await connection.JournalHead()).Number,
                        (await connection.Sites(new Core.Sites.Scope.Everything())).Max(site => site.SeenAt)
                    )
                );
        var before = await Written();
        await Reader.Read("Lantern", CancellationToken.None);
        Assert.Equal(before, await Written());
    }

    [Fact]
    public async Task A_source_says_what_it_leaves_out_and_where_a_site_is_that_somebody_misses()
    {
        var lantern = (await bell.Get("/api/sources"))
            .EnumerateArray()
            .Single(source => source.GetProperty("name").GetString() == "Lantern");
        Assert.Equal(8, lantern.GetProperty("sites").GetInt32());
        Assert.Contains(lantern.GetProperty("gaps").EnumerateArray(), gap =>
            gap.GetProperty("fact").GetString() == "the classification" && gap.GetProperty("sites").GetInt32() == 8
        );
        Assert.DoesNotContain(lantern.GetProperty("gaps").EnumerateArray(), gap =>
            gap.GetProperty("fact").GetString() == "access"
        );

        var fair = await Id("Merrowby sea fair");
        await MoveToAttic(fair, "Merrowby sea fair");
        await Comes(fair, "in-attic");

        // The attic is read from the tables, this from the register in memory, which follows.
        await Installation.Until(
            async () =>
                Assert
                    .Single((await bell.Get("/api/sources/why-not?text=sea%20fair")).GetProperty("sites").EnumerateArray())
                    .GetProperty("existence")
                    .GetString() == "attic",
            "the register has followed"
        );
        Assert.Contains(
            "Lantern was synced completely and reports no such site.",
            (await bell.Get("/api/sources/why-not?text=nowhere"))
                .GetProperty("words")
                .EnumerateArray()
                .Select(words => words.GetString())
        );

        // A steward learns nothing about sites outside their scope, not even from a source's errors.
        var nair = await here.SignIn("h.nair", bell.Http.BaseAddress);
        var hidden = await nair.Get("/api/sources/why-not?text=sea%20fair");
        Assert.Equal(0, hidden.GetProperty("sites").GetArrayLength());
        Assert.StartsWith("No site in your scope", Assert.Single(hidden.GetProperty("words").EnumerateArray()).GetString());
        Assert.Equal(
            JsonValueKind.Null,
            (await nair.Get("/api/sources")).EnumerateArray().First().GetProperty("sites").ValueKind
        );
    }

    [Fact]
    public async Task What_changed_at_a_source_is_listed_with_the_facts_that_did()
    {
        var before = books.Read(records => records.Sites["l002"]);
        books.Edit(records => records.Sites["l002"] = before with { Name = "Open harbour days", Mailbox = null });
        await Reader.Read("Lantern", CancellationToken.None);
        var today = DateTime.UtcNow.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        var entry = (await bell.Get($"/api/journal?source=Lantern&action=site.synced&since={today}")).GetProperty("entries")[0];
        Assert.Equal(["mailAlias", "name"], entry.GetProperty("changed").EnumerateArray().Select(fact => fact.GetString()));
        Assert.Equal(0, (await bell.Get("/api/journal?source=Lantern&since=2099-01-01")).GetProperty("entries").GetArrayLength());
    }

    private async Task<List<string?>> Titles(string expression) =>
        [
            .. (await bell.Get($"/api/register?limit=200&sort=title&filter={Uri.EscapeDataString(expression)}"))
                .GetProperty("lines")
                .EnumerateArray()
                .Select(line => line.GetProperty("title").GetString()),
        ];

    private async Task<long> Id(string title) =>
        (await bell.Get("/api/register?limit=200"))
            .GetProperty("lines")
            .EnumerateArray()
            .Single(line => line.GetProperty("title").GetString() == title)
            .GetProperty("id")
            .GetInt64();

    private async Task MoveToAttic(long site, string title)
    {
        var fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan");
        var asked = await bell.Post(
            $"/api/sites/{site}/move-to-attic",
            new
            {
                typed = title,
                fingerprint,
                reason = "over",
            }
        );
        if (asked.GetProperty("approval").ValueKind == JsonValueKind.String)
        {
            var approval = asked.GetProperty("approval").GetGuid();
            var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
            await aske.Post(
                $"/api/approvals/{approval}/approve",
                new
                {
                    fingerprint = (await aske.Get($"/api/approvals/{approval}"))
                        .GetProperty("plan")
                        .GetProperty("fingerprint")
                        .GetString(),
                }
            );
        }
    }

    private Task Comes(long site, string state) =>
        Installation.Until(
            async () =>
                (await bell.Send(HttpMethod.Get, $"/api/sites/{site}/attic-entry")) is { Status: HttpStatusCode.OK } answer
                && answer.Body.GetProperty("atticEntry").GetProperty("state").GetString() == state,
            $"the stay is {state}"
        );

    private LanternSite Lantern(string host) =>
        books.Read(records => records.Sites.Values.Single(site => site.Host == $"{host}.lantern.example"));

    private List<string> Effects(string host)
    {
        var id = Lantern(host).Id;
        return books.Read(records =>
            records.Effects.Where(effect => effect.Site == id).Select(effect => effect.Request).ToList()
        );
    }
}
