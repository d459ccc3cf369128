using System.Text.Json;
using AtticLedger.Core.People;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>A file as a list of some kind: mapped as chosen, as last time, or as headings and cells suggest.</summary>
/// <param name="Heads">Its columns as facts.</param>
/// <param name="Words">The meanings chosen for its words.</param>
internal sealed record UnderstoodList(
    ListKind Kind,
    ListTable Table,
    IReadOnlyList<ColumnChoice> Columns,
    IReadOnlyList<string> Heads,
    DayChoice Days,
    ChosenWords Words
)
{
    /// <summary>Its lines, read from the file on each enumeration.</summary>
    public IEnumerable<ListedRow> Rows => RowsOf(Table);

    /// <param name="remembered">The value of <see cref="Reading"/> for the last such list.</param>
    /// <param name="stop">Cancels reading, also while rows are enumerated.</param>
    /// <exception cref="FormatException">It is not a list; the message names the place and the remedy.</exception>
    /// <exception cref="HostException">The connection was interrupted.</exception>
    public static UnderstoodList Of(
        ListKind kind,
        FileInfo file,
        ListMappingQuery how,
        KeptReading remembered,
        PeopleDirectory directory,
        CancellationToken stop
    )
    {
        var table = ListTable.Read(file.OpenRead, stop);
        var columns = ListMapping.Columns(
            kind,
            table.Heads,
            RowsOf(table),
            how.Chosen(kind),
            JsonSerializer.Deserialize<Dictionary<string, string?>>(remembered.Columns)!
        );
        var heads = ListMapping.Heads(kind, columns);
        return new(
            kind,
            table,
            columns,
            heads,
            ListMapping.Days(kind, heads, RowsOf(table), how.Order),
            ChosenWords.Of(how.Words ?? [], remembered.Words, directory)
        );
    }

    /// <summary>How it was read, to be proposed with the next list.</summary>
    public KeptReading Reading =>
        new(
            JsonSerializer.Serialize(
                Columns.DistinctBy(choice => choice.Head).ToDictionary(choice => choice.Head, choice => choice.Column)
            ),
            Words.Remembered
        );

    /// <summary>What its words mean with the people and units of the register and those it adds.</summary>
    public ListWords Meaning(PeopleDirectory directory) => ListWords.Of(directory.With(Words.NewUnits), Words.Meanings);

    /// <summary>The faulty lines, unchanged, with an additional column for the faults.</summary>
    public IEnumerable<IReadOnlyList<string>> ToCorrect(IEnumerable<IReadOnlyList<string>> wrong) =>
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

/// <summary>A list of sites with its lines.</summary>
internal sealed record ParsedList(FileInfo File, UnderstoodList How, IEnumerable<ListedLine> Lines)
{
    private const int Together = 200;

    /// <summary>A few lines at a time.</summary>
    public IEnumerable<ListedLine[]> Chunks => Lines.Chunk(Together);

    /// <summary>Lines in which each site that is named by its address alone gets the key of the existing site with this
    /// address.</summary>
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

/// <summary>The content of a list, before anything is done with it.</summary>
/// <param name="Sites">The number of lines with a site.</param>
/// <param name="Refused">The number of lines without one.</param>
/// <param name="Words">The first faults: refused lines before cells that are not understood.</param>
/// <param name="Others">The sites on other hosts that it names.</param>
internal sealed record ListContents(
    int Sites,
    int Refused,
    IReadOnlyList<string> Words,
    IReadOnlyCollection<(string Host, string Named)> Others
)
{
    public static ListContents Of(ParsedList read, int mostWords)
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
