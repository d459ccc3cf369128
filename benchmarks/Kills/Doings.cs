using System.Collections.Concurrent;
using System.Globalization;
using System.Net.Http.Json;
using System.Text.Json;

namespace AtticLedger.Bench.Kills;

/// <summary>The answer to one action.</summary>
/// <param name="Reason">Unique for each action, so that the journal entry can be found by it.</param>
/// <param name="HostChange">The change at a host, if the action needed one.</param>
/// <param name="Approval">The approval, if it needs a second person; then nothing else was done.</param>
internal sealed record Said(string Action, string Reason, bool IsDone, Guid? HostChange, Guid? Approval);

/// <summary>Several people who work on the same sites, and somebody who changes them at a host itself.</summary>
internal sealed class Doings(Estate estate, IReadOnlyList<Client> people, int seed)
{
    private static int actions;
    private readonly ConcurrentQueue<Guid> asked = new();
    private readonly ConcurrentQueue<(Guid Approval, Client By)> waiting = new();
    private readonly ConcurrentQueue<Guid> batches = new();

    /// <summary>Every action that was answered.</summary>
    public ConcurrentBag<Said> Answered { get; } = [];

    public IEnumerable<Guid> Batches => batches;

    public int Meddled { get; private set; }

    /// <summary>Errors that no client should get.</summary>
    public ConcurrentBag<string> Faults { get; } = [];

    public Task Run(CancellationToken stop) =>
        Task.WhenAll([
            .. people.Select(
                (client, place) => Task.Run(() => Work(client, new Random(seed + place), stop), CancellationToken.None)
            ),
            Task.Run(() => Meddle(new Random(seed - 1), stop), CancellationToken.None),
        ]);

    private async Task Work(Client client, Random chance, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await (
                    chance.Next(100) switch
                    {
                        < 40 => Restrict(client, chance),
                        < 55 => Undo(client),
                        < 70 => MoveToAttic(client, chance),
                        < 85 => Restore(client, chance),
                        < 90 => Hold(client, chance),
                        < 94 => Agree(client),
                        < 96 => Batch(client, chance),
                        _ => client.Send(
                            HttpMethod.Post,
                            $"/api/sources/{(string[])["Slipway", "Lantern", "Quay"] switch { var hosts => hosts[chance.Next(3)] }}/sync",
                            new { }
                        ),
                    }
                );
            }
            catch (Exception fault) when (fault is TimeoutException or KeyNotFoundException or InvalidOperationException)
            {
                Faults.Add(fault.Message);
            }
        }
    }

    private async Task Restrict(Client client, Random chance)
    {
        if (await Site(client, chance) is not { } site)
        {
            return;
        }

        var none = new
        {
            inside = "named",
            outside = "no-one",
            visitorSignIn = "account",
        };
        var staff = new
        {
            inside = "staff",
            outside = "no-one",
            visitorSignIn = "account",
        };
        var target =
            chance.Next(2) == 0
                ? new
                {
                    view = staff,
                    preview = none,
                    edit = none,
                }
                : new
                {
                    view = none,
                    preview = none,
                    edit = none,
                };
        await Carry(
            client,
            "site.restrict",
            $"/api/sites/{site}/restrict",
            reason => new { target, reason },
            (reason, fingerprint) =>
                new
                {
                    target,
                    reason,
                    fingerprint,
                }
        );
    }

    private async Task MoveToAttic(Client client, Random chance)
    {
        if (
            await Site(client, chance) is { } site
            && (await client.Get($"/api/sites/{site}")).Body is { ValueKind: JsonValueKind.Object } sitePage
        )
        {
            var typed = sitePage.GetProperty("line").GetProperty("title").GetString();
            await Carry(
                client,
                "site.move-to-attic",
                $"/api/sites/{site}/move-to-attic",
                _ => new { },
                (reason, fingerprint) =>
                    new
                    {
                        typed,
                        reason,
                        fingerprint,
                    }
            );
        }
    }

    private async Task Restore(Client client, Random chance)
    {
        var atticEntries = (await client.Get("/api/attic"))
            .Body.GetProperty("entries")
            .EnumerateArray()
            .Select(atticEntry => atticEntry.GetProperty("site").GetInt64())
            .ToList();
        if (atticEntries.Count > 0)
        {
            await Carry(
                client,
                "site.restore",
                $"/api/sites/{atticEntries[chance.Next(atticEntries.Count)]}/restore",
                reason => new { reason },
                (reason, fingerprint) => new { reason, fingerprint }
            );
        }
    }

    private async Task Hold(Client client, Random chance)
    {
        if (await Site(client, chance) is { } site)
        {
            await Carry(
                client,
                "hold.placed",
                $"/api/sites/{site}/hold",
                reason => new { reason },
                (reason, fingerprint) => new { reason, fingerprint }
            );
        }
    }

    private async Task Undo(Client client)
    {
        if (asked.TryDequeue(out var hostChange))
        {
            await Carry(
                client,
                "change.undo",
                $"/api/host-changes/{hostChange}/undo",
                _ => new { },
                (reason, fingerprint) => new { reason, fingerprint }
            );
        }
    }

    private async Task Agree(Client client)
    {
        if (!waiting.TryDequeue(out var one))
        {
            return;
        }

        if (one.By == client)
        {
            waiting.Enqueue(one);
            return;
        }

        if (
            (await client.Get($"/api/approvals/{one.Approval}")).Body is { ValueKind: JsonValueKind.Object } look
            && look.GetProperty("plan") is { ValueKind: JsonValueKind.Object } plan
        )
        {
            await client.Send(
                HttpMethod.Post,
                $"/api/approvals/{one.Approval}/approve",
                new { fingerprint = plan.GetProperty("fingerprint").GetString() }
            );
        }
    }

    private async Task Batch(Client client, Random chance)
    {
        var all = await Sites(client);
        var sites = all.OrderBy(_ => chance.Next()).Take(12).ToList();
        var planned = await client.Send(HttpMethod.Post, "/api/batches", new { action = "site.restrict", sites });
        if (planned.IsDone)
        {
            var batch = planned.Body.GetProperty("id").GetGuid();
            batches.Enqueue(batch);
            await client.Send(
                HttpMethod.Post,
                $"/api/batches/{batch}/start",
                new { number = (int?)null, reason = "many at once" }
            );
        }
    }

    /// <summary>Previews an action and carries it out.</summary>
    private async Task Carry(
        Client client,
        string action,
        string path,
        Func<string, object> looking,
        Func<string, string?, object> doing
    )
    {
        var reason = $"k-{Interlocked.Increment(ref actions).ToString("D7", CultureInfo.InvariantCulture)}";
        var preview = await client.Send(HttpMethod.Post, $"{path}/plan", looking(reason));
        if (!preview.IsDone || preview.Body.GetProperty("plan") is not { ValueKind: JsonValueKind.Object } plan)
        {
            return;
        }

        var answer = await client.Send(HttpMethod.Post, path, doing(reason, plan.GetProperty("fingerprint").GetString()));
        var said = new Said(action, reason, answer.IsDone, Id(answer, "hostChange"), Id(answer, "approval"));
        Answered.Add(said);
        if (said.HostChange is { } hostChange && action != "change.undo")
        {
            asked.Enqueue(hostChange);
        }

        if (said.Approval is { } approval)
        {
            waiting.Enqueue((approval, client));
        }
    }

    private static Guid? Id(Answer answer, string name) =>
        answer.IsDone && answer.Body.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String
            ? value.GetGuid()
            : null;

    // A host without a connector never completes a change by itself.
    private static async Task<List<long>> Sites(Client client) =>
        [
            .. (await client.Get("/api/register/range?filter=host%20ne%20%22Foreshore%22"))
                .Body.GetProperty("sites")
                .EnumerateArray()
                .Select(site => site.GetInt64()),
        ];

    private static async Task<long?> Site(Client client, Random chance) =>
        await Sites(client) is { Count: > 0 } sites ? sites[chance.Next(sites.Count)] : null;

    /// <summary>Opens sites at Slipway itself that others restrict, so that there is always work.</summary>
    private async Task Meddle(Random chance, CancellationToken stop)
    {
        using var http = new HttpClient { Timeout = TimeSpan.FromSeconds(10) };
        http.DefaultRequestHeaders.Authorization = new("Bearer", Environment.GetEnvironmentVariable("ATTIC_SLIPWAY_TOKEN"));
        while (!stop.IsCancellationRequested)
        {
            await Task.Delay(TimeSpan.FromMilliseconds(150), CancellationToken.None);
            try
            {
                var page = await http.GetFromJsonAsync<JsonElement>(
                    new Uri(estate.Slipway, "/api/sites?limit=200"),
                    CancellationToken.None
                );
                var sites = page.GetProperty("items")
                    .EnumerateArray()
                    .Select(site => site.GetProperty("id").GetString())
                    .ToList();
                using var answer = await http.PostAsJsonAsync(
                    new Uri(estate.Slipway, $"/hands/sites/{sites[chance.Next(sites.Count)]}/sharing"),
                    new[] { new { entry = chance.Next(2) == 0 ? "everyone" : "world", role = "read" } },
                    CancellationToken.None
                );
                Meddled += answer.IsSuccessStatusCode ? 1 : 0;
            }
            catch (Exception gone) when (gone is HttpRequestException or TaskCanceledException or JsonException or IOException)
            {
                // It was killed and is started again.
            }
        }
    }
}
