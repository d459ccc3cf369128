using AtticLedger.Core.Sites;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.People;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Syncs that are interrupted and continue, and hosts that report changes instead of everything.</summary>
public sealed class SyncFacts(Installation here) : IAsyncLifetime
{
    private readonly SlipwayBooks slipway = new(
        new SlipwayRecords { Workspace = new("Shed", "world", false, "everyone") },
        file: null
    );

    private readonly List<string> asked = [];
    private string? failsAt;
    private WebApplication server = null!;

    private Database database = null!;

    private SourceSync Reader => server.Services.GetRequiredService<SourceSync>();

    public async ValueTask InitializeAsync()
    {
        slipway.Edit(records =>
        {
            foreach (var number in Enumerable.Range(1, 250))
            {
                records.Sites[$"w{number:000}"] = new SlipwaySite
                {
                    Id = $"w{number:000}",
                    Slug = $"s{number}",
                    Title = $"Site {number}",
                    Entries = [new("everyone", "read")],
                };
            }
        });
        var host = await here.Run(app =>
        {
            app.Use(
                async (http, next) =>
                {
                    var path = $"{http.Request.Path}{http.Request.QueryString}";
                    asked.Add(path[5..]);
                    if (failsAt is { } part && path.Contains(part, StringComparison.Ordinal))
                    {
                        http.Response.StatusCode = 500;
                        return;
                    }

                    await next();
                }
            );
            app.MapSlipway(slipway, Installation.Token, TimeProvider.System);
        });
        (server, _) = await here.Start(host, null, await Databases.Migrated());
        database = server.Services.GetRequiredService<Database>();
    }

    public async ValueTask DisposeAsync() => await here.Leave(server);

    [Fact]
    public async Task Hosts_that_were_faster_than_the_staff_list_are_synced_again_once_it_has_brought_the_people()
    {
        var merrowby = StandIns.Demo.Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871);
        var late = new TaskCompletionSource();
        var (host, staff) = (
            await here.Run(app =>
                app.MapSlipway(new SlipwayBooks(merrowby.Slipway, file: null), Installation.Token, TimeProvider.System)
            ),
            await here.Run(app =>
            {
                app.Use(
                    async (_, next) =>
                    {
                        await late.Task;
                        await next();
                    }
                );
                app.MapStaffList(merrowby.Staff, Installation.Token);
            })
        );
        var (other, _) = await here.Start(host, staff, await Databases.Migrated());
        var register = other.Services.GetRequiredService<Database>();
        await Cli.Demo.MerrowbyOrganisation.Found(register);
        async Task<int> Unknown() =>
            (
                await register.Read(connection => connection.PeopleDirectory(DateTimeOffset.UtcNow, new(TimeZoneInfo.Utc)))
            ).Groups.Count(group => !group.Complete);
        other.Services.GetRequiredService<SourceSync>().StartDue(default);
        await Installation.Until(
            async () =>
                (await register.Read(connection => connection.Sources(register.Now))).Exists(source =>
                    source is { Name: "Slipway", Complete: true }
                ),
            "Slipway is synced without people"
        );
        var before = await Unknown();
        late.SetResult();
        await Installation.Until(async () => await Unknown() < before / 2, "the groups are known");
        await here.Leave(other);
    }

    [Fact]
    public async Task A_sync_that_breaks_off_goes_on_where_it_was_and_knows_what_it_had_seen()
    {
        await Reader.Read("Slipway", default);
        Assert.Equal((250, 0), await Count());
        slipway.Edit(records =>
        {
            records.Sites.Remove("w010");
            records.Sites.Remove("w240");
        });

        // The third page fails: no site is marked as no longer reported yet, and the next sync requests that page first.
        failsAt = "cursor=w201";
        await Reader.Read("Slipway", default);
        var broken = await Source();
        Assert.Equal((false, 200, "sites?cursor=w201"), (broken.Complete, broken.Read, broken.Resume));
        Assert.Equal((250, 0), await Count());

        failsAt = null;
        asked.Clear();
        await Reader.Read("Slipway", default);
        Assert.Equal(
            ["sites?cursor=w201", "bin?limit=100"],
            asked.Where(path =>
                path.StartsWith("sites", StringComparison.Ordinal) || path.StartsWith("bin?", StringComparison.Ordinal)
            )
        );
        var whole = await Source();
        Assert.Equal((true, 248, null, broken.Began), (whole.Complete, whole.Read, whole.Resume, whole.Began));
        Assert.Equal((248, 2), await Count());

        // The next sync starts again.
        asked.Clear();
        await Reader.Read("Slipway", default);
        Assert.Contains("sites?limit=100", asked);
    }

    [Fact]
    public async Task A_host_that_reports_changes_is_asked_for_them_and_synced_whole_where_its_bookmark_has_expired()
    {
        await Reader.SyncDue(default);
        asked.Clear();
        slipway.Edit(records =>
        {
            records.Sites["w007"] = records.Sites["w007"] with { Title = "Otherwise" };
            records.Sites.Remove("w008");
        });
        slipway.Delete("w009", null, null, DateTimeOffset.UtcNow);
        await Reader.SyncDue(default);
        Assert.DoesNotContain(asked, path => path.StartsWith("sites?", StringComparison.Ordinal));
        Assert.Equal((249, 1), await Count());
        var sites = await Sites();
        Assert.Equal(("Otherwise", Existence.Attic), (sites["w007"].Title, sites["w009"].Existence));
        var source = await Source();
        Assert.Equal((true, 3, 250), (source.Complete, source.Changes, source.Read));

        // What is not understood of a change is listed beside what the complete sync withheld.
        slipway.Edit(records => records.Sites["w012"] = records.Sites["w012"] with { Join = "by-lot" });
        await Reader.SyncDue(default);
        Assert.Equal(["w012: Slipway reports an unknown way to join: \"by-lot\"."], (await Source()).Refused);

        // Nothing changed, so nothing is written.
        var head = await database.Read(connection => connection.JournalHead());
        await Reader.SyncDue(default);
        Assert.Equal(head, await database.Read(connection => connection.JournalHead()));

        // It fails once: the error is shown, and the next sync catches up.
        failsAt = "changes?since";
        slipway.Edit(records => records.Sites["w011"] = records.Sites["w011"] with { Title = "Late" });
        await Reader.SyncDue(default);
        Assert.Contains("500", (await Source()).Error);
        failsAt = null;
        await Reader.SyncDue(default);
        Assert.Equal(("Late", null), ((await Sites())["w011"].Title, (await Source()).Error));

        // A marker of another run of the host is invalid, so everything is synced.
        await database.Change(async change =>
        {
            await change.LeaseToAsk("Slipway", "somebody", TimeSpan.FromMinutes(1));
            await change.Asked("Slipway", "somebody", "long-ago-1", 0, [], null, false);
            return 0;
        });
        asked.Clear();
        await Reader.SyncDue(default);
        Assert.Contains("sites?limit=100", asked);
        Assert.Equal((true, 0), ((await Source()).Complete, (await Source()).Changes));

        // A sync that somebody asks for is complete.
        await database.Change(change => change.Want("Slipway"));
        asked.Clear();
        await Reader.SyncDue(default);
        Assert.Contains("sites?limit=100", asked);
    }

    private async Task<SourceRow> Source()
    {
        return (await database.Read(connection => connection.Sources(database.Now))).Single(source => source.Name == "Slipway");
    }

    private async Task<Dictionary<string, SiteFacts>> Sites() =>
        (await database.Read(connection => connection.Sites(new Scope.Everything()))).ToDictionary(site => site.HostKey);

    private async Task<(int There, int NoLongerReported)> Count()
    {
        var sites = await Sites();
        return (sites.Values.Count(site => !site.NoLongerReported), sites.Values.Count(site => site.NoLongerReported));
    }
}
