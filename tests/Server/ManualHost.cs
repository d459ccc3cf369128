using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;

namespace AtticLedger.Server.Tests;

/// <summary>A host without a connector, on a server of its own.</summary>
public abstract class ManualHost(Installation installation) : IAsyncLifetime
{
    private protected const string List = "/api/sources/Foreshore/imports";
    private protected const string Head = "key,name,address,unit,owners,editors,viewers\n";
    private protected const string Tide =
        "f1,Tide tables,foreshore.example/tides,PIL,i.vane@merrowby.example,-,staff; anonymous\n";
    private protected const string Wrecks = "f2,Wrecks,foreshore.example/wrecks,PIL,i.vane@merrowby.example,-,unit:PIL\n";
    private protected static readonly byte[] Png = [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A, 0];
    private protected readonly Installation here = installation;
    private protected WebApplication server = null!;
    private protected Caller bell = null!;
    private protected Caller vane = null!;

    public async ValueTask InitializeAsync()
    {
        (server, var address) = await here.Beside(isDemo: true);
        (bell, vane) = (await here.SignIn("n.bell", address), await here.SignIn("i.vane", address));
        await bell.Put(
            "/api/sources/Foreshore/manual-procedure",
            new
            {
                assignee = "t.aske@merrowby.example",
                account = "webmaster",
                support = "yard desk",
                days = 5,
                reach = "Open {site}.\nTake them off.",
                owners = "Ask.",
                moveToAttic = "Rename.",
                restore = "Name it back.",
            }
        );
    }

    public async ValueTask DisposeAsync() => await here.Leave(server);

    private protected static HttpContent Csv(string list) => new StringContent(list, Encoding.UTF8, "text/csv");

    private protected static (int Sites, int New, int Changed, int Gone) Counts(JsonElement plan) =>
        (
            plan.GetProperty("sites").GetInt32(),
            plan.GetProperty("new").GetInt32(),
            plan.GetProperty("changed").GetInt32(),
            plan.GetProperty("gone").GetInt32()
        );

    private protected static string? State(JsonElement hostChange) =>
        hostChange.GetProperty("line").GetProperty("state").GetString();

    private protected static async Task<HttpResponseMessage> Picture(Caller who, string hostChange, byte[] bytes)
    {
        using var content = new ByteArrayContent(bytes) { Headers = { ContentType = new MediaTypeHeaderValue("image/png") } };
        using var request = new HttpRequestMessage(HttpMethod.Put, $"/api/manual-tasks/{hostChange}/picture")
        {
            Content = content,
            Headers = { { "Idempotency-Key", Guid.NewGuid().ToString() } },
        };
        return await who.Http.SendAsync(request);
    }

    private protected Task<JsonElement> Plan(string list, string more = "") => bell.Post($"{List}/plan?x=1{more}", Csv(list));

    private protected async Task<JsonElement> Take(string list, string more = "")
    {
        var plan = await Plan(list, more);
        await bell.Post($"{List}?fingerprint={plan.GetProperty("fingerprint").GetString()}{more}", Csv(list));
        return plan;
    }

    /// <summary>Restricts the tide tables so that anonymous visitors have no access; the task is assigned to Aske.</summary>
    private protected async Task<(long Site, string HostChange)> Restrict()
    {
        await Take(Head + Tide + Wrecks);
        var site = await Id("Tide tables");
        var named = new
        {
            inside = "staff",
            outside = "no-one",
            visitorSignIn = "account",
        };
        var target = new
        {
            view = named,
            preview = named,
            edit = named,
        };
        var done = await bell.Post(
            $"/api/sites/{site}/restrict",
            new { target, fingerprint = await bell.Plan($"/api/sites/{site}/restrict/plan", new { target }) }
        );
        return (site, await Given(done.GetProperty("hostChange").GetString()!));
    }

    private protected async Task<string> MoveToAttic(long site, string typed)
    {
        var done = await bell.Post(
            $"/api/sites/{site}/move-to-attic",
            new { typed, fingerprint = await bell.Plan($"/api/sites/{site}/move-to-attic/plan") }
        );
        return await Given(done.GetProperty("hostChange").GetString()!);
    }

    private protected async Task<string> Given(string hostChange)
    {
        await Installation.Until(
            async () => (await bell.Http.GetAsync($"/api/manual-tasks/{hostChange}")).IsSuccessStatusCode,
            "the order is given to a person"
        );
        return hostChange;
    }

    private protected async Task<long> Id(string title) =>
        (await bell.Get($"/api/register?filter={Uri.EscapeDataString($"title eq \"{title}\"")}"))
            .GetProperty("lines")[0]
            .GetProperty("id")
            .GetInt64();

    // The number of sites in use that break each rule.
    private protected async Task<Dictionary<string, int>> Breaking() =>
        (await bell.Get("/api/register?limit=0"))
            .GetProperty("rules")
            .EnumerateArray()
            .Where(rule => rule.GetProperty("key").GetString()!.StartsWith("R-", StringComparison.Ordinal))
            .ToDictionary(rule => rule.GetProperty("key").GetString()!, rule => rule.GetProperty("count").GetInt32());

    private protected async Task<List<string?>> Titles(string filter) =>
        [
            .. (await bell.Get($"/api/register?filter={Uri.EscapeDataString(filter)}"))
                .GetProperty("lines")
                .EnumerateArray()
                .Select(line => line.GetProperty("title").GetString())
                .Order(),
        ];

    private protected async Task<List<string>> Actions() =>
        [
            .. (await bell.Get("/api/journal?limit=100"))
                .GetProperty("entries")
                .EnumerateArray()
                .Select(entry => entry.GetProperty("action").GetString()!),
        ];

    private protected async Task<string> LatestAction() => (await Actions())[0];

    private protected async Task<long> JournalHead() =>
        (await bell.Get("/api/journal?limit=1")).GetProperty("entries")[0].GetProperty("number").GetInt64();
}
