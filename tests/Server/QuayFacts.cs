using System.Net;
using System.Text.Json;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Quay;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A host that grants access only through groups, whose lists lag and whose bookmarks expire, over HTTP.</summary>
public sealed class QuayFacts(Installation here) : IAsyncLifetime
{
    private readonly QuayBooks books = new(Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871).Quay, file: null);
    private readonly AheadClock clock = new();
    private WebApplication server = null!;
    private Caller bell = null!;
    private int bookmarksToRunOut;
    private int listsBegun;

    private SourceSync Reader => server.Services.GetRequiredService<SourceSync>();

    private Database Database => server.Services.GetRequiredService<Database>();

    public async ValueTask InitializeAsync()
    {
        var quay = await here.Run(app =>
        {
            app.Use(
                (context, next) =>
                {
                    if (context.Request.Path == "/quay/sites")
                    {
                        var goesOn = context.Request.Query.ContainsKey("bookmark");
                        listsBegun += goesOn ? 0 : 1;
                        if (goesOn && bookmarksToRunOut-- > 0)
                        {
                            clock.Ahead += TimeSpan.FromMinutes(3);
                        }
                    }

                    return next(context);
                }
            );
            app.MapQuay(books, Installation.Token, clock);
        });
        (server, var address) = await here.Beside(quay: quay);
        bell = await here.SignIn("n.bell", address);
    }

    public async ValueTask DisposeAsync() => await here.Leave(server);

    [Fact]
    public async Task A_page_that_stands_in_several_sites_is_told_where_it_is_kept_and_before_it_goes()
    {
        var site = await Id("noticeboard");
        var shared = (await bell.Get($"/api/sites/{site}"))
            .GetProperty("content")
            .GetProperty("shared")
            .EnumerateArray()
            .ToDictionary(piece => piece.GetProperty("what").GetString()!);
        Assert.Equal("""["Pilotage","Berths"]""", shared["Tide times"].GetProperty("in").GetRawText());
        Assert.Equal(1, shared["Who to call at night"].GetProperty("count").GetInt32());
        Assert.Equal(["Notice board"], await Titles("shared ge 2"));

        var loss = (await bell.Post($"/api/sites/{site}/move-to-attic/plan", new { })).GetProperty("plan").GetProperty("loss");
        Assert.Equal(
            """[{"what":"Tide times","sites":2},{"what":"Who to call at night","sites":1}]""",
            loss.GetProperty("shared").GetRawText()
        );
    }

    [Fact]
    public async Task A_section_with_its_own_access_is_open_under_a_shut_site_and_stays_so_in_the_attic()
    {
        var site = await Id("council-room");
        Assert.Equal(["Works council"], await Titles("ajar pr"));
        Assert.Equal(["Works council"], await Titles("sections.value eq \"Drafts\""));
        var sections = (await bell.Get($"/api/sites/{site}"))
            .GetProperty("content")
            .GetProperty("sections")
            .EnumerateArray()
            .ToDictionary(section => section.GetProperty("name").GetString()!);
        Assert.Equal(
            ("standing-free", "yes", "staff"),
            (
                sections["Ballots 2026"].GetProperty("tie").GetString(),
                sections["Ballots 2026"].GetProperty("isAjar").GetString(),
                sections["Ballots 2026"].GetProperty("view").GetProperty("insideLabels").GetString()
            )
        );
        Assert.Equal(
            ("nested", "no"),
            (sections["Drafts"].GetProperty("tie").GetString(), sections["Drafts"].GetProperty("isAjar").GetString())
        );

        // The plan to move the site to the attic says that this part stays open; once it is shut at the host, the next sync
        // reports it.
        var plan = (await bell.Post($"/api/sites/{site}/move-to-attic/plan", new { })).GetProperty("plan");
        Assert.Contains(
            "\"Ballots 2026\" has its own access and stays open. Shut it at Quay.",
            plan.GetProperty("unaffected").EnumerateArray().Select(one => one.GetString())
        );
        books.Edit(records => records.Sites["council-room"] = records.Sites["council-room"] with { Sections = [] });
        await Reader.Read("Quay", CancellationToken.None);
        Assert.Empty(await Titles("ajar pr"));
    }

    [Fact]
    public async Task Sites_nest_and_their_owners_are_groups_that_may_contain_each_other()
    {
        var top = await bell.Get($"/api/sites/{await Id("pil")}");
        Assert.NotEmpty(top.GetProperty("content").GetProperty("children").EnumerateArray());
        Assert.Contains(top.GetProperty("siteOwners").EnumerateArray(), holder =>
            holder.GetProperty("through").GetString() == "Pilotage, keepers"
        );

        // The council's circle contains itself and the hall's, which contains it: everybody in both counts once.
        var council = await bell.Get($"/api/sites/{await Id("council-room")}");
        Assert.Equal(12, council.GetProperty("siteOwners").GetArrayLength());
    }

    [Fact]
    public async Task A_bookmark_that_expires_restarts_the_list_and_the_sync_is_complete()
    {
        var (before, begun) = (await Count(), listsBegun);
        bookmarksToRunOut = 1;
        await Reader.Read("Quay", CancellationToken.None);
        Assert.True((await Source()).GetProperty("complete").GetBoolean());
        Assert.Equal((before, begun + 2), (await Count(), listsBegun));

        // A bookmark that expires again and again ends the sync, and no site is marked as no longer reported.
        bookmarksToRunOut = int.MaxValue;
        await Reader.Read("Quay", CancellationToken.None);
        Assert.False((await Source()).GetProperty("complete").GetBoolean());
        Assert.StartsWith("Quay can no longer continue sites?bookmark=", (await Source()).GetProperty("error").GetString());
        Assert.Empty(await Standing(noLongerReported: true));
    }

    [Fact]
    public async Task What_is_removed_there_is_in_no_list_for_minutes_and_is_still_reported()
    {
        var site = await Id("noticeboard");
        books.Remove("noticeboard", "", "k.brandt@merrowby.example", clock.GetUtcNow());
        await Reader.Read("Quay", CancellationToken.None);
        Assert.Equal(["InUse"], await Standing(noLongerReported: false, "noticeboard"));

        clock.Ahead += QuayBooks.ListLag;
        await Reader.Read("Quay", CancellationToken.None);
        Assert.Equal(["Attic"], await Standing(noLongerReported: false, "noticeboard"));

        // Thirty days in two bins, counted from the removal and not from the sync that saw it.
        var bin = (await Database.Read(connection => connection.Sites(new Scope.Everything(), [new(site)]))).Single().Bin!;
        Assert.Equal(bin.Since.AddDays(30), bin.RecoverableUntil.Or(default));
    }

    [Fact]
    public async Task What_no_list_has_shown_for_longer_than_they_lag_is_no_longer_reported_until_it_shows_again()
    {
        SiteId[] both = [new(await Id("council-room")), new(await Id("pil"))];
        var (lag, now) = (TimeSpan.FromMinutes(5), DateTimeOffset.UtcNow);
        Task<List<SiteId>> Missing(DateTimeOffset at, params SiteId[] unlisted) =>
            Database.Change(change => change.MissingFor("Quay", unlisted, at, lag));
        Assert.Empty(await Missing(now, both));
        Assert.Empty(await Missing(now + lag / 2, both[0]));
        Assert.Equal([both[0]], await Missing(now + lag, both));
    }

    [Fact]
    public async Task Moving_to_the_attic_and_restoring_go_through_both_bins()
    {
        var site = await Id("noticeboard");
        var asked = await bell.Post(
            $"/api/sites/{site}/move-to-attic",
            new { typed = "Notice board", fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan") }
        );
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        var approval = asked.GetProperty("approval").GetGuid();
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
        await Comes(site, "in-attic");
        Assert.NotNull(books.Read(all => all.Sites["noticeboard"].Removed));

        await bell.Post($"/api/sites/{site}/restore", new { fingerprint = await bell.Plan($"/api/sites/{site}/restore/plan") });
        await Comes(site, "restored");
        Assert.Null(books.Read(all => all.Sites["noticeboard"].Removed));
    }

    [Fact]
    public async Task A_site_owned_through_a_group_is_handed_over_in_that_group_and_the_preview_says_so()
    {
        var site = await Id("pil");
        var to = (await bell.Get("/api/find?text=Renata Quist"))
            .GetProperty("people")[0]
            .GetProperty("person")
            .GetProperty("id")
            .GetInt64();
        var refused = (await bell.Post($"/api/sites/{site}/offer/plan", new { to, after = "leaves" }))
            .GetProperty("refused")
            .EnumerateArray()
            .Select(Caller.Sentence)
            .ToList();
        Assert.Contains(
            "Quay has access by groups only, so a site cannot be handed over from here. Change who is in the group \"Pilotage, keepers\" at Quay; the next sync reports it.",
            refused
        );
    }

    private async Task<long> Id(string key) =>
        await Database.Read(async connection => (await connection.SitesByKey("Quay", [key])).Single().Id.Value);

    private Task<int> Count() => Database.Read(async connection => (await connection.Sites(new Scope.Everything())).Count);

    private async Task<List<string>> Standing(bool noLongerReported, string? key = null) =>
        await Database.Read(async connection =>
            (await connection.Sites(new Scope.Everything()))
                .Where(site => site.NoLongerReported == noLongerReported && (key is null || site.HostKey == key))
                .Select(site => site.Existence.ToString())
                .ToList()
        );

    private async Task<JsonElement> Source() =>
        (await bell.Get("/api/sources")).EnumerateArray().Single(source => source.GetProperty("name").GetString() == "Quay");

    private Task Comes(long site, string state) =>
        Installation.Until(
            async () =>
                (await bell.Send(HttpMethod.Get, $"/api/sites/{site}/attic-entry")) is { Status: HttpStatusCode.OK } answer
                && answer.Body.GetProperty("atticEntry").GetProperty("state").GetString() == state,
            $"the stay is {state}"
        );

    private sealed class AheadClock : TimeProvider
    {
        public TimeSpan Ahead { get; set; }

        public override DateTimeOffset GetUtcNow() => DateTimeOffset.UtcNow + Ahead;
    }

    private async Task<List<string?>> Titles(string filter) =>
        [
            .. (await bell.Get($"/api/register?filter={Uri.EscapeDataString(filter)}"))
                .GetProperty("lines")
                .EnumerateArray()
                .Select(line => line.GetProperty("title").GetString()),
        ];
}
