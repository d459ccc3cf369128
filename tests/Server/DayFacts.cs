using System.Text.Json;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Days;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>Real server processes that are stopped, or killed, while days pass and while a key is switched.</summary>
public class DayFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:1", "own");

    [Fact]
    public async Task What_fell_due_while_no_server_ran_for_three_days_is_done_once_in_order_with_its_true_dates()
    {
        await using var house = await SmallHouse.Found(
            here,
            ("due-a", [Vane, new("team:PIL", "read")]),
            ("due-b", [Vane, new("team:PIL", "read")]),
            ("due-c", [Vane, new("everyone", "read")])
        );
        await house.Database.Change(async change =>
        {
            await change.SetSetting("offer-days", "1");
            await change.SetSetting("approval-days", "1");
        });
        var leaving = await house.Database.Read(connection => connection.HouseTime());
        var today = leaving.DayOf(DateTimeOffset.UtcNow);
        await using (var first = await house.Start())
        {
            var vane = await here.SignIn("i.vane", first.Address);
            await first.Read(vane, 3);
            var (a, b, c) = (await first.Site(vane, "due-a"), await first.Site(vane, "due-b"), await first.Site(vane, "due-c"));

            // An owner's deletion that has an hour to be stopped, one that waits for a second person, and an offer to answer.
            await vane.Post(
                $"/api/sites/{a}/put-away",
                new { typed = "due-a", fingerprint = await vane.Plan($"/api/sites/{a}/put-away/plan") }
            );
            await vane.Post(
                $"/api/sites/{c}/put-away",
                new { typed = "due-c", fingerprint = await vane.Plan($"/api/sites/{c}/put-away/plan") }
            );
            var wish = new
            {
                to = house.Quist.Value,
                giver = house.Vane.Value,
                after = "leaves",
            };
            await vane.Post(
                $"/api/sites/{b}/offer",
                new
                {
                    wish.to,
                    wish.giver,
                    wish.after,
                    password = Installation.Password,
                    fingerprint = await vane.Plan($"/api/sites/{b}/offer/plan", wish),
                }
            );
        }

        // Three days pass. Nobody looks.
        await house.Database.Change(change => change.SetSetting(DemoClock.Setting, $"{3 * 86_400}"));
        await using (var second = await house.Start())
        {
            var bell = await here.SignIn("n.bell", second.Address);
            await Installation.Until(async () => (await Deeds(bell)).Contains("attic.kept"), "the site is in the attic");
            await Installation.Until(async () => (await Deeds(bell)).Contains("key.lapsed"), "the offer has lapsed");
            var entries = (await bell.Get("/api/journal?limit=200")).GetProperty("entries").EnumerateArray().Reverse().ToList();
            var due = entries
                .Where(entry => Due(entry) is not null)
                .Select(entry =>
                    (
                        Deed: entry.GetProperty("deed").GetString()!,
                        Due: Due(entry)!.Value,
                        At: entry.GetProperty("at").GetDateTimeOffset()
                    )
                )
                .ToList();

            // The hour that was over and the leaver's last day, in whichever order they came; then what had until the second day: once each.
            Assert.Equal(["person.left", "site.put-away"], due.Take(2).Select(one => one.Deed).Order());
            Assert.Equal(["approval.lapsed", "key.lapsed"], due.Skip(2).Select(one => one.Deed));
            Assert.Equal(due.Select(one => one.Due).Order(), due.Select(one => one.Due));
            Assert.All(due, one => Assert.True(one.Due < one.At && one.At - one.Due < TimeSpan.FromDays(3.1), $"{one}"));
            Assert.Equal(leaving.EndOf(today), due.Single(one => one.Deed == "person.left").Due);
            Assert.Equal(leaving.EndOf(today.AddDays(1)), due[3].Due);
            Assert.Single(house.Slipway.Read(records => records.Effects.ToList()));
            Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
        }
    }

    [Fact]
    public async Task A_server_that_is_killed_in_the_middle_of_a_switch_hands_the_key_over_once()
    {
        await using var house = await SmallHouse.Found(here, ("switch", [Vane]));
        Guid offer;
        await using (var first = await house.Start())
        {
            var vane = await here.SignIn("i.vane", first.Address);
            await first.Read(vane, 1);
            var site = await first.Site(vane, "switch");
            var wish = new
            {
                to = house.Quist.Value,
                giver = house.Vane.Value,
                after = "leaves",
            };
            offer = (
                await vane.Post(
                    $"/api/sites/{site}/offer",
                    new
                    {
                        wish.to,
                        wish.giver,
                        wish.after,
                        password = Installation.Password,
                        fingerprint = await vane.Plan($"/api/sites/{site}/offer/plan", wish),
                    }
                )
            ).GetProperty("offer").GetGuid();
            house.Slipway.Faults = new Faults(1, 0, loseAfter: 100, 0, 0, TimeSpan.FromMilliseconds(300));
            var quist = await here.SignIn("r.quist", first.Address);
            var fingerprint = (await quist.Get($"/api/offers/{offer}"))
                .GetProperty("plan")
                .GetProperty("fingerprint")
                .GetString();
            await quist.Post($"/api/offers/{offer}/countersign", new { fingerprint });
            await Installation.Until(
                () => Task.FromResult(house.Slipway.Read(records => records.Effects.Count) == 1),
                "the host has switched"
            );
            first.Kill();
        }

        house.Slipway.Faults = Faults.None;
        await using (var second = await house.Start())
        {
            var quist = await here.SignIn("r.quist", second.Address);
            await Installation.Until(
                async () => (await quist.Get($"/api/offers/{offer}")).GetProperty("state").GetString() == "handed-over",
                "the key is handed over"
            );
            Assert.Equal(
                ["p:2 own"],
                house.Slipway.Read(records => records.Sites["switch"].Entries.Select(entry => $"{entry.Entry} {entry.Role}"))
            );
            Assert.Single(house.Slipway.Read(records => records.Effects.ToList()));
            Assert.Equal(1, (await Deeds(await here.SignIn("n.bell", second.Address))).Count(deed => deed == "key.handed-over"));
        }
    }

    [Fact]
    public async Task Moving_the_demos_clock_takes_the_host_along_and_what_lay_in_its_bin_is_cleared()
    {
        await using var house = await SmallHouse.Found(here, ("clock", [Vane, new("team:PIL", "read")]));
        await using var server = await house.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 1);
        var site = await server.Site(bell, "clock");
        await bell.Post(
            $"/api/sites/{site}/put-away",
            new { typed = "clock", fingerprint = await bell.Plan($"/api/sites/{site}/put-away/plan") }
        );
        await Installation.Until(async () => (await Deeds(bell)).Contains("attic.kept"), "the site is in the attic");

        await bell.Post("/api/clock", new { hours = 0 }, System.Net.HttpStatusCode.UnprocessableEntity);
        var before = (await bell.Get("/api/clock")).GetProperty("now").GetDateTimeOffset();
        await bell.Post("/api/clock", new { hours = 24 * 31 });
        Assert.True((await bell.Get("/api/clock")).GetProperty("now").GetDateTimeOffset() >= before.AddDays(31));

        // The session keeps its time; the host has cleared the bin, and the register says so for good.
        await Installation.Until(async () => (await Deeds(bell)).Contains("attic.cleared"), "the site is cleared");
        Assert.Equal("cleared", (await bell.Get($"/api/sites/{site}/stay")).GetProperty("stay").GetProperty("state").GetString());
        Assert.Contains(
            "has cleared the site for good",
            (await bell.Post($"/api/sites/{site}/bring-back/plan", new { })).GetProperty("refused").ToString(),
            StringComparison.Ordinal
        );
        Assert.Contains("person.left", await Deeds(bell));
        Assert.Equal(
            System.Net.HttpStatusCode.NotFound,
            (await (await here.SignIn("n.bell")).Send(HttpMethod.Get, "/api/clock")).Status
        );
    }

    private static async Task<List<string>> Deeds(Caller caller) =>
        [
            .. (await caller.Get("/api/journal?limit=200"))
                .GetProperty("entries")
                .EnumerateArray()
                .Select(entry => entry.GetProperty("deed").GetString()!),
        ];

    // When it fell due, as the entry says.
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
