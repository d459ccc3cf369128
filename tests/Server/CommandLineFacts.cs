using System.Text.Json;
using System.Text.RegularExpressions;

namespace AtticLedger.Server.Tests;

/// <summary>The command line, run as a process on the installation's database.</summary>
public class CommandLineFacts(Installation here)
{
    [Fact]
    public async Task An_export_verifies_and_every_way_of_touching_it_is_found_and_named()
    {
        var folder = Directory.CreateTempSubdirectory();
        var file = Path.Combine(folder.FullName, "journal.jsonl");
        Assert.Equal(0, (await Attic("journal", "export", "--out", file)).Code);
        var lines = (await File.ReadAllLinesAsync(file)).ToList();
        var head = JsonDocument.Parse(lines[^1]).RootElement.GetProperty("head").GetString()!;

        var whole = await Attic("journal", "verify", file, "--head", head);
        Assert.Equal((0, $"Unbroken: {lines.Count - 1} entries, head {head}."), (whole.Code, whole.Said));
        await Broken(
            "one byte changed",
            3,
            lines => lines[2] = lines[2].Replace("\"actor\":\"host", "\"actor\":\"hosu", StringComparison.Ordinal),
            "does not follow",
            4
        );
        await Broken(
            "white space added",
            2,
            lines => lines[1] = lines[1].Replace("{\"action\"", "{ \"action\"", StringComparison.Ordinal),
            "canonical",
            2
        );
        await Broken("two lines swapped", 2, lines => (lines[1], lines[2]) = (lines[2], lines[1]), "should be entry 2", 2);
        await Broken("one doubled", 3, lines => lines.Insert(2, lines[1]), "should be entry 3", 3);
        await Broken(
            "the tail cut",
            0,
            lines => lines.RemoveRange(4, lines.Count - 4),
            "the last line, which carries the head, is missing",
            5
        );
        await Broken(
            "the last changed",
            0,
            lines => lines[^2] = Regex.Replace(lines[^2], "\"reason\":(null|\"[^\"]*\")", "\"reason\":\"changed\""),
            "head",
            lines.Count
        );
        folder.Delete(recursive: true);

        async Task Broken(string how, int atLeast, Action<List<string>> touch, string words, int line)
        {
            var touched = lines.ToList();
            touch(touched);
            Assert.False(touched.SequenceEqual(lines), how);
            await File.WriteAllLinesAsync(file, touched);
            var (code, said) = await Attic("journal", "verify", file, "--head", head);
            Assert.True(
                code == 1
                    && said.Contains($"Broken at line {line}", StringComparison.Ordinal)
                    && said.Contains(words, StringComparison.Ordinal),
                $"{how}: {said}"
            );
            Assert.True(atLeast <= line);
        }
    }

    [Fact]
    public async Task The_arithmetic_of_a_site_is_the_same_as_text_and_as_JSON()
    {
        var text = await Attic("reach", "--site", "slipway.example/pilot-exam");
        var json = JsonDocument.Parse((await Attic("reach", "--site", "slipway.example/pilot-exam", "--json")).Said).RootElement;
        var view = json.GetProperty("powers").EnumerateArray().Single(power => power.GetProperty("power").GetString() == "view");

        Assert.Equal("staff / anonymous visitors", view.GetProperty("set").GetString());
        Assert.Equal("staff / no one", view.GetProperty("effective").GetString());
        Assert.Contains(view.GetProperty("layers").EnumerateArray(), layer =>
            layer.GetProperty("layer").GetString() == "Site" && layer.GetProperty("limitedBy").GetArrayLength() == 1
        );
        Assert.Matches(@"effective\s+staff / no one", text.Said);
        Assert.Matches(@"Classification Sealed, policy only\s+named / no one  limits it", text.Said);
    }

    [Fact]
    public async Task A_list_is_checked_against_the_rules_before_it_is_imported_anywhere()
    {
        var folder = Directory.CreateTempSubdirectory();
        string File(string text)
        {
            var path = Path.Combine(folder.FullName, "list.csv");
            System.IO.File.WriteAllText(path, text);
            return path;
        }

        const string Wide =
            "Site name,URL,Dept,Classification,Status,Owner,Editors,Viewers\nTide tables,x.example/t,VTS,Guarded,published,h.nair@merrowby.example,-,staff; anonymous\n";
        var (broken, said) = await Attic("check", File(Wide));
        Assert.Equal(1, broken);
        Assert.Contains(
            "Tide tables: R-07 (critical) Anonymous visitors can view the published site; policy allows nobody outside.",
            said
        );
        Assert.Contains("1 sites, 2 broken rules, 0 that cannot tell.", said);
        var lines = (await Attic("check", "--as", "jsonl", File(Wide)))
            .Said.Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(line => JsonDocument.Parse(line).RootElement)
            .ToList();
        Assert.Equal(
            [("R-07", "critical"), ("R-03", "warning")],
            lines.Select(line => (line.GetProperty("rule").GetString()!, line.GetProperty("level").GetString()!))
        );

        Assert.Equal(0, (await Attic("check", File(Wide.Replace("staff; anonymous", "staff", StringComparison.Ordinal)))).Code);
        Assert.Equal(2, (await Attic("check", File("a,b\n1,2\n"))).Code);
        folder.Delete(recursive: true);
    }

    [Fact]
    public async Task A_bundle_is_checked_by_its_own_rules_without_any_register()
    {
        var folder = Directory.CreateTempSubdirectory();
        var bundle = Path.Combine(folder.FullName, "bundle");
        Assert.Equal(0, (await Attic("export", bundle)).Code);
        var sites = (await File.ReadAllLinesAsync(Path.Combine(bundle, "sites.jsonl"))).Length;

        var (broken, said) = await AtticWithout("check", bundle);
        Assert.Equal(1, broken);
        Assert.Contains(": R-07 (critical) ", said);
        Assert.Matches($"\n{sites} sites, [1-9][0-9]* broken rules, ", said);

        // Other rules are tried out on it: the numbers before are those of its own rules.
        var broken03 = Regex.Count(said, ": R-03 \\(warning\\) (?!Cannot tell)");
        var rules = Path.Combine(folder.FullName, "rules.json");
        await File.WriteAllTextAsync(rules, Rules("owners.active.count ge 3"));
        var (tried, numbers) = await AtticWithout("try", rules, bundle);
        Assert.Equal(0, tried);
        Assert.Matches(
            $"^R-03 Two active owners \\(changed\\): {broken03} before, [0-9]+ after, [1-9][0-9]* added, 0 cleared",
            numbers
        );
        Assert.Contains($"\nNEW-1 A purpose is set (added): 0 before, ", numbers, StringComparison.Ordinal);
        await File.WriteAllTextAsync(rules, Rules("owners.active.count ge"));
        Assert.Equal(1, (await AtticWithout("try", rules, bundle)).Code);
        await File.WriteAllTextAsync(rules, "{}");
        Assert.Equal(2, (await AtticWithout("try", rules, bundle)).Code);

        await File.AppendAllTextAsync(Path.Combine(bundle, "sites.jsonl"), "{}\n");
        Assert.Equal(2, (await AtticWithout("check", bundle)).Code);
        folder.Delete(recursive: true);

        static string Rules(string demand) =>
            $$"""
                { "format": "rule-book", "version": 1, "rules": [
                  { "id": "R-03", "title": "Two active owners", "short": "too few owners", "level": "warning", "demand": "{{demand}}" },
                  { "id": "NEW-1", "title": "A purpose is set", "short": "no purpose", "level": "note", "demand": "purpose pr" } ] }
                """;
    }

    [Fact]
    public async Task Addresses_are_proposed_for_names_and_checked_against_all_that_are_reserved()
    {
        var folder = Directory.CreateTempSubdirectory();
        var (list, words) = (Path.Combine(folder.FullName, "names.csv"), Path.Combine(folder.FullName, "reserved.txt"));
        await File.WriteAllTextAsync(
            list,
            "Site name,Dept,URL\nPilot boarding,PIL,\nNets & pots,FSH,\nNets and pots,FSH,\nBerths,BER,slipway.example/berths-22\nAdmin,,adrnin\nNew wharf,,New-wharf\n"
        );
        await File.WriteAllTextAsync(words, "admin\n");

        var (code, said) = await Attic("address", list, "--host", "Slipway", "--reserved", words, "--as", "jsonl");
        Assert.Equal(1, code);
        var lines = said.Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(line => JsonDocument.Parse(line).RootElement)
            .Select(line =>
                (
                    Address: line.GetProperty("address").GetString(),
                    Verdict: line.GetProperty("verdict").GetString(),
                    Why: line.GetProperty("why").GetString()!,
                    Instead: line.GetProperty("instead").GetString()!
                )
            )
            .ToList();
        Assert.Equal(
            [
                ("pilot-boarding", "held"),
                ("nets-and-pots", "free"),
                ("nets-and-pots", "held"),
                ("berths-22", "held"),
                ("adrnin", "confusable"),
                ("New-wharf", "malformed"),
            ],
            lines.Select(line => (line.Address, line.Verdict))
        );
        Assert.StartsWith("pil-pilot-boarding ", lines[0].Instead);
        Assert.Equal("line 3 of this list", lines[2].Why);
        Assert.Contains("in the attic", lines[3].Why);
        Assert.Equal("looks like the reserved word \"admin\"", lines[4].Why);
        Assert.StartsWith("new-wharf ", lines[5].Instead);

        await File.WriteAllTextAsync(list, "Name\nSomething that nobody has\n");
        Assert.Equal(
            (0, "Line 2, Something that nobody has: something-that-nobody-has is free."),
            await Attic("address", list, "--host", "Slipway")
        );
        await File.WriteAllTextAsync(list, "Colour\nred\n");
        Assert.Equal(2, (await Attic("address", list, "--host", "Slipway")).Code);
        folder.Delete(recursive: true);
    }

    [Fact]
    public async Task A_first_administrator_comes_in_by_a_link_that_is_printed_and_good_once()
    {
        var (code, link) = await Attic(
            "account",
            "add",
            "--mail",
            "first@localhost",
            "--name",
            "First administrator",
            "--role",
            "Administrator",
            "--address",
            "https://ledger.example"
        );
        Assert.Equal(0, code);
        Assert.StartsWith("https://ledger.example/l/", link, StringComparison.Ordinal);

        var first = new Caller(here.Address);
        var password = new { password = "a pilot boat at dawn" };
        await first.Post($"/api/links/{link.Trim().Split('/')[^1]}/password", password, System.Net.HttpStatusCode.NoContent);
        await first.Post($"/api/links/{link.Trim().Split('/')[^1]}/password", password, System.Net.HttpStatusCode.Gone);
        await first.Post(
            "/api/session",
            new { mail = "first@localhost", password.password },
            System.Net.HttpStatusCode.NoContent
        );
        Assert.Equal("administrator", (await first.Get("/api/session")).GetProperty("role").GetString());
    }

    [Fact]
    public async Task What_is_not_there_is_said_and_the_exit_code_tells()
    {
        Assert.Equal(1, (await Attic("reach", "--site", "slipway.example/nowhere")).Code);
        Assert.Equal(2, (await Attic("journal", "verify", "/nowhere/journal.jsonl")).Code);
        Assert.NotEqual(0, (await Attic("sing")).Code);
    }

    [Fact]
    public async Task Why_and_who_gets_in_are_answered_from_a_bundle_without_a_database()
    {
        var folder = Directory.CreateTempSubdirectory("attic-why-");
        try
        {
            var bundle = Path.Combine(folder.FullName, "bundle");
            Assert.Equal(0, (await AtticWithout("generate", "--sites", "60", "--seed", "7", bundle)).Code);
            var (_, counted) = await AtticWithout("access", bundle);
            Assert.Matches("(?m)^view +staff +anonymous visitors +[0-9]+$", counted);

            const string Person = "p000002@merrowby.example";
            var edited = (await AtticWithout("access", bundle, "--person", Person))
                .Said.Split('\n')
                .Select(line => line.Split(' ', StringSplitOptions.RemoveEmptyEntries))
                .ToList();
            Assert.NotEmpty(edited);
            foreach (var words in edited.Where(words => words[1] != "perhaps").Take(3))
            {
                var (code, said) = await AtticWithout("why", bundle, "--site", words[1], "--person", Person, "--power", words[0]);
                Assert.Equal((0, true), (code, said.StartsWith("Yes: ", StringComparison.Ordinal)));
            }

            Assert.Equal(2, (await AtticWithout("why", bundle, "--site", "nowhere", "--person", Person)).Code);
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private Task<(int Code, string Said)> Attic(params string[] arguments) =>
        Attic(Databases.Server(here.DatabaseName), arguments);

    private static Task<(int Code, string Said)> AtticWithout(params string[] arguments) => Attic(null, arguments);

    private static async Task<(int Code, string Said)> Attic(string? database, string[] arguments)
    {
        var start = new System.Diagnostics.ProcessStartInfo(
            "dotnet",
            [Path.Combine(AppContext.BaseDirectory, "attic.dll"), .. arguments]
        )
        {
            Environment = { ["ATTIC_DATABASE"] = database },
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = System.Diagnostics.Process.Start(start)!;
        var said = process.StandardOutput.ReadToEndAsync();
        await process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, (await said).Trim());
    }
}
