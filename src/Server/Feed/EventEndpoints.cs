using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Feed;

/// <param name="Place">The last position of the feed in the index.</param>
public sealed record LedgerEvent(long Place);

internal static class EventEndpoints
{
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(5);

    public static void MapEvents(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/events", (HttpContext context, LiveRegister index, Database database, CancellationToken stop) =>
                TypedResults.ServerSentEvents(Events(context, index, database, stop))
            )
            .RequireAuthorization(Policies.Read)
            .WithTags("Feed")
            .WithName("events")
            .WithSummary("One stream per browser with the place of the register in the feed. Ends with the session.");

    private static async IAsyncEnumerable<SseItem<LedgerEvent>> Events(
        HttpContext context,
        LiveRegister index,
        Database database,
        [EnumeratorCancellation] CancellationToken stop
    )
    {
        var id = context.Request.Cookies[SessionHandler.Cookie]!;
        while (!stop.IsCancellationRequested)
        {
            var advanced = index.Advanced;
            var place = (await index.Current()).Place;
            if (
                await database.Atomically(
                    connection => connection.AccountBySession(SessionHandler.HashOf(id), database.Now, SignIn.IdleTime),
                    stop
                )
                is null
            )
            {
                yield break;
            }

            yield return new SseItem<LedgerEvent>(new LedgerEvent(place))
            {
                EventId = place.ToString(System.Globalization.CultureInfo.InvariantCulture),
            };
            await Task.WhenAny(advanced, Task.Delay(Heartbeat, stop));
        }
    }
}
