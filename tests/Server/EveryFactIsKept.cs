using AtticLedger.Cli.Bundle;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Core.Tests.Sites;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.Quay;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>Whatever a source can report about a site is kept by the database and by a bundle: its value, none and
/// unknown.</summary>
public class EveryFactIsKept(Installation here)
{
    public static TheoryData<string> Names => [.. DeclaredFacts.All.Select(fact => fact.Name)];

    [Fact]
    public async Task By_the_database_and_by_a_bundle()
    {
        await using var here = await WithPeople();
        await using var elsewhere = Database.Open(Databases.Owner(await Databases.Migrated()), TimeProvider.System);
        var facts = DeclaredFacts
            .All.SelectMany(fact => new[] { SampleFacts.Of(fact).One, SampleFacts.Of(fact).Other, SampleFacts.None(fact) })
            .Concat([SampleFacts.All, FactSet.Unknown])
            .ToList();
        await here.Change(async change =>
        {
            foreach (var (place, one) in facts.Index())
            {
                var id = await change.AddSite(Site(place, FactSet.Unknown));
                await change.UpdateSite(Site(place, one) with { Id = id });
            }
        });
        Assert.Equal(facts, await FactsIn(here));

        var folder = Directory.CreateTempSubdirectory("attic-facts");
        try
        {
            var bundle = new DirectoryInfo(Path.Combine(folder.FullName, "bundle"));
            await BundleExport.Write(here, bundle);
            await BundleImport.Read(elsewhere, bundle);
            Assert.Equal(facts, await FactsIn(elsewhere));
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void By_a_line_of_its_page_if_it_has_one(string name)
    {
        var fact = DeclaredFacts.All.Single(one => one.Name == name);
        var line = FactResponse.Of(SampleFacts.Of(fact).One).SingleOrDefault(one => one.Fact == name);
        Assert.Equal(fact.Line, line?.Line ?? FactLine.None);
        Assert.True(
            line is null
                || new object?[] { line.Text, line.Number, line.Flag, line.At, line.Items }.Count(one => one is not null) == 1
        );
        Assert.Equal(
            fact.Line != FactLine.None && fact.Spread == FactSpread.Common,
            FactResponse.Of(FactSet.Unknown).Any(one => one.Fact == name && !one.IsKnown)
        );
    }

    [Fact]
    public async Task From_each_of_three_hosts_to_filter_site_page_and_journal()
    {
        var merrowby = Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871);
        var slipway = new SlipwayBooks(merrowby.Slipway, file: null);
        var (server, address) = await here.Beside(
            await here.Run(app =>
                app.MapLantern(new LanternBooks(merrowby.Lantern, file: null), Installation.Token, TimeProvider.System)
            ),
            await here.Run(app => app.MapQuay(new QuayBooks(merrowby.Quay, file: null), Installation.Token, TimeProvider.System)),
            slipway: await here.Run(app => app.MapSlipway(slipway, Installation.Token, TimeProvider.System))
        );
        var bell = await here.SignIn("n.bell", address);
        async Task<List<long>> Found(string filter) =>
            [
                .. (await bell.Get($"/api/register?filter={Uri.EscapeDataString(filter)}"))
                    .GetProperty("lines")
                    .EnumerateArray()
                    .Select(line => line.GetProperty("id").GetInt64()),
            ];
        foreach (var host in new[] { "Slipway", "Lantern", "Quay" })
        {
            Assert.NotEmpty(await Found($"host eq \"{host}\" and search.hidden eq true"));
            Assert.NotEmpty(await Found($"host eq \"{host}\" and search.hidden eq false"));
            Assert.NotEmpty(await Found($"host eq \"{host}\" and logo eq \"kept-with-site\""));
            Assert.NotEmpty(await Found($"host eq \"{host}\" and logo gt \"kept-with-site\""));
        }

        var site = (await Found("host eq \"Slipway\" and search.hidden eq false and logo eq \"linked\"")).First();
        var key = await server
            .Services.GetRequiredService<Database>()
            .Read(connection => connection.Sites(new Scope.Everything(), [new SiteId(site)]));
        slipway.Edit(records =>
            records.Sites[key[0].HostKey] = records.Sites[key[0].HostKey] with { NoIndex = true, Logo = "site" }
        );
        await server.Services.GetRequiredService<SourceSync>().Read("Slipway", CancellationToken.None);

        var facts = (await bell.Get($"/api/sites/{site}"))
            .GetProperty("facts")
            .EnumerateArray()
            .ToDictionary(fact => fact.GetProperty("fact").GetString()!);
        Assert.True(facts["hiddenFromSearch"].GetProperty("flag").GetBoolean());
        Assert.Equal("borrowed", facts["logo"].GetProperty("text").GetString());
        var entry = (await bell.Get($"/api/journal?site={site}")).GetProperty("entries")[0].GetRawText();
        Assert.Contains("hiddenFromSearch", entry, StringComparison.Ordinal);
        Assert.Contains("Borrowed", entry, StringComparison.Ordinal);
        await here.Leave(server);
    }

    private static SiteFacts Site(int place, FactSet facts) =>
        new()
        {
            Id = default,
            Host = "Quay",
            HostKey = $"{place:000}",
            Facts = facts,
        };

    private static Task<List<FactSet>> FactsIn(Database database) =>
        database.Read(async connection =>
            (await connection.Sites(new Scope.Everything()))
                .OrderBy(site => site.HostKey, StringComparer.Ordinal)
                .Select(site => site.Fault is null ? site.Facts : throw new InvalidOperationException(site.Fault))
                .ToList()
        );

    // The people, groups and units that the samples name, with the same numbers before and after a bundle.
    private static async Task<Database> WithPeople()
    {
        var name = Databases.Owner(await Databases.Migrated());
        await using var connection = new NpgsqlConnection(name);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(
            """
            insert into unit (code, name) values ('MAR', 'Marine'), ('PEO', 'People');
            insert into person (id, kind, standing) overriding system value values (1, 0, 0), (2, 0, 0);
            insert into person_name values (1, 'Idris Vane', 'a@merrowby.example'), (2, 'Renata Quist', 'b@merrowby.example');
            insert into people_group (id, source, source_key, name, complete) overriding system value values (1, 'Quay', 'a', 'A', true), (2, 'Quay', 'b', 'B', true);
            """,
            connection
        );
        await command.ExecuteNonQueryAsync();
        return Database.Open(name, TimeProvider.System);
    }
}
