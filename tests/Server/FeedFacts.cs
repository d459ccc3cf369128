using System.Net;
using System.Text.Json;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;

namespace AtticLedger.Server.Tests;

public class FeedFacts(Installation here)
{
    [Fact]
    public void An_entry_that_is_not_understood_changes_its_site_or_everything_and_never_nothing()
    {
        Assert.Equal(new FeedNews.Site(new SiteId(12)), FeedNews.Of(EntrySubject.Of(new SiteId(12)), action: null));
        Assert.IsType<FeedNews.Organisation>(FeedNews.Of(EntrySubject.Accounts, action: null));
        Assert.IsType<FeedNews.Organisation>(FeedNews.Of(subject: null, action: null));
        Assert.IsType<FeedNews.Nothing>(FeedNews.Of(new EntrySubject.Account(3), JournalAction.SessionBegan));
    }

    [Fact]
    public async Task An_event_names_the_sites_that_its_viewer_may_see_and_says_of_others_only_that_there_are_some()
    {
        var state = await here.Server.Services.GetRequiredService<LiveRegister>().Refresh();
        var all = state.Seen(new Scope.Everything());
        var unit = new UnitCode("PIL");
        var viewer = new Viewer(7, new PersonId(7), Role.Steward, unit, Guid.Empty);
        var seen = state.Seen(viewer.ScopeOn(state.PeopleDirectory));
        var mine = seen.Lines(seen.All).First().Id;
        var other = all.Lines(all.All).First(line => seen.Find(line.Id) is null).Id;

        LedgerEvent Of(params FeedEntry[] entries) => LedgerEvent.Of(9, entries, seen, viewer);
        static FeedEntry Entry(EntrySubject subject, JournalAction? action) => new(9, subject, action);
        var both = Of(
            Entry(EntrySubject.Of(mine), JournalAction.SiteSynced),
            Entry(EntrySubject.Of(other), JournalAction.SiteSynced)
        );
        Assert.Equal([mine.Value], both.Sites);
        Assert.Equal([FeedTopic.Elsewhere], both.Topics);
        Assert.Equal(
            [FeedTopic.Accounts, FeedTopic.OwnAccount],
            Of(Entry(new EntrySubject.Account(7), JournalAction.SessionBegan)).Topics
        );
        Assert.Equal([FeedTopic.Accounts], Of(Entry(new EntrySubject.Account(8), JournalAction.SessionBegan)).Topics);
        Assert.Equal(
            [FeedTopic.Everything],
            Of(Entry(EntrySubject.Organisation, JournalAction.VocabularyChanged), Entry(EntrySubject.Of(mine), null)).Topics
        );
        Assert.Equal([FeedTopic.Everything], LedgerEvent.Of(9, null, seen, viewer).Topics);
    }

    [Fact]
    public void What_was_added_to_the_feed_is_known_from_a_place_on_or_not_at_all()
    {
        static FeedEntry Numbered(long number) => new(number, EntrySubject.Accounts, JournalAction.SignInRefused);
        var recent = new RecentFeed();
        Assert.Null(recent.Between(0, 1));
        recent.Add(4, [Numbered(5), Numbered(6)]);
        recent.Add(6, [Numbered(7)]);
        Assert.Equal([6L, 7L], recent.Between(5, 7)!.Select(entry => entry.Number));
        Assert.Equal([5L], recent.Between(4, 5)!.Select(entry => entry.Number));
        Assert.Empty(recent.Between(7, 7)!);
        Assert.Null(recent.Between(3, 7));

        // Only the latest are kept.
        recent.Add(7, [.. Enumerable.Range(8, 3000).Select(number => Numbered(number))]);
        Assert.Null(recent.Between(7, 3007));
        Assert.Equal(1000, recent.Between(2007, 3007)!.Count);
    }

    [Fact]
    public async Task An_index_that_followed_the_feed_equals_one_built_from_scratch()
    {
        // A second index follows while sites are added, changed and restricted.
        var follower = IndexFor(null);
        await follower.Refresh();
        var bell = await here.SignIn("n.bell");
        for (var i = 0; i < 4; i++)
        {
            var site = await here.NewSite(
                $"follow-{i}",
                new SlipwayEntry("world", "read", "none"),
                new SlipwayEntry("p:s0004", "own")
            );
            await follower.Refresh();
            var order = (await bell.Restrict(site)).GetProperty("hostChange").GetGuid();
            await follower.Refresh();
            await Installation.Until(async () => await bell.StateOf(site, order) == "verified", "the order is seen");
        }

        // Other tests change the register meanwhile, so both are brought to the same position in the feed.
        await Installation.Until(
            async () =>
            {
                var followed = await follower.Refresh();
                var anew = await IndexFor(null).Current();
                if (followed.Place != anew.Place)
                {
                    return false;
                }

                var (expected, found) = (Cells(anew), Cells(followed));
                Assert.Equal(expected.Count, found.Count);
                Assert.All(expected, pair => Assert.Equal(pair.Value, found[pair.Key]));

                return true;
            },
            "both stand at the same place"
        );
    }

    [Fact]
    public async Task A_server_that_starts_goes_on_from_its_snapshot_and_passes_over_one_that_is_not_its_own()
    {
        await here.Quiet();
        var folder = Directory.CreateTempSubdirectory("attic-snapshot");
        var file = Path.Combine(folder.FullName, "index.snapshot");
        var before = IndexFor(folder.FullName);
        await before.Refresh();
        await before.KeepSnapshot();
        Assert.True(
            OperatingSystem.IsWindows() || File.GetUnixFileMode(file) == (UnixFileMode.UserRead | UnixFileMode.UserWrite)
        );
        await here.NewSite("after-snapshot", new SlipwayEntry("world", "read", "none"));

        // It reads the file, and later changes from the feed.
        using var logs = new StringLogs();
        var started = await IndexFor(folder.FullName, logs).Current();
        Assert.Contains("was read from its snapshot", logs.Text);
        var anew = await IndexFor(null).Current();
        Assert.Equal(anew.Place, started.Place);
        Assert.Equal(Cells(anew), Cells(started));

        // A snapshot that was cut short, altered or belongs to another register is not used.
        var whole = await File.ReadAllBytesAsync(file);
        byte[] altered = [.. whole];
        altered[whole.Length / 2] ^= 1;
        foreach (var bad in new[] { whole[..^1], altered, [] })
        {
            await File.WriteAllBytesAsync(file, bad);
            Assert.Equal(Cells(anew), Cells(await IndexFor(folder.FullName).Current()));
        }

        await File.WriteAllBytesAsync(file, whole);
        await using var other = Store.Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);
        Assert.Equal(
            0,
            (
                await new LiveRegister(
                    other,
                    new IndexSnapshots(folder.FullName, NullLogger<IndexSnapshots>.Instance),
                    NullLogger<LiveRegister>.Instance
                ).Current()
            )
                .Index
                .Count
        );
        folder.Delete(recursive: true);
    }

    [Fact]
    public async Task A_server_that_cannot_catch_up_says_so_and_when_to_come_back()
    {
        var bell = await here.SignIn("n.bell");
        bell.Http.DefaultRequestHeaders.Add(RegisterAt.Header, "999999999");
        using var answer = await bell.Http.GetAsync("/api/register");

        Assert.Equal(HttpStatusCode.ServiceUnavailable, answer.StatusCode);
        Assert.Equal("1", string.Join("", answer.Headers.GetValues("Retry-After")));
    }

    [Fact]
    public async Task The_event_stream_tells_when_the_register_has_moved_on()
    {
        var bell = await here.SignIn("n.bell");
        using var stream = await bell.Http.GetStreamAsync("/api/events");
        using var reader = new StreamReader(stream);
        var before = await Place(reader);
        await here.NewSite("told", new SlipwayEntry("everyone", "read"));

        var head = await here.Database.Read(Store.JournalTable.JournalHead);
        while (before < head.Number)
        {
            before = await Place(reader);
        }
    }

    [Theory]
    [InlineData("", "")]
    [InlineData("unit=MAR", "units eq \"MAR\"")]
    [InlineData(
        "unit=none&status=published",
        "(unit eq null) and (status eq \"published\" or status eq \"unpublished-changes\")"
    )]
    [InlineData("rule=R-07&reach=exceeds&filter=name%20pr", "(exceeds eq true) and (breaks eq \"R-07\") and (name pr)")]
    [InlineData("unit=%22%29%20or%20%28name%20pr", "units eq \"\\\") or (name pr\"")]
    public async Task The_sentence_is_one_expression_and_nothing_gets_out_of_its_quotes(string query, string expression)
    {
        await here.Quiet();
        var bell = await here.SignIn("n.bell");
        var register = await bell.Get($"/api/register?limit=0&{query}");

        Assert.Equal(expression, register.GetProperty("filter").GetString());
        if (expression.Length > 0)
        {
            var written = await bell.Get("/api/register?limit=0&filter=" + Uri.EscapeDataString(expression));
            Assert.Equal(written.GetProperty("total").GetInt32(), register.GetProperty("total").GetInt32());
        }
    }

    [Fact]
    public async Task Counts_are_what_choosing_them_would_leave()
    {
        await here.Quiet();
        var nair = await here.SignIn("h.nair");
        var register = await nair.Get("/api/register?limit=0&status=published");
        foreach (var (part, name) in new[] { ("units", "unit"), ("reaches", "reach"), ("rules", "rule") })
        {
            foreach (var choice in register.GetProperty(part).EnumerateArray())
            {
                var chosen = await nair.Get(
                    $"/api/register?limit=0&status=published&{name}={choice.GetProperty("key").GetString()}"
                );
                Assert.Equal(choice.GetProperty("count").GetInt32(), chosen.GetProperty("total").GetInt32());
            }
        }
    }

    private LiveRegister IndexFor(string? folder, ILoggerFactory? logs = null) =>
        new(
            here.Database,
            new IndexSnapshots(folder, (logs ?? NullLoggerFactory.Instance).CreateLogger<IndexSnapshots>()),
            NullLogger<LiveRegister>.Instance
        );

    // Every attribute of every row, in the words of the screen.
    private static Dictionary<SiteId, List<string>> Cells(LedgerState state)
    {
        var all = state.Seen(new Scope.Everything());
        return all.Lines(all.All)
            .ToDictionary(
                line => line.Id,
                line =>
                    JudgedSite
                        .Attributes.All.Select(attribute => $"{attribute.Name}: {CellText.Of(line, attribute, state)}")
                        .ToList()
            );
    }

    private static async Task<long> Place(StreamReader reader)
    {
        while (await reader.ReadLineAsync() is { } line)
        {
            if (line.StartsWith("data:", StringComparison.Ordinal))
            {
                return JsonDocument.Parse(line["data:".Length..]).RootElement.GetProperty("place").GetInt64();
            }
        }

        throw new InvalidOperationException("The stream ended.");
    }

    /// <summary>The log as one text.</summary>
    private sealed class StringLogs : ILoggerFactory, ILogger
    {
        private readonly System.Text.StringBuilder all = new();

        public string Text => all.ToString();

        public ILogger CreateLogger(string categoryName) => this;

        public void Log<TState>(
            LogLevel logLevel,
            EventId eventId,
            TState state,
            Exception? exception,
            Func<TState, Exception?, string> formatter
        ) => all.AppendLine(formatter(state, exception));

        public bool IsEnabled(LogLevel logLevel) => true;

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public void AddProvider(ILoggerProvider provider) { }

        public void Dispose() { }
    }
}
