using System.Text.RegularExpressions;

namespace AtticLedger.Server.Tests;

/// <summary>Dependencies point downwards only.</summary>
public partial class ArchitectureFacts
{
    private static readonly string[][] Tiers =
    [
        ["Terms", "People", "Sites", "Remarks"],
        ["Naming", "Access", "Ownership", "Attic", "Journal"],
        ["Register", "Filters"],
        ["Rules"],
        ["Actions", "Classification"],
    ];

    [Theory]
    [InlineData("AtticLedger.Core", "")]
    [InlineData("AtticLedger.Formats", "Core")]
    [InlineData("AtticLedger.Store", "Core")]
    [InlineData("AtticLedger.Hosts", "Core")]
    [InlineData("AtticLedger.StandIns", "")]
    [InlineData("AtticLedger.Server", "Core Formats Store Hosts")]
    public void A_project_knows_only_what_is_below_it(string assembly, string below)
    {
        var known = System
            .Reflection.Assembly.Load(assembly)
            .GetReferencedAssemblies()
            .Select(reference => reference.Name!)
            .Where(name => name.StartsWith("AtticLedger.", StringComparison.Ordinal));

        Assert.Empty(known.Except(below.Split(' ').Select(name => $"AtticLedger.{name}")));
    }

    [Fact]
    public void Inside_the_core_a_tier_knows_only_itself_and_those_below()
    {
        foreach (
            var file in Directory
                .EnumerateFiles(Path.Combine(Repository.Root, "src/Core"), "*.cs", SearchOption.AllDirectories)
                .Where(file => !file.Contains("/obj/", StringComparison.Ordinal))
        )
        {
            var tier = TierOf(Path.GetFileName(Path.GetDirectoryName(file))!);
            foreach (Match used in CoreNamespace().Matches(File.ReadAllText(file)))
            {
                Assert.True(
                    TierOf(used.Groups[1].Value) <= tier,
                    $"{Path.GetRelativePath(Repository.Root, file)} knows {used.Groups[1].Value}, which is above it."
                );
            }
        }
    }

    [Fact]
    public void The_core_does_no_input_or_output_and_has_no_clock()
    {
        foreach (
            var file in Directory
                .EnumerateFiles(Path.Combine(Repository.Root, "src/Core"), "*.cs", SearchOption.AllDirectories)
                .Where(file => !file.Contains("/obj/", StringComparison.Ordinal))
        )
        {
            Assert.DoesNotMatch(Outside(), File.ReadAllText(file));
        }
    }

    [Fact]
    public void No_statement_asks_the_database_for_the_time()
    {
        foreach (
            var file in Directory
                .EnumerateFiles(Path.Combine(Repository.Root, "src"), "*", SearchOption.AllDirectories)
                .Where(file =>
                    file.EndsWith(".sql", StringComparison.Ordinal)
                    || (file.EndsWith(".cs", StringComparison.Ordinal) && !file.Contains("/obj/", StringComparison.Ordinal))
                )
        )
        {
            Assert.DoesNotMatch(DatabaseClock(), File.ReadAllText(file));
        }
    }

    [Fact]
    public void The_name_of_an_action_is_written_once()
    {
        var names = Core
            .Journal.JournalAction.All.Select(action => action.Name)
            .Concat(Enum.GetValues<Core.Actions.ActionName>().Select(Core.Actions.ActionNames.Text))
            .Where(name => name.Contains('.', StringComparison.Ordinal))
            .ToHashSet(StringComparer.Ordinal);
        foreach (
            var file in Directory
                .EnumerateFiles(Path.Combine(Repository.Root, "src"), "*.cs", SearchOption.AllDirectories)
                .Where(file =>
                    !file.Contains("/obj/", StringComparison.Ordinal)
                    && Path.GetFileName(file) is not ("JournalAction.cs" or "ActionName.cs")
                )
        )
        {
            Assert.DoesNotContain(
                Quoted().Matches(File.ReadAllText(file)).Select(match => match.Groups[1].Value),
                names.Contains
            );
        }
    }

    // The connectors know their kind of host; the command line makes the demo.
    [Fact]
    public void No_host_and_nothing_of_the_demo_is_named_in_product_code()
    {
        foreach (
            var file in new[] { "src/Core", "src/Formats", "src/Store", "src/Server", "web/src" }
                .SelectMany(folder =>
                    Directory.EnumerateFiles(Path.Combine(Repository.Root, folder), "*", SearchOption.AllDirectories)
                )
                .Where(file =>
                    Path.GetExtension(file) is ".cs" or ".sql" or ".ts" or ".tsx"
                    && !file.Contains("/obj/", StringComparison.Ordinal)
                )
        )
        {
            Assert.DoesNotMatch(DemoName(), File.ReadAllText(file));
        }
    }

    [Fact]
    public void No_product_file_compares_a_sentence()
    {
        foreach (
            var file in new[] { ("src", "*.cs"), ("web/src", "*.ts"), ("web/src", "*.tsx") }
                .SelectMany(of =>
                    Directory.EnumerateFiles(Path.Combine(Repository.Root, of.Item1), of.Item2, SearchOption.AllDirectories)
                )
                .Where(file => !file.Contains("/obj/", StringComparison.Ordinal) && !IsWordOfAnotherProgram(file))
        )
        {
            var text = File.ReadAllText(file);
            Assert.True(
                !ComparesSentence().IsMatch(text),
                $"{Path.GetRelativePath(Repository.Root, file)} branches on {ComparesSentence().Match(text).Value}: a code says the same and can be worded anew."
            );
        }
    }

    // Sentences, or several words, on either side of a comparison.
    [Theory]
    [InlineData("note === \"no active owner\"", true)]
    [InlineData("unknowns.includes(\"who has access\")", true)]
    [InlineData("refused[0] == \"There is no such site.\"", true)]
    [InlineData("said.StartsWith(\"It was refused\", StringComparison.Ordinal)", true)]
    [InlineData("entry is { Reason: \"its holder has left\" }", true)]
    [InlineData("status === \"unpublished-changes\"", false)]
    [InlineData("{ text: \"A to Z\" }", false)]
    [InlineData("host == \"\" ? \"no such host\" : host", false)]
    public void A_compared_sentence_is_found(string code, bool isFound) =>
        Assert.Equal(isFound, ComparesSentence().IsMatch(code));

    // The glossary is a text that is read, chapter by chapter; SQL and lists from outside have words of their own.
    private static bool IsWordOfAnotherProgram(string file) => Path.GetFileName(file) is "glossary.ts" or "ManualList.cs";

    [GeneratedRegex(
        """"(===?|!==?|\bis not|\bis|\b(includes|startsWith|endsWith|indexOf|Contains|StartsWith|EndsWith|Equals|IndexOf)\(|\bis \{[^}"]*:)\s*\$?"[A-Za-z]\w* \w+[ .][^"]*\w[^"]*""""
    )]
    private static partial Regex ComparesSentence();

    [GeneratedRegex(@"\b(slipway|lantern|quay|foreshore|merrowby)", RegexOptions.IgnoreCase)]
    private static partial Regex DemoName();

    private static int TierOf(string name) =>
        Array.FindIndex(Tiers, tier => tier.Contains(name)) is var tier and >= 0
            ? tier
            : throw new InvalidOperationException($"The folder {name} of the core is in no tier.");

    [GeneratedRegex("\"([a-z.-]+)\"")]
    private static partial Regex Quoted();

    // Imported, or spelled out where it is used.
    [GeneratedRegex(@"(?:using AtticLedger\.Core|AtticLedger\.Core|(?<![\w.])Core)\.(\w+)\b")]
    private static partial Regex CoreNamespace();

    [GeneratedRegex(
        @"DateTime(Offset)?\.(Utc)?Now|TimeProvider|using (System\.IO|System\.Net|Npgsql|Microsoft)|\bFile\.|Console\."
    )]
    private static partial Regex Outside();

    [GeneratedRegex(@"\bnow\(\)|current_timestamp|clock_timestamp", RegexOptions.IgnoreCase)]
    private static partial Regex DatabaseClock();
}
