using System.CommandLine;
using System.Text;
using AtticLedger.Cli.Bundle;
using AtticLedger.Cli.Demo;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;
using AtticLedger.Formats;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Cli;

public static class Program
{
    public static async Task<int> Main(string[] arguments)
    {
        var root = new RootCommand("Attic Ledger on the command line, with the same computations as the server.")
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
            ImportCommands.SiteCommands(),
            ImportCommands.PeopleCommands(),
            ImportCommands.HostCommands(),
            CheckReport.Command(),
            TryReport.Command(),
            AddressReport.Command(),
        };
        foreach (var command in AccessCommands.All())
        {
            root.Add(command);
        }

        try
        {
            return await root.Parse(arguments).InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });
        }
        catch (Exception fault) when (Words(fault) is { } words)
        {
            await Console.Error.WriteLineAsync(words);
            return 2;
        }
    }

    // What a person can do something about is said in words; anything else is a fault of the program, with its trace.
    private static string? Words(Exception fault) =>
        fault switch
        {
            PostgresException
            {
                SqlState: PostgresErrorCodes.InvalidPassword or PostgresErrorCodes.InvalidAuthorizationSpecification
            } => "The database refuses this role or password. Check ATTIC_DATABASE, or run ./attic without it.",
            PostgresException { SqlState: PostgresErrorCodes.InsufficientPrivilege } =>
                "This role of the database may not do that. Commands that change tables need the owner's: ATTIC_OWNER_DATABASE.",
            PostgresException { SqlState: PostgresErrorCodes.UndefinedTable or PostgresErrorCodes.InvalidCatalogName } =>
                "The database is empty or was never set up. Run ./attic migrate, or ./start.",
            NpgsqlException => $"The database cannot be reached: {fault.Message} Is it running? ./start starts it.",
            InvalidOperationException { Source: "attic" } or FormatException or IOException or UnauthorizedAccessException =>
                fault.Message,
            _ => null,
        };

    private static Command Migrate()
    {
        var command = new Command("migrate", "Migrates the database to this version. Needs the owner's role of the database.");
        command.SetAction(
            async (_, stop) =>
            {
                var done = await Schema.Migrate(Setting("ATTIC_OWNER_DATABASE"), stop);
                Console.WriteLine(done.Count == 0 ? "The schema is up to date." : $"Applied: {string.Join(", ", done)}.");
                return 0;
            }
        );
        return command;
    }

    private static Command JournalCommands()
    {
        var to = new Option<FileInfo?>("--out") { Description = "The file to write; the default is standard output." };
        var export = new Command("export", "Exports all entries as JSON Lines; the last line has the head.") { to };
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
            Description = "A head kept from earlier: it has to be in the file, so that a missing end is found.",
        };
        var verify = new Command("verify", "Verifies an export without a database and names the first bad line.") { file, head };
        verify.SetAction(
            async (parsed, _) =>
            {
                var path = parsed.GetRequiredValue(file);
                if (!path.Exists)
                {
                    await Console.Error.WriteLineAsync($"File not found: {path.Name}.");
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
            "Prints the current head: the number of entries and the hash of the last one. Keep it outside this system."
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
        return new Command("journal", "The journal: export it, verify it, print its head.") { export, verify, now };
    }

    private static Command Reach()
    {
        var site = new Option<string>("--site") { Description = "The site's whole address.", Required = true };
        var json = new Option<bool>("--json") { Description = "As JSON." };
        var command = new Command("reach", "Shows the access to a site, and the layers that limit it.") { site, json };
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
            Description = "The name, required if the register does not have the person yet.",
        };
        var role = new Option<Role>("--role")
        {
            Description = "Administrator, Steward, Owner or Auditor.",
            DefaultValueFactory = _ => Role.Owner,
        };
        var scope = new Option<string?>("--scope") { Description = "The code of the unit that a steward answers for." };
        var address = new Option<string>("--address")
        {
            Description = "The address at which people open the product.",
            DefaultValueFactory = _ => Environment.GetEnvironmentVariable("ATTIC_ADDRESS") ?? "http://127.0.0.1:7420",
        };
        var add = new Command("add", "Adds an account and prints a link to choose its password, valid once and for a day.")
        {
            mail,
            name,
            role,
            scope,
            address,
        };
        add.SetAction(
            async (parsed, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                if (
                    await WrongAccount(database, parsed.GetRequiredValue(mail), parsed.GetValue(role), parsed.GetValue(scope)) is
                    { } wrong
                )
                {
                    await Console.Error.WriteLineAsync(wrong);
                    return 2;
                }

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
                        parsed.GetValue(scope) is { } unit ? new UnitCode(unit) : null,
                        null
                    );
                    await change.Append([
                        new Draft(
                            JournalAction.AccountAdded,
                            EntryActor.Product,
                            new EntrySubject.Account((await change.Connection.AccountOf(person))!.Id)
                        )
                        {
                            After = JournalValue.Of(
                                ("person", JournalValue.Of(EntryActor.Of(person))),
                                ("role", JournalValue.Of(parsed.GetValue(role).ToString()))
                            ),
                        },
                    ]);
                    return await change.MakeLink(
                        person,
                        new NotificationLink(LinkPurpose.Password, "", change.Now.AddDays(1), "Choose a password"),
                        null
                    );
                });
                Console.WriteLine(new Uri(new Uri(parsed.GetRequiredValue(address)), $"/l/{token}"));
                return 0;
            }
        );
        return new Command("account", "Accounts.") { add };
    }

    /// <summary>Why an account cannot be like this, and what to do; null if it can.</summary>
    private static async Task<string?> WrongAccount(Database database, string mail, Role role, string? scope)
    {
        if (mail.IndexOf('@') < 1 || mail.EndsWith('@'))
        {
            return $"\"{mail}\" is not a mail address.";
        }

        if (role != Role.Steward)
        {
            return scope is null ? null : $"Only a steward has a scope. Leave out --scope, or use --role Steward.";
        }

        var units = await database.Read(async connection =>
            (await connection.PeopleDirectory(database.Now, await connection.OrganisationTime())).Units
        );
        return scope is null ? "A steward needs a unit: add --scope with its code."
            : units.Any(unit => unit.Code.Value == scope) ? null
            : units.Count == 0 ? $"There is no unit \"{scope}\": the organisation has no units yet."
            : $"There is no unit \"{scope}\". There are {string.Join(", ", units.Select(unit => unit.Code.Value).Order(StringComparer.Ordinal))}.";
    }

    private static Command DemoCommands()
    {
        var organisation = new Command("organisation", "Writes the demo's units, limits and rules into an empty database.");
        organisation.SetAction(
            async (_, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                Console.WriteLine(
                    await MerrowbyOrganisation.Found(database, withAllRules: true)
                        ? "Merrowby Harbour Trust is set up."
                        : "The database has an organisation already."
                );
                return 0;
            }
        );
        var accounts = new Command("accounts", "Adds the demo's accounts, after the first sync of the staff list.");
        accounts.SetAction(
            async (_, _) =>
            {
                await using var database = Database.Open(Setting("ATTIC_DATABASE"), TimeProvider.System);
                var missing = await MerrowbyOrganisation.GiveAccounts(database, Setting("ATTIC_DEMO_PASSWORD"));
                foreach (var mail in missing)
                {
                    await Console.Error.WriteLineAsync($"{mail} is not in the register yet.");
                }

                return missing.Count == 0 ? 0 : 1;
            }
        );
        return new Command("demo", "Merrowby Harbour Trust.") { organisation, accounts };
    }

    private static Command Filters()
    {
        var command = new Command("filters", "Writes the list of attributes for filters and rules, as Markdown.");
        command.SetAction(_ => FilterDocument.Write(Console.Out));
        return command;
    }

    internal static string Setting(string name) =>
        Environment.GetEnvironmentVariable(name)
        ?? throw new InvalidOperationException($"Set {name}, or run ./attic, which sets it.");
}
