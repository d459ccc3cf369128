using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>A list with how it was understood. Its lines are read off the file each time they are asked for.</summary>
internal sealed record ReadList(FileInfo File, ListTable Table, IReadOnlyList<ColumnChoice> Columns, DayChoice Days, IEnumerable<ListedLine> Lines)
{
    private const int Together = 200;

    /// <summary>A few lines at a time.</summary>
    public IEnumerable<ListedLine[]> Chunks => Lines.Chunk(Together);

    /// <summary>Lines in which whatever names a site by its address alone has the key that the site with this address has already.</summary>
    public static async Task<ListedLine[]> Recognised(NpgsqlConnection connection, string name, ListedLine[] lines)
    {
        static bool IsByAddress(HostSite? site) => site is not null && site.Address.Or("") == site.Key;
        var known = await connection.SitesNamed([.. lines.Where(line => IsByAddress(line.Site)).Select(line => (name, line.Site!.Key))]);
        return known.Count == 0
            ? lines
            : Array.ConvertAll(lines, line => IsByAddress(line.Site) && known.TryGetValue((name, line.Site!.Key), out var site) ? line with { Site = line.Site with { Key = site.HostKey } } : line);
    }
}

/// <summary>What there is in a list, before anything is done with it.</summary>
/// <param name="Sites">How many of its lines speak of a site.</param>
/// <param name="Refused">How many do not.</param>
/// <param name="Words">What is wrong with it, the first of it: lines that are refused before cells that are not understood.</param>
/// <param name="Others">The sites on other hosts that it names.</param>
internal sealed record ListContents(int Sites, int Refused, IReadOnlyList<string> Words, IReadOnlyCollection<(string Host, string Named)> Others)
{
    public static ListContents Of(ReadList read, int mostWords)
    {
        var (sites, refused) = (0, 0);
        List<string> refusals = [], problems = [];
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
