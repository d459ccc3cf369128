using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.Quay;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>A scope hides everything outside it: every answer to a person with a limited scope is compared with that of a
/// register that contains nothing else. A difference means that something outside the scope is disclosed.
/// </summary>
public class SamePart(Installation here)
{
    // Disclosed on purpose, without names: a person who deletes a site or a group has to know that others depend on it, and an
    // address that is taken is not offered.
    private const string Held = "site that you may not see";
    private static readonly string[] SaidOnPurpose = ["hiddenOpened", "hiddenChildren", "hiddenBorrowers", "freeAddresses"];

    // Times and random values.
    private static readonly string[] OfTheMoment = ["traceId", "fingerprint", "passed"];

    [Theory]
    [InlineData("h.nair")]
    [InlineData("i.vane")]
    public async Task Every_answer_is_the_one_of_a_register_of_these_sites_alone(string who)
    {
        var (whole, kept, held, hidden) = await Whole(who);
        var part = await OnlyWith(whole, [.. kept, .. held]);
        var (first, second) = (await Quietly(whole), await Quietly(part));
        try
        {
            var (here1, here2) = (await here.SignIn(who, first.Address), await here.SignIn(who, second.Address));
            var asked = 0;
            var unlike = new List<string>();
            foreach (var (method, path, body) in await Questions(here1, kept, hidden))
            {
                var (one, other) = (await here1.Send(method, path, body), await here2.Send(method, path, body));
                asked++;
                var isHeld =
                    one.Body.ValueKind == JsonValueKind.Object
                    && one.Body.TryGetProperty("refused", out var refused)
                    && refused.EnumerateArray().Any(one => one.ToString().Contains(Held, StringComparison.Ordinal));
                if (one.Status != other.Status || !isHeld && Difference(Plain(one.Body), Plain(other.Body), "") is not null)
                {
                    unlike.Add(
                        $"{method} {path}: {one.Status}, alone {other.Status}{Difference(Plain(one.Body), Plain(other.Body), "")}"
                    );
                }

                Assert.NotEqual(HttpStatusCode.InternalServerError, one.Status);
            }

            foreach (
                var path in new[]
                {
                    $"/api/register/export?{string.Join("&", Core.Rules.JudgedSite.Attributes.All.Take(12).Select(one => $"show={one.Name}"))}",
                    "/api/register/export?status=attic",
                }
            )
            {
                Assert.Equal(await second.Text(here2, path), await first.Text(here1, path));
            }

            Assert.True(unlike.Count == 0, $"{unlike.Count} of {asked}:\n{string.Join("\n", unlike.Take(30))}");
            Assert.InRange(asked, 100, 100_000);
        }
        finally
        {
            await here.Leave(first.App);
            await here.Leave(second.App);
        }
    }

    // Each question is asked of every eighth site, in turn; the page of each site always is.
    private const int InTurn = 8;

    /// <summary>Every request that changes nothing, for the sites in the scope, and with the names of some sites outside
    /// it.</summary>
    private static async Task<List<(HttpMethod Method, string Path, object? Body)>> Questions(
        Caller caller,
        IReadOnlyList<long> kept,
        IReadOnlyList<SiteFacts> hidden
    )
    {
        var list = new List<(HttpMethod, string, object?)>();
        void Get(string path) => list.Add((HttpMethod.Get, path, null));
        void Plan(string path, object body) => list.Add((HttpMethod.Post, path, body));
        foreach (
            var path in new[]
            {
                "owners",
                "attic",
                "your-sites",
                "desk",
                "manual-tasks",
                "vocabulary",
                "register?limit=500",
                "register?status=attic&limit=500",
                "register?rule=any&limit=500",
                "register?filter=no-longer-reported%20eq%20true",
                "register/range",
                "register/attributes",
                "views",
                "batches",
                "journal?limit=200",
                "sources",
                "deadlines",
                "session",
            }
        )
        {
            Get($"/api/{path}");
        }

        foreach (var attribute in Core.Rules.JudgedSite.Attributes.All)
        {
            Get($"/api/register/choices?of={Uri.EscapeDataString(attribute.Name)}");
        }

        var limit = new
        {
            inside = "named",
            outside = "no-one",
            visitorSignIn = "account",
        };
        var people = new SortedSet<long>();
        foreach (var (turn, site) in kept.Index())
        {
            var first = list.Count;
            foreach (var path in new[] { "/attic-entry", "/moves", "/dates", "/successors", "/successors?find=a" })
            {
                Get($"/api/sites/{site}{path}");
            }

            Get($"/api/journal?site={site}");
            Get($"/api/register/places/{site}");
            Plan(
                $"/api/sites/{site}/restrict/plan",
                new
                {
                    target = new
                    {
                        view = limit,
                        preview = limit,
                        edit = limit,
                    },
                }
            );
            foreach (var action in new[] { "move-to-attic", "restore", "ask-owners" })
            {
                Plan($"/api/sites/{site}/{action}/plan", new { reason = "x" });
            }

            Plan($"/api/sites/{site}/hold/plan", new { reason = "x" });
            Plan(
                $"/api/sites/{site}/exceptions/plan",
                new
                {
                    rule = "R-01",
                    reason = "x",
                    through = "2030-01-31",
                }
            );
            var successors = (await caller.Send(HttpMethod.Get, $"/api/sites/{site}/successors?find=e")).Body;
            foreach (var person in Persons(successors).Take(3))
            {
                people.Add(person);
                Plan($"/api/sites/{site}/offer/plan", new { to = person, after = "leaves" });
            }

            List<(HttpMethod, string, object?)> ofSite = [.. list.Skip(first)];
            list.RemoveRange(first, ofSite.Count);
            list.AddRange(ofSite.Where((_, place) => (place + turn) % InTurn == 0));
            Get($"/api/sites/{site}");
            people.UnionWith(Persons((await caller.Send(HttpMethod.Get, $"/api/sites/{site}")).Body));
        }

        foreach (var person in people)
        {
            Get($"/api/people/{person}");
        }

        foreach (var site in hidden.Take(25))
        {
            foreach (var text in new[] { site.Title, site.Address.Or(site.Title) })
            {
                Get($"/api/find?text={Uri.EscapeDataString(text)}");
                Get($"/api/sources/why-not?text={Uri.EscapeDataString(text)}");
            }

            Get($"/api/sites/{site.Id.Value}");
            Get($"/api/journal?site={site.Id.Value}");
        }

        return list;
    }

    private static IEnumerable<long> Persons(JsonElement body) =>
        body.ValueKind switch
        {
            JsonValueKind.Object
                when body.TryGetProperty("mail", out _)
                    && body.TryGetProperty("id", out var id)
                    && id.ValueKind == JsonValueKind.Number => [id.GetInt64()],
            JsonValueKind.Object => body.EnumerateObject().SelectMany(field => Persons(field.Value)),
            JsonValueKind.Array => body.EnumerateArray().SelectMany(Persons),
            _ => [],
        };

    private static JsonNode? Plain(JsonElement body)
    {
        var node = body.ValueKind == JsonValueKind.Undefined ? null : JsonNode.Parse(body.GetRawText());
        Strip(node);
        return node;
    }

    private static void Strip(JsonNode? node)
    {
        switch (node)
        {
            case JsonObject fields:
                foreach (var name in SaidOnPurpose.Concat(OfTheMoment))
                {
                    fields.Remove(name);
                }

                foreach (var (_, value) in fields)
                {
                    Strip(value);
                }

                break;
            case JsonArray items:
                // The two people, each at their own server, are no difference.
                foreach (
                    var item in items
                        .Where(item => item is JsonObject entry && (string?)entry["action"] == "session.began")
                        .ToList()
                )
                {
                    items.Remove(item);
                }

                foreach (var item in items)
                {
                    Strip(item);
                }

                break;
        }
    }

    /// <summary>The first place where two answers differ, with its values; null if they are the same.</summary>
    private static string? Difference(JsonNode? one, JsonNode? other, string place) =>
        (one, other) switch
        {
            (JsonObject first, JsonObject second) when first.Count == second.Count => first
                .Select(field => Difference(field.Value, second[field.Key], $"{place}.{field.Key}"))
                .FirstOrDefault(found => found is not null),
            (JsonArray first, JsonArray second) when first.Count == second.Count => first
                .Select((item, at) => Difference(item, second[at], $"{place}[{at}]"))
                .FirstOrDefault(found => found is not null),
            _ => JsonNode.DeepEquals(one, other) ? null : $" {place}: {Short(one)}, alone {Short(other)}",
        };

    private static string Short(JsonNode? node) =>
        node?.ToJsonString() is { } text
            ? text.Length > 300
                ? $"{text[..300]}…"
                : text
            : "null";

    /// <summary>A register with the whole demo and work under way, the sites that a person sees in it, and those that they own
    /// in addition.</summary>
    private async Task<(
        string Database,
        IReadOnlyList<long> Kept,
        IReadOnlyList<long> Held,
        IReadOnlyList<SiteFacts> Hidden
    )> Whole(string who)
    {
        var merrowby = Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871);
        var slipway = await here.Run(app =>
            app.MapSlipway(new SlipwayBooks(merrowby.Slipway, file: null), Installation.Token, TimeProvider.System)
        );
        var lantern = await here.Run(app =>
            app.MapLantern(new LanternBooks(merrowby.Lantern, file: null), Installation.Token, TimeProvider.System)
        );
        var quay = await here.Run(app =>
            app.MapQuay(new QuayBooks(merrowby.Quay, file: null), Installation.Token, TimeProvider.System)
        );
        var (server, address) = await here.Beside(lantern, quay, slipway: slipway);
        var database = server.Services.GetRequiredService<Database>();
        var bell = await here.SignIn("n.bell", address);
        var all = await database.Read(connection => connection.Sites(new Scope.Everything()));
        foreach (var site in all.Where(site => site.Existence == Existence.InUse).Take(40).Where((_, place) => place % 4 == 0))
        {
            var fingerprint = (await bell.Post($"/api/sites/{site.Id.Value}/move-to-attic/plan", new { })).GetProperty("plan");
            if (fingerprint.ValueKind == JsonValueKind.Object)
            {
                await bell.Send(
                    HttpMethod.Post,
                    $"/api/sites/{site.Id.Value}/move-to-attic",
                    new
                    {
                        typed = site.Title,
                        fingerprint = fingerprint.GetProperty("fingerprint").GetString(),
                        reason = "tidy",
                    },
                    Guid.NewGuid().ToString()
                );
            }
        }

        await Installation.Until(
            async () =>
                (await database.Read(HostChangeTable.ChangesUnderWay)).TrueForAll(hostChange =>
                    hostChange.State is not (Core.Actions.ChangeState.Queued or Core.Actions.ChangeState.Sent)
                ),
            "no order is under way"
        );
        var state = await server.Services.GetRequiredService<LiveRegister>().Refresh();
        var (person, role, part) = (
            await Rows(
                database,
                $"select a.person, a.role, a.scope from account a join person_name n on n.person = a.person where n.mail = '{who}@merrowby.example'",
                row => (row.GetInt64(0), (Role)row.GetInt16(1), row.IsDBNull(2) ? null : row.GetString(2))
            )
        ).Single();
        var own = Viewer.OwnSites(new(person), state.PeopleDirectory);
        Scope viewerScope = role == Role.Steward ? new Scope.OfUnits(Viewer.UnitsBelow(state.PeopleDirectory, new(part!))) : own;
        all = await database.Read(connection => connection.Sites(new Scope.Everything()));
        var name = new NpgsqlConnectionStringBuilder(database.Source.ConnectionString).Database!;
        await here.Leave(server);
        return (
            name,
            [.. all.Where(viewerScope.Sees).Select(site => site.Id.Value)],
            [.. all.Where(site => own.Sees(site) && !viewerScope.Sees(site)).Select(site => site.Id.Value)],
            [.. all.Where(site => !viewerScope.Sees(site) && !own.Sees(site))]
        );
    }

    /// <summary>A copy without all other sites and everything that depends on them.</summary>
    private static async Task<string> OnlyWith(string whole, IReadOnlyList<long> kept)
    {
        var copy = await Databases.Copy(whole);
        await using var owner = NpgsqlDataSource.Create(Databases.Owner(copy));
        foreach (
            var (table, constraint) in await Rows(
                owner,
                "select conrelid::regclass::text, conname from pg_constraint where contype = 'f' and connamespace = 'public'::regnamespace",
                row => (row.GetString(0), row.GetString(1))
            )
        )
        {
            await Run(owner, $"alter table {table} drop constraint \"{constraint}\"");
        }

        var ids = string.Join(",", kept);
        foreach (
            var (table, column) in await Rows(
                owner,
                "select c.table_name, c.column_name from information_schema.columns c join information_schema.tables t using (table_schema, table_name) where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and (c.column_name = 'site' or (c.table_name = 'site' and c.column_name = 'id')) and c.data_type = 'bigint'",
                row => (row.GetString(0), row.GetString(1))
            )
        )
        {
            await Run(owner, $"delete from {table} where {column} is not null and {column} not in ({ids})");
        }

        return copy;
    }

    /// <summary>A server on it whose hosts do not answer, so that nothing is synced meanwhile.</summary>
    private async Task<Standing> Quietly(string database)
    {
        var nowhere = new Uri($"http://127.0.0.1:{Installation.FreePort()}");
        var (app, address) = await here.Start(nowhere, null, database, lantern: nowhere, quay: nowhere);
        await app.Services.GetRequiredService<LiveRegister>().Refresh();
        return new Standing(app, address);
    }

    private static Task<List<T>> Rows<T>(Database database, string sql, Func<NpgsqlDataReader, T> read) =>
        Rows(database.Source, sql, read);

    private static async Task<List<T>> Rows<T>(NpgsqlDataSource source, string sql, Func<NpgsqlDataReader, T> read)
    {
        await using var command = source.CreateCommand(sql);
        await using var reader = await command.ExecuteReaderAsync();
        var rows = new List<T>();
        while (await reader.ReadAsync())
        {
            rows.Add(read(reader));
        }

        return rows;
    }

    private static async Task Run(NpgsqlDataSource source, string sql)
    {
        await using var command = source.CreateCommand(sql);
        await command.ExecuteNonQueryAsync();
    }

    private sealed record Standing(WebApplication App, Uri Address)
    {
        public async Task<string> Text(Caller caller, string path) =>
            (await caller.Http.GetStringAsync(path)).Replace(Address.ToString(), "", StringComparison.Ordinal);
    }
}
