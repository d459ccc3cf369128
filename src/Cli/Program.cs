using System.CommandLine;
using System.Text;
using AtticLedger.Cli.Bundle;
using AtticLedger.Cli.Demo;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;
using AtticLedger.Formats;
using AtticLedger.Store;

namespace AtticLedger.Cli;

public static class Program
{
    public static async Task<int> Main(string[] arguments)
    {
        var root = new RootCommand("Attic Ledger on the command line: the same computations as the server's.")
        {
            Migrate(),
            JournalCommands(),
            Reach(),
            Account(),
            DemoCommands(),
            Filters(),
            BundleCommands.Export(),
            BundleCommands.Import(),
            BundleCommands.Generate(),
            ListCommands.Commands(),
            ListCommands.PeopleCommands(),
            CheckReport.Command(),
            AddressReport.Command(),
        };
        return await root.Parse(arguments).InvokeAsync();
    }

    private static Command Migrate()
    {
        var command = new Command("migrate", "Brings the database's schema up to this version. Needs the owner's role.");
        command.SetAction(
            async (_, stop) =>
            {
                var done = await Schema.Migrate(Setting("ATTIC_OWNER_DATABASE"), stop);
                Console.WriteLine(done.Count == 0 ? "The schema is up to date." : $"Carried out: {string.Join(", ", done)}.");
                return 0;
            }
        );
        return command;
    }

    private static Command JournalCommands()
    {
        var to = new Option<FileInfo?>("--out") { Description = "Where to write; standard output otherwise." };
        var export = new Command("export", "Writes all entries as JSON Lines, closed by a line that carries the head.") { to };
        export.SetAction(
            async (parsed, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                await using var stream = parsed.GetValue(to)?.Create() ?? Console.OpenStandardOutput();
                await using var writer = new StreamWriter(stream, new UTF8Encoding(false)) { NewLine = "\n" };
                return await database.Read(async connection =>
                {
                    await JournalFile.Write(writer, connection.JournalTexts(), await connection.JournalHead());
                    return 0;
                });
            }
        );

        var file = new Argument<FileInfo>("file") { Description = "An export of the journal." };
        var head = new Option<string?>("--head")
        {
            Description = "A head known from before: it must be in the file, so that a cut tail is found.",
        };
        var verify = new Command("verify", "Checks an export without a database and names the first bad line.") { file, head };
        verify.SetAction(
            async (parsed, _) =>
            {
                var path = parsed.GetRequiredValue(file);
                if (!path.Exists)
                {
                    await Console.Error.WriteLineAsync($"There is no file {path.Name}.");
                    return 2;
                }

                await using var bytes = path.OpenRead();
                switch (await JournalFile.Verify(bytes, parsed.GetValue(head)))
                {
                    case ChainCheck.Unbroken(var end):
                        Console.WriteLine($"Unbroken: {end.Number} entries, head {end.Hash}.");
                        return 0;
                    case ChainCheck.Broken(var line, var what):
                        Console.WriteLine($"Broken at line {line}: {what}.");
                        return 1;
                    default:
                        throw new InvalidOperationException("A chain is unbroken or broken.");
                }
            }
        );
        var now = new Command(
            "head",
            "Prints the head of now: how many entries there are, and the hash of the last. Keep it somewhere else."
        );
        now.SetAction(
            async (_, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                var end = await database.Read(connection => connection.JournalHead());
                Console.WriteLine($"{end.Number} {end.Hash}");
                return 0;
            }
        );
        return new Command("journal", "The journal: export it, check it, print its head.") { export, verify, now };
    }

    private static Command Reach()
    {
        var site = new Option<string>("--site") { Description = "The site's whole address.", Required = true };
        var json = new Option<bool>("--json") { Description = "As JSON." };
        var command = new Command("reach", "Who gets in to a site, and through which layers.") { site, json };
        command.SetAction(
            async (parsed, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                return await ReachReport.Write(database, parsed.GetRequiredValue(site), parsed.GetValue(json), Console.Out);
            }
        );
        return command;
    }

    private static Command Account()
    {
        var mail = new Option<string>("--mail") { Required = true, Description = "The person's mail address." };
        var name = new Option<string>("--name")
        {
            Required = true,
            Description = "The name, where the register does not know the person yet.",
        };
        var role = new Option<Role>("--role")
        {
            Description = "Administrator, Steward, Owner or Auditor.",
            DefaultValueFactory = _ => Role.Owner,
        };
        var part = new Option<string?>("--part") { Description = "A steward's unit, by its code." };
        var address = new Option<string>("--address")
        {
            Description = "Under which people reach the product.",
            DefaultValueFactory = _ => Environment.GetEnvironmentVariable("ATTIC_ADDRESS") ?? "http://127.0.0.1:7420",
        };
        var add = new Command(
            "add",
            "Gives a person an account and prints a link for choosing its password, good once and for a day."
        )
        {
            mail,
            name,
            role,
            part,
            address,
        };
        add.SetAction(
            async (parsed, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                var token = await database.Change(async change =>
                {
                    var people = await change.Connection.PeopleByMail();
                    var to = parsed.GetRequiredValue(mail).ToLowerInvariant();
                    var person = people.TryGetValue(to, out var known)
                        ? known
                        : await change.AddPerson(
                            new Person(
                                default,
                                PersonKind.Operator,
                                parsed.GetRequiredValue(name),
                                to,
                                Standing.Current,
                                null,
                                Known<UnitCode>.None
                            )
                        );
                    await change.PutAccount(
                        person,
                        parsed.GetValue(role),
                        parsed.GetValue(part) is { } unit ? new UnitCode(unit) : null,
                        null
                    );
                    await change.Append([
                        new Draft("account.given", "house", $"account:{(await change.Connection.AccountOf(person))!.Id}")
                        {
                            After = JournalValue.Of(
                                ("person", JournalValue.Of($"person:{person.Value}")),
                                ("role", JournalValue.Of(parsed.GetValue(role).ToString()))
                            ),
                        },
                    ]);
                    return await change.MakeLink(
                        person,
                        new LetterLink(LinkPurpose.Password, "", change.Now.AddDays(1), "Choose a password"),
                        null
                    );
                });
                Console.WriteLine(new Uri(new Uri(parsed.GetRequiredValue(address)), $"/l/{token}"));
                return 0;
            }
        );
        return new Command("account", "Accounts.") { add };
    }

    private static Command DemoCommands()
    {
        var house = new Command("house", "Writes the demo's units, limits and rules into an empty database.");
        house.SetAction(
            async (_, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                Console.WriteLine(
                    await MerrowbyHouse.Found(database) ? "Merrowby Harbour Trust is founded." : "There is a house already."
                );
                return 0;
            }
        );
        var accounts = new Command("accounts", "Gives the demo's people accounts, once the staff list has been read.");
        accounts.SetAction(
            async (_, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                var missing = await MerrowbyHouse.GiveAccounts(database, Setting("ATTIC_DEMO_PASSWORD"));
                foreach (var mail in missing)
                {
                    await Console.Error.WriteLineAsync($"{mail} is not on the register yet.");
                }

                return missing.Count == 0 ? 0 : 1;
            }
        );
        return new Command("demo", "Merrowby Harbour Trust.") { house, accounts };
    }

    private static Command Filters()
    {
        var command = new Command("filters", "Writes the list of attributes that filters and rules speak of, as Markdown.");
        command.SetAction(_ => FilterDocument.Write(Console.Out));
        return command;
    }

    internal static string Setting(string name) =>
        Environment.GetEnvironmentVariable(name)
        ?? throw new InvalidOperationException($"Set {name}, or run through ./attic, which does.");
}
