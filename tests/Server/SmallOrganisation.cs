using System.Diagnostics;
using AtticLedger.Cli.Demo;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.StandIns;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>An organisation of three people with its own host, and servers that are started and stopped.</summary>
internal sealed class SmallOrganisation : IAsyncDisposable
{
    private readonly string database;
    private readonly Uri host;

    private SmallOrganisation(string database, Uri host, SlipwayBooks slipway)
    {
        (this.database, this.host, Slipway) = (database, host, slipway);
        Database = Store.Database.Open(Databases.Server(database), TimeProvider.System);
    }

    public SlipwayBooks Slipway { get; }

    public Database Database { get; }

    public PersonId Vane { get; private set; }

    public PersonId Quist { get; private set; }

    public static async Task<SmallOrganisation> Found(Installation here, params (string Slug, SlipwayEntry[] Entries)[] sites)
    {
        var clock = new MovableClock(null, TimeSpan.Zero);
        var slipway = new SlipwayBooks(
            new SlipwayRecords
            {
                Workspace = new SlipwayWorkspace("Test", "world", false, ""),
                People =
                {
                    ["1"] = new("1", "Idris Vane", "i.vane@merrowby.example", false, true, "PIL"),
                    ["2"] = new("2", "Renata Quist", "r.quist@merrowby.example", false, true, "PIL"),
                },
            },
            file: null
        );
        foreach (var (slug, entries) in sites)
        {
            slipway.Edit(records =>
                records.Sites[slug] = new SlipwaySite
                {
                    Id = slug,
                    Slug = slug,
                    Title = slug,
                    Team = "PIL",
                    Published = DateTimeOffset.UtcNow,
                    Entries = entries,
                    Working = [new("a", "b")],
                    Live = [new("a", "b")],
                }
            );
        }

        var host = await here.Run(app =>
        {
            app.MapSlipway(slipway, Installation.Token, clock);
            app.MapClock(clock, Installation.Token);
        });
        var small = new SmallOrganisation(await Databases.Migrated(), host, slipway);
        await MerrowbyOrganisation.Found(small.Database);
        await small.Database.Change(async change =>
        {
            var hash = Identity.Passwords.Hash(Installation.Password);
            async Task<PersonId> Add(
                string name,
                string local,
                Role role,
                string unit = "PIL",
                Standing standing = Standing.Current,
                DateOnly? day = null
            )
            {
                var id = await change.AddPerson(
                    new(default, PersonKind.Staff, name, $"{local}@merrowby.example", standing, day, Known.Of(new UnitCode(unit)))
                );
                await change.PutAccount(id, role, null, hash);
                return id;
            }

            small.Vane = await Add("Idris Vane", "i.vane", Role.Owner);
            small.Quist = await Add("Renata Quist", "r.quist", Role.Owner);
            await Add("Nora Bell", "n.bell", Role.Administrator, "CMS");
            var time = await change.Connection.OrganisationTime();
            await Add("Ottoline Farrow", "o.farrow", Role.Owner, "PIL", Standing.Leaving, time.DayOf(change.Now));
        });
        return small;
    }

    public async Task<RunningServer> Start()
    {
        var port = Installation.FreePort();
        var start = new ProcessStartInfo(
            "dotnet",
            [Path.Combine(AppContext.BaseDirectory, "AtticLedger.Server.dll"), "--urls", $"http://127.0.0.1:{port}"]
        )
        {
            Environment =
            {
                ["ATTIC_DATABASE"] = Databases.Server(database),
                ["ATTIC_HOSTS__0__NAME"] = "Slipway",
                ["ATTIC_HOSTS__0__KIND"] = "slipway",
                ["ATTIC_HOSTS__0__PREFIX"] = "slipway.example",
                ["ATTIC_HOSTS__0__ADDRESS"] = host.ToString(),
                ["ATTIC_HOSTS__0__TOKEN"] = Installation.Token,
                ["ATTIC_DEMO_CLOCK"] = host.ToString(),
                ["ATTIC_DEMO_CLOCK_TOKEN"] = Installation.Token,
                ["ATTIC_DEMO"] = "true",
            },
            RedirectStandardOutput = true,
        };
        var process = Process.Start(start)!;
        process.BeginOutputReadLine();
        return new RunningServer(process, await KilledServer.Answering(port));
    }

    public ValueTask DisposeAsync() => Database.DisposeAsync();
}

internal sealed class RunningServer(Process process, Uri address) : IAsyncDisposable
{
    public Uri Address => address;

    public Task Read(Caller caller, int sites, int seconds = 180) =>
        Installation.Until(
            async () => (await caller.Get("/api/register")).GetProperty("total").GetInt32() == sites,
            "the sites read",
            seconds
        );

    public async Task<long> Site(Caller caller, string title) =>
        (await caller.Get("/api/register"))
            .GetProperty("lines")
            .EnumerateArray()
            .Single(line => line.GetProperty("title").GetString() == title)
            .GetProperty("id")
            .GetInt64();

    public void Kill() => process.Kill(entireProcessTree: true);

    public async ValueTask DisposeAsync()
    {
        Kill();
        await process.WaitForExitAsync();
        process.Dispose();
    }
}
