using System.Globalization;
using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Feed;

internal static class EventEndpoints
{
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(5);

    // A sync of many pages is told once a second, not once a page.
    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(1);

    public static void MapEvents(this IEndpointRouteBuilder app) =>
        app.MapGet(
                "/api/events",
                (
                    HttpContext context,
                    LiveRegister index,
                    Database database,
                    CancellationToken stop,
                    [FromHeader(Name = "Last-Event-ID")] long? last = null,
                    long? after = null
                ) => TypedResults.ServerSentEvents(Events(context, index, database, last ?? after, stop))
            )
            .RequireAuthorization(Policies.Read)
            .WithTags("Feed")
            .WithName("events")
            .WithSummary(
                "One stream per browser: the place of the register in the feed and what has changed, at most once a second, from a place on. Ends with the session."
            );

    private static async IAsyncEnumerable<SseItem<LedgerEvent>> Events(
        HttpContext context,
        LiveRegister index,
        Database database,
        long? after,
        [EnumeratorCancellation] CancellationToken stop
    )
    {
        var id = context.Request.Cookies[SessionHandler.Cookie]!;
        while (!stop.IsCancellationRequested)
        {
            var advanced = index.Advanced;
            var state = await index.Current();
            if (
                await database.Atomically(
                    connection => connection.AccountBySession(SessionHandler.HashOf(id), database.Now, SignIn.IdleTime),
                    stop
                )
                is not var (account, _, _)
            )
            {
                yield break;
            }

            var viewer = Viewer.Of(account);
            var seen = state.Seen(viewer.ScopeOn(state.PeopleDirectory));
            yield return new SseItem<LedgerEvent>(
                LedgerEvent.Of(state.Place, after is { } from ? index.Between(from, state.Place) : [], seen, viewer)
            )
            {
                EventId = state.Place.ToString(CultureInfo.InvariantCulture),
            };
            after = state.Place;
            await Task.Delay(Pause, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            await Task.WhenAny(advanced, Task.Delay(Heartbeat, stop));
        }
    }
}
