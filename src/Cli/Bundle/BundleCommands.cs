using System.CommandLine;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;

namespace AtticLedger.Cli.Bundle;

/// <summary>The register as a folder of open files: exported, imported and generated.</summary>
internal static class BundleCommands
{
    public static Command Export()
    {
        var folder = new Argument<DirectoryInfo>("folder") { Description = "A folder that is new or empty." };
        var command = new Command("export", "Writes the register as a bundle: JSON Lines and a manifest with counts and digests.")
        {
            folder,
        };
        command.SetAction(
            (parsed, _) =>
                WithErrors(async () =>
                {
                    await using var database = Database.Open(Program.Setting("ATTIC_DATABASE"), TimeProvider.System);
                    var to = parsed.GetRequiredValue(folder);
                    await BundleExport.Write(database, to);
                    Console.WriteLine($"{BundleFolder.Open(to).Lines("sites.jsonl")} sites in {to.FullName}.");
                })
        );
        return command;
    }

    public static Command Import()
    {
        var folder = new Argument<DirectoryInfo>("folder") { Description = "A bundle." };
        var command = new Command(
            "import",
            "Imports a bundle into an empty register, all or nothing. Needs the owner's role of the database."
        )
        {
            folder,
        };
        command.SetAction(
            (parsed, _) =>
                WithErrors(async () =>
                {
                    await using var database = Database.Open(Program.Setting("ATTIC_OWNER_DATABASE"), TimeProvider.System);
                    Console.WriteLine($"{await BundleImport.Read(database, parsed.GetRequiredValue(folder))} sites imported.");
                })
        );
        return command;
    }

    public static Command Generate()
    {
        var sites = new Option<int>("--sites") { Required = true, Description = "How many, from 1 to 1,000,000." };
        var seed = new Option<int>("--seed")
        {
            DefaultValueFactory = _ => 1,
            Description = "The same seed gives the same register.",
        };
        var dirty = new Option<FileInfo?>("--dirty")
        {
            Description =
                "Makes the facts as incomplete as in real registers: no classification, a third without a unit, names in every spelling. Writes the true facts to this file, as CSV.",
        };
        var folder = new Argument<DirectoryInfo>("folder") { Description = "A folder that is new or empty." };
        sites.Validators.Add(result =>
        {
            if (result.GetValueOrDefault<int>() is < 1 or > 1_000_000)
            {
                result.AddError("--sites needs a number from 1 to 1,000,000.");
            }
        });
        var command = new Command(
            "generate",
            "Generates a register of any size as a bundle, with a realistic distribution of facts."
        )
        {
            sites,
            seed,
            dirty,
            folder,
        };
        command.SetAction(
            (parsed, _) =>
                WithErrors(async () =>
                {
                    var to = parsed.GetRequiredValue(folder);
                    var truths = new List<string> { "host,key,unit,class" };
                    await GeneratedRegister.Write(
                        to,
                        parsed.GetValue(sites),
                        parsed.GetValue(seed),
                        new DateOnly(2026, 11, 24),
                        parsed.GetValue(dirty) is null
                            ? null
                            : site => truths.Add($"{site.Host},{site.Key},{site.Unit},{site.Classification}")
                    );
                    if (parsed.GetValue(dirty) is { } truth)
                    {
                        await File.WriteAllLinesAsync(truth.FullName, truths);
                    }

                    Console.WriteLine($"{parsed.GetValue(sites)} sites in {to.FullName}.");
                })
        );
        return command;
    }

    // A fault in a bundle gives one line and its own exit code.
    private static async Task<int> WithErrors(Func<Task> act)
    {
        try
        {
            await act();
            return 0;
        }
        catch (BundleError error)
        {
            await Console.Error.WriteLineAsync(error.Message);
            return 1;
        }
    }
}
