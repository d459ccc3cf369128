using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Limits that are tried out and set, and the matrix of access.</summary>
public class LimitServerFacts(Installation here)
{
    [Fact]
    public async Task A_limit_is_tried_out_set_with_its_reason_and_set_back()
    {
        var (bell, sollis) = (await here.SignIn("n.bell"), await here.SignIn("g.sollis"));
        var site = await here.NewSite(
            "limit-tried",
            new SlipwayEntry("p:s0004", "own"),
            new SlipwayEntry("world", "read", "none")
        );
        here.Slipway.Edit(records =>
            records.Sites["t-limit-tried"] = records.Sites["t-limit-tried"] with { Team = "VTS", Label = "Open" }
        );
        await here.ReadSlipway();
        await here.Quiet();
        Assert.Equal("no", await Exceeds());
        var row = (await bell.Get("/api/limits"))
            .GetProperty("limits")
            .EnumerateArray()
            .Single(limit => limit.GetProperty("name").GetString() == "Classification Open");
        var noOne = new
        {
            inside = "staff",
            outside = "no-one",
            visitorSignIn = "account",
            guestInviter = "any-owner",
        };
        object Request(object? limits, string? reason, string? fingerprint) =>
            new
            {
                kind = "classification",
                code = "Open",
                enforcer = "policy",
                limits,
                reason,
                fingerprint,
            };
        var all = new
        {
            view = noOne,
            preview = noOne,
            edit = noOne,
        };
        var tried = (await sollis.Send(HttpMethod.Post, "/api/limits/try", Request(all, null, null))).Body;
        Assert.Contains(tried.GetProperty("sites").EnumerateArray(), one =>
            one.GetProperty("id").GetInt64() == site && one.GetProperty("exceeds").GetString() == "yes"
        );
        Assert.Equal("no", await Exceeds());

        var fingerprint = tried.GetProperty("fingerprint").GetString();
        var unreasoned = await bell.Send(HttpMethod.Post, "/api/limits", Request(all, null, fingerprint), "limit-0");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, unreasoned.Status);
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await bell.Send(HttpMethod.Post, "/api/limits", Request(all, "Until the audit is over", "x"), "limit-1")).Status
        );
        await Set(all, "Until the audit is over", fingerprint, "limit-2");
        Assert.Equal("yes", await Exceeds());
        Assert.Contains((await bell.Get("/api/limits")).GetProperty("limits").EnumerateArray(), limit =>
            limit.GetProperty("reason").GetString() == "Until the audit is over"
        );

        var back = JsonSerializer.Deserialize<object>(row.GetProperty("limits").GetRawText());
        var again = (await bell.Send(HttpMethod.Post, "/api/limits/try", Request(back, null, null))).Body;
        await Set(back, "The audit is over", again.GetProperty("fingerprint").GetString(), "limit-3");
        Assert.Equal("no", await Exceeds());
        Assert.Equal(
            2,
            (await bell.Get("/api/journal?limit=200"))
                .GetProperty("entries")
                .EnumerateArray()
                .Count(entry => entry.GetProperty("action").GetString() == "limit.set")
        );

        async Task<string?> Exceeds() =>
            (await bell.Get($"/api/sites/{site}"))
                .GetProperty("accessPaths")
                .EnumerateArray()
                .Single(path => path.GetProperty("power").GetString() == "view")
                .GetProperty("exceeds")
                .GetString();

        async Task Set(object? limits, string reason, string? seen, string key) =>
            Assert.Equal(
                HttpStatusCode.OK,
                (await bell.Send(HttpMethod.Post, "/api/limits", Request(limits, reason, seen), key)).Status
            );
    }

    [Fact]
    public async Task A_limit_of_a_host_is_tried_out_and_set_only_there()
    {
        var bell = await here.SignIn("n.bell");
        var request = new Dictionary<string, object?>
        {
            ["kind"] = "host",
            ["code"] = "Slipway",
            ["enforcer"] = "host",
            ["limits"] = null,
            ["reason"] = "x",
        };
        var tried = (await bell.Send(HttpMethod.Post, "/api/limits/try", request)).Body;
        Assert.True(tried.GetProperty("isOfHost").GetBoolean());
        request["fingerprint"] = tried.GetProperty("fingerprint").GetString();
        var (status, refused) = await bell.Send(HttpMethod.Post, "/api/limits", request, "limit-host");

        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Equal("limit-of-host", refused.GetProperty("reasons")[0].GetProperty("code").GetString());
    }

    [Fact]
    public async Task Every_cell_of_the_matrix_counts_what_the_register_finds()
    {
        // Also a site that its host no longer reports.
        await here.NewSite("matrix-gone", new SlipwayEntry("p:s0004", "own"), new SlipwayEntry("world", "read", "none"));
        here.Slipway.Edit(records => records.Sites.Remove("t-matrix-gone"));
        await here.ReadSlipway();
        foreach (var who in new[] { "n.bell", "h.nair" })
        {
            var caller = await here.SignIn(who);
            await here.Quiet();
            foreach (var matrix in (await caller.Get("/api/access")).EnumerateArray())
            {
                var power = matrix.GetProperty("power").GetString();
                var cells = matrix.GetProperty("cells").EnumerateArray().ToList();
                Assert.NotEmpty(cells);
                foreach (var cell in cells)
                {
                    var filter =
                        $"existence eq \"in-use\" and {power}.inside eq \"{cell.GetProperty("inside").GetString()}\" and {power}.outside eq \"{cell.GetProperty("outside").GetString()}\"";
                    Assert.Equal(await Total(filter), cell.GetProperty("sites").GetInt32());
                    Assert.Equal(await Total($"{filter} and {power}.exceeds eq true"), cell.GetProperty("exceeding").GetInt32());
                }

                Assert.Equal(await Total("existence eq \"in-use\""), matrix.GetProperty("total").GetInt32());
                Assert.Equal(
                    matrix.GetProperty("total").GetInt32(),
                    cells.Sum(cell => cell.GetProperty("sites").GetInt32())
                        + matrix.GetProperty("notPublished").GetInt32()
                        + matrix.GetProperty("cannotTell").GetInt32()
                );
            }

            async Task<int> Total(string filter) =>
                (await caller.Get($"/api/register?limit=1&filter={Uri.EscapeDataString(filter)}"))
                    .GetProperty("total")
                    .GetInt32();
        }
    }
}
