using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Feed;

/// <param name="Place">How far the sheet has come.</param>
public sealed record LedgerEvent(long Place);

internal static class EventEndpoints
{
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(5);

    public static void MapEvents(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/events", (HttpContext context, LedgerSheet sheet, Database database, CancellationToken stop) =>
                TypedResults.ServerSentEvents(Events(context, sheet, database, stop))
            )
            .RequireAuthorization(Policies.Read)
            .WithTags("Feed")
            .WithName("events")
            .WithSummary("One stream per browser: the sheet has moved on. Ends when the session does.");

    private static async IAsyncEnumerable<SseItem<LedgerEvent>> Events(
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        [EnumeratorCancellation] CancellationToken stop
    )
    {
        var id = context.Request.Cookies[SessionHandler.Cookie]!;
        while (!stop.IsCancellationRequested)
        {
            var advanced = sheet.Advanced;
            var place = (await sheet.Current()).Place;
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
