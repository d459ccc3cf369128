using System.CommandLine;
using System.Globalization;
using AtticLedger.Core.Naming;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Cli;

/// <summary>Addresses for a list of names, proposed or as they stand there, and what speaks against each on a host. Nothing is written anywhere.</summary>
internal static class AddressReport
{
    private static readonly string[] Heads = ["line", "name", "address", "verdict", "why", "instead"];
    private static readonly string[] Columns = ["name", "address", "unit", "kind", "purpose"];

    public static Command Command()
    {
        var file = new Argument<FileInfo>("file")
        {
            Description =
                $"A list with a column \"name\", as CSV or as a workbook; it may have {string.Join(", ", Columns[1..])} too. Where an address stands, that one is judged.",
        };
        var host = new Option<string>("--host") { Required = true, Description = "The host that the sites are to be on." };
        var reserved = new Option<FileInfo?>("--reserved") { Description = "Words that are no address, one on each line." };
        var longest = new Option<int>("--longest")
        {
            Description = "How many characters an address has at the most.",
            DefaultValueFactory = _ => Addresses.Longest,
        };
        var form = Listing.Option();
        longest.Validators.Add(result =>
        {
            if (result.GetValueOrDefault<int>() is < Addresses.LeastRoom or > 200)
            {
                result.AddError($"--longest is a number from {Addresses.LeastRoom} to 200.");
            }
        });
        var command = new Command(
            "address",
            "Proposes addresses for a list of names and says what speaks against each. Ends with 1 where one of them is not free, with 2 where it is no list."
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
                Listing.Told(async () =>
                {
                    var table = ListTable.Read(parsed.GetRequiredValue(file).OpenRead);
                    string[] words = parsed.GetValue(reserved) is { } wordFile
                        ? await File.ReadAllLinesAsync(wordFile.FullName, stop)
                        : [];
                    await using var database = Database.Open(Program.Setting("ATTIC_DATABASE"), TimeProvider.System);
                    var (held, time) = await database.Read(
                        async connection =>
                            (await connection.Holdings(parsed.GetRequiredValue(host)), await connection.HouseTime()),
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
                    [row.Line.ToString(CultureInfo.InvariantCulture), "", "", "no name", "the line names no site", ""],
                    $"Line {row.Line} names no site, so no address is proposed for it."
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
        var choices = ListReading.Columns(
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

    // What stands before it is the host's, and the same for all.
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
            AddressFault.Confusable(var with, { } by) => $"taken for {with}: {Holder(by)}",
            AddressFault.Confusable(var with, _) => $"taken for the reserved word \"{with}\"",
            _ => throw new InvalidOperationException("Every kind of fault has words above."),
        };

    private static string Holder(Holding holding) =>
        holding.As switch
        {
            HeldAs.Listed => $"{holding.Title} of this list",
            HeldAs.Live => $"\"{holding.Title}\" has it",
            HeldAs.NeverLive => $"\"{holding.Title}\" has it, never live",
            HeldAs.Offline => $"\"{holding.Title}\" has it, offline",
            HeldAs.Vanished => $"\"{holding.Title}\" had it when it was last seen",
            _ =>
                $"\"{holding.Title}\" has it, put away{(holding.Until is { } until ? string.Create(CultureInfo.InvariantCulture, $", to be brought back until {until:yyyy-MM-dd HH:mm}Z") : "")}",
        };
}
