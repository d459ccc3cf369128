using System.Globalization;
using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Quay;

/// <summary>Quay's API: JSON over HTTP with a bearer token. Lists continue from a bookmark, which expires.</summary>
public static class QuayApi
{
    private static readonly TimeSpan BookmarkLasts = TimeSpan.FromMinutes(2);

    public static void MapQuay(this WebApplication app, QuayBooks books, string token, TimeProvider clock)
    {
        var api = app.MapGroup("/quay")
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.Request.Headers.Authorization == $"Bearer {token}"
                        ? await next(context)
                        : Results.Json(new { reason = "Not without a token." }, statusCode: 401)
            );

        api.MapGet("/people", (string? bookmark) => List(
                books.Read(all => all.People.Values.OrderBy(person => person.Mail, StringComparer.Ordinal).ToList()),
                person => person.Mail,
                person => new JsonObject
                {
                    ["mail"] = person.Mail,
                    ["name"] = person.Name,
                    ["visitor"] = person.IsVisitor,
                },
                bookmark,
                clock
            ));
        api.MapGet("/circles", (string? bookmark) => List(
                books.Read(all => all.Circles.Values.OrderBy(circle => circle.Id, StringComparer.Ordinal).ToList()),
                circle => circle.Id,
                circle => new JsonObject
                {
                    ["id"] = circle.Id,
                    ["name"] = circle.Name,
                    ["people"] = Answers.Texts(circle.People),
                    ["circles"] = Answers.Texts(circle.Inner),
                },
                bookmark,
                clock
            ));
        api.MapGet("/sites", (string? bookmark) => Sites(site => site.Removed is null, bookmark));
        api.MapGet("/removed", (string? bookmark) =>
            Sites(site => site.Removed is { } at && at + QuayBooks.ListLag <= clock.GetUtcNow(), bookmark)
        );
        api.MapGet("/sites/{id}", (string id) =>
        {
            books.Erase(clock.GetUtcNow());
            return
                books.Read(all => all.Sites.GetValueOrDefault(id)) is { } site
                && !(site.Removed + QuayBooks.ListLag > clock.GetUtcNow())
                ? Results.Json(books.Json(site))
                : Results.NotFound();
        });
        api.MapGet("/sites/{id}/states", (string id) =>
            books.Read(all => all.Sites.GetValueOrDefault(id)) is { } site
                ? Results.Json(
                    new JsonObject
                    {
                        ["states"] = new JsonArray([
                            .. site
                                .States.Where(state => state.At > clock.GetUtcNow().AddDays(-QuayBooks.StateDays))
                                .Select(state =>
                                    (JsonNode)new JsonObject { ["at"] = Answers.Instant(state.At), ["by"] = state.By }
                                ),
                        ]),
                    }
                )
                : Results.NotFound()
        );
        api.MapPatch("/sites/{id}/rights", (string id, JsonObject body, HttpContext http) =>
            Change(http, key => books.SetRights(id, key, body["rights"] as JsonObject ?? []))
        );
        api.MapPost("/sites", (JsonObject body, HttpContext http) =>
            Change(http, key => books.Make(key, body, clock.GetUtcNow()))
        );
        api.MapPost("/sites/{id}/circles", (string id, JsonObject body, HttpContext http) =>
            Change(http, key => books.MakeCircles(id, key, body))
        );
        api.MapPut("/sites/{id}/keywords", (string id, JsonObject body, HttpContext http) =>
            Change(http, key => books.SetKeywords(id, key, (string?)body["keywords"] ?? ""))
        );
        api.MapPut("/sites/{id}/name", (string id, JsonObject body, HttpContext http) =>
            Change(http, key => books.Rename(id, key, (string?)body["name"] ?? ""))
        );
        api.MapPost("/sites/{id}/remove", (string id, HttpContext http) =>
            Change(http, key => books.Remove(id, key, null, clock.GetUtcNow()))
        );
        api.MapPost("/sites/{id}/put-back", (string id, JsonObject body, HttpContext http) =>
            Change(http, key => books.PutBack(id, key, body["rights"] as JsonObject ?? []))
        );

        // What people do at Quay itself; for tests and the demo.
        app.MapPost("/hands/sites/{id}/remove", (string id, string? by) =>
        {
            var (status, answer) = books.Remove(id, "", by, clock.GetUtcNow());
            return Results.Json(answer, statusCode: status);
        });

        IResult Sites(Func<QuaySite, bool> which, string? bookmark)
        {
            books.Erase(clock.GetUtcNow());
            return List(
                books.Read(all => all.Sites.Values.Where(which).OrderBy(site => site.Id, StringComparer.Ordinal).ToList()),
                site => site.Id,
                books.Json,
                bookmark,
                clock
            );
        }

        Task<IResult> Change(HttpContext http, Func<string, (int Status, JsonObject Body)> change)
        {
            var key = http.Request.Headers["Request-Key"].ToString();
            return books.Faults.Change(http, "reason", books.WasDone(key), () => change(key));
        }
    }

    private static IResult List<T>(
        List<T> all,
        Func<T, string> id,
        Func<T, JsonObject> write,
        string? bookmark,
        TimeProvider clock
    )
    {
        const int Size = 40;
        var after = "";
        if (bookmark is not null)
        {
            var parts = bookmark.Split('.', 2);
            if (
                parts.Length != 2
                || !long.TryParse(parts[0], CultureInfo.InvariantCulture, out var given)
                || clock.GetUtcNow().ToUnixTimeMilliseconds() - given > BookmarkLasts.TotalMilliseconds
            )
            {
                return Results.Json(new { reason = "The bookmark has run out. Begin again." }, statusCode: 410);
            }

            after = parts[1];
        }

        var rest = all.FindAll(item => string.CompareOrdinal(id(item), after) > 0);
        var page = rest.Take(Size).ToList();
        return Results.Json(
            new JsonObject
            {
                ["entries"] = new JsonArray([.. page.Select(item => (JsonNode)write(item))]),
                ["bookmark"] =
                    rest.Count > Size
                        ? $"{clock.GetUtcNow().ToUnixTimeMilliseconds().ToString(CultureInfo.InvariantCulture)}.{id(page[^1])}"
                        : null,
                ["all"] = all.Count,
            }
        );
    }
}
