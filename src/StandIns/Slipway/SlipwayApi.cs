using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Slipway;

/// <summary>Slipway's API: JSON over HTTP with a bearer token, lists paged by cursor.</summary>
public static class SlipwayApi
{
    public static void MapSlipway(
        this WebApplication app,
        SlipwayBooks state,
        string token,
        TimeProvider clock,
        int requestsAnHour = 60_000
    )
    {
        var budget = new RequestBudget(requestsAnHour, TimeSpan.FromHours(1), clock);
        var api = app.MapGroup("/api")
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.Request.Headers.Authorization != $"Bearer {token}"
                        ? Results.Json(new { problem = "Sign in with a token." }, statusCode: 401)
                    : budget.Spend(context.HttpContext.Response) ? await next(context)
                    : Results.Json(new { problem = "That is too many requests for this hour." }, statusCode: 429)
            );

        api.MapGet("/workspace", () => Results.Json(
                state.Read(records => new JsonObject
                {
                    ["name"] = records.Workspace.Name,
                    ["outside"] = records.Workspace.Outside,
                    ["signIn"] = records.Workspace.SignIn,
                    ["newSites"] = records.Workspace.DefaultEntry,
                    ["binDays"] = records.Workspace.BinDays,
                    ["stateDays"] = records.Workspace.StateDays,
                })
            ));
        api.MapGet("/people", (string? cursor, int? limit) =>
            Page(
                state.InOrder("people", records => records.People.Values, person => person.Id),
                person => person.Id,
                Person,
                cursor,
                limit
            )
        );
        api.MapGet("/groups", (string? cursor, int? limit) =>
            Page(
                state.InOrder("groups", records => records.Groups.Values, group => group.Id),
                group => group.Id,
                Group,
                cursor,
                limit
            )
        );
        foreach (
            var (list, of) in new (string, Func<SlipwayRecords, Dictionary<string, SlipwaySite>>)[]
            {
                ("sites", records => records.Sites),
                ("bin", records => records.Bin),
            }
        )
        {
            api.MapGet($"/{list}", (string? cursor, int? limit) =>
            {
                state.ClearBin(clock.GetUtcNow());
                state.EndForwards(clock.GetUtcNow());
                return Page(
                    state.InOrder(list, records => of(records).Values, site => site.Id),
                    site => site.Id,
                    state.Json,
                    cursor,
                    limit
                );
            });
            api.MapGet($"/{list}/{{id}}", (string id) =>
            {
                state.ClearBin(clock.GetUtcNow());
                return state.Read(records => of(records).GetValueOrDefault(id)) is { } site
                    ? Results.Json(state.Json(site))
                    : Results.NotFound();
            });
        }

        api.MapGet("/sites/{id}/states", (string id, string? cursor, int? limit) =>
            state.Read(records => records.Sites.GetValueOrDefault(id)) is { } site
                ? Page(
                    [
                        .. site
                            .States.Where(one =>
                                one.At > clock.GetUtcNow().AddDays(-state.Read(records => records.Workspace.StateDays))
                            )
                            .OrderBy(one => Answers.Instant(one.At), StringComparer.Ordinal),
                    ],
                    one => Answers.Instant(one.At),
                    one => new JsonObject
                    {
                        ["at"] = Answers.Instant(one.At),
                        ["by"] = state.Read(records => records.People.GetValueOrDefault(one.By)?.Mail),
                    },
                    cursor,
                    limit
                )
                : Results.NotFound()
        );
        api.MapGet("/changes", (string? since) =>
        {
            state.ClearBin(clock.GetUtcNow());
            state.EndForwards(clock.GetUtcNow());
            return state.Changes(since) is not var (sites, gone, mark)
                ? Results.Json(new { problem = "That mark is no longer known: read the lists." }, statusCode: 410)
                : Results.Json(
                    new JsonObject
                    {
                        ["items"] = new JsonArray([.. sites.Select(site => (JsonNode)state.Json(site))]),
                        ["gone"] = Answers.Texts(gone),
                        ["mark"] = mark,
                    }
                );
        });
        api.MapGet("/effects", () => Results.Json(state.Read(records => records.Effects.ToList())));
        api.MapPatch("/sites/{id}/sharing", (string id, JsonObject body, HttpContext http) =>
            Change(http, state, key => state.SetSharing(id, key, body["changes"] as JsonArray ?? [], clock.GetUtcNow()))
        );
        api.MapPost("/sites", (JsonObject body, HttpContext http) =>
            Change(http, state, key => state.Make(key, body, clock.GetUtcNow()))
        );
        api.MapPost("/sites/{id}/group", (string id, JsonObject body, HttpContext http) =>
            Change(http, state, key => state.MakeGroup(id, key, body, clock.GetUtcNow()))
        );
        api.MapPut("/sites/{id}/topics", (string id, JsonObject body, HttpContext http) =>
            Change(http, state, key => state.SetTopics(id, key, body["topics"] as JsonArray ?? [], clock.GetUtcNow()))
        );
        api.MapPut("/sites/{id}/starter-pages", (string id, JsonObject body, HttpContext http) =>
            Change(http, state, key => state.AddStarterPages(id, key, body["titles"] as JsonArray ?? [], clock.GetUtcNow()))
        );
        api.MapPatch("/sites/{id}/look", (string id, JsonObject body, HttpContext http) =>
            Change(http, state, key => state.SetLook(id, key, body, clock.GetUtcNow()))
        );
        api.MapPut("/sites/{id}/slug", (string id, JsonObject body, HttpContext http) =>
            Change(http, state, key => state.SetSlug(id, key, body, clock.GetUtcNow()))
        );
        api.MapGet("/sites/{id}/pages", (string id) =>
            state.Read(records => records.Sites.GetValueOrDefault(id)) is { } site
                ? Results.Json(
                    new JsonObject
                    {
                        ["items"] = new JsonArray([
                            .. site.Working.Select(page =>
                                (JsonNode)new JsonObject { ["title"] = page.Title, ["html"] = VisitorsFront.Html(page.Text) }
                            ),
                        ]),
                    }
                )
                : Results.NotFound()
        );
        api.MapDelete("/sites/{id}", (string id, HttpContext http) =>
            Change(http, state, key => state.Delete(id, key, null, clock.GetUtcNow()))
        );
        api.MapPost("/bin/{id}/restore", (string id, JsonObject body, HttpContext http) =>
            Change(http, state, key =>
                state.Restore(id, key, (string?)body["slug"], body["changes"] as JsonArray ?? [], clock.GetUtcNow())
            )
        );

        // What people do at Slipway itself; for tests and the demo.
        var hands = app.MapGroup("/hands");
        hands.MapPost("/faults", (int seed, int? loseBefore, int? loseAfter, int? refuse, int? busy, int? delay) =>
            state.Faults = new Faults(
                seed,
                loseBefore ?? 0,
                loseAfter ?? 0,
                refuse ?? 0,
                busy ?? 0,
                TimeSpan.FromMilliseconds(delay ?? 0)
            )
        );
        hands.MapPost("/sites/{id}/sharing", (string id, JsonArray changes) =>
        {
            var (status, answer) = state.SetSharing(id, null, changes, clock.GetUtcNow());
            return Results.Json(answer, statusCode: status);
        });
        hands.MapPost("/sites/{id}/delete", (string id, string? by) =>
        {
            var (status, answer) = state.Delete(id, null, by, clock.GetUtcNow());
            return Results.Json(answer, statusCode: status);
        });
    }

    // A change that was carried out with a key is not refused with that key later.
    private static Task<IResult> Change(HttpContext http, SlipwayBooks state, Func<string?, (int Status, JsonObject Body)> change)
    {
        var key = http.Request.Headers["Idempotency-Key"].ToString();
        var wasDone = state.Read(records => records.Effects.Exists(effect => effect.Key == key));
        return state.Faults.Change(http, "problem", wasDone, () => change(key.Length > 0 ? key : null));
    }

    private static JsonObject Person(SlipwayPerson person)
    {
        var json = new JsonObject
        {
            ["id"] = person.Id,
            ["name"] = person.Name,
            ["mail"] = person.Mail,
            ["guest"] = person.Guest,
            ["active"] = person.Active,
            ["invitedBy"] = person.InvitedBy,
        };
        if (person.Guest)
        {
            json["joined"] = person.Joined is { } joined ? Answers.Instant(joined) : null;
            json["lastSeen"] = person.LastSeen is { } seen ? Answers.Instant(seen) : null;
        }

        return json;
    }

    private static JsonObject Group(SlipwayGroup group) =>
        new()
        {
            ["id"] = group.Id,
            ["name"] = group.Name,
            ["truncated"] = group.Truncated,
            ["members"] = new JsonArray([
                .. group.Members.Select(member =>
                    (JsonNode)(
                        member.Person is not null ? new JsonObject { ["person"] = member.Person }
                        : member.Group is not null ? new JsonObject { ["group"] = member.Group }
                        : new JsonObject { ["directory"] = member.Directory }
                    )
                ),
            ]),
        };

    /// <param name="all">Sorted by id.</param>
    private static IResult Page<T>(
        IReadOnlyList<T> all,
        Func<T, string> id,
        Func<T, JsonObject> write,
        string? cursor,
        int? limit
    )
    {
        var size = Math.Clamp(limit ?? 100, 1, 200);
        var from = cursor is null ? 0 : FirstAfter(cursor, all, id);
        var page = all.Skip(from).Take(size).ToList();
        return Results.Json(
            new JsonObject
            {
                ["items"] = new JsonArray([.. page.Select(item => (JsonNode)write(item))]),
                ["next"] = from + size < all.Count ? id(page[^1]) : null,
                ["total"] = all.Count,
            }
        );
    }

    private static int FirstAfter<T>(string cursor, IReadOnlyList<T> all, Func<T, string> id)
    {
        var (low, high) = (0, all.Count);
        while (low < high)
        {
            var middle = (low + high) / 2;
            (low, high) = string.CompareOrdinal(id(all[middle]), cursor) > 0 ? (low, middle) : (middle + 1, high);
        }

        return low;
    }
}
