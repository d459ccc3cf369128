using System.Collections.Concurrent;
using System.Globalization;
using System.Net;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.StandIns;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>Starting a site: asked for, granted, made at the host step by step, and compared.</summary>
public class StartServerFacts(Installation here)
{
    private static readonly string[] Both = ["i.vane@merrowby.example", "r.quist@merrowby.example"];

    [Fact]
    public async Task A_site_that_the_rules_allow_is_made_and_what_the_host_opened_wider_is_restricted()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        organisation.Slipway.Edit(records =>
            records.Workspace = records.Workspace with { DefaultEntry = "everyone: edit; partners: read" }
        );
        await using var server = await organisation.Start();
        var (vane, bell) = (await here.SignIn("i.vane", server.Address), await here.SignIn("n.bell", server.Address));
        await server.Read(bell, 1);

        var done = await Start(vane, Wanted("Ferry notices", "ferry-notices") with { Tags = ["ships"] });
        Assert.Equal("being-made", done.GetProperty("state").GetString());
        var made = await Ended(vane, done, "in-use");
        Assert.All(made.GetProperty("steps").EnumerateArray(), step => Assert.True(step.GetProperty("isDone").GetBoolean()));
        Assert.True(made.GetProperty("wasWider").GetBoolean());

        var atHost = organisation.Slipway.Read(records =>
            Assert.Single(records.Sites.Values, site => site.Slug == "ferry-notices")
        );
        Assert.Equal(["ships"], atHost.Topics);
        Assert.Equal(["Ferry notices", "Notices", "Who puts up notices"], atHost.Working.Select(page => page.Title));
        await Installation.Until(
            () =>
                Task.FromResult(
                    organisation
                        .Slipway.Read(records => records.Sites[atHost.Id].Entries)
                        .SequenceEqual([new("everyone", "read"), new("p:1", "own"), new("p:2", "own")])
                ),
            "the host's default is taken away"
        );

        // The facts that were filled in are the site's, and the owner finds it under their sites.
        var id = made.GetProperty("line").GetProperty("site").GetInt64();
        var facts = Assert.Single(
            await organisation.Database.Read(connection => connection.Sites(new Scope.Everything(), [new SiteId(id)]))
        );
        Assert.Equal(("notices", "PIL", "ships"), (facts.Purpose.Or(""), facts.Unit.Or(default).Value, facts.Tags.Or("")));
        Assert.Contains(
            "Ferry notices",
            (await vane.Get("/api/your-sites"))
                .GetProperty("sites")
                .EnumerateArray()
                .Select(site => site.GetProperty("title").GetString())
        );
        Assert.Contains("site.made", await Actions(bell, id));
        Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
    }

    [Fact]
    public async Task What_needs_an_administrator_waits_holds_its_address_and_is_seen_by_nobody_else()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        await using var server = await organisation.Start();
        var vane = await here.SignIn("i.vane", server.Address);
        var quist = await here.SignIn("r.quist", server.Address);
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 1);

        var open = Wanted("Ferry for all", "ferry") with
        {
            Kind = "pages",
            Owners = ["i.vane@merrowby.example"],
            Reach = Anybody,
        };
        var asked = await Start(vane, open);
        Assert.Equal("requested", asked.GetProperty("state").GetString());
        var path = Path(asked);

        // Another person learns that the address is asked for, not by whom or for what.
        var mine = open with { Name = "My ferry", Owners = ["r.quist@merrowby.example"] };
        var check = await quist.Post("/api/start/check", mine);
        Assert.Equal("not-allowed", check.GetProperty("granting").GetString());
        Assert.Contains("somebody has asked for it", Sentences(check));
        Assert.DoesNotContain("Ferry for all", check.GetRawText());
        Assert.Equal("pil-ferry", check.GetProperty("address").GetProperty("alternatives")[0].GetString());
        var (status, body) = await quist.Send(
            HttpMethod.Post,
            "/api/start",
            new { site = mine, fingerprint = check.GetProperty("fingerprint").GetString() }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("somebody has asked for it", body.GetRawText());
        Assert.Equal(HttpStatusCode.NotFound, (await quist.Send(HttpMethod.Get, path)).Status);
        await quist.Post($"{path}/withdraw", new { }, HttpStatusCode.NotFound);
        await vane.Post($"{path}/grant", new { fingerprint = "" }, HttpStatusCode.UnprocessableEntity);

        // The desk's administrator has it, with the reason; refusing needs a reason.
        var request = await bell.Get(path);
        Assert.Contains("More people than is usual", request.GetRawText());
        Assert.Equal(["grant", "refuse"], request.GetProperty("actions").EnumerateArray().Select(action => action.GetString()));
        await bell.Post($"{path}/refuse", new { reason = " " }, HttpStatusCode.UnprocessableEntity);
        await bell.Post($"{path}/grant", new { fingerprint = "of yesterday" }, HttpStatusCode.Conflict);
        await bell.Post(
            $"{path}/grant",
            new { fingerprint = request.GetProperty("fingerprint").GetString(), reason = "For the season" }
        );
        var made = await Ended(vane, asked, "in-use");
        Assert.Equal("For the season", made.GetProperty("answer").GetString());
        await bell.Post($"{path}/refuse", new { reason = "No" }, HttpStatusCode.UnprocessableEntity);

        // Refused and withdrawn: the address is free again.
        foreach (var (how, who, reason) in new[] { ("refuse", bell, "Not now"), ("withdraw", vane, (string?)null) })
        {
            var again = await Start(vane, open with { Address = "pier" });
            await who.Post($"{Path(again)}/{how}", new { reason });
        }

        Assert.Equal(
            "by-administrator",
            (await quist.Post("/api/start/check", mine with { Address = "pier" })).GetProperty("granting").GetString()
        );
    }

    [Fact]
    public async Task Whom_policy_refuses_is_not_put_on_the_site_at_all()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        organisation.Slipway.Edit(records =>
            records.People["9"] = new("9", "Cleo Marsh", "cleo@divers.example", true, true, null)
        );
        await using var server = await organisation.Start();
        var (vane, bell) = (await here.SignIn("i.vane", server.Address), await here.SignIn("n.bell", server.Address));
        await server.Read(bell, 1);

        // Nobody from outside edits what is guarded.
        var wanted = Wanted("Survey", "survey") with
        {
            Kind = "project",
            Purpose = "working-room",
            Classification = "Guarded",
            Editors = ["cleo@divers.example"],
            Reach = new("named", "no-one", "account"),
        };
        Assert.Equal("with-changes", (await vane.Post("/api/start/check", wanted)).GetProperty("granting").GetString());
        var made = await Ended(vane, await Start(vane, wanted), "in-use");
        Assert.False(made.GetProperty("wasWider").GetBoolean());
        organisation.Slipway.Read(records =>
        {
            var site = Assert.Single(records.Sites.Values, site => site.Slug == "survey");
            Assert.Equal([$"g:{site.OwnGroup}", "p:1", "p:2"], site.Entries.Select(entry => entry.Entry));
            Assert.Equal(["1", "2"], records.Groups[site.OwnGroup!].Members.Select(member => member.Person));
            return 0;
        });
    }

    [Fact]
    public async Task The_holder_of_an_address_gets_a_message_from_somebody_who_does_not_see_it_once_a_day()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("old-notices", [new("p:2", "own")]));
        await using var server = await organisation.Start();
        var (vane, bell) = (await here.SignIn("i.vane", server.Address), await here.SignIn("n.bell", server.Address));
        await server.Read(bell, 1);
        var ask = new
        {
            kind = "pages",
            address = "old-notices",
            message = "May I have it?",
        };
        var answer = await vane.Post("/api/start/ask-holder", ask);
        Assert.Equal(["place"], answer.EnumerateObject().Select(field => field.Name));
        Assert.Equal(
            [organisation.Quist],
            await organisation.Database.Read(async connection =>
                (
                    await connection.AddressedUnder(
                        AskHolder.Key(
                            "Slipway",
                            "slipway.example/old-notices",
                            organisation.Vane,
                            (await connection.OrganisationTime()).DayOf(organisation.Database.Now)
                        )
                    )
                ).ToList()
            )
        );
        await vane.Post("/api/start/ask-holder", ask, HttpStatusCode.UnprocessableEntity);
        await bell.Post(
            "/api/start/ask-holder",
            new
            {
                kind = "pages",
                address = "old-notices",
                message = " ",
            },
            HttpStatusCode.UnprocessableEntity
        );
        await bell.Post(
            "/api/start/ask-holder",
            new
            {
                kind = "pages",
                address = "nobody-has-it",
                message = "?",
            },
            HttpStatusCode.NotFound
        );
    }

    [Fact]
    public async Task A_request_that_nobody_answers_lapses_and_frees_its_address()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        await using var server = await organisation.Start();
        var (vane, bell) = (await here.SignIn("i.vane", server.Address), await here.SignIn("n.bell", server.Address));
        await server.Read(bell, 1);
        var wanted = Wanted("Ferry", "ferry") with { Kind = "pages", Reach = Anybody };
        var asked = await Start(vane, wanted);
        await bell.Post("/api/clock", new { hours = 15 * 24 });
        await Ended(bell, asked, "given-up");
        Assert.Equal("by-administrator", (await vane.Post("/api/start/check", wanted)).GetProperty("granting").GetString());
    }

    [Fact]
    public async Task A_step_that_the_host_refuses_stops_and_goes_on_where_it_stopped()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        await using var server = await organisation.Start();
        var (vane, bell) = (await here.SignIn("i.vane", server.Address), await here.SignIn("n.bell", server.Address));
        await server.Read(bell, 1);

        // Slipway does not know this member of staff.
        var asked = await Start(vane, Wanted("Ferry", "ferry") with { Editors = ["n.bell@merrowby.example"] });
        var other = await Start(vane, Wanted("Pier", "pier") with { Editors = ["n.bell@merrowby.example"] });
        var stopped = await Ended(vane, asked, "stopped");
        Assert.Equal("Nobody at Slipway has the address n.bell@merrowby.example.", stopped.GetProperty("message").GetString());
        Assert.Equal("people", stopped.GetProperty("line").GetProperty("step").GetString());

        // Given up: what was made stays at the host, and its address is free for the next request once the host has it no more.
        await Ended(vane, other, "stopped");
        await vane.Post($"{Path(other)}/give-up", new { });
        await Ended(vane, other, "given-up");
        Assert.Contains("pier", Slugs());

        organisation.Slipway.Edit(records =>
            records.People["3"] = new("3", "Nora Bell", "n.bell@merrowby.example", false, true, "CMS")
        );
        await vane.Post($"{Path(asked)}/resume", new { });
        await Ended(vane, asked, "in-use");
        Assert.Equal(["Old notices", "ferry", "pier"], Slugs());
        await vane.Post($"{Path(asked)}/resume", new { }, HttpStatusCode.UnprocessableEntity);

        IEnumerable<string> Slugs() =>
            organisation.Slipway.Read(records =>
                records.Sites.Values.Select(site => site.Slug).Order(StringComparer.Ordinal).ToList()
            );
    }

    [Fact]
    public async Task Two_requests_for_one_address_at_one_instant_have_one_holder_200_times()
    {
        const int Rounds = 200;
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        await using var server = await organisation.Start();
        var (vane, quist) = (await here.SignIn("i.vane", server.Address), await here.SignIn("r.quist", server.Address));
        await server.Read(await here.SignIn("n.bell", server.Address), 1);
        var answers = new ConcurrentBag<HttpStatusCode>();
        for (var round = 0; round < Rounds; round++)
        {
            // They wait for an administrator, so that nothing is made.
            var wanted = Wanted("Pier", string.Create(CultureInfo.InvariantCulture, $"pier-{round}")) with
            {
                Kind = "pages",
                Reach = Anybody,
                Owners = Both,
            };
            var fingerprint = (await vane.Post("/api/start/check", wanted)).GetProperty("fingerprint").GetString();
            var both = await Task.WhenAll(
                new[] { vane, quist }.Select(who => who.Send(HttpMethod.Post, "/api/start", new { site = wanted, fingerprint }))
            );
            foreach (var (status, _) in both)
            {
                answers.Add(status);
            }
        }

        Assert.Equal(
            [(HttpStatusCode.OK, Rounds), (HttpStatusCode.UnprocessableEntity, Rounds)],
            answers.GroupBy(status => status).Select(same => (same.Key, same.Count())).OrderBy(pair => pair.Key)
        );
    }

    [Fact]
    public async Task Servers_killed_between_any_two_steps_make_nothing_twice_and_forget_nothing()
    {
        const int Sites = 12;
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        var requests = new List<JsonElement>();
        await using (var first = await organisation.Start())
        {
            var vane = await here.SignIn("i.vane", first.Address);
            await first.Read(await here.SignIn("n.bell", first.Address), 1);

            // A third of the answers is lost, before or after the effect, and each takes a while.
            organisation.Slipway.Faults = new Faults(7, loseBefore: 17, loseAfter: 17, 0, 0, TimeSpan.FromMilliseconds(40));
            for (var site = 0; site < Sites; site++)
            {
                requests.Add(
                    await Start(
                        vane,
                        Wanted($"Berth {site}", string.Create(CultureInfo.InvariantCulture, $"berth-{site}")) with
                        {
                            Kind = "project",
                            Purpose = "working-room",
                            Tags = ["ships"],
                            Reach = new("named", "no-one", "account"),
                        }
                    )
                );
            }

            await Made(first, 2);
            first.Kill();
        }

        for (var kill = 1; kill <= 2; kill++)
        {
            await using var next = await organisation.Start();
            await Made(next, 2 + (kill * 14));
            next.Kill();
        }

        organisation.Slipway.Faults = Faults.None;
        await using var last = await organisation.Start();
        var owner = await here.SignIn("i.vane", last.Address);
        foreach (var request in requests)
        {
            await Ended(owner, request, "in-use");
        }

        organisation.Slipway.Read(records =>
        {
            var made = records.Sites.Values.Where(site => site.Slug.StartsWith("berth-", StringComparison.Ordinal)).ToList();
            Assert.Equal(Sites, made.Count);
            Assert.Equal(Sites, made.Select(site => site.OwnGroup).Distinct().Count());
            Assert.All(made, site => Assert.Equal(4, site.Working.Count));
            Assert.All(made, site =>
                Assert.Equal([$"g:{site.OwnGroup}", "p:1", "p:2"], site.Entries.Select(entry => entry.Entry))
            );
            Assert.Equal(Sites * 5, records.Effects.Select(effect => effect.Key).Distinct().Count());
            return 0;
        });
        Assert.True(
            (await (await here.SignIn("n.bell", last.Address)).Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean()
        );

        Task Made(RunningServer server, int effects) =>
            Installation.Until(
                () => Task.FromResult(organisation.Slipway.Read(records => records.Effects.Count) >= effects),
                $"{effects} steps at the host, with {server.Address}"
            );
    }

    [Fact]
    public async Task Hostile_texts_are_kept_as_texts_and_refused_where_they_are_no_values()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("Old notices", []));
        await using var server = await organisation.Start();
        var vane = await here.SignIn("i.vane", server.Address);
        await server.Read(await here.SignIn("n.bell", server.Address), 1);
        const string Script = "<script>alert(1)</script>\u0000\u202e";
        var done = await Start(
            vane,
            Wanted(Script, "script") with
            {
                Description = Script,
                ContentNotice = "<img src=x onerror=alert(1)>",
            }
        );
        var made = await Ended(vane, done, "in-use");
        Assert.Equal("<script>alert(1)</script>\ufffd\u202e", made.GetProperty("line").GetProperty("name").GetString());

        var check = await vane.Post(
            "/api/start/check",
            Wanted(new string('x', 5_000), new string('-', 5_000)) with
            {
                Unit = "'; drop table site --",
                Purpose = "<b>",
                Tags = ["<i>"],
                Language = "en\" onload=",
                Owners = ["nobody@nowhere.example", new string('a', 3_000)],
                Ends = "0001-01-01",
            }
        );
        Assert.Equal(
            ["address", "ends", "language", "name", "owners", "purpose", "tags", "unit"],
            check
                .GetProperty("fields")
                .EnumerateArray()
                .Where(field => field.GetProperty("weight").GetString() == "refusal")
                .Select(field => field.GetProperty("field").GetString())
                .Distinct()
                .Order()
        );
        await vane.Post(
            "/api/start/check",
            Wanted("Ferry", "fer\u0000ry") with
            {
                Kind = "project",
                Alias = "\u0000",
                Owners = [null!],
                Tags = [null!],
            }
        );
        Assert.Equal(
            "at-once",
            (await vane.Post("/api/start/check", Wanted("Ferry", "ferry") with { Ends = "9999-12-31" }))
                .GetProperty("granting")
                .GetString()
        );
    }

    private static readonly Reach Anybody = new("staff", "anonymous", "none");

    private static NewSite Wanted(string name, string address) => new(name, address) { Owners = Both };

    private static async Task<JsonElement> Start(Caller caller, NewSite site)
    {
        var fingerprint = (await caller.Post("/api/start/check", site)).GetProperty("fingerprint").GetString();
        return await caller.Post("/api/start", new { site, fingerprint });
    }

    private static async Task<JsonElement> Ended(Caller caller, JsonElement started, string state)
    {
        var request = default(JsonElement);
        await Installation.Until(
            async () =>
            {
                request = await caller.Get(Path(started));
                return request.GetProperty("line").GetProperty("state").GetString() == state;
            },
            $"the request is {state}"
        );
        return request;
    }

    private static string Path(JsonElement started) => $"/api/site-requests/{started.GetProperty("request").GetGuid()}";

    private static string Sentences(JsonElement check) =>
        string.Join(
            ' ',
            check
                .GetProperty("fields")
                .EnumerateArray()
                .Select(field => field.GetProperty("remark").GetProperty("sentence").GetString())
        );

    private static async Task<IEnumerable<string?>> Actions(Caller caller, long site) =>
        (await caller.Get($"/api/journal?site={site}"))
            .GetProperty("entries")
            .EnumerateArray()
            .Select(entry => entry.GetProperty("action").GetString());

    private sealed record Reach(string Inside, string Outside, string SignIn);

    private sealed record NewSite(string Name, string Address)
    {
        public string Kind { get; init; } = "noticeboard";

        public string Alias { get; init; } = "";

        public string? Unit { get; init; } = "PIL";

        public string? Purpose { get; init; } = "notices";

        public string? Classification { get; init; }

        public string[] Tags { get; init; } = [];

        public string? Language { get; init; } = "en";

        public string? Description { get; init; }

        public string? ContentNotice { get; init; }

        public string? Ends { get; init; }

        public string[] Owners { get; init; } = [];

        public string[] Editors { get; init; } = [];

        public Reach Reach { get; init; } = new("staff", "no-one", "account");
    }
}
