using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Access that is granted and restricted, as it was predicted, as it is explained, and as the visitors' front has
/// it.</summary>
public class AccessServerFacts(Installation here)
{
    private const int Sites = 40;

    private static readonly string[] Teams = ["VTS", "TUG", "DRE", "PIL"];
    private static readonly string?[] Limits = [null, null, null, "none", "guests", "partners", "team"];
    private static readonly string[] Powers = ["view", "view", "view", "preview", "edit"];

    [Fact]
    public async Task What_a_plan_predicts_is_what_the_front_does_and_why_says_the_same()
    {
        var bell = await here.SignIn("n.bell");
        var random = new Random(24);
        var personas = Personas();
        var sites = await Made(random, personas);
        var ids = new Dictionary<Persona, long>();
        foreach (var persona in personas.Where(persona => persona.Mail is not null))
        {
            ids[persona] = await PersonId(bell, persona.Mail!);
        }

        var predicted = new List<(long Site, string Slug, Persona Persona, bool IsIn)>();
        var done = 0;
        foreach (var (site, slug) in sites)
        {
            var before = new Dictionary<Persona, (bool ByName, bool IsIn)>();
            foreach (var persona in personas)
            {
                before[persona] = await Seen(bell, site, slug, persona, ids);
            }

            var (plan, send) = await Planned(bell, site, random, personas, ids);
            if (plan is { } will)
            {
                done++;
                await send(will.GetProperty("fingerprint").GetString()!);
            }

            var view = plan
                ?.GetProperty("powers")
                .EnumerateArray()
                .FirstOrDefault(change => change.GetProperty("power").GetString() == "view");
            var anonymous = personas.Single(persona => persona.Mail is null);
            var isOpen = before[anonymous].IsIn;
            isOpen = (isOpen || Has(view, "opened", "anonymous")) && !Has(view, "shut", "anonymous");
            foreach (var persona in personas)
            {
                var byName =
                    ids.TryGetValue(persona, out var id)
                    && (before[persona].ByName || Names(view, "gain", id))
                    && !Names(view, "lose", id)
                    && persona.MaySignIn;
                predicted.Add((site, slug, persona, byName || isOpen));
            }
        }

        await here.Quiet();
        Assert.InRange(done, Sites / 2, Sites);
        Assert.InRange(predicted.Count, 200, int.MaxValue);
        foreach (var (site, slug, persona, isIn) in predicted)
        {
            Assert.True(
                isIn == await here.Visits(slug, persona.Mail),
                $"{slug}: {persona.Name} was predicted {(isIn ? "in" : "out")}."
            );
            await Seen(bell, site, slug, persona, ids);
        }
    }

    [Fact]
    public async Task Owners_ask_about_themselves_and_the_people_on_their_sites_and_nobody_else()
    {
        var (bell, vane) = (await here.SignIn("n.bell"), await here.SignIn("i.vane"));
        var site = await here.NewSite("why-owner", Owner("i.vane"), Owner("k.brandt"));
        foreach (var (who, status) in new[] { ("i.vane", 200), ("k.brandt", 200), ("h.nair", 404) })
        {
            var id = await PersonId(bell, $"{who}@merrowby.example");
            Assert.Equal((HttpStatusCode)status, (await vane.Send(HttpMethod.Get, $"/api/sites/{site}/why?person={id}")).Status);
            Assert.Equal(HttpStatusCode.OK, (await bell.Send(HttpMethod.Get, $"/api/sites/{site}/why?person={id}")).Status);
        }
    }

    [Theory]
    [InlineData("", "one of the two")]
    [InlineData("?kind=partner&person=1", "one of the two")]
    [InlineData("?kind=stranger", "not-signed-in")]
    [InlineData("?kind=partner&power=fly", "view, preview, edit")]
    public async Task A_question_that_cannot_be_read_says_what_can_be_asked(string query, string says)
    {
        var bell = await here.SignIn("n.bell");
        var (status, problem) = await bell.Send(HttpMethod.Get, $"/api/sites/{await here.SiteId("pilot-exam")}/why{query}");

        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(says, problem.GetProperty("title").GetString());
    }

    [Fact]
    public async Task What_breaks_a_critical_rule_waits_for_a_second_person_and_is_then_granted_and_undone()
    {
        var (bell, aske) = (await here.SignIn("n.bell"), await here.SignIn("t.aske"));
        var site = await here.NewSite("why-second", Owner("i.vane"));
        var request = new
        {
            power = "edit",
            all = "staff",
            reason = "Everybody writes here.",
        };
        var plan = (await bell.Send(HttpMethod.Post, $"/api/sites/{site}/grant-access/plan", request)).Body.GetProperty("plan");
        Assert.Contains("R-02", plan.GetProperty("needsSecond").GetString());
        var approval = (await Grant(bell, site, request, plan)).GetProperty("approval").GetGuid();

        var asked = await aske.Get($"/api/approvals/{approval}");
        Assert.Equal("access.grant", asked.GetProperty("action").GetString());
        var (status, granted) = await aske.Send(
            HttpMethod.Post,
            $"/api/approvals/{approval}/approve",
            new { fingerprint = asked.GetProperty("plan").GetProperty("fingerprint").GetString() },
            "approve-why"
        );
        Assert.Equal(HttpStatusCode.OK, status);
        await Installation.Until(
            async () => await bell.StateOf(site, granted.GetProperty("hostChange").GetGuid()) == "verified",
            "the grant is seen"
        );
        Assert.Contains((await bell.Get($"/api/journal?site={site}")).GetProperty("entries").EnumerateArray(), entry =>
            entry.GetProperty("action").GetString() == "access.grant"
            && entry.GetProperty("reason").GetString() == "Everybody writes here."
        );
    }

    private sealed record Persona(string Name, string? Mail, string? Entry, bool MaySignIn = true);

    private SlipwayEntry Owner(string who) =>
        here.Slipway.Read(records => new SlipwayEntry(
            $"p:{records.People.Values.First(person => person.Mail == $"{who}@merrowby.example").Id}",
            "own"
        ));

    private List<Persona> Personas() =>
        here.Slipway.Read(records =>
        {
            var groups = records.Groups.Values.Where(group => !group.Truncated).ToList();
            int Count(SlipwayPerson person) => groups.Count(group => group.Members.Any(member => member.Person == person.Id));
            Persona Of(string name, Func<SlipwayPerson, bool> holds) =>
                records.People.Values.First(holds) is var person
                    ? new Persona(name, person.Mail, $"p:{person.Id}", person.Active)
                    : throw new InvalidOperationException();
            return new List<Persona>
            {
                new("anonymous", null, null),
                Of("a guest", person => person is { Guest: true, Active: true }),
                Of("a member of one group", person => person is { Guest: false, Active: true } && Count(person) == 1),
                Of("a member of two groups", person => person is { Guest: false, Active: true } && Count(person) == 2),
                Of("somebody who has left", person => person is { Guest: false, Active: false }),
            };
        });

    private async Task<List<(long Site, string Slug)>> Made(Random random, List<Persona> personas)
    {
        var now = DateTimeOffset.UtcNow;
        List<SlipwayEntry> owners = [Owner("i.vane"), Owner("k.brandt")];
        here.Slipway.Edit(records =>
        {
            var groups = records.Groups.Values.Where(group => !group.Truncated).Select(group => group.Id).ToList();
            for (var i = 0; i < Sites; i++)
            {
                List<SlipwayEntry> entries = [.. owners];
                foreach (var entry in personas.Select(persona => persona.Entry).OfType<string>().Where(_ => random.Next(4) == 0))
                {
                    entries.Add(new SlipwayEntry(entry, "read"));
                }

                if (random.Next(3) == 0)
                {
                    entries.Add(new SlipwayEntry($"g:{groups[random.Next(groups.Count)]}", "read"));
                }

                if (random.Next(4) == 0)
                {
                    entries.Add(random.Next(2) == 0 ? new("everyone", "read") : new("world", "read", "none"));
                }

                records.Sites[$"t-front-{i}"] = new SlipwaySite
                {
                    Id = $"t-front-{i}",
                    Slug = $"front-{i}",
                    Title = $"Front {i}",
                    Team = Teams[random.Next(Teams.Length)],
                    Label = random.Next(2) == 0 ? "Open" : "Internal",
                    Limit = Limits[random.Next(Limits.Length)],
                    Created = now,
                    Edited = now,
                    Published = now,
                    Entries = [.. entries.DistinctBy(entry => entry.Entry)],
                    Working = [new("Home", "Text")],
                    Live = [new("Home", "Text")],
                };
            }
        });
        await here.ReadSlipway();
        var sites = new List<(long, string)>();
        for (var i = 0; i < Sites; i++)
        {
            sites.Add((await here.SiteId($"front-{i}"), $"front-{i}"));
        }

        return sites;
    }

    // A grant or a restriction at random, where policy lets it be.
    private static async Task<(JsonElement? Plan, Func<string, Task> Send)> Planned(
        Caller bell,
        long site,
        Random random,
        List<Persona> personas,
        Dictionary<Persona, long> ids
    )
    {
        if (random.Next(4) == 0)
        {
            string[] insides = ["nobody", "named", "unit", "staff"];
            string[] outsides = ["no-one", "named-guests", "anonymous"];
            var view = new
            {
                inside = insides[random.Next(insides.Length)],
                outside = outsides[random.Next(outsides.Length)],
                visitorSignIn = "none",
            };
            var target = new
            {
                view,
                preview = view,
                edit = view,
            };
            return (await Plan("restrict", new { target }), fingerprint => Send("restrict", new { target, fingerprint }));
        }

        var power = Powers[random.Next(Powers.Length)];
        var people = personas.Where(persona => persona is { Mail: not null, MaySignIn: true }).ToList();
        var person = ids[people[random.Next(people.Count)]];
        var which = random.Next(6);
        var group = random.Next(1, 30);
        var request = new Dictionary<string, object?>
        {
            ["power"] = power,
            ["person"] = which is 0 or 1 ? person : null,
            ["group"] = which == 2 ? group : null,
            ["unit"] = which == 3 ? Teams[random.Next(Teams.Length)] : null,
            ["all"] =
                which == 4 ? "staff"
                : which == 5 ? "anonymous"
                : null,
            ["signIn"] = which == 5 ? "none" : "account",
            ["reason"] = "at random",
        };
        return (await Plan("grant-access", request), fingerprint =>
            Send("grant-access", new Dictionary<string, object?>(request) { ["fingerprint"] = fingerprint })
        );

        async Task<JsonElement?> Plan(string action, object body)
        {
            var (status, planned) = await bell.Send(HttpMethod.Post, $"/api/sites/{site}/{action}/plan", body);
            Assert.Equal(HttpStatusCode.OK, status);
            return
                planned.GetProperty("plan") is { ValueKind: JsonValueKind.Object } plan
                && plan.GetProperty("needsSecond").ValueKind == JsonValueKind.Null
                ? plan
                : null;
        }

        async Task Send(string action, object body) =>
            Assert.Equal(
                HttpStatusCode.OK,
                (await bell.Send(HttpMethod.Post, $"/api/sites/{site}/{action}", body, $"front-{site}")).Status
            );
    }

    private static async Task<JsonElement> Grant(Caller caller, long site, object request, JsonElement plan)
    {
        var body = JsonSerializer.Deserialize<Dictionary<string, JsonElement>>(JsonSerializer.Serialize(request))!;
        body["fingerprint"] = plan.GetProperty("fingerprint");
        var (status, done) = await caller.Send(HttpMethod.Post, $"/api/sites/{site}/grant-access", body, $"grant-{site}");
        Assert.Equal(HttpStatusCode.OK, status);
        return done;
    }

    private static async Task<long> PersonId(Caller bell, string mail) =>
        (await bell.Get($"/api/find?text={Uri.EscapeDataString(mail)}"))
            .GetProperty("people")
            .EnumerateArray()
            .Single(found => found.GetProperty("person").GetProperty("mail").GetString() == mail)
            .GetProperty("person")
            .GetProperty("id")
            .GetInt64();

    // Whether the front lets them in, and whether by name; "why" says the same.
    private async Task<(bool ByName, bool IsIn)> Seen(
        Caller bell,
        long site,
        string slug,
        Persona persona,
        Dictionary<Persona, long> ids
    )
    {
        var isIn = await here.Visits(slug, persona.Mail);
        var why = await bell.Get(
            $"/api/sites/{site}/why?{(ids.TryGetValue(persona, out var id) ? $"person={id}" : "kind=not-signed-in")}"
        );

        // People who have left cannot sign in, and the register counts them until the host has dropped them.
        if (persona.MaySignIn)
        {
            Assert.True(
                (isIn ? "yes" : "no") == why.GetProperty("getsIn").GetString(),
                $"{slug}: {persona.Name} is {(isIn ? "in" : "out")}, and why says {why}."
            );
        }

        return (
            why.GetProperty("ways")
                .EnumerateArray()
                .Any(way =>
                    way.GetProperty("lets").GetString() == "yes" && way.GetProperty("through").GetString() != "Anonymous visitors"
                ),
            isIn
        );
    }

    private static bool Has(JsonElement? change, string field, string word) =>
        change is { ValueKind: JsonValueKind.Object } powers
        && powers.GetProperty(field).EnumerateArray().Any(door => door.GetString()!.Contains(word, StringComparison.Ordinal));

    private static bool Names(JsonElement? change, string field, long person) =>
        change is { ValueKind: JsonValueKind.Object } powers
        && powers.GetProperty(field).EnumerateArray().Any(one => one.GetProperty("id").GetInt64() == person);
}
