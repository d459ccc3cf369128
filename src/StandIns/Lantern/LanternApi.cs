using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Lantern;

/// <summary>Lantern's API: JSON over HTTP with a bearer token, lists in numbered pages. It has no idempotency keys.</summary>
public static class LanternApi
{
    public static void MapLantern(this WebApplication app, LanternBooks books, string token, TimeProvider clock)
    {
        var api = app.MapGroup("/v1")
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.Request.Headers.Authorization == $"Bearer {token}"
                        ? await next(context)
                        : Results.Json(new { message = "Who are you?" }, statusCode: 401)
            );

        api.MapGet("/seats", (int? page, int? per) =>
            Page(
                books.Read(records => records.Seats.Values.OrderBy(seat => seat.Mail, StringComparer.Ordinal).ToList()),
                seat => new JsonObject { ["mail"] = seat.Mail, ["name"] = seat.Name },
                page,
                per
            )
        );
        api.MapGet("/plans", (int? page, int? per) =>
            Page(
                books.Read(records => records.Plans.Values.OrderBy(plan => plan.Id, StringComparer.Ordinal).ToList()),
                books.Json,
                page,
                per
            )
        );
        api.MapGet("/sites", (int? page, int? per) =>
            Page(
                books.Read(records => records.Sites.Values.OrderBy(site => site.Id, StringComparer.Ordinal).ToList()),
                books.Json,
                page,
                per
            )
        );
        api.MapGet("/sites/{id}", (string id) =>
            books.Read(records => records.Sites.GetValueOrDefault(id)) is { } site
                ? Results.Json(books.Json(site))
                : Results.NotFound()
        );
        api.MapPut("/sites/{id}/suspension", (string id, JsonObject body, HttpContext http) =>
            books.Faults.Change(http, "message", false, () =>
                books.Suspend(id, (bool?)body["suspended"] ?? true, clock.GetUtcNow())
            )
        );
        api.MapPut("/sites/{id}/members", (string id, JsonObject body, HttpContext http) =>
            books.Faults.Change(http, "message", false, () =>
                books.SetMembers(id, (bool?)body["open"], body["members"] as JsonObject ?? [], clock.GetUtcNow())
            )
        );
        api.MapPost("/sites", (JsonObject body, HttpContext http) =>
            books.Faults.Change(http, "message", false, () => books.Make(body, clock.GetUtcNow()))
        );
        api.MapDelete("/sites/{id}", (string id, HttpContext http) =>
            books.Faults.Change(http, "message", false, () => books.Delete(id, clock.GetUtcNow()))
        );

        // What people do at Lantern itself; for tests and the demo.
        app.MapPost("/hands/faults", (int seed, int? loseBefore, int? loseAfter, int? refuse, int? busy, int? delay) =>
            books.Faults = new Faults(
                seed,
                loseBefore ?? 0,
                loseAfter ?? 0,
                refuse ?? 0,
                busy ?? 0,
                TimeSpan.FromMilliseconds(delay ?? 0)
            )
        );
    }

    private static IResult Page<T>(List<T> all, Func<T, JsonObject> write, int? page, int? per)
    {
        var size = Math.Clamp(per ?? 25, 1, 50);
        var at = Math.Max(1, page ?? 1);
        return Results.Json(
            new JsonObject
            {
                ["data"] = new JsonArray([.. all.Skip((at - 1) * size).Take(size).Select(item => (JsonNode)write(item))]),
                ["page"] = at,
                ["pages"] = Math.Max(1, (all.Count + size - 1) / size),
                ["count"] = all.Count,
            }
        );
    }
}
