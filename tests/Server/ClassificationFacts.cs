using System.Globalization;
using System.Net;
using System.Text.Json;
using AtticLedger.Cli.Bundle;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>A typical register: no classifications, a third without unit, names in every spelling. Somebody confirms proposals
/// for an hour.</summary>
public sealed class ClassificationFacts(Installation here) : IAsyncLifetime
{
    // One every eighteen seconds for an hour.
    private const int ConfirmationsInAnHour = 200;
    private readonly DirectoryInfo folder = Directory.CreateTempSubdirectory("attic-dirty");
    private readonly Dictionary<(string Host, string Key), SiteTruth> truth = [];
    private WebApplication server = null!;
    private Caller bell = null!;
    private Dictionary<long, SiteTruth> truthOf = [];

    // 4,000 in the tests; ATTIC_DIRTY_SITES=40000 gives the numbers in docs/measurements.md.
    private static int Sites =>
        int.Parse(Environment.GetEnvironmentVariable("ATTIC_DIRTY_SITES") ?? "4000", CultureInfo.InvariantCulture);

    public async ValueTask InitializeAsync()
    {
        await GeneratedRegister.Write(folder.CreateSubdirectory("bundle"), Sites, 7, new DateOnly(2026, 11, 24), site =>
            truth[(site.Host, site.Key)] = site
        );
        var name = await Databases.Migrated();
        await using (var owner = Database.Open(Databases.Owner(name), TimeProvider.System))
        {
            await BundleImport.Read(owner, new DirectoryInfo(Path.Combine(folder.FullName, "bundle")));
            var people = await owner.Read(connection => connection.PeopleByMail());
            await owner.Change(change =>
                change.PutAccount(
                    people["p000001@merrowby.example"],
                    Role.Administrator,
                    null,
                    new PasswordHasher<object>().HashPassword(new object(), Installation.Password)
                )
            );
            await owner.Change(change =>
                change.PutAccount(
                    people["p000002@merrowby.example"],
                    Role.Owner,
                    null,
                    new PasswordHasher<object>().HashPassword(new object(), Installation.Password)
                )
            );
            await owner.Change(change =>
                change.SetTerms([new Core.Sites.Term(Core.Sites.ClaimedFact.Classification, "Open", "Open", [])])
            );
            truthOf = (await owner.Read(connection => connection.Sites(new Core.Sites.Scope.Everything()))).ToDictionary(
                site => site.Id.Value,
                site => truth[(site.Host, site.HostKey)]
            );
        }

        (server, var address) = await here.Start(null, null, name);
        bell = await here.SignIn("p000001", address);
    }

    public async ValueTask DisposeAsync()
    {
        await here.Leave(server);
        folder.Delete(recursive: true);
    }

    [Fact]
    public async Task After_an_hour_of_confirmations_a_rule_cannot_tell_of_fewer_than_a_tenth_and_what_was_set_is_true()
    {
        var before = await Look("classification");
        Assert.True(Share(before) > 0.5, $"{Share(before):P0} cannot be told at first.");
        var (confirmations, skipped) = (0, new HashSet<string>());
        var (said, right) = (new Dictionary<string, int>(), new Dictionary<string, int>());
        JsonElement look;
        while (
            Share(look = await Look("classification")) >= 0.1
            && confirmations < ConfirmationsInAnHour
            && await Next(look, skipped) is { } next
        )
        {
            confirmations++;
            var request = new
            {
                fact = next.Fact,
                group = next.Group,
                value = next.Value,
            };
            var plan = await bell.Post("/api/classification/facts/plan", request);
            Assert.All(plan.GetProperty("sites").EnumerateArray(), site =>
                Assert.Equal(next.Value is null, site.GetProperty("evidence").GetArrayLength() > 0)
            );
            var done = await bell.Post(
                "/api/classification/facts",
                new { request, fingerprint = plan.GetProperty("fingerprint").GetString() }
            );
            Assert.Equal(plan.GetProperty("count").GetInt32(), done.GetProperty("count").GetInt32());
        }

        foreach (
            var site in await server
                .Services.GetRequiredService<Database>()
                .Read(connection => connection.Sites(new Core.Sites.Scope.Everything()))
        )
        {
            foreach (var claim in site.Claims.Where(claim => claim.Source == Core.Sites.Claims.Organisation))
            {
                var fact = claim.Fact.ToString();
                var isTrue =
                    claim.Value
                    == (
                        claim.Fact == Core.Sites.ClaimedFact.Unit
                            ? truthOf[site.Id.Value].Unit
                            : truthOf[site.Id.Value].Classification
                    );
                said[fact] = said.GetValueOrDefault(fact) + 1;
                right[fact] = right.GetValueOrDefault(fact) + (isTrue ? 1 : 0);
            }
        }

        var report =
            $"{Sites} sites, {confirmations} confirmations: cannot tell {Share(before):P1} before, {Share(look):P1} after; {string.Join(", ", said.Select(pair => string.Create(CultureInfo.InvariantCulture, $"{pair.Key} said of {pair.Value}, true of {(double)right[pair.Key] / pair.Value:P1}")))}.";
        TestContext.Current.SendDiagnosticMessage(report);
        TestContext.Current.TestOutputHelper?.WriteLine(report);
        Assert.True(Share(look) < 0.1, report);
        Assert.All(said, pair => Assert.True((double)right[pair.Key] / pair.Value > 0.9, report));
    }

    [Fact]
    public async Task What_was_set_together_is_undone_together_except_for_what_has_changed_meanwhile()
    {
        var unit = await Look("unit");
        var group = unit.GetProperty("proposals")[0];
        var request = new { fact = "unit", group = group.GetProperty("key").GetString() };
        var plan = await bell.Post("/api/classification/facts/plan", request);
        await bell.Post("/api/classification/facts", new { request, fingerprint = "another" }, HttpStatusCode.Conflict);
        var done = await bell.Post(
            "/api/classification/facts",
            new { request, fingerprint = plan.GetProperty("fingerprint").GetString() }
        );
        Assert.Equal(Math.Min(5000, group.GetProperty("count").GetInt32()), done.GetProperty("count").GetInt32());
        await bell.Post(
            "/api/classification/facts",
            new { request, fingerprint = plan.GetProperty("fingerprint").GetString() },
            Sites > 5000 ? HttpStatusCode.Conflict : HttpStatusCode.NotFound
        );

        // Each is in the journal with its evidence.
        var entry = (await bell.Get("/api/journal?action=site.facts-set&limit=1")).GetProperty("entries")[0];
        Assert.NotEqual("", entry.GetProperty("reason").GetString());

        var back = await bell.Post(
            "/api/classification/facts/undo",
            new { fact = "unit", together = done.GetProperty("together").GetDateTimeOffset() }
        );
        Assert.Equal(done.GetProperty("count").GetInt32(), back.GetProperty("count").GetInt32());
        Assert.Equal(
            group.GetProperty("count").GetInt32(),
            (await Look("unit"))
                .GetProperty("proposals")
                .EnumerateArray()
                .Single(one => one.GetProperty("key").GetString() == request.group)
                .GetProperty("count")
                .GetInt32()
        );

        // A value that the organisation does not use is refused, with the list of those it uses. Owners may not set it.
        var site = truthOf.Keys.First();
        var odd = new
        {
            fact = "classification",
            sites = new[] { site },
            value = "Secret",
        };
        var refused = await bell.Post("/api/classification/facts/plan", odd);
        Assert.StartsWith(
            "\"Secret\" is not a classification in the vocabulary. Choose one of: ",
            Caller.Sentence(refused.GetProperty("refused"))
        );
        await bell.Post(
            "/api/classification/facts",
            new { request = odd, fingerprint = refused.GetProperty("fingerprint").GetString() },
            HttpStatusCode.UnprocessableEntity
        );
        var owner = await here.SignIn("p000002", bell.Http.BaseAddress);
        await owner.Post("/api/classification/facts/plan", odd, HttpStatusCode.Forbidden);
    }

    private Task<JsonElement> Look(string fact) => bell.Get($"/api/classification?fact={fact}");

    private static double Share(JsonElement look) =>
        (double)look.GetProperty("unsure").GetInt32() / look.GetProperty("sites").GetInt32();

    // Somebody looks at the first fifty sites of a group: 85 percent have to be correct.
    private async Task<(string Fact, string Group, string? Value)?> Next(JsonElement classes, HashSet<string> skipped)
    {
        foreach (var (fact, look) in new[] { ("unit", await Look("unit")), ("classification", classes) })
        {
            foreach (
                var group in look.GetProperty("proposals")
                    .EnumerateArray()
                    .Where(group => group.GetProperty("strength").GetString() != "split")
            )
            {
                var key = group.GetProperty("key").GetString()!;
                if (
                    !skipped.Contains($"{fact} {key}")
                    && (group.GetProperty("strength").GetString() == "sure" || await AreTrue(fact, key))
                )
                {
                    return (fact, key, null);
                }

                skipped.Add($"{fact} {key}");
            }
        }

        foreach (
            var key in classes
                .GetProperty("next")
                .EnumerateArray()
                .Select(group => group.GetProperty("key").GetString()!)
                .Where(key => !skipped.Contains(key))
        )
        {
            if (await Clearly("classification", key) is { } value)
            {
                return ("classification", key, value);
            }

            skipped.Add(key);
        }

        return null;
    }

    private async Task<bool> AreTrue(string fact, string group)
    {
        var shown = (await Shown(fact, group)).ToList();
        return shown.Count(site =>
                site.GetProperty("value").GetString()!.Replace("Unit ", "U", StringComparison.Ordinal)
                == (
                    fact == "unit"
                        ? $"U{int.Parse(TruthOf(site).Unit[1..], CultureInfo.InvariantCulture)}"
                        : TruthOf(site).Classification
                )
            )
            >= 0.85 * shown.Count;
    }

    private async Task<string?> Clearly(string fact, string group)
    {
        var shown = (await Shown(fact, group))
            .Select(TruthOf)
            .Select(site => fact == "unit" ? site.Unit : site.Classification)
            .ToList();
        var top = shown.GroupBy(value => value).MaxBy(same => same.Count())!;
        return top.Count() >= 0.85 * shown.Count ? top.Key : null;
    }

    private async Task<IEnumerable<JsonElement>> Shown(string fact, string group) =>
        (await bell.Post("/api/classification/facts/plan", new { fact, group })).GetProperty("sites").EnumerateArray().Take(50);

    private SiteTruth TruthOf(JsonElement site) => truthOf[site.GetProperty("id").GetInt64()];
}
