using System.Net;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using AtticLedger.Cli.Bundle;
using AtticLedger.Cli.Demo;
using AtticLedger.Formats.Bundle;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.People;
using AtticLedger.StandIns.Quay;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Dates, numbers and texts at their bounds in every input: hosts, staff list, lists, bundles and forms. What is not
/// understood is reported. The register continues to work, also after a restart.
/// </summary>
public partial class EveryExtreme(Installation here)
{
    private static readonly string[] Days =
    [
        "9999-12-31",
        "0001-01-01",
        "10000-01-01",
        "0000-00-00",
        "9999-12-31T23:59:59.9999999Z",
        "0001-01-01T00:00:00Z",
        "9999-12-31T23:59:59-14:00",
        "0001-01-01T00:00:00+14:00",
        "2026-02-30",
        "-1",
        "",
    ];
    private static readonly string[] Numbers =
    [
        "-1",
        "0",
        "2147483647",
        "2147483648",
        "-2147483649",
        "9223372036854775807",
        "9223372036854775808",
        "1e308",
        "0.5",
    ];
    private static readonly string[] Texts =
    [
        "",
        " ",
        "-",
        "a\\u0000b",
        "\\ud800",
        "\\u202egnp.exe",
        "İI\\u0307",
        "=1+1",
        "9999-12-31",
        "null",
        new('x', 70_000),
    ];

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task From_hosts_and_the_staff_list(int seed)
    {
        var merrowby = Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871);
        var slipway = await Spoiled(seed, app =>
            app.MapSlipway(new SlipwayBooks(merrowby.Slipway, file: null), Installation.Token, TimeProvider.System)
        );
        var lantern = await Spoiled(seed + 10, app =>
            app.MapLantern(new LanternBooks(merrowby.Lantern, file: null), Installation.Token, TimeProvider.System)
        );
        var quay = await Spoiled(seed + 20, app =>
            app.MapQuay(new QuayBooks(merrowby.Quay, file: null), Installation.Token, TimeProvider.System)
        );
        var staff = await Spoiled(seed + 30, app => app.MapStaffList(merrowby.Staff, Installation.Token));
        var name = await Databases.Migrated();
        var (server, address) = await here.Start(slipway, staff, name, lantern: lantern, quay: quay);
        await Founded(server);
        await server.Services.GetRequiredService<SourceSync>().ReadAll(CancellationToken.None);
        var before = await GoesOn(server, address);
        Assert.InRange(before, 250, 1000);
        await here.Leave(server);
        await GoesOnAgain(name, before);
    }

    [Fact]
    public async Task From_lists_and_forms()
    {
        var name = await Databases.Migrated();
        var (server, address) = await here.Start(null, null, name);
        await Founded(server);
        var operatorAtWork = await SignIn(address);
        const string List = "/api/sources/Foreshore/imports";
        await operatorAtWork.Put(
            "/api/sources/Foreshore/manual-procedure",
            new
            {
                assignee = "doer@merrowby.example",
                account = "x",
                support = "x",
                days = 5,
                reach = "x",
                owners = "x",
                moveToAttic = "x",
                restore = "x",
            }
        );
        var chance = new Random(7);
        var lines = Enumerable
            .Range(1, 60)
            .Select(number =>
                $"f{number},{Cell(chance)},foreshore.example/f{number},{Cell(chance)},{Cell(chance)},{Cell(chance)},{Cell(chance)},{Cell(chance)},{Cell(chance)},staff"
            );
        await Answered(operatorAtWork, HttpMethod.Post, $"{List}/plan?asOf=9999-12-31T00:00:00Z", Csv("key,name\nf0,x\n"));
        await Taken(
            operatorAtWork,
            List,
            "key,name,address,classification,status,created,edited,visits,owners,viewers\n" + string.Join("\n", lines) + "\n"
        );
        var people = Enumerable
            .Range(1, 40)
            .Select(number =>
                $"p{number}@merrowby.example,{Cell(chance)},{Cell(chance)},{Cell(chance)},{Cell(chance)},{Cell(chance)},{Cell(chance)}"
            );
        await Taken(
            operatorAtWork,
            "/api/people/imports",
            "mail,name,kind,unit,standing,leaves,returns\n" + string.Join("\n", people) + "\n"
        );
        await server.Services.GetRequiredService<LiveRegister>().Refresh();

        var sites = (await operatorAtWork.Get("/api/register/range"))
            .GetProperty("sites")
            .EnumerateArray()
            .Select(site => site.GetInt64())
            .ToList();
        Assert.NotEmpty(sites);
        foreach (var (site, place) in sites.Take(20).Select((site, place) => (site, place)))
        {
            var (through, words) = (
                Days[place % Days.Length],
                JsonNode
                    .Parse($"\"{Texts[place % Texts.Length].Replace("\\ud800", "\\ufffd", StringComparison.Ordinal)}\"")!
                    .GetValue<string>()
            );
            await Carried(
                operatorAtWork,
                $"/api/sites/{site}/hold",
                new JsonObject { ["reason"] = words, ["through"] = through }
            );
            await Carried(
                operatorAtWork,
                $"/api/sites/{site}/hold",
                new JsonObject { ["reason"] = "completely", ["through"] = place % 2 == 0 ? "9999-12-31" : null }
            );
            await Carried(
                operatorAtWork,
                $"/api/sites/{site}/exceptions",
                new JsonObject
                {
                    ["rule"] = "R-03",
                    ["reason"] = words,
                    ["through"] = through,
                }
            );
            await Carried(
                operatorAtWork,
                $"/api/sites/{site}/exceptions",
                new JsonObject
                {
                    ["rule"] = "R-03",
                    ["reason"] = "completely",
                    ["through"] = "9999-12-31",
                }
            );
            await Carried(
                operatorAtWork,
                $"/api/sites/{site}/move-to-attic",
                new JsonObject { ["typed"] = words, ["reason"] = words }
            );
        }

        foreach (var day in Days)
        {
            foreach (
                var path in new[]
                {
                    $"/api/journal?since={day}",
                    $"/api/reports/owners?on={day}",
                    $"/api/reports/changes?from={day}&through=9999-12-31",
                    $"/api/register?filter=created%20lt%20%22{day}%22",
                    $"/api/register?limit={day}",
                    $"/api/journal?before={day}",
                }
            )
            {
                await Answered(operatorAtWork, HttpMethod.Get, path);
            }
        }

        var before = await GoesOn(server, address);
        await here.Leave(server);
        await GoesOnAgain(name, before);
    }

    [Theory]
    [InlineData(5, true)]
    [InlineData(6, true)]
    [InlineData(7, false)]
    [InlineData(8, false)]
    public async Task From_bundles(int seed, bool isWellFormed)
    {
        var chance = new Random(seed);
        var folder = Directory.CreateTempSubdirectory("attic-extremes");
        try
        {
            var name = await Databases.Migrated();
            var bundle = folder.CreateSubdirectory("bundle");
            await GeneratedRegister.Write(bundle, 40, seed, new DateOnly(2026, 11, 24));
            foreach (var file in new[] { "sites.jsonl", "people.jsonl" })
            {
                // Days and instants at their bounds are imported; any other wrong value refuses the bundle and names its place.
                var lines = (await File.ReadAllLinesAsync(Path.Combine(bundle.FullName, file))).Select(line =>
                    isWellFormed ? AtBounds(line, chance)
                    : chance.Next(20) == 0 ? Spoil(line, chance, 20)
                    : line
                );
                await BundleFacts.Replace(bundle, file, Encoding.UTF8.GetBytes(string.Join('\n', lines) + "\n"));
            }

            await using (var database = Database.Open(Databases.Owner(name), TimeProvider.System))
            {
                try
                {
                    await BundleImport.Read(database, bundle);
                }
                catch (BundleError refused) when (!isWellFormed)
                {
                    Assert.Matches("line \\d+", refused.Message);
                    Assert.True(await database.Read(connection => connection.IsEmpty()));
                }
            }

            var (server, address) = await here.Start(null, null, name);
            await Founded(server, withOrganisation: false);
            var before = await GoesOn(server, address);
            Assert.True(!isWellFormed || before > 30, $"{before} lines of 40 sites.");
            await here.Leave(server);
            await GoesOnAgain(name, before);
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    /// <summary>Every screen answers, every row is there, the index is complete.</summary>
    /// <returns>The number of rows.</returns>
    private static async Task<int> GoesOn(WebApplication server, Uri address)
    {
        await server.Services.GetRequiredService<LiveRegister>().Refresh();
        var caller = await SignIn(address);
        var whole = 0;
        foreach (var status in new[] { "", "&status=attic" })
        {
            var lines = new List<JsonElement>();
            for (
                var page = await caller.Get($"/api/register?limit=200{status}");
                ;
                page = await caller.Get($"/api/register?limit=200&offset={lines.Count}{status}")
            )
            {
                lines.AddRange(page.GetProperty("lines").EnumerateArray());
                if (page.GetProperty("lines").GetArrayLength() == 0 || lines.Count >= page.GetProperty("total").GetInt32())
                {
                    break;
                }
            }

            whole += lines.Count;
            foreach (
                var site in lines
                    .Where((line, at) => at % 7 == 0 || line.GetProperty("fault").ValueKind != JsonValueKind.Null)
                    .Select(line => line.GetProperty("id").GetInt64())
            )
            {
                foreach (var path in new[] { "", "/dates", "/moves", "/successors", "/attic-entry" })
                {
                    await Answered(caller, HttpMethod.Get, $"/api/sites/{site}{path}");
                }
            }
        }

        foreach (
            var path in new[]
            {
                "desk",
                "owners",
                "attic",
                "your-sites",
                "deadlines",
                "sources",
                "classification",
                "vocabulary",
                "manual-tasks",
                "batches",
                "journal?limit=200",
                "accounts",
                "reports",
                "register/export?show=visits&show=edited&show=created",
                "reports/owners",
                "find?text=a",
            }
        )
        {
            Assert.True(await Answered(caller, HttpMethod.Get, $"/api/{path}") == HttpStatusCode.OK, path);
        }

        foreach (var attribute in Core.Rules.JudgedSite.Attributes.All)
        {
            await Answered(caller, HttpMethod.Get, $"/api/register/choices?of={Uri.EscapeDataString(attribute.Name)}");
        }

        Assert.True((await caller.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
        return whole;
    }

    private async Task GoesOnAgain(string name, int before)
    {
        var (server, address) = await here.Start(null, null, name);
        Assert.Equal(before, await GoesOn(server, address));
        await here.Leave(server);
    }

    private static async Task Founded(WebApplication server, bool withOrganisation = true)
    {
        var database = server.Services.GetRequiredService<Database>();
        if (withOrganisation)
        {
            await MerrowbyOrganisation.Found(database);
        }

        await database.Change(change =>
            change.AddPerson(
                new(
                    default,
                    Core.People.PersonKind.Staff,
                    "Doer",
                    "doer@merrowby.example",
                    Core.People.Standing.Current,
                    null,
                    Core.Terms.Known<Core.Terms.UnitCode>.None
                )
            )
        );
        await database.Change(async change =>
            await change.PutAccount(
                await change.AddPerson(
                    new(
                        default,
                        Core.People.PersonKind.Operator,
                        "Operator",
                        "operator@merrowby.example",
                        Core.People.Standing.Current,
                        null,
                        Core.Terms.Known<Core.Terms.UnitCode>.None
                    )
                ),
                Role.Administrator,
                null,
                Passwords.Hash(Installation.Password)
            )
        );
    }

    private static async Task<Caller> SignIn(Uri address)
    {
        var caller = new Caller(address);
        await caller.Post(
            "/api/session",
            new { mail = "operator@merrowby.example", password = Installation.Password },
            HttpStatusCode.NoContent
        );
        return caller;
    }

    private static async Task<HttpStatusCode> Answered(Caller caller, HttpMethod method, string path, object? body = null)
    {
        var (status, answer) = await caller.Send(method, path, body, Guid.NewGuid().ToString());
        Assert.True(status < HttpStatusCode.InternalServerError, $"{method} {path} answered {status}: {answer}");
        return status;
    }

    /// <summary>Plans it, and carries it out if there is a plan.</summary>
    private static async Task Carried(Caller caller, string path, JsonObject request)
    {
        var (status, preview) = await caller.Send(HttpMethod.Post, $"{path}/plan", request.DeepClone());
        Assert.True(status < HttpStatusCode.InternalServerError, $"{path} {request} answered {status}: {preview}");
        if (status == HttpStatusCode.OK && preview.GetProperty("plan") is { ValueKind: JsonValueKind.Object } plan)
        {
            request["fingerprint"] = plan.GetProperty("fingerprint").GetString();
            await Answered(caller, HttpMethod.Post, path, request);
        }
    }

    /// <summary>Plans the import of a list and imports it.</summary>
    private static async Task Taken(Caller caller, string path, string list)
    {
        var plan = await caller.Post($"{path}/plan", Csv(list));
        await caller.Post($"{path}?fingerprint={plan.GetProperty("fingerprint").GetString()}", Csv(list));
    }

    private static StringContent Csv(string text) => new(text, Encoding.UTF8, "text/csv");

    // A cell that is too long means that a quote was never closed, and the list is refused.
    private static string Cell(Random chance) =>
        chance.Next(3) switch
        {
            0 => Days[chance.Next(Days.Length)],
            1 => Numbers[chance.Next(Numbers.Length)],
            _ => Texts[chance.Next(Texts.Length)],
        }
            is var cell
        && cell.Length > 30_000
            ? cell[..30_000]
            : cell;

    /// <summary>A stand-in with some of its values at their bounds.</summary>
    private Task<Uri> Spoiled(int seed, Action<WebApplication> host)
    {
        var chance = new Random(seed);
        return here.Run(app =>
        {
            app.Use(
                async (http, next) =>
                {
                    var (to, kept) = (http.Response.Body, new MemoryStream());
                    http.Response.Body = kept;
                    await next();
                    http.Response.Body = to;
                    var text = Encoding.UTF8.GetString(kept.ToArray());
                    lock (chance)
                    {
                        text = Spoil(text, chance, 1);
                    }

                    http.Response.ContentLength = null;
                    await http.Response.WriteAsync(text);
                }
            );
            host(app);
        });
    }

    /// <summary>JSON with a fifth of its days and instants replaced by values at their bounds.</summary>
    private static string AtBounds(string json, Random chance) =>
        Day()
            .Replace(json, found =>
                chance.Next(5) > 0
                    ? found.Value
                    : (chance.Next(2) == 0 ? "9999-12-31" : "0001-01-01") + found.Groups["time"].Value
            );

    /// <summary>JSON with some values replaced by values at their bounds; the links between pages stay.</summary>
    private static string Spoil(string json, Random chance, int ofHundred) =>
        Value()
            .Replace(json, found => chance.Next(100) >= ofHundred || Kept().IsMatch(found.Groups["name"].Value)
                    ? found.Value
                    : $"\"{found.Groups["name"].Value}\":"
                        + chance.Next(8) switch
                        {
                            0 => "null",
                            1 or 2 => Numbers[chance.Next(Numbers.Length)],
                            3 or 4 or 5 => $"\"{Days[chance.Next(Days.Length)]}\"",
                            _ => $"\"{Texts[chance.Next(Texts.Length)]}\"",
                        });

    [GeneratedRegex("\"(?<name>[A-Za-z0-9]+)\":(\"(?:[^\"\\\\]|\\\\.)*\"|-?[0-9][0-9.eE+-]*|true|false|null)")]
    private static partial Regex Value();

    [GeneratedRegex("(?<=\")[0-9]{4}-[0-9]{2}-[0-9]{2}(?<time>T[^\"]*)?(?=\")")]
    private static partial Regex Day();

    [GeneratedRegex("^(total|next|cursor|bookmark|mark|page|pages|per|more|totalResults|startIndex|itemsPerPage)$")]
    private static partial Regex Kept();
}
