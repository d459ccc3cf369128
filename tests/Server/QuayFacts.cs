using System.Net;
using System.Text.Json;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Quay;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A host that lets people in through groups alone, whose lists lag and whose bookmarks run out, over HTTP.</summary>
public sealed class QuayFacts(Installation here) : IAsyncLifetime
{
    private readonly QuayBooks books = new(Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871).Quay, file: null);
    private readonly AheadClock clock = new();
    private WebApplication server = null!;
    private Caller bell = null!;
    private int bookmarksToRunOut;
    private int listsBegun;

    private SourceReader Reader => server.Services.GetRequiredService<SourceReader>();

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

        var loss = (await bell.Post($"/api/sites/{site}/put-away/plan", new { })).GetProperty("plan").GetProperty("loss");
        Assert.Equal(
            """[{"what":"Tide times","sites":2},{"what":"Who to call at night","sites":1}]""",
            loss.GetProperty("shared").GetRawText()
        );
    }

    [Fact]
    public async Task A_section_that_stands_free_is_open_under_a_shut_site_and_stays_so_when_the_site_is_put_away()
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
                sections["Ballots 2026"].GetProperty("view").GetProperty("insideWords").GetString()
            )
        );
        Assert.Equal(
            ("nested", "no"),
            (sections["Drafts"].GetProperty("tie").GetString(), sections["Drafts"].GetProperty("isAjar").GetString())
        );

        // Putting the site away says that this door stays open; when the door is shut at the host, the next read sees it.
        var plan = (await bell.Post($"/api/sites/{site}/put-away/plan", new { })).GetProperty("plan");
        Assert.Contains(
            "\"Ballots 2026\" stands free and goes on letting in whoever its own door lets in. Shut it at Quay.",
            plan.GetProperty("remains").EnumerateArray().Select(one => one.GetString())
        );
        books.Edit(records => records.Sites["council-room"] = records.Sites["council-room"] with { Sections = [] });
        await Reader.Read("Quay", CancellationToken.None);
        Assert.Empty(await Titles("ajar pr"));
    }

    [Fact]
    public async Task Rooms_stand_under_each_other_and_their_keys_lie_in_circles_that_may_run_round()
    {
        var top = await bell.Get($"/api/sites/{await Id("pil")}");
        Assert.NotEmpty(top.GetProperty("content").GetProperty("children").EnumerateArray());
        Assert.Contains(top.GetProperty("keyHolders").EnumerateArray(), holder =>
            holder.GetProperty("through").GetString() == "Pilotage, keepers"
        );

        // The council's circle holds itself and the hall's, which holds it: everybody in both, once.
        var council = await bell.Get($"/api/sites/{await Id("council-room")}");
        Assert.Equal(12, council.GetProperty("keyHolders").GetArrayLength());
    }

    [Fact]
    public async Task A_bookmark_that_runs_out_begins_the_list_again_and_the_read_is_whole()
    {
        var (before, begun) = (await Count(), listsBegun);
        bookmarksToRunOut = 1;
        await Reader.Read("Quay", CancellationToken.None);
        Assert.True((await Source()).GetProperty("complete").GetBoolean());
        Assert.Equal((before, begun + 2), (await Count(), listsBegun));

        // One that runs out again and again ends the read, and no site vanishes by that.
        bookmarksToRunOut = int.MaxValue;
        await Reader.Read("Quay", CancellationToken.None);
        Assert.False((await Source()).GetProperty("complete").GetBoolean());
        Assert.StartsWith("Quay no longer goes on with sites?bookmark=", (await Source()).GetProperty("error").GetString());
        Assert.Empty(await Standing(vanished: true));
    }

    [Fact]
    public async Task What_is_removed_there_is_in_no_list_for_minutes_and_has_not_vanished()
    {
        var site = await Id("noticeboard");
        books.Remove("noticeboard", "", "k.brandt@merrowby.example", clock.GetUtcNow());
        await Reader.Read("Quay", CancellationToken.None);
        Assert.Equal(["here"], await Standing(vanished: false, "noticeboard"));

        clock.Ahead += QuayBooks.ListLag;
        await Reader.Read("Quay", CancellationToken.None);
        Assert.Equal(["attic"], await Standing(vanished: false, "noticeboard"));

        // Thirty days in two bins, from when it was removed and not from when that was seen.
        var bin = (await Database.Read(connection => connection.Sites(new Sight.Everything(), [new(site)]))).Single().Bin!;
        Assert.Equal(bin.Since.AddDays(30), bin.RecoverableUntil.Or(default));
    }

    [Fact]
    public async Task What_no_list_has_shown_for_longer_than_they_lag_has_vanished_and_what_shows_again_is_missing_no_more()
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
    public async Task Putting_away_and_bringing_back_go_through_both_bins()
    {
        var site = await Id("noticeboard");
        var asked = await bell.Post(
            $"/api/sites/{site}/put-away",
            new { typed = "Notice board", fingerprint = await bell.Plan($"/api/sites/{site}/put-away/plan") }
        );
        var aske = await here.SignIn("t.aske", bell.Http.BaseAddress);
        var approval = asked.GetProperty("approval").GetGuid();
        await aske.Post(
            $"/api/approvals/{approval}/give",
            new
            {
                fingerprint = (await aske.Get($"/api/approvals/{approval}"))
                    .GetProperty("plan")
                    .GetProperty("fingerprint")
                    .GetString(),
            }
        );
        await Comes(site, "kept");
        Assert.NotNull(books.Read(all => all.Sites["noticeboard"].Removed));

        await bell.Post(
            $"/api/sites/{site}/bring-back",
            new { fingerprint = await bell.Plan($"/api/sites/{site}/bring-back/plan") }
        );
        await Comes(site, "back");
        Assert.Null(books.Read(all => all.Sites["noticeboard"].Removed));
    }

    [Fact]
    public async Task A_key_that_lies_in_a_circle_is_handed_over_there_and_that_is_said()
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
            .Select(reason => reason.GetString())
            .ToList();
        Assert.Contains(
            "Quay lets nobody in by name, so no key can be handed over from here. Change who is in the group \"Pilotage, keepers\" at Quay; the next read sees it.",
            refused
        );
    }

    private async Task<long> Id(string key) =>
        await Database.Read(async connection => (await connection.SitesByKey("Quay", [key])).Single().Id.Value);

    private Task<int> Count() => Database.Read(async connection => (await connection.Sites(new Sight.Everything())).Count);

    private async Task<List<string>> Standing(bool vanished, string? key = null) =>
        await Database.Read(async connection =>
            (await connection.Sites(new Sight.Everything()))
                .Where(site => site.Vanished == vanished && (key is null || site.HostKey == key))
                .Select(site => site.Existence.ToString().ToLowerInvariant())
                .ToList()
        );

    private async Task<JsonElement> Source() =>
        (await bell.Get("/api/sources")).EnumerateArray().Single(source => source.GetProperty("name").GetString() == "Quay");

    private Task Comes(long site, string state) =>
        Installation.Until(
            async () =>
                (await bell.Send(HttpMethod.Get, $"/api/sites/{site}/stay")) is { Status: HttpStatusCode.OK } answer
                && answer.Body.GetProperty("stay").GetProperty("state").GetString() == state,
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
