using System.CommandLine;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;

namespace AtticLedger.Cli.Bundle;

/// <summary>The register as a folder of open files: written, read, and made up.</summary>
internal static class BundleCommands
{
    public static Command Export()
    {
        var folder = new Argument<DirectoryInfo>("folder") { Description = "A folder that is new or empty." };
        var command = new Command("export", "Writes the register as a bundle: JSON Lines and a manifest with counts and digests.") { folder };
        command.SetAction((parsed, _) => Told(async () =>
        {
            await using var database = Database.Open(Program.Setting("ATTIC_DATABASE"), TimeProvider.System);
            var to = parsed.GetRequiredValue(folder);
            await BundleExport.Write(database, to);
            Console.WriteLine($"{BundleFolder.Open(to).Lines("sites.jsonl")} sites in {to.FullName}.");
        }));
        return command;
    }

    public static Command Import()
    {
        var folder = new Argument<DirectoryInfo>("folder") { Description = "A bundle." };
        var command = new Command("import", "Reads a bundle into an empty register: all of it or nothing. Needs the owner's role.") { folder };
        command.SetAction((parsed, _) => Told(async () =>
        {
            await using var database = Database.Open(Program.Setting("ATTIC_OWNER_DATABASE"), TimeProvider.System);
            Console.WriteLine($"{await BundleImport.Read(database, parsed.GetRequiredValue(folder))} sites were read.");
        }));
        return command;
    }

    public static Command Generate()
    {
        var sites = new Option<int>("--sites") { Required = true, Description = "How many, from 1 to 1,000,000." };
        var seed = new Option<int>("--seed") { DefaultValueFactory = _ => 1, Description = "The same seed gives the same register." };
        var folder = new Argument<DirectoryInfo>("folder") { Description = "A folder that is new or empty." };
        sites.Validators.Add(result =>
        {
            if (result.GetValueOrDefault<int>() is < 1 or > 1_000_000)
            {
                result.AddError("--sites is a number from 1 to 1,000,000.");
            }
        });
        var command = new Command("generate", "Makes up a register of any size as a bundle, with the skew that real ones have.") { sites, seed, folder };
        command.SetAction((parsed, _) => Told(async () =>
        {
            var to = parsed.GetRequiredValue(folder);
            await GeneratedRegister.Write(to, parsed.GetValue(sites), parsed.GetValue(seed), new DateOnly(2026, 11, 24));
            Console.WriteLine($"{parsed.GetValue(sites)} sites in {to.FullName}.");
        }));
        return command;
    }

    // What is wrong with a bundle is told in one line and an exit code of its own.
    private static async Task<int> Told(Func<Task> act)
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
