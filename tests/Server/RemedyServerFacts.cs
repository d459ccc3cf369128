using System.Net;
using System.Text.Json;
using AtticLedger.Core.Access;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.Quay;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>The remedies of a cause: planned for each site, adjusted, carried out at the hosts, and what was foretold is found.
/// </summary>
public class RemedyServerFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:1", "own");
    private static readonly SlipwayEntry Quist = new("p:2", "own");
    private static readonly SlipwayEntry Everyone = new("everyone", "edit");

    [Fact]
    public async Task A_plan_is_adjusted_line_by_line_carried_out_with_one_reason_and_undone_as_one()
    {
        await using var organisation = await SmallOrganisation.Found(
            here,
            ("one", [Vane, Quist, Everyone]),
            ("two", [Vane, Quist, Everyone]),
            ("three", [Vane, Quist, Everyone]),
            ("four", [Vane, Quist])
        );
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 4);
        var cause = (await bell.Get("/api/desk"))
            .GetProperty("groups")
            .EnumerateArray()
            .Single(group => group.GetProperty("name").GetString() == "R-02");
        Assert.Equal(["restrict"], cause.GetProperty("remedies").EnumerateArray().Select(remedy => remedy.GetString()));

        var batch = await Plan(bell, "R-02");
        var lines = await Lines(bell, batch);
        Assert.Equal(["one", "three", "two"], lines.Keys.Order());
        Assert.All(lines.Values, line => Assert.Equal("site.restrict", line.GetProperty("action").GetString()));
        var plan = await bell.Get($"/api/batches/{batch}");
        Assert.Equal(
            (cause.GetProperty("rule").GetProperty("title").GetString(), false, true),
            (
                plan.GetProperty("about").GetString(),
                plan.GetProperty("wantsReason").GetBoolean(),
                plan.GetProperty("mayAdjust").GetBoolean()
            )
        );

        // One is left out, one is excused, and nobody else may look at the plan or change it.
        long Site(string title) => lines[title].GetProperty("site").GetInt64();
        var choices = (await bell.Get($"/api/batches/{batch}/choices?site={Site("two")}")).EnumerateArray().ToList();
        Assert.Equal(["site.restrict", "exception.grant"], choices.Select(choice => choice.GetProperty("action").GetString()));
        await bell.Post($"/api/batches/{batch}/adjust", new { sites = new[] { Site("three") }, action = (string?)null });
        await bell.Post($"/api/batches/{batch}/adjust", new { sites = new[] { Site("two") }, action = "exception.grant" });
        var vane = await here.SignIn("i.vane", server.Address);
        await vane.Post(
            $"/api/batches/{batch}/adjust",
            new { sites = new[] { Site("one") }, action = (string?)null },
            HttpStatusCode.NotFound
        );
        Assert.Equal([("one", "waiting"), ("three", "left-out"), ("two", "waiting")], await Outcomes(bell, batch));

        Assert.Equal(
            "Give a reason: an exception, and asking somebody to own a site, need one.",
            Caller.Why(await bell.Post($"/api/batches/{batch}/start", new { }, HttpStatusCode.UnprocessableEntity))
        );
        await bell.Post($"/api/batches/{batch}/start", new { reason = "Spring clean" });
        await Installation.Until(
            async () => await Outcomes(bell, batch) is [("one", "done"), ("three", "left-out"), ("two", "done")],
            "the remedies carried out"
        );
        await Installation.Until(
            async () => await Breaking(bell) is ["three"],
            "only the site that was left out breaks the rule"
        );
        await bell.Post(
            $"/api/batches/{batch}/adjust",
            new { sites = (long[]?)null, action = (string?)null },
            HttpStatusCode.UnprocessableEntity
        );

        var undo = (await bell.Post($"/api/batches/{batch}/undo/plan", new { })).GetProperty("id").GetGuid();
        Assert.Equal(
            ["change.undo", "exception.end"],
            (await Lines(bell, undo)).Values.Select(line => line.GetProperty("action").GetString()).Order()
        );
        await bell.Post($"/api/batches/{undo}/start", new { reason = "Too soon" });
        await Installation.Until(async () => (await Breaking(bell)).Count == 3, "all are as they were");
    }

    [Fact]
    public async Task A_cause_that_is_not_there_has_no_plan_and_a_steward_plans_only_for_their_part()
    {
        var bell = await here.SignIn("n.bell");
        await bell.Post("/api/batches/remedies", new { cause = "R-99" }, HttpStatusCode.BadRequest);

        var nair = await here.SignIn("h.nair");
        var cause = (await nair.Get("/api/desk")).GetProperty("groups").EnumerateArray().First(HasRemedy);
        var batch = await Plan(nair, cause.GetProperty("name").GetString()!);
        Assert.Equal(
            cause.GetProperty("count").GetInt32(),
            (await nair.Get($"/api/batches/{batch}")).GetProperty("sites").GetInt32()
        );
        var sollis = await here.SignIn("g.sollis");
        await sollis.Post("/api/batches/remedies", new { cause = "R-02" }, HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task What_the_remedies_of_every_cause_foretell_is_found_at_the_hosts_afterwards()
    {
        var merrowby = Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871);
        var slipway = new SlipwayBooks(merrowby.Slipway, file: null);
        var lantern = new LanternBooks(merrowby.Lantern, file: null);
        var quay = new QuayBooks(merrowby.Quay, file: null);
        var (server, address) = await here.Beside(
            await here.Run(app => app.MapLantern(lantern, Installation.Token, TimeProvider.System)),
            await here.Run(app => app.MapQuay(quay, Installation.Token, TimeProvider.System)),
            slipway: await here.Run(app => app.MapSlipway(slipway, Installation.Token, TimeProvider.System))
        );
        var (register, database) = (
            server.Services.GetRequiredService<LiveRegister>(),
            server.Services.GetRequiredService<Database>()
        );
        var bell = await here.SignIn("n.bell", address);
        var random = new Random(7);
        var carriedOut = 0;
        var causes = (await bell.Get("/api/desk"))
            .GetProperty("groups")
            .EnumerateArray()
            .Where(HasRemedy)
            .Select(group => group.GetProperty("name").GetString()!)
            .ToList();
        foreach (var cause in causes)
        {
            var (status, planned) = await bell.Send(HttpMethod.Post, "/api/batches/remedies", new { cause });
            if (status == HttpStatusCode.BadRequest)
            {
                // The remedies of an earlier cause have ended this one.
                continue;
            }

            Assert.Equal(HttpStatusCode.OK, status);
            var batch = planned.GetProperty("id").GetGuid();
            var lines = await Lines(bell, batch);

            // Some sites are left out, and some get an exception.
            foreach (var (_, line) in lines.Where(_ => random.Next(8) == 0).ToList())
            {
                await bell.Post(
                    $"/api/batches/{batch}/adjust",
                    new
                    {
                        sites = new[] { line.GetProperty("site").GetInt64() },
                        action = random.Next(2) == 0 ? "exception.grant" : null,
                    }
                );
            }

            var plan = await bell.Get($"/api/batches/{batch}");
            if (BatchFacts.Counts(plan).All(count => count.Item1 != "waiting"))
            {
                continue;
            }

            var sites = lines.Values.Select(line => new SiteId(line.GetProperty("site").GetInt64())).ToList();
            var before = await register.Refresh();
            var could = await WhoGetsIn(database, before, sites);
            await bell.Post(
                $"/api/batches/{batch}/start",
                new
                {
                    reason = "Property",
                    password = Installation.Password,
                    number = BatchFacts.Counts(plan).Single(count => count.Item1 == "waiting").Item2,
                }
            );
            await Installation.Until(
                async () =>
                    BatchFacts
                        .Counts(await bell.Get($"/api/batches/{batch}"))
                        .All(count => count.Item1 is not ("waiting" or "under-way")),
                $"the remedies of {cause} are done"
            );
            var after = await register.Refresh();
            var can = await WhoGetsIn(database, after, sites);
            var loseSome = new HashSet<PersonId>();
            foreach (var (title, line) in await Lines(bell, batch))
            {
                var what = $"{cause}, {title}, {line}";
                var site = new SiteId(line.GetProperty("site").GetInt64());
                var (was, found) = (Broken(before, site), Broken(after, site));
                var lost = could[site].Except(can[site]).Select(one => one.Person).ToHashSet();
                if (
                    line.GetProperty("outcome").GetString() != "done"
                    || line.GetProperty("action").GetString() is "owner.offer" or "owner.asked"
                )
                {
                    // Nothing is changed, or nothing before somebody accepts.
                    Assert.True(was.SetEquals(found), what);
                    Assert.Empty(lost);
                    continue;
                }

                carriedOut++;
                loseSome.UnionWith(lost);
                Assert.True(lost.Count == line.GetProperty("lose").GetInt32(), $"{lost.Count} people lost access: {what}");
                Assert.True(
                    found.SetEquals(was.Except(Rules(line, "cleared")).Concat(Rules(line, "opened"))),
                    $"{string.Join(' ', was)} became {string.Join(' ', found)}: {what}"
                );
            }

            // The plan counts each person once. It was made for lines that have all been carried out, or its number is too great.
            Assert.True(
                loseSome.Count <= plan.GetProperty("effect").GetProperty("lose").GetInt32(),
                $"{loseSome.Count} people lost access: {plan}"
            );
        }

        // What the hosts themselves report is what they have confirmed.
        var confirmed = await register.Refresh();
        var all = confirmed.Seen(new Scope.Everything());
        List<SiteId> inUse = [.. all.Lines(all.InUse).Select(line => line.Id)];
        var access = await WhoGetsIn(database, confirmed, inUse);
        await server.Services.GetRequiredService<SourceSync>().ReadAll(CancellationToken.None);
        var reported = await WhoGetsIn(database, await register.Refresh(), inUse);
        Assert.All(inUse, site => Assert.True(access[site].SetEquals(reported[site]), $"{site} is not as confirmed"));
        Assert.True(carriedOut > 40, $"Only {carriedOut} remedies were carried out.");
    }

    [Fact]
    public async Task Exceptions_are_granted_on_the_sites_of_a_filter_and_ended_together()
    {
        await using var organisation = await SmallOrganisation.Found(
            here,
            ("one", [Vane, Quist, Everyone]),
            ("two", [Vane, Quist, Everyone]),
            ("three", [Vane, Quist])
        );
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 3);
        var sites = (await bell.Get("/api/register"))
            .GetProperty("lines")
            .EnumerateArray()
            .Select(line => line.GetProperty("id").GetInt64())
            .ToArray();
        object Request(string? rule, string? through, string action = "exception.grant") =>
            new
            {
                action,
                sites,
                rule,
                through,
            };
        var through = $"{DateTime.UtcNow.AddDays(30):yyyy-MM-dd}";
        await bell.Post("/api/batches", Request("R-02", null), HttpStatusCode.BadRequest);
        await bell.Post("/api/batches", Request("R-99", through), HttpStatusCode.BadRequest);
        await bell.Post("/api/batches", Request("R-02", through, "site.restrict"), HttpStatusCode.BadRequest);

        var batch = (await bell.Post("/api/batches", Request("R-02", through))).GetProperty("id").GetGuid();
        Assert.Equal([("one", "waiting"), ("three", "refused"), ("two", "waiting")], await Outcomes(bell, batch));
        await bell.Post($"/api/batches/{batch}/start", new { }, HttpStatusCode.UnprocessableEntity);
        await bell.Post($"/api/batches/{batch}/start", new { reason = "The regatta" });
        await Installation.Until(async () => (await Breaking(bell)).Count == 0, "both have an exception");

        var undo = (await bell.Post($"/api/batches/{batch}/undo/plan", new { })).GetProperty("id").GetGuid();
        Assert.Equal("exception.end", (await bell.Get($"/api/batches/{undo}")).GetProperty("action").GetString());
        await bell.Post($"/api/batches/{undo}/start", new { reason = "Rained off" });
        await Installation.Until(async () => (await Breaking(bell)).Count == 2, "both are findings again");
    }

    private static bool HasRemedy(JsonElement group) =>
        group.GetProperty("fact").ValueKind == JsonValueKind.Null && group.GetProperty("remedies").GetArrayLength() > 0;

    // Who has which power by name, computed from the stored facts; nobody views what was never published or has any in the attic.
    private static async Task<Dictionary<SiteId, HashSet<(Power Power, PersonId Person)>>> WhoGetsIn(
        Database database,
        LedgerState state,
        IReadOnlyList<SiteId> sites
    )
    {
        var facts = await database.Read(connection => connection.Sites(new Scope.Everything(), sites));
        return state
            .Judge(facts)
            .Select(judged => judged.Line)
            .ToDictionary(
                line => line.Site.Id,
                line =>
                    line.Site.Existence == Existence.InUse
                        ? Powers
                            .Limited.Where(power => power != Power.View || AccessPaths.IsPublished(line.Site.Status) != Truth.No)
                            .SelectMany(power =>
                            {
                                var actual = line.AccessPath(power).Effective.AtLeast;
                                return actual
                                    .Inside.Union(actual.Guests)
                                    .Places()
                                    .Select(place => (power, state.PeopleDirectory.People[place].Id));
                            })
                            .ToHashSet()
                        : []
            );
    }

    private static HashSet<string> Broken(LedgerState state, SiteId site) =>
        state.Seen(new Scope.Everything()).Find(site) is { Existence: Existence.InUse } line
            ? [.. line.Breaks.Select(rule => rule.Id.Value)]
            : [];

    private static IEnumerable<string> Rules(JsonElement line, string which) =>
        line.GetProperty(which).EnumerateArray().Select(rule => rule.GetProperty("id").GetString()!);

    private static async Task<Guid> Plan(Caller who, string cause) =>
        (await who.Post("/api/batches/remedies", new { cause })).GetProperty("id").GetGuid();

    // Titles of some sites repeat: those have their address as well.
    private static async Task<Dictionary<string, JsonElement>> Lines(Caller who, Guid batch) =>
        (await who.Get($"/api/batches/{batch}/lines?limit=500"))
            .GetProperty("lines")
            .EnumerateArray()
            .GroupBy(line => line.GetProperty("title").GetString()!)
            .SelectMany(same =>
                same.Select((line, at) => (Title: at == 0 ? same.Key : $"{same.Key} {line.GetProperty("site")}", Line: line))
            )
            .ToDictionary(one => one.Title, one => one.Line);

    private static async Task<List<(string Title, string Outcome)>> Outcomes(Caller who, Guid batch) =>
        [
            .. (await Lines(who, batch))
                .Select(pair => (pair.Key, pair.Value.GetProperty("outcome").GetString()!))
                .OrderBy(pair => pair.Key, StringComparer.Ordinal),
        ];

    private static async Task<List<string>> Breaking(Caller who) =>
        [
            .. (await who.Get("/api/register?where=breaks:is:R-02"))
                .GetProperty("lines")
                .EnumerateArray()
                .Select(line => line.GetProperty("title").GetString()!),
        ];
}
