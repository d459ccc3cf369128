using System.CommandLine;
using System.Globalization;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Cli;

/// <summary>Addresses for a list of names, proposed or given, with the reasons against each on a host. Nothing is
/// written.</summary>
internal static class AddressReport
{
    private static readonly string[] Heads = ["line", "name", "address", "verdict", "why", "instead"];
    private static readonly string[] Columns = ["name", "address", "unit", "kind", "purpose"];

    public static Command Command()
    {
        var file = new Argument<FileInfo>("file")
        {
            Description =
                $"A list with a column \"name\", as CSV or as a workbook; it may have {string.Join(", ", Columns[1..])} too. An address in the list is judged as it is.",
        };
        var host = new Option<string>("--host") { Required = true, Description = "The host of the new sites." };
        var reserved = new Option<FileInfo?>("--reserved") { Description = "Reserved words, one on each line." };
        var longest = new Option<int>("--longest")
        {
            Description = "The maximum number of characters of an address.",
            DefaultValueFactory = _ => Addresses.Longest,
        };
        var form = Listing.Option();
        longest.Validators.Add(result =>
        {
            if (result.GetValueOrDefault<int>() is < Addresses.LeastRoom or > 200)
            {
                result.AddError($"--longest needs a number from {Addresses.LeastRoom} to 200.");
            }
        });
        var command = new Command(
            "address",
            "Proposes addresses for a list of names, with the reason where one cannot be used. Exit code 1: an address is not free; 2: the file is not a list."
        )
        {
            file,
            host,
            reserved,
            longest,
            form,
        };
        command.SetAction(
            (parsed, stop) =>
                Listing.WithErrors(async () =>
                {
                    var table = ListTable.Read(parsed.GetRequiredValue(file).OpenRead);
                    string[] words = parsed.GetValue(reserved) is { } wordFile
                        ? await File.ReadAllLinesAsync(wordFile.FullName, stop)
                        : [];
                    await using var database = Database.Open(Program.Setting("ATTIC_DATABASE"), TimeProvider.System);
                    var (held, time) = await database.Read(
                        async connection =>
                            (await connection.Holdings(parsed.GetRequiredValue(host)), await connection.OrganisationTime()),
                        stop
                    );
                    var book = new AddressBook(
                        words.Select(word => word.Trim()).Where(word => word.Length > 0),
                        parsed.GetValue(longest)
                    );
                    foreach (var holding in held)
                    {
                        book.Hold(holding with { Address = Own(holding.Address) });
                    }

                    var judged = Judged(table, book, time.DayOf(database.Now).Year).ToList();
                    await Listing.Write(
                        parsed.GetValue(form),
                        Heads,
                        judged.Select(one => one.Cells),
                        judged.Select(one => one.Text),
                        stop
                    );
                    return judged.TrueForAll(one => one.IsFree) ? 0 : 1;
                })
        );
        return command;
    }

    private static IEnumerable<(bool IsFree, IReadOnlyList<string> Cells, string Text)> Judged(
        ListTable table,
        AddressBook book,
        int year
    )
    {
        var places = Places(table);
        foreach (var row in table.Rows)
        {
            string? Cell(string column) =>
                places.TryGetValue(column, out var place)
                && place < row.Cells.Count
                && row.Cells[place] is { Length: > 0 } said and not "-"
                    ? said
                    : null;
            if (Cell("name") is not { } name)
            {
                yield return (
                    false,
                    [row.Line.ToString(CultureInfo.InvariantCulture), "", "", "no name", "the line has no site name", ""],
                    $"Line {row.Line} has no site name, so it gets no address."
                );
                continue;
            }

            var address = Cell("address") is { } wanted ? Own(wanted) : book.Proposed(name, Cell("unit"), Cell("kind"));
            var faults = book.FaultsOf(address);
            var instead =
                faults.Count == 0
                    ? []
                    : book.Alternatives(address, Cell("unit"), new[] { Cell("purpose"), Cell("kind") }.OfType<string>(), year);
            var verdict = faults.Count == 0 ? "free" : string.Join(", ", faults.Select(Word).Distinct());
            var why = string.Join("; ", faults.Select(Why));
            if (faults is not [AddressFault.Malformed])
            {
                book.Hold(new Holding(address, $"line {row.Line}", HeldAs.Listed));
            }

            yield return (
                faults.Count == 0,
                [row.Line.ToString(CultureInfo.InvariantCulture), name, address, verdict, why, string.Join(" ", instead)],
                $"Line {row.Line}, {name}: {address} is {verdict}{(why.Length > 0 ? $" ({why})" : "")}.{(instead.Count > 0 ? $" Free: {string.Join(", ", instead)}." : "")}"
            );
        }
    }

    private static Dictionary<string, int> Places(ListTable table)
    {
        var choices = ListMapping.Columns(
            ListKind.Sites,
            table.Heads,
            table.Rows.Select(row => new ListedRow(row.Line, row.Cells)),
            new Dictionary<string, string?>(),
            new Dictionary<string, string?>()
        );
        var places = choices
            .Index()
            .Where(choice => Columns.Contains(choice.Item.Column))
            .ToDictionary(choice => choice.Item.Column!, choice => choice.Index);
        return places.ContainsKey("name")
            ? places
            : throw new FormatException($"The list has no column \"name\". Its columns are: {string.Join(", ", table.Heads)}.");
    }

    // The part before it belongs to the host and is the same for all.
    private static string Own(string whole) =>
        whole.TrimEnd('/') is var address && address.LastIndexOf('/') is >= 0 and var slash ? address[(slash + 1)..] : whole;

    private static string Word(AddressFault fault) =>
        fault switch
        {
            AddressFault.Malformed => "malformed",
            AddressFault.Held => "held",
            AddressFault.Reserved => "reserved",
            _ => "confusable",
        };

    private static string Why(AddressFault fault) =>
        fault switch
        {
            AddressFault.Malformed(var why) => why,
            AddressFault.Held(var by) => Holder(by),
            AddressFault.Reserved(var word) => $"\"{word}\" is a reserved word",
            AddressFault.Confusable(var with, { } by) => $"looks like {with}: {Holder(by)}",
            AddressFault.Confusable(var with, _) => $"looks like the reserved word \"{with}\"",
            _ => throw new InvalidOperationException("This fault has no text."),
        };

    private static string Holder(Holding holding) =>
        holding.As switch
        {
            HeldAs.Listed => $"{holding.Title} of this list",
            HeldAs.InUse => $"\"{holding.Title}\" has it",
            HeldAs.NeverPublished => $"\"{holding.Title}\" has it, never published",
            HeldAs.Offline => $"\"{holding.Title}\" has it, offline",
            HeldAs.NoLongerReported => $"\"{holding.Title}\" had it when it was last reported",
            _ =>
                $"\"{holding.Title}\" has it, in the attic{(holding.Until is { } until ? string.Create(CultureInfo.InvariantCulture, $", which can be restored until {until:yyyy-MM-dd HH:mm}Z") : "")}",
        };
}
