using System.Text.Json;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>A file as a list of some kind: as it is chosen, as it was read the last time, or as headings and cells suggest.</summary>
/// <param name="Heads">Its columns as facts.</param>
internal sealed record UnderstoodList(
    ListKind Kind,
    ListTable Table,
    IReadOnlyList<ColumnChoice> Columns,
    IReadOnlyList<string> Heads,
    DayChoice Days
)
{
    /// <summary>Its lines, read off the file each time they are asked for.</summary>
    public IEnumerable<ListedRow> Rows => RowsOf(Table);

    /// <param name="remembered">What <see cref="Remembered"/> was of the last such list.</param>
    /// <param name="stop">Of whoever waits for it; its rows are read under it too.</param>
    /// <exception cref="FormatException">It is no list; the message says where and what to do.</exception>
    /// <exception cref="HostException">Likewise.</exception>
    public static UnderstoodList Of(ListKind kind, FileInfo file, ListReadingQuery how, string remembered, CancellationToken stop)
    {
        var table = ListTable.Read(file.OpenRead, stop);
        var columns = ListReading.Columns(
            kind,
            table.Heads,
            RowsOf(table),
            how.Chosen(kind),
            JsonSerializer.Deserialize<Dictionary<string, string?>>(remembered)!
        );
        var heads = ListReading.Heads(kind, columns);
        return new(kind, table, columns, heads, ListReading.Days(kind, heads, RowsOf(table), how.Order));
    }

    /// <summary>What is to be remembered of it: the facts by headings, as JSON.</summary>
    public string Remembered =>
        JsonSerializer.Serialize(
            Columns.DistinctBy(choice => choice.Head).ToDictionary(choice => choice.Head, choice => choice.Column)
        );

    /// <summary>The lines with which something is wrong, as they stand there, with a column that says what.</summary>
    public IEnumerable<IReadOnlyList<string>> ToMend(IEnumerable<IReadOnlyList<string>> wrong) =>
        Table
            .Rows.Zip(wrong)
            .Where(pair => pair.Second.Count > 0)
            .Select(pair =>
                (IReadOnlyList<string>)
                    [
                        .. Table.Heads.Select((_, place) => place < pair.First.Cells.Count ? pair.First.Cells[place] : ""),
                        string.Join(" ", pair.Second),
                    ]
            );

    private static IEnumerable<ListedRow> RowsOf(ListTable table) => table.Rows.Select(row => new ListedRow(row.Line, row.Cells));
}

/// <summary>A list of sites with what its lines say.</summary>
internal sealed record ReadList(FileInfo File, UnderstoodList How, IEnumerable<ListedLine> Lines)
{
    private const int Together = 200;

    /// <summary>A few lines at a time.</summary>
    public IEnumerable<ListedLine[]> Chunks => Lines.Chunk(Together);

    /// <summary>Lines in which whatever names a site by its address alone has the key that the site with this address has already.</summary>
    public static async Task<ListedLine[]> Recognised(NpgsqlConnection connection, string name, ListedLine[] lines)
    {
        static bool IsByAddress(HostSite? site) => site is not null && site.Address.Or("") == site.Key;
        var known = await connection.SitesNamed([
            .. lines.Where(line => IsByAddress(line.Site)).Select(line => (name, line.Site!.Key)),
        ]);
        return known.Count == 0
            ? lines
            : Array.ConvertAll(lines, line =>
                IsByAddress(line.Site) && known.TryGetValue((name, line.Site!.Key), out var site)
                    ? line with
                    {
                        Site = line.Site with { Key = site.HostKey },
                    }
                    : line
            );
    }
}

/// <summary>What there is in a list, before anything is done with it.</summary>
/// <param name="Sites">How many of its lines speak of a site.</param>
/// <param name="Refused">How many do not.</param>
/// <param name="Words">What is wrong with it, the first of it: lines that are refused before cells that are not understood.</param>
/// <param name="Others">The sites on other hosts that it names.</param>
internal sealed record ListContents(
    int Sites,
    int Refused,
    IReadOnlyList<string> Words,
    IReadOnlyCollection<(string Host, string Named)> Others
)
{
    public static ListContents Of(ReadList read, int mostWords)
    {
        var (sites, refused) = (0, 0);
        List<string> refusals = [],
            problems = [];
        var others = new HashSet<(string, string)>();
        foreach (var line in read.Lines)
        {
            (sites, refused) = line.IsRefused ? (sites, refused + 1) : (sites + 1, refused);
            if (line.Other is { } other)
            {
                others.Add((other.Host, other.Named));
            }

            foreach (var fault in line.Faults)
            {
                var words = fault.IsRefused ? refusals : problems;
                if (words.Count < mostWords)
                {
                    words.Add(fault.Words);
                }
            }
        }

        return new ListContents(sites, refused, [.. refusals.Concat(problems).Take(mostWords)], others);
    }
}
