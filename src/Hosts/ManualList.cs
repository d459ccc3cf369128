using System.Globalization;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>What a list claims about a site on another host, which it names by that host's key or by its address.</summary>
public sealed record ListedElsewhere(int Line, string Host, string Named, IReadOnlyDictionary<ClaimedFact, Known<string>> Facts);

/// <summary>A line of a list as it was read.</summary>
/// <param name="Site">Null if it concerns a site on another host, or is refused.</param>
/// <param name="Other">The claim about a site of another host: that host's own claim is more direct.</param>
/// <param name="Faults">Its faults.</param>
/// <param name="Doubtful">Its words that are not understood, or only because their meaning was chosen.</param>
public sealed record ListedLine(
    int Line,
    HostSite? Site,
    ListedElsewhere? Other,
    IReadOnlyList<ListFault> Faults,
    IReadOnlyList<DoubtfulWord> Doubtful
)
{
    public bool IsRefused => Site is null && Other is null;
}

/// <summary>An imported list of sites, for a host without a connector. An empty cell claims nothing; a dash claims "none".
/// <c>docs/formats.md</c> describes the columns.
/// </summary>
public static class ManualList
{
    /// <summary>The words that a column with fixed words can have, by column.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> FixedWords =>
        new Dictionary<string, IReadOnlyList<string>> { ["status"] = [.. Statuses.Select(pair => pair.Word)] };

    private static readonly (string Word, Status Status)[] Statuses =
    [
        ("never published", Status.NeverPublished),
        ("published", Status.Published),
        ("offline", Status.Offline),
    ];

    /// <param name="host">The host of the list.</param>
    /// <param name="time">The time zone of the list's days.</param>
    /// <param name="days">The format of dates that do not begin with the year.</param>
    /// <exception cref="HostException">It is not a list of sites; the message says what to do.</exception>
    public static IEnumerable<ListedLine> Read(
        string host,
        IReadOnlyList<string> heads,
        IEnumerable<ListedRow> rows,
        ListWords words,
        OrganisationTime time,
        DayOrder days = DayOrder.YearFirst
    ) => Read(host, ListCells.Places(heads), rows, words, time, days);

    private static IEnumerable<ListedLine> Read(
        string host,
        IReadOnlyDictionary<string, int> places,
        IEnumerable<ListedRow> rows,
        ListWords words,
        OrganisationTime time,
        DayOrder days
    )
    {
        var lines = new Dictionary<(string Host, string Key), int>();
        foreach (var row in rows)
        {
            var cells = new Cells(row, places, words, time, days);
            ListedLine Refused(string why) => new(row.Line, null, null, [new ListFault(row.Line, true, why)], []);
            yield return cells.Key() is not { } key ? Refused("the key and the address are missing.")
            : !lines.TryAdd((cells.Host(host), key), row.Line)
                ? Refused($"\"{key}\" is already in line {lines[(cells.Host(host), key)]}.")
            : cells.Host(host) is var its && its != host
                ? new ListedLine(
                    row.Line,
                    null,
                    new ListedElsewhere(row.Line, its, key, cells.Facts()),
                    cells.Faults,
                    cells.Doubtful
                )
            : new ListedLine(row.Line, cells.Site(key), null, cells.Faults, cells.Doubtful);
        }
    }

    /// <summary>One line, read column by column.</summary>
    private sealed class Cells(
        ListedRow row,
        IReadOnlyDictionary<string, int> places,
        ListWords words,
        OrganisationTime time,
        DayOrder days
    ) : ListCells(row, places, words, time, days)
    {
        // A dash is no key: then the address is the key.
        public string? Key() => new[] { Cell("key"), Cell("address") }.FirstOrDefault(text => text.Length > 0 && text != None);

        public string Host(string otherwise) => Cell("host") is { Length: > 0 } named && named != None ? named : otherwise;

        public IReadOnlyDictionary<ClaimedFact, Known<string>> Facts() =>
            new Dictionary<ClaimedFact, Known<string>>
            {
                [ClaimedFact.Unit] = Unit(),
                [ClaimedFact.Classification] = Text("classification"),
                [ClaimedFact.Purpose] = Text("purpose"),
                [ClaimedFact.Tags] = Tags(),
                [ClaimedFact.Name] = Text("name"),
                [ClaimedFact.Address] = Key() == Cell("address") ? Known<string>.Unknown : Text("address"),
            };

        private Known<string> Tags() => Text("tags") is var said && said.Has(out var text) ? TagWords.Of([text]) : said;

        public HostSite Site(string key) =>
            new(key)
            {
                Name = Text("name"),
                Address = Text("address"),
                Unit = Unit(),
                Classification = Text("classification"),
                Purpose = Text("purpose"),
                Tags = Tags(),
                Description = Text("description"),
                Language = Text("language"),
                Kind = Text("kind"),
                Status = Word("status", Statuses),
                Created = Moment("created"),
                LastEdit = Moment("edited"),
                LastVisit = Moment("visited"),
                Visits = Number("visits"),
                Pages = Number("pages"),
                Sharing = Sharing(),

                // A list names everybody who gets in: nobody can join by themselves.
                Joining = Known<Joining>.None,
                Bin = Moment("shut").Has(out var since)
                    ? new HostBin(since, null, Known<DateTimeOffset>.None, Known<DateTimeOffset>.None)
                    : null,
            };

        private Known<int> Number(string column) =>
            Fact<int>(
                column,
                text => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : null,
                "write a whole number"
            );

        private const StringSplitOptions Each = StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries;

        // A comma separates names, or the last name from the first.
        private IEnumerable<string> Names(string text) =>
            text.Contains(',', StringComparison.Ordinal) && (Who(text) is not null || IsChosen(ListWord.People, text))
                ? [text]
                : text.Split(',', Each);

        // Access is known only if all three columns are: a missing one could contain anybody.
        private Known<HostSharing> Sharing()
        {
            var grants = new Dictionary<string, HostGrant>(StringComparer.Ordinal);
            var known = true;
            foreach (var (column, power) in new[] { ("viewers", Power.View), ("editors", Power.Edit), ("owners", Power.Own) })
            {
                var said = Text(column);
                known &= !said.IsUnknown;
                foreach (var who in said.Or("").Split([';', '\n'], Each).SelectMany(Names))
                {
                    var meaning = Chosen(ListWord.People, who) ?? who;
                    if (meaning == None)
                    {
                        continue;
                    }

                    if (Who(meaning) is not var (key, subject))
                    {
                        NotUnderstood<string>(
                            column,
                            ListWord.People,
                            who,
                            $"\"{meaning}\" is not one person in the register; write mail addresses, or names that only one person has, staff, partners, anonymous or unit:CODE"
                        );
                        known = false;
                        continue;
                    }

                    grants[key] = new HostGrant(
                        key,
                        power,
                        subject,
                        subject is HostSubject.Anonymous or HostSubject.Partners ? VisitorSignIn.None : VisitorSignIn.Account
                    );
                }
            }

            return known ? Known.Of(new HostSharing([.. grants.Values], null)) : Known<HostSharing>.Unknown;
        }
    }
}
