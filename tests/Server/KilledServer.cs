using System.Diagnostics;
using AtticLedger.Cli.Demo;
using AtticLedger.Core.Journal;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A real server process is killed while a change is at the host.</summary>
public class KilledServer(Installation here)
{
    [Fact]
    public async Task A_change_whose_server_was_killed_is_sent_again_and_has_its_effect_once()
    {
        // Its own host, slow enough to be interrupted in the middle.
        var slipway = new SlipwayBooks(
            new SlipwayRecords { Workspace = new SlipwayWorkspace("Test", "world", false, "") },
            file: null
        );
        slipway.Edit(records =>
            records.Sites["k"] = new SlipwaySite
            {
                Id = "k",
                Slug = "kill",
                Title = "Kill",
                Team = "PIL",
                Label = "Guarded",
                Published = DateTimeOffset.UtcNow,
                Entries = [new("world", "read", "none"), new("everyone", "read")],
                Working = [new("a", "b")],
                Live = [new("a", "b")],
            }
        );
        var (name, address) = await Founded(here, slipway);

        var port = Installation.FreePort();
        using var first = Start(Databases.Server(name), address, port);
        var bell = await here.SignIn("n.bell", await Answering(port));
        await Installation.Until(
            async () => (await bell.Get("/api/register")).GetProperty("total").GetInt32() == 1,
            "the site is read"
        );
        var site = (await bell.Get("/api/register")).GetProperty("lines")[0].GetProperty("id").GetInt64();
        slipway.Faults = new Faults(1, 0, loseAfter: 100, 0, 0, TimeSpan.FromMilliseconds(300));
        var order = (await bell.Restrict(site)).GetProperty("hostChange").GetGuid();
        await Installation.Until(
            () => Task.FromResult(slipway.Read(records => records.Effects.Count) == 1),
            "the host has had its effect"
        );
        first.Kill(entireProcessTree: true);
        await first.WaitForExitAsync();
        slipway.Faults = Faults.None;

        using var second = Start(Databases.Server(name), address, port);
        await Answering(port);
        try
        {
            await Installation.Until(async () => await bell.StateOf(site, order) == "verified", "the order is seen");
            Assert.Single(slipway.Read(records => records.Effects.ToList()));
            Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
            var actions = (await bell.Get($"/api/journal?site={site}"))
                .GetProperty("entries")
                .EnumerateArray()
                .Select(entry => entry.GetProperty("action").GetString()!)
                .Where(action => action.StartsWith("change.", StringComparison.Ordinal) || action == "site.restrict")
                .ToList();
            Assert.Equal(["change.verified", "change.confirmed", "change.sent", "site.restrict"], actions);
        }
        finally
        {
            second.Kill(entireProcessTree: true);
        }
    }

    /// <summary>Its own database with the demo's organisation and one administrator, and its own host.</summary>
    internal static async Task<(string Database, Uri Slipway)> Founded(Installation here, SlipwayBooks slipway)
    {
        var address = await here.Run(app => app.MapSlipway(slipway, Installation.Token, TimeProvider.System));
        var name = await Databases.Migrated();
        await using var database = Database.Open(Databases.Server(name), TimeProvider.System);
        await MerrowbyOrganisation.Found(database);
        await database.Change(async change =>
            await change.PutAccount(
                await change.AddPerson(
                    new(
                        default,
                        Core.People.PersonKind.Staff,
                        "Nora Bell",
                        "n.bell@merrowby.example",
                        Core.People.Standing.Current,
                        null,
                        Core.Terms.Known<Core.Terms.UnitCode>.None
                    )
                ),
                Role.Administrator,
                null,
                Identity.Passwords.Hash(Installation.Password)
            )
        );
        return (name, address);
    }

    internal static Process Start(string connection, Uri slipway, int port)
    {
        var start = new ProcessStartInfo(
            "dotnet",
            [Path.Combine(AppContext.BaseDirectory, "AtticLedger.Server.dll"), "--urls", $"http://127.0.0.1:{port}"]
        )
        {
            Environment =
            {
                ["ATTIC_DATABASE"] = connection,
                ["ATTIC_HOSTS__0__NAME"] = "Slipway",
                ["ATTIC_HOSTS__0__KIND"] = "slipway",
                ["ATTIC_HOSTS__0__PREFIX"] = "slipway.example",
                ["ATTIC_HOSTS__0__ADDRESS"] = slipway.ToString(),
                ["ATTIC_HOSTS__0__TOKEN"] = Installation.Token,
            },
            RedirectStandardOutput = true,
        };
        var process = Process.Start(start)!;
        process.BeginOutputReadLine();
        return process;
    }

    internal static async Task<Uri> Answering(int port)
    {
        var address = new Uri($"http://127.0.0.1:{port}");
        using var http = new HttpClient();
        await Installation.Until(
            async () =>
            {
                try
                {
                    using var answer = await http.GetAsync(new Uri(address, "/health"));
                    return answer.IsSuccessStatusCode;
                }
                catch (HttpRequestException)
                {
                    return false;
                }
            },
            "the server answers"
        );
        return address;
    }
}
