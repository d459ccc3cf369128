using System.Text.Json;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.DueWork;
using AtticLedger.Server.Identity;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.Logging.Abstractions;

namespace AtticLedger.Server.Tests;

/// <summary>Real server processes that are stopped or killed while days pass and a site is handed over.</summary>
public class DayFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:1", "own");

    [Fact]
    public async Task What_fell_due_while_no_server_ran_for_three_days_is_done_once_in_order_with_its_true_dates()
    {
        await using var organisation = await SmallOrganisation.Found(
            here,
            ("due-a", [Vane, new("team:PIL", "read")]),
            ("due-b", [Vane, new("team:PIL", "read")]),
            ("due-c", [Vane, new("everyone", "read")])
        );
        await organisation.Database.Change(async change =>
        {
            await change.Set(Core.Sites.Setting.OfferDays, "1");
            await change.Set(Core.Sites.Setting.ApprovalDays, "1");
        });
        var leaving = await organisation.Database.Read(connection => connection.OrganisationTime());
        var today = leaving.DayOf(DateTimeOffset.UtcNow);
        await using (var first = await organisation.Start())
        {
            var vane = await here.SignIn("i.vane", first.Address);
            await first.Read(vane, 3);
            var (a, b, c) = (await first.Site(vane, "due-a"), await first.Site(vane, "due-b"), await first.Site(vane, "due-c"));

            // An owner's move to the attic that can be stopped for an hour, one that waits for a second person, and an open
            // offer.
            await vane.Post(
                $"/api/sites/{a}/move-to-attic",
                new { typed = "due-a", fingerprint = await vane.Plan($"/api/sites/{a}/move-to-attic/plan") }
            );
            await vane.Post(
                $"/api/sites/{c}/move-to-attic",
                new { typed = "due-c", fingerprint = await vane.Plan($"/api/sites/{c}/move-to-attic/plan") }
            );
            var request = new
            {
                to = organisation.Quist.Value,
                currentOwner = organisation.Vane.Value,
                after = "leaves",
            };
            await vane.Post(
                $"/api/sites/{b}/offer",
                new
                {
                    request.to,
                    request.currentOwner,
                    request.after,
                    password = Installation.Password,
                    fingerprint = await vane.Plan($"/api/sites/{b}/offer/plan", request),
                }
            );
        }

        // Three days pass with no server running.
        await organisation.Database.Change(change => change.Set(Core.Sites.Setting.DemoClock, $"{3 * 86_400}"));
        await using (var second = await organisation.Start())
        {
            var bell = await here.SignIn("n.bell", second.Address);
            await Installation.Until(async () => (await Actions(bell)).Contains("attic.moved"), "the site is in the attic");
            await Installation.Until(async () => (await Actions(bell)).Contains("owner.lapsed"), "the offer has lapsed");
            var entries = (await bell.Get("/api/journal?limit=200")).GetProperty("entries").EnumerateArray().Reverse().ToList();
            var due = entries
                .Where(entry => Due(entry) is not null)
                .Select(entry =>
                    (
                        Action: entry.GetProperty("action").GetString()!,
                        Due: Due(entry)!.Value,
                        At: entry.GetProperty("at").GetDateTimeOffset()
                    )
                )
                .ToList();

            // The end of the hour and the last day of the person who leaves, in either order; then what was due on the second
            // day: once each.
            Assert.Equal(["person.left", "site.move-to-attic"], due.Take(2).Select(one => one.Action).Order());
            Assert.Equal(["approval.lapsed", "owner.lapsed"], due.Skip(2).Select(one => one.Action));
            Assert.Equal(due.Select(one => one.Due).Order(), due.Select(one => one.Due));
            Assert.All(due, one => Assert.True(one.Due < one.At && one.At - one.Due < TimeSpan.FromDays(3.1), $"{one}"));
            Assert.Equal(leaving.EndOf(today), due.Single(one => one.Action == "person.left").Due);
            Assert.Equal(leaving.EndOf(today.AddDays(1)), due[3].Due);
            Assert.Single(organisation.Slipway.Read(records => records.Effects.ToList()));
            Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
        }
    }

    [Fact]
    public async Task A_server_that_is_killed_during_a_handover_completes_it_once()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("switch", [Vane]));
        Guid offer;
        await using (var first = await organisation.Start())
        {
            var vane = await here.SignIn("i.vane", first.Address);
            await first.Read(vane, 1);
            var site = await first.Site(vane, "switch");
            var request = new
            {
                to = organisation.Quist.Value,
                currentOwner = organisation.Vane.Value,
                after = "leaves",
            };
            offer = (
                await vane.Post(
                    $"/api/sites/{site}/offer",
                    new
                    {
                        request.to,
                        request.currentOwner,
                        request.after,
                        password = Installation.Password,
                        fingerprint = await vane.Plan($"/api/sites/{site}/offer/plan", request),
                    }
                )
            ).GetProperty("offer").GetGuid();
            organisation.Slipway.Faults = new Faults(1, 0, loseAfter: 100, 0, 0, TimeSpan.FromMilliseconds(300));
            var quist = await here.SignIn("r.quist", first.Address);
            var fingerprint = (await quist.Get($"/api/offers/{offer}"))
                .GetProperty("plan")
                .GetProperty("fingerprint")
                .GetString();
            await quist.Post($"/api/offers/{offer}/accept", new { fingerprint });
            await Installation.Until(
                () => Task.FromResult(organisation.Slipway.Read(records => records.Effects.Count) == 1),
                "the host has changed the owner"
            );
            first.Kill();
        }

        organisation.Slipway.Faults = Faults.None;
        await using (var second = await organisation.Start())
        {
            var quist = await here.SignIn("r.quist", second.Address);
            await Installation.Until(
                async () => (await quist.Get($"/api/offers/{offer}")).GetProperty("state").GetString() == "handed-over",
                "the site is handed over"
            );
            Assert.Equal(
                ["p:2 own"],
                organisation.Slipway.Read(records =>
                    records.Sites["switch"].Entries.Select(entry => $"{entry.Entry} {entry.Role}")
                )
            );
            Assert.Single(organisation.Slipway.Read(records => records.Effects.ToList()));
            Assert.Equal(
                1,
                (await Actions(await here.SignIn("n.bell", second.Address))).Count(action => action == "owner.handed-over")
            );
        }
    }

    [Fact]
    public async Task Moving_the_demos_clock_moves_the_hosts_too_and_what_was_in_the_bin_is_erased()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("clock", [Vane, new("team:PIL", "read")]));
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 1);
        var site = await server.Site(bell, "clock");
        await bell.Post(
            $"/api/sites/{site}/move-to-attic",
            new { typed = "clock", fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan") }
        );
        await Installation.Until(async () => (await Actions(bell)).Contains("attic.moved"), "the site is in the attic");

        await bell.Post("/api/clock", new { hours = 0 }, System.Net.HttpStatusCode.UnprocessableEntity);
        var before = (await bell.Get("/api/clock")).GetProperty("now").GetDateTimeOffset();
        await bell.Post("/api/clock", new { hours = 24 * 31 });
        Assert.True((await bell.Get("/api/clock")).GetProperty("now").GetDateTimeOffset() >= before.AddDays(31));

        // The session keeps its time. The host has emptied the bin, and the register shows the site as erased.
        await Installation.Until(async () => (await Actions(bell)).Contains("attic.erased"), "the site is cleared");
        Assert.Equal(
            "erased",
            (await bell.Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("state").GetString()
        );
        Assert.Contains(
            "has erased the site",
            (await bell.Post($"/api/sites/{site}/restore/plan", new { })).GetProperty("refused").ToString(),
            StringComparison.Ordinal
        );
        Assert.Contains("person.left", await Actions(bell));
        Assert.Equal(
            System.Net.HttpStatusCode.NotFound,
            (await (await here.SignIn("n.bell")).Send(HttpMethod.Get, "/api/clock")).Status
        );
    }

    [Fact]
    public async Task Hundreds_who_have_left_are_recorded_once_each_in_a_few_steps()
    {
        await using var organisation = await SmallOrganisation.Found(here);
        var left = await organisation.Database.Change(async change =>
        {
            var yesterday = (await change.Connection.OrganisationTime()).DayOf(change.Now).AddDays(-1);
            var leavers = new List<PersonId>();
            for (var i = 0; i < 600; i++)
            {
                leavers.Add(
                    await change.AddPerson(
                        new(
                            default,
                            PersonKind.Staff,
                            $"Leaver {i}",
                            $"leaver.{i}@merrowby.example",
                            Standing.Leaving,
                            yesterday,
                            Known.Of(new UnitCode("PIL"))
                        )
                    )
                );
            }

            return leavers;
        });
        var days = new DayRunner(organisation.Database, NullLogger<DayRunner>.Instance);
        Assert.Equal(left.Count, await days.RunDue(CancellationToken.None));
        Assert.Equal(0, await days.RunDue(CancellationToken.None));

        var directory = await organisation.Database.Change(async change =>
            await change.PeopleDirectory(await change.Connection.OrganisationTime())
        );
        Assert.All(left, person => Assert.Equal(Standing.Left, directory.Find(person)!.Standing));
        var entries = await organisation.Database.Read(connection =>
            connection.Journal(new JournalQuery(null, "person.left", null, Limit: 2000))
        );
        Assert.Equal(left.Count, entries.Count);
        Assert.Equal(2, entries.Select(entry => entry.At).Distinct().Count());
    }

    private static async Task<List<string>> Actions(Caller caller) =>
        [
            .. (await caller.Get("/api/journal?limit=200"))
                .GetProperty("entries")
                .EnumerateArray()
                .Select(entry => entry.GetProperty("action").GetString()!),
        ];

    // When it fell due, as in the entry.
    private static DateTimeOffset? Due(JsonElement entry)
    {
        using var text = JsonDocument.Parse(entry.GetProperty("text").GetString()!);
        return new[] { "after", "before" }
            .Select(side => text.RootElement.GetProperty(side))
            .Where(side =>
                side.ValueKind == JsonValueKind.Object
                && side.TryGetProperty("due", out var due)
                && due.ValueKind == JsonValueKind.String
            )
            .Select(side => (DateTimeOffset?)side.GetProperty("due").GetDateTimeOffset())
            .FirstOrDefault();
    }
}
