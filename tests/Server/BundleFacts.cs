using System.Text;
using System.Text.Json.Nodes;
using AtticLedger.Cli.Bundle;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>The bundle: exports and imports of the whole register, each on its own database.</summary>
public class BundleFacts
{
    private static readonly DateOnly Day = new(2026, 11, 24);

    [Fact]
    public async Task A_register_goes_out_comes_in_elsewhere_and_goes_out_the_same()
    {
        using var folders = new Folders();
        await GeneratedRegister.Write(folders["made"], 700, 11, Day);
        await using var one = await Empty();
        await using var other = await Empty();

        await BundleImport.Read(one, folders["made"]);
        await BundleExport.Write(one, folders["first"]);
        await BundleImport.Read(other, folders["first"]);
        await BundleExport.Write(other, folders["second"]);

        foreach (var file in BundleFolder.Files)
        {
            Assert.Equal(
                await File.ReadAllBytesAsync(Path.Combine(folders["made"].FullName, file)),
                await File.ReadAllBytesAsync(Path.Combine(folders["first"].FullName, file))
            );
            Assert.Equal(
                await File.ReadAllBytesAsync(Path.Combine(folders["first"].FullName, file)),
                await File.ReadAllBytesAsync(Path.Combine(folders["second"].FullName, file))
            );
        }

        // New ids continue after those of the bundle.
        var next = await other.Change(change =>
            change.AddSite(
                new SiteFacts
                {
                    Id = default,
                    Host = "Quay",
                    HostKey = "new",
                }
            )
        );
        Assert.Equal(701, next.Value);
    }

    [Fact]
    public async Task The_index_of_what_was_read_is_the_index_of_its_sites()
    {
        using var folders = new Folders();
        await GeneratedRegister.Write(folders["made"], 300, 5, Day);
        await using var here = await Empty();
        await BundleImport.Read(here, folders["made"]);
        await here.Change(async change =>
        {
            // An exception for too few owners, however few they are.
            foreach (var site in Enumerable.Range(1, 40))
            {
                await change.Put(
                    new SiteId(site),
                    new RuleException(
                        0,
                        new RuleId("R-03"),
                        "For the test",
                        new PersonId(1),
                        change.Now,
                        DateOnly.FromDateTime(change.Now.UtcDateTime).AddDays(9),
                        "",
                        [9]
                    )
                );
            }
        });

        var (streamed, whole) = await here.Read(async connection =>
        {
            await using var rows = await IndexFromRows.Begin(here, connection);
            var time = await connection.OrganisationTime();
            var directory = await connection.PeopleDirectory(here.Now, time);
            var (organisation, rules) = (await connection.Organisation(), await connection.Rules(Today.At(here.Now, time)));
            var sites = await connection.Sites(new Scope.Everything());
            return (
                await rows.Made(new SiteJudge(organisation, directory, rules)),
                RegisterIndex.Empty.With(
                    rules.Judge([.. sites.Select(site => new Core.Register.ComputedSite(site, organisation, directory))])
                )
            );
        });

        var (one, other) = (streamed.Seen(new Scope.Everything()), whole.Seen(new Scope.Everything()));
        Assert.Equal(300, one.All.CountYes);
        foreach (var rule in new[] { "R-02", "R-03", "R-07", "R-09" })
        {
            var filter = Filter.Parse($"breaks eq \"{rule}\" or unsure eq \"{rule}\"", JudgedSite.Attributes);
            Assert.Equal(
                other.Lines(other.Where(filter)).Select(line => line.Id),
                one.Lines(one.Where(filter)).Select(line => line.Id)
            );
        }

        Assert.Equal(
            other.Lines(other.All).Select(line => line.Owners.ActiveAtLeast),
            one.Lines(one.All).Select(line => line.Owners.ActiveAtLeast)
        );
        Assert.Equal(
            other.Lines(other.All).Select(line => line.Excepted.Count),
            one.Lines(one.All).Select(line => line.Excepted.Count)
        );
        Assert.Contains(one.Lines(one.All), line => line.Breaks.Count > 0);
        Assert.Contains(one.Lines(one.All), line => line.Excepted.Count > 0);
    }

    [Fact]
    public async Task The_sites_that_a_change_of_people_or_days_touches_are_found_in_the_database()
    {
        using var folders = new Folders();
        await GeneratedRegister.Write(folders["made"], 400, 9, Day);
        await using var here = await Empty();
        await BundleImport.Read(here, folders["made"]);
        await here.Read(async connection =>
        {
            var time = await connection.OrganisationTime();
            var now = new DateTimeOffset(2026, 11, 24, 9, 0, 0, TimeSpan.Zero);
            var before = await connection.PeopleDirectory(now, time);
            var sites = await connection.Sites(new Scope.Everything());
            Core.People.PeopleDirectory Other(
                Func<Core.People.Person, Core.People.Person> person,
                Func<Core.People.Group, Core.People.Group> group,
                int days
            ) => new([.. before.People.Select(person)], before.Units, [.. before.Groups.Select(group)], now.AddDays(days), time);
            var someone = before
                .People.Where(person => person.Kind == Core.People.PersonKind.Staff)
                .Select(person => person.Id)
                .Take(3)
                .ToHashSet();
            var changes = new Dictionary<string, Core.People.PeopleDirectory>
            {
                ["a name"] = Other(
                    person => someone.Contains(person.Id) ? person with { Name = "Another person" } : person,
                    group => group,
                    0
                ),
                ["leavers"] = Other(
                    person => someone.Contains(person.Id) ? person with { Standing = Core.People.Standing.Left } : person,
                    group => group,
                    0
                ),
                ["a group"] = Other(
                    person => person,
                    group => group.Id.Value == 1 ? group with { Members = [.. group.Members.Skip(1)] } : group,
                    0
                ),
                ["a part of a group"] = Other(
                    person => person,
                    group => group.Id.Value == 2 ? group with { Complete = !group.Complete } : group,
                    0
                ),
                ["days"] = Other(person => person, group => group, 20),
                ["nothing"] = Other(person => person, group => group, 0),
            };
            foreach (var (what, after) in changes)
            {
                var change = Core.Register.DirectoryChange.Between(before, after, 14)!;
                var found = (await connection.SitesTouched(change, before, after)).ToHashSet();
                var uncertain = sites
                    .Where(site =>
                        site.Sharing.IsUnknown
                        || site.Unit.IsUnknown
                        || site.Sharing.Or(null!)
                            .Grants.Any(grant => grant.Subject is Subject.OneGroup(var group) && !after.Expand(group).Complete)
                    )
                    .Select(site => site.Id)
                    .ToHashSet();
                Assert.All(sites.Where(site => change.Touches(site, before, after) && !uncertain.Contains(site.Id)), site =>
                    Assert.True(found.Contains(site.Id), $"{what} touches {site.HostKey}.")
                );
                Assert.Equal(what == "nothing", change.IsNothing);
                Assert.True(what is "nothing" ? found.Count == 0 : found.Count > 0, $"{what}: {found.Count}");
                Assert.True(found.Count < sites.Count, $"{what} touches every site.");
            }

            return 0;
        });
    }

    [Theory]
    [InlineData("missing", "people.jsonl: the file is missing")]
    [InlineData("manifest", "manifest.json: made has no manifest")]
    [InlineData("version", "manifest.json: format \"attic-ledger-bundle\", version 1: this version reads")]
    [InlineData("digest", "groups.jsonl: its SHA-256 is not the one in the manifest")]
    [InlineData("count", "units.jsonl, line 12: it has 12 lines, where the manifest says 13")]
    [InlineData("size", "sites.jsonl: ")]
    [InlineData("unit", "sites.jsonl, line 2: there is no unit \"NOWHERE\"")]
    [InlineData("person", "sites.jsonl, line 2: there is no person \"nobody@merrowby.example\"")]
    [InlineData("subject", "sites.jsonl, line 2: the grant \"odd\" is to exactly one of")]
    [InlineData("twice", "sites.jsonl, line 3: there are two sites")]
    [InlineData("field", "sites.jsonl, line 2: a site has no field \"colour\"")]
    [InlineData("word", "sites.jsonl, line 2: The JSON value could not be converted")]
    [InlineData("rule", "rules.jsonl, line 1: there is no attribute \"nothing\"")]
    [InlineData("brackets", "sites.jsonl, line 2: ")]
    [InlineData("long", "sites.jsonl, line 3: longer than 4194304 bytes")]
    [InlineData("fields", "sites.jsonl, line 2: JSON deserialization for type")]
    [InlineData("cut", "sites.jsonl, line 20: the last line has no end")]
    public async Task A_bad_bundle_is_refused_with_file_and_line_and_nothing_is_written(string fault, string message)
    {
        using var folders = new Folders();
        var made = folders["made"];
        await GeneratedRegister.Write(made, 20, 2, Day);
        await Spoil(made, fault);
        await using var here = await Empty();

        var error = await Assert.ThrowsAsync<BundleError>(() => BundleImport.Read(here, made));

        Assert.StartsWith(message, error.Message, StringComparison.Ordinal);
        Assert.True(await here.Read(connection => connection.IsEmpty()));
        Assert.Equal(0, (await here.Read(connection => connection.JournalHead())).Number);
    }

    [Fact]
    public async Task A_bundle_is_read_only_into_an_empty_register_and_written_only_into_an_empty_folder()
    {
        using var folders = new Folders();
        await GeneratedRegister.Write(folders["made"], 20, 2, Day);
        await using var here = await Empty();
        await BundleImport.Read(here, folders["made"]);

        Assert.Contains(
            "not empty",
            (await Assert.ThrowsAsync<BundleError>(() => BundleImport.Read(here, folders["made"]))).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "not empty",
            (await Assert.ThrowsAsync<BundleError>(() => BundleExport.Write(here, folders["made"]))).Message,
            StringComparison.Ordinal
        );
    }

    private static async Task<Database> Empty() =>
        Database.Open(Databases.Owner(await Databases.Migrated()), TimeProvider.System);

    private static async Task Spoil(DirectoryInfo bundle, string fault)
    {
        string Path(string file) => System.IO.Path.Combine(bundle.FullName, file);
        switch (fault)
        {
            case "missing":
                File.Delete(Path("people.jsonl"));
                return;
            case "manifest":
                File.Delete(Path("manifest.json"));
                return;
            case "version":
                await Manifest(bundle, manifest => manifest["version"] = 1);
                return;
            case "digest":
                var bytes = await File.ReadAllBytesAsync(Path("groups.jsonl"));
                bytes[bytes.AsSpan().IndexOf("Group 1"u8) + 6] = (byte)'8';
                await File.WriteAllBytesAsync(Path("groups.jsonl"), bytes);
                return;
            case "count":
                await Manifest(bundle, manifest => manifest["files"]!["units.jsonl"]!["lines"] = 13);
                return;
            case "size":
                await File.AppendAllTextAsync(Path("sites.jsonl"), "{}\n");
                return;
            case "cut":
                var whole = await File.ReadAllBytesAsync(Path("sites.jsonl"));
                await Replace(bundle, "sites.jsonl", whole[..^1]);
                return;
            case "rule":
                var rules = await File.ReadAllTextAsync(Path("rules.jsonl"));
                await Replace(
                    bundle,
                    "rules.jsonl",
                    Encoding.UTF8.GetBytes(rules.Replace("editing-named:", "general:nothing pr", StringComparison.Ordinal))
                );
                return;
        }

        var lines = await File.ReadAllLinesAsync(Path("sites.jsonl"));
        var site = JsonNode.Parse(lines[1])!.AsObject();
        void Grant(JsonObject grant) =>
            site["sharing"] = new JsonObject
            {
                ["at"] = "2026-11-24T05:00:00+00:00",
                ["source"] = "read",
                ["grants"] = new JsonArray(grant),
            };
        switch (fault)
        {
            case "unit":
                site["unit"] = "NOWHERE";
                break;
            case "person":
                Grant(
                    new JsonObject
                    {
                        ["key"] = "odd",
                        ["power"] = "own",
                        ["person"] = "nobody@merrowby.example",
                    }
                );
                break;
            case "subject":
                Grant(
                    new JsonObject
                    {
                        ["key"] = "odd",
                        ["power"] = "own",
                        ["to"] = "staff",
                        ["unit"] = "U001",
                    }
                );
                break;
            case "field":
                site["colour"] = "red";
                break;
            case "word":
                site["status"] = "sunk";
                break;
            case "twice":
                lines[2] = lines[1];
                break;
        }

        lines[1] = fault switch
        {
            "brackets" => new string('[', 100_000),
            "fields" => "{" + string.Join(',', Enumerable.Range(0, 100_000).Select(i => $"\"f{i}\":1")) + "}",
            _ => site.ToJsonString(),
        };
        lines[2] = fault == "long" ? $"{{\"host\":\"{new string('x', 9_000_000)}\"}}" : lines[2];
        await Replace(bundle, "sites.jsonl", Encoding.UTF8.GetBytes(string.Join('\n', lines) + "\n"));
    }

    // A file that was changed together with the manifest.
    internal static async Task Replace(DirectoryInfo bundle, string file, byte[] bytes)
    {
        await File.WriteAllBytesAsync(Path.Combine(bundle.FullName, file), bytes);
        await Manifest(bundle, manifest =>
        {
            manifest["files"]![file]!["bytes"] = bytes.Length;
            manifest["files"]![file]!["sha256"] = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes));
        });
    }

    private static async Task Manifest(DirectoryInfo bundle, Action<JsonObject> change)
    {
        var path = Path.Combine(bundle.FullName, "manifest.json");
        var manifest = JsonNode.Parse(await File.ReadAllTextAsync(path))!.AsObject();
        change(manifest);
        await File.WriteAllTextAsync(path, manifest.ToJsonString());
    }

    private sealed class Folders : IDisposable
    {
        private readonly DirectoryInfo root = Directory.CreateTempSubdirectory("attic-bundle");

        public DirectoryInfo this[string name] => new(Path.Combine(root.FullName, name));

        public void Dispose() => root.Delete(recursive: true);
    }
}
