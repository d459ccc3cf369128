using System.Text.Json;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.Extensions.Diagnostics.HealthChecks;

namespace AtticLedger.Server.Hosting;

/// <summary>True if this server is usable: the database responds, the index is built, and it is not far behind the feed.
/// <c>/health</c> only tells that the process runs.
/// </summary>
internal sealed class Ready(Database database, LiveRegister index) : IHealthCheck
{
    // Up to this many entries behind the feed, screens still follow at once.
    private const int MostBehind = 5_000;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);

    public async Task<HealthCheckResult> CheckHealthAsync(
        HealthCheckContext context,
        CancellationToken cancellationToken = default
    )
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancellationToken);
        patience.CancelAfter(Patience);
        long head;
        try
        {
            head = (await database.Read(connection => connection.JournalHead(), patience.Token)).Number;
        }
        catch (Exception fault) when (Unreachable.Is(fault) || fault is OperationCanceledException)
        {
            return HealthCheckResult.Unhealthy(
                "The database does not answer.",
                data: new Dictionary<string, object> { ["database"] = false, ["index"] = index.Place is not null }
            );
        }

        var data = new Dictionary<string, object> { ["database"] = true, ["index"] = index.Place is not null };
        if (index.Place is not { } place)
        {
            return HealthCheckResult.Unhealthy("The register index is not built yet.", data: data);
        }

        data["behind"] = Math.Max(0, head - place);
        return head - place > MostBehind
            ? HealthCheckResult.Degraded($"The register index is {head - place} entries behind the feed.", data: data)
            : HealthCheckResult.Healthy(data: data);
    }

    /// <summary>As JSON: <c>status</c>, <c>words</c>, and the state of each part. Only numbers and booleans, because anybody may
    /// ask.</summary>
    public static Task Write(HttpContext context, HealthReport report)
    {
        context.Response.ContentType = "application/json";
        var (status, entry) = (report.Status.ToString().ToLowerInvariant(), report.Entries.Values.First());
        return context.Response.WriteAsync(
            JsonSerializer.Serialize(
                new Dictionary<string, object?>(entry.Data.Select(pair => KeyValuePair.Create(pair.Key, (object?)pair.Value)))
                {
                    ["status"] = status,
                    ["words"] = entry.Description,
                }
            )
        );
    }
}
